"""Inside corners that carry a radius already, but too small a one (analytic: the corner less a quarter of a circle)."""

import manifold3d as m3
import numpy as np
import pytest
from shapely.geometry import Polygon, box
from shapely.geometry.polygon import orient

from pounce.stock.values import Fillets
from tests.unit.stock.helpers import is_closed, lost, stocked

# the arc is drawn in eight chords whose corners lie on it
CORNER = 1.0 - 4.0 * np.sin(np.pi / 16.0)


def _prism(outline: Polygon, height: float) -> m3.Manifold:
    return m3.Manifold.extrude(m3.CrossSection([np.array(orient(outline).exterior.coords)[:-1]]), height)


def _angle(radius: float) -> Polygon:
    """An L of 60 x 60, 15 thick, its inside corner of this radius (shapely's closing of the sharp one)."""
    sharp = box(0, 0, 60, 15).union(box(0, 0, 15, 60))
    return sharp.buffer(radius, quad_segs=16).buffer(-radius, quad_segs=16)


@pytest.mark.parametrize("turn", [0.0, 37.0])
def test_a_straight_fillet_of_one_millimetre_becomes_one_of_four(turn: float) -> None:
    sharp = 60.0 * 15 + 45.0 * 15
    solid = _prism(_angle(1.0), 50.0).rotate([0, 0, turn])
    found = stocked(solid, Fillets(radius_mm=4.0)).stock
    assert found is not None
    line = found.lines[0]
    assert not line.trouble
    assert line.figures["corners"] == 1.0
    wanted = (sharp + CORNER * 16.0) * 50.0
    assert found.mesh.volume - solid.volume() == pytest.approx(wanted - solid.volume(), rel=2e-3)
    assert is_closed(found.mesh)
    assert lost(solid, found.mesh) < 1e-3


def test_a_fillet_round_a_boss_is_enlarged_all_round() -> None:
    """By Pappus: the corner's area times the way of its middle, for 1 mm and for 3 mm."""
    arc = [(11.0 + np.cos(t), 11.0 + np.sin(t)) for t in np.linspace(1.5 * np.pi, np.pi, 13)]
    outline = [(0.0, 0.0), (30.0, 0.0), (30.0, 10.0), *arc, (10.0, 30.0), (0.0, 30.0)]
    solid = m3.Manifold.revolve(m3.CrossSection([np.array(outline)]), 96)
    found = stocked(solid, Fillets(radius_mm=3.0)).stock
    assert found is not None
    line = found.lines[0]
    assert line.figures["corners"] == 1.0, line

    def ring(r: float) -> float:
        area = CORNER * r * r
        # middle of a square less a quarter circle, from the corner
        off = (r * r * r / 2.0 - np.pi / 4.0 * r * r * (r - 4.0 * r / (3.0 * np.pi))) / area
        return float(2.0 * np.pi * (10.0 + off) * area)

    assert found.mesh.volume - solid.volume() == pytest.approx(ring(3.0) - ring(1.0), rel=0.03)
    assert is_closed(found.mesh)
    assert lost(solid, found.mesh) < 1e-3


def test_rounded_corners_of_a_pocket_are_enlarged_down_to_its_floor() -> None:
    pocket = box(-20, -15, 20, 15).buffer(-1.5, quad_segs=12).buffer(1.5, quad_segs=12)
    solid = m3.Manifold.cube([60, 50, 25], True).translate([0, 0, 12.5]) - _prism(pocket, 20.0).translate([0, 0, 10.0])
    found = stocked(solid, Fillets(radius_mm=5.0)).stock
    assert found is not None
    assert is_closed(found.mesh)
    assert lost(solid, found.mesh) < 1e-3
    # above the floor's own fillet a level cut shows the pocket with corners of 5
    cut = m3.Manifold(m3.Mesh(found.mesh.vertices.astype(np.float32), found.mesh.faces.astype(np.uint32))).slice(20.0)
    open_area = 60.0 * 50.0 - cut.area()
    assert open_area == pytest.approx(40.0 * 30.0 - 4.0 * CORNER * 25.0, rel=0.003)


def test_a_corner_whose_radius_is_enough_is_left() -> None:
    solid = _prism(_angle(4.0), 50.0)
    found = stocked(solid, Fillets(radius_mm=4.0)).stock
    assert found is not None
    assert found.lines[0].figures["corners"] == 0.0
    assert found.mesh.volume == pytest.approx(solid.volume(), rel=1e-9)
