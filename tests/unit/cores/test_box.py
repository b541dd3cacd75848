"""Core boxes and how they open."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.cores.box import ENOUGH, laid, light_of, way_of_opening, ways_for
from pounce.cores.values import HollowChoice
from pounce.route.stops import CORES
from pounce.solid.mesh import Mesh
from tests.conftest import mesh_of
from tests.unit.cores.helpers import SIDES, M, block, cored, solid_of


def test_a_half_box_that_would_lock_parts_sideways() -> None:
    def rod(tall: float, radius: float, turn: list[float], at: list[float]) -> m3.Manifold:
        return M.cylinder(tall, radius, radius, 48, True).rotate(turn).translate(at)

    along = [0.0, 90.0, 0.0]
    bore = rod(200, 10, along, [0, 0, 0]) + rod(12, 16, along, [25, 0, 0]) + rod(12, 16, along, [-25, 0, 0])
    up = rod(30, 6, [0, 0, 0], [0, 0, 20]) + rod(8, 14, [0, 0, 0], [0, 0, 34])
    across = (rod(30, 6, [90, 0, 0], [0, 20, 0]) + rod(8, 14, [90, 0, 0], [0, 34, 0])).trim_by_plane([0, 0, -1], 0)
    core = cored(M.cube([120, 100, 100], True) - bore - up - across, height=0.0).need(CORES).cores[0]
    (box,) = core.boxes
    assert [part.name for part in box.parts] == ["Lower half", "Upper half, right", "Upper half, left"]
    assert box.locked_mm2 < 1e-3 * core.mesh.area
    lower, right, left = (solid_of(part.mesh) for part in box.parts)
    body = solid_of(core.mesh)
    # on trial: the lower half off, then each of the two aside, clear of the core all the way (a hair off it for
    # rounding)
    for part, way in ((lower, -box.pull), (right, None), (left, None)):
        ways = [way] if way is not None else [np.array([0, 1.0, 0]), np.array([0, -1.0, 0])]
        held = min(
            max(float((part.translate((s * w).tolist()) ^ body).volume()) for s in (1.0, 5.0, 15.0)) for w in ways
        )
        assert held < 1e-6 * core.mesh.volume


def rod(long: float, radius: float) -> Mesh:
    return mesh_of(M.cylinder(long, radius, radius, SIDES, True).rotate([0, 90, 0]))


def test_a_round_core_opens_along_its_length_through_its_middle() -> None:
    core = rod(100, 12)
    way = way_of_opening(core, (), np.array([0.0, 0.0, 1.0]))
    assert abs(float(way.pull[0])) < 1e-6  # across it
    assert way.height == pytest.approx(0.0, abs=0.05)
    assert way.locked == pytest.approx(0.0, abs=1e-3 * core.area)
    assert way.sides == (None, None)


def test_a_core_with_a_waist_still_opens_along_it() -> None:
    waist = M.cylinder(40, 12, 6, SIDES).rotate([0, 90, 0]) + M.cylinder(40, 6, 12, SIDES).rotate([0, 90, 0]).translate(
        [40, 0, 0]
    )
    way = way_of_opening(mesh_of(waist), (), np.array([1.0, 0.0, 0.0]))  # asked along its own length first
    assert abs(float(way.pull[0])) < 0.05
    assert way.locked < 1e-3 * mesh_of(waist).area


def test_the_ways_tried_hold_the_draw_first_and_are_of_length_one() -> None:
    draw = np.array([0.0, 0.0, 1.0])
    ways = ways_for(rod(100, 12), (), draw)
    assert ways[0] == pytest.approx(draw)
    assert len(ways) >= 3
    assert [float(np.linalg.norm(one)) for one in ways] == pytest.approx([1.0] * len(ways))


def test_a_light_core_keeps_its_shape() -> None:
    heavy = mesh_of(M.cylinder(100, 12, 12, 64, True).refine(6))
    assert light_of(heavy) is heavy or len(heavy.faces) > ENOUGH
    light = light_of(mesh_of(M.cylinder(100, 12, 12, 64, True).refine(20)))
    assert len(light.faces) <= ENOUGH
    assert light.volume == pytest.approx(heavy.volume, rel=1e-2)
    assert light.bounds == pytest.approx(heavy.bounds, abs=0.05)


def test_an_open_core_has_no_box() -> None:
    core = mesh_of(M.cylinder(100, 12, 12, 64, True).refine(20))
    assert len(core.faces) > ENOUGH
    with pytest.raises(UserFault, match="came out open"):
        light_of(Mesh.of(core.vertices, core.faces[1:]))


@pytest.mark.parametrize("style", ["split", "half", "tube"])
def test_what_is_rammed_in_a_box_is_the_core(style: str) -> None:
    """The room of the box between its parts is the core, by the solid library; every part lies on its outside."""
    place = cored(block(), height=0.0).need(CORES).cores[0].place_mm
    asked = HollowChoice(place, box=style)  # type: ignore[arg-type]
    core = cored(block(), height=0.0, hollows=(asked,)).need(CORES).cores[0]
    (made,) = core.boxes
    assert made.style == style or made.refused
    body = solid_of(made.core)
    for part in made.parts:
        held = solid_of(part.mesh)
        assert float((held ^ body).volume()) < 1e-6 * float(body.volume())
        lay = laid(part, np.array([1.012, 1.012, 1.012]))
        assert lay.bounds[0][2] == pytest.approx(0.0, abs=1e-9)
        assert lay.volume == pytest.approx(part.mesh.volume * 1.012**3)
        low = lay.normals[:, 2] < -0.99
        assert float(lay.areas[low & (lay.corners[..., 2].max(axis=1) < 1e-6)].sum()) > 0.2 * lay.size[0] * lay.size[1]
    if style == "half":
        assert made.twice or made.refused


def test_dowels_of_a_box_differ_so_that_it_closes_one_way_only() -> None:
    (made,) = cored(block(), height=0.0).need(CORES).cores[0].boxes
    thick = [one for _, one in made.dowels]
    assert len(thick) == 2 and thick[0] != thick[1]
