"""Gaps between walls filled by `--add fill@...`, to be sawn after casting. Volumes by hand."""

import manifold3d as m3
import numpy as np
import pytest
import trimesh

from pounce.base.errors import UserFault
from pounce.route.stops import STOCK
from pounce.solid.boolean import closed_solid
from pounce.solid.mesh import Mesh
from pounce.stock.gaps import gaps_at, in_metal, metal_for
from pounce.stock.values import Fill
from tests.conftest import mesh_of
from tests.unit.stock.helpers import lost, stocked

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])


def fins(wide: float, count: int = 8) -> m3.Manifold:
    """Fins 3 thick, 60 long and 20 high, so far apart, on a plate 10 thick."""
    pitch = 3.0 + wide
    out = M.cube([count * pitch - wide, 60, 10])
    for k in range(count):
        out += M.cube([3, 60, 21]).translate([k * pitch, 0, 9])
    return out


def sound(mesh: Mesh) -> bool:
    made = trimesh.Trimesh(mesh.vertices, mesh.faces)
    return bool(made.is_watertight) and made.body_count == 1


def test_all_gaps_of_one_make_are_filled_flush_with_their_fins_by_one_line() -> None:
    results = stocked(fins(4.0), Fill((5.0, 30.0, 20.0)), height=0.0)
    (line,), mesh = results.need(STOCK).lines, results.need(STOCK).mesh
    assert line.name == "Seven gaps filled" and not line.trouble
    assert line.figures == pytest.approx({"wide_mm": 4.0, "deep_mm": 20.0, "gaps": 7.0}, abs=0.02)
    assert line.added_mm3 == pytest.approx(7 * 4 * 60 * 20, rel=1e-6)
    # a plain block is left: nothing stands out at an end or over a rim, and no slit is between
    assert mesh.bounds == pytest.approx(np.array([[0, 0, 0], [52, 60, 30]]), abs=1e-6)
    assert sound(mesh) and lost(M.cube([52, 60, 30]), mesh) < 1e-3
    assert lost(fins(4.0), mesh) < 1e-3


@pytest.mark.parametrize(
    ("slot", "at", "added"),
    [
        (M.cube([3, 30, 40]).translate([20, 5, -5]), (21.5, 20.0, 10.0), 3 * 30 * 20),
        (M.cube([3, 30, 10]).translate([20, 5, -1]), (21.5, 20.0, 5.0), 3 * 30 * 9),
        (M.cube([3, 30, 15]).translate([20, -5, 8]), (21.5, 20.0, 12.0), 3 * 25 * 12),
        (M.cube([3, 30, 15]).translate([20, -5, 8]), (20.0, 20.0, 12.0), 3 * 25 * 12),
    ],
    ids=["right through", "from below", "open at one end", "pointed at on its wall"],
)
def test_a_slot_is_filled_from_its_floor_to_its_rim(slot: m3.Manifold, at: tuple, added: float) -> None:  # type: ignore[type-arg]
    solid = M.cube([80, 40, 20]) - slot
    results = stocked(solid, Fill(at), height=0.0)
    (line,), mesh = results.need(STOCK).lines, results.need(STOCK).mesh
    assert line.name == "Gap filled" and line.added_mm3 == pytest.approx(added, rel=1e-6)
    whole = M.cube([80, 40, 20])
    assert sound(mesh) and lost(whole, mesh) < 1e-3 and mesh.volume == pytest.approx(whole.volume(), rel=1e-9)


def test_a_round_gap_and_one_with_draft_leave_no_slits() -> None:
    ring = M.cylinder(12, 20, 20, 64) - M.cylinder(12, 17, 17, 64)
    whole = M.cube([80, 80, 20])
    leaning = m3.CrossSection([[(20, 0), (23, 0), (23.6, 12), (19.4, 12)]]).extrude(30).rotate([90, 0, 0])
    for block, tool, at in (
        (whole, ring.translate([40, 40, 10]), (58.5, 40.0, 15.0)),
        (M.cube([60, 30, 20]), leaning.translate([0, 30, 8.01]), (21.5, 15.0, 14.0)),
    ):
        mesh = mesh_of(block - tool)
        (gap,) = gaps_at(mesh, at, UP)
        metal = closed_solid(metal_for(mesh, gap, UP))
        assert metal is not None
        # what is still open of the gap, of a rim that leans the ten-thousandth part of its depth
        left = (tool ^ block) - metal
        assert float(left.volume()) < 2e-5 * float((tool ^ block).volume())
        assert float((metal - block).volume()) < 1e-6


def test_gaps_of_another_make_stay_open_and_one_filled_already_is_left() -> None:
    solid = M.cube([80, 40, 20])
    for x, deep in ((10, 8), (25, 8), (40, 14)):
        solid -= M.cube([3, 30, deep + 1]).translate([x, 5, 20 - deep])
    results = stocked(solid, Fill((11.5, 20.0, 16.0)), Fill((26.5, 20.0, 16.0)), height=0.0)
    first, second = results.need(STOCK).lines
    assert first.added_mm3 == pytest.approx(2 * 3 * 30 * 8, rel=1e-6)
    assert second.added_mm3 == 0.0 and not second.trouble and "already" in second.about


def test_the_metal_does_not_stand_out_under_a_thin_floor_that_rises() -> None:
    """A slot over a floor 1 mm thick that rises by 6: a prism down to its lowest place would come out below."""
    wedge = m3.CrossSection([[(0, 0), (60, 6), (60, 26), (0, 26)]]).extrude(40).rotate([90, 0, 0]).translate([0, 40, 0])
    slot = m3.CrossSection([[(0, 1), (60, 7), (60, 40), (0, 40)]]).extrude(3).rotate([90, 0, 0]).translate([0, 21.5, 0])
    solid = wedge - slot
    mesh = mesh_of(solid)
    (gap,) = gaps_at(mesh, (30.0, 20.0, 15.0), UP)
    metal = closed_solid(metal_for(mesh, gap, UP))
    assert metal is not None and float((metal - wedge).volume()) < 1e-6
    assert float((metal - solid).volume()) > 0.9 * float((slot ^ wedge).volume())


def test_what_is_a_groove_but_not_round_enough_is_filled_as_a_gap() -> None:
    """Between a flange and a block beside it: round about the pipe, but its rims are not."""
    solid = M.cylinder(40, 20, 20, 96) + M.cylinder(8, 34, 34, 96) + M.cube([30, 44, 29]).translate([10, -22, 11])
    results = stocked(solid, Fill((24.0, 0.0, 9.5)), draw=(0.0, 1.0, 0.0), height=0.0)
    (line,), mesh = results.need(STOCK).lines, results.need(STOCK).mesh
    assert not line.trouble and line.name.endswith("filled") and line.added_mm3 > 1000.0
    assert sound(mesh) and lost(solid, mesh) < 1e-3


def test_where_no_two_walls_face_each_other_nothing_is_filled() -> None:
    block = mesh_of(M.cube([80, 40, 20]))
    assert in_metal(block, np.array([40.0, 20.0, 10.0]), UP) and not in_metal(block, np.array([40.0, 20.0, 30.0]), UP)
    for place in ((40.0, 20.0, 10.0), (40.0, 20.0, 30.0), (0.0, 20.0, 10.0)):
        with pytest.raises(UserFault, match="gaps between walls"):
            gaps_at(block, place, UP)
    # nor the inside of a vessel
    cup = mesh_of(M.cylinder(60, 40, 40, 96) - M.cylinder(60, 36, 36, 96).translate([0, 0, 4]))
    with pytest.raises(UserFault, match="72 mm wide: a hollow"):
        gaps_at(cup, (0.0, 0.0, 30.0), UP)
    # nor what is shut in: sand cannot have been there
    hollow = mesh_of(M.cube([80, 40, 20]) - M.cube([3, 20, 10]).translate([20, 10, 5]))
    with pytest.raises(UserFault, match="gaps between walls"):
        gaps_at(hollow, (21.5, 20.0, 10.0), UP)


def test_a_slot_with_a_bolt_hole_across_it_is_filled_where_the_hole_was_filled_before() -> None:
    """What hangs over at the place is the hole, and that is full already: the slot of a clamp is meant."""
    hub = M.batch_hull([M.cylinder(30, 26, 26, 96), M.cube([22, 30, 30]).translate([25, -15, 0])])
    hub -= M.cylinder(60, 16, 16, 96, True)
    slit = hub - M.cube([60, 3, 60], True).translate([38, 0, 15])
    clamp = slit - M.cylinder(80, 3.5, 3.5, 48, True).rotate([90, 0, 0]).translate([38, 0, 15])
    holes, gap = Fill(under_mm=12.0, mark=False), Fill((31.4, -0.2, 15.0), mark=False)
    stock = stocked(clamp, holes, gap, height=0.0).need(STOCK)
    assert [line.name for line in stock.lines] == ["Holes filled", "Gap filled"] and sound(stock.mesh)
    assert stock.mesh.volume == pytest.approx(hub.volume(), rel=2e-4)
