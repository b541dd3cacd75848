"""Dowels, plates, tongues, sheets of foam, turned profiles, clay and originals: against closed forms and other
libraries.
"""

import manifold3d as m3
import numpy as np
import pytest
import shapely
import trimesh

from pounce.export.plandrawings import clay_drawing, turning_drawing
from pounce.job import edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.metals import tables
from pounce.metals.contraction import factor
from pounce.metals.tables import limits, screws
from pounce.pattern.making.clay import clay_plan
from pounce.pattern.making.layers import levels_of
from pounce.pattern.making.values import Clay
from pounce.pattern.making.wood.turning import turned
from pounce.pattern.values import PatternResult
from pounce.solid import boolean
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of
from tests.unit.pattern.helpers import distances
from tests.unit.pattern.test_making import M, pattern_of

UP = np.array([0.0, 0.0, 1.0])


def half(found: PatternResult, role: str) -> list[tuple[str, float, float]]:
    """Purpose, diameter and depth of the holes of a half."""
    (piece,) = [one for one in found.pieces if one.role == role]
    return [(hole.purpose, 2 * hole.radius_mm, hole.depth_mm) for hole in piece.holes]


def test_screw_holes_are_the_threads_less_their_pitch() -> None:
    """ISO 261 coarse pitches 0.7, 0.8, 1, 1.25 (from memory): the tapping hole is the diameter less the pitch."""
    for name, wide, pitch in (("M4", 4, 0.7), ("M5", 5, 0.8), ("M6", 6, 1.0), ("M8", 8, 1.25)):
        assert screws()[name].hole.value == pytest.approx(wide - pitch, abs=0.06)
        assert screws()[name].clear.value > wide
    found = pattern_of(M.cube([120, 100, 60], True), "printed-filament", 0.0, screw="insert-M4")
    assert (
        next(wide for purpose, wide, _ in half(found, "cope-half") if purpose == "draw-screw")
        == screws()["insert-M4"].hole.value
    )


def test_dowels_as_many_and_as_proud_as_asked() -> None:
    solid = M.cube([160, 120, 60], True)
    found = pattern_of(solid, "printed-filament", 0.0, dowel_count=4, proud_mm=3.0)
    drag = [one for one in half(found, "drag-half") if one[0] == "dowel"]
    assert len(found.dowel_mm) == len(drag) == 4 and len(set(found.dowel_mm)) == 2
    assert {depth for _, _, depth in drag} == {4.0}
    assert "dowels-jam-askew" not in {one.code for one in found.findings}
    deep = pattern_of(solid, "printed-filament", 0.0)
    assert "dowels-jam-askew" in {one.code for one in deep.findings}
    # only one way of the four turns of a rectangle brings hole onto hole
    piece = next(one for one in found.pieces if one.role == "drag-half")
    spots = np.array(
        [[*piece.on_laid(hole.at_mm)[:2], hole.radius_mm] for hole in piece.holes if hole.purpose == "dowel"]
    )
    turned_round = spots * [-1.0, -1.0, 1.0]
    gap = np.abs(spots[:, None] - turned_round[None]).sum(axis=2).min(axis=1)
    assert gap.max() > 0.5


def test_guide_holes_run_right_through_the_shallower_half() -> None:
    found = pattern_of(M.cube([120, 100, 60], True), "wood", 10.0, guide=True)
    cope, drag = half(found, "cope-half"), half(found, "drag-half")
    assert not [one for one in drag if one[0] == "dowel"]
    assert all(depth > 20.0 * (100 / 98.8) for purpose, _, depth in cope if purpose == "dowel")
    assert "guide-holes" in {one.code for one in found.findings}


def test_a_rapping_plate_is_let_in_over_the_middle_of_mass() -> None:
    plain, plated = (
        pattern_of(M.cube([140, 120, 60], True), "printed-filament", 0.0, rapping=on, numbers=False)
        for on in (False, True)
    )
    play = limits()["board_clearance"].value
    sizes = [limits()[f"rapping_plate_{way}"].value for way in ("long", "wide", "thick")]
    recess = (sizes[0] + play) * (sizes[1] + play) * sizes[2]
    less = plain.pieces[0].volume_mm3 - plated.pieces[0].volume_mm3
    # the screw's hole is wider (it goes through the plate freely) and begins under the recess
    clear, hole = screws()["M5"].clear.value, screws()["M5"].hole.value
    (screw,) = [one for one in plated.pieces[0].holes if one.purpose == "draw-screw"]
    (bare,) = [one for one in plain.pieces[0].holes if one.purpose == "draw-screw"]
    bored = np.pi / 4 * (clear**2 * (screw.depth_mm - sizes[2]) - hole**2 * bare.depth_mm)
    assert less == pytest.approx(recess + bored, rel=0.01)
    assert np.linalg.norm(screw.at_mm[:2]) < 3.0
    small = pattern_of(M.cube([50, 30, 30], True), "printed-filament", 0.0, rapping=True)
    assert "no-room-for-rapping-plate" in {one.code for one in small.findings}


def test_tongue_and_groove_fit_with_their_play() -> None:
    """Distances by VTK: the tongue's sides lie the play off the groove's; together the parts are the whole less that
    play.
    """
    found = pattern_of(box(400, 60, 50), "printed-filament", bed_joint="tongue", numbers=False, draw_screw=False)
    one, two = (print_.mesh for print_ in found.making.prints)
    assert boolean.closed_solid(one) is not None and boolean.closed_solid(two) is not None
    # the part with the tongue is the longer by as much as it stands out
    deep, play = limits()["tongue_deep"].value, limits()["tongue_play"].value
    laid = found.pieces[0].laid
    parts = sorted((unturned(found, k) for k in range(2)), key=lambda mesh: float(mesh.bounds[0, 0]))
    tip, mouth = float(parts[0].bounds[1, 0]), float(parts[1].bounds[0, 0])
    assert tip - mouth == pytest.approx(deep, abs=0.02)
    points = parts[0].vertices[parts[0].vertices[:, 0] > mouth + 1.0]
    gaps = distances(parts[1], points)
    assert gaps.min() == pytest.approx(play, abs=0.03)
    missing = laid.volume - parts[0].volume - parts[1].volume
    wide, tall = np.ptp(points[:, 1]), np.ptp(points[:, 2])
    assert missing == pytest.approx((wide + 2 * play) * (tall + play) * (deep + play) - wide * tall * deep, rel=0.05)


def unturned(found: PatternResult, index: int) -> Mesh:
    """A print where it lay in its piece, found by laying it back along x."""
    print_ = found.making.prints[index]
    turn = np.radians(-print_.turn_deg)
    c, s = float(np.cos(turn)), float(np.sin(turn))
    mesh = print_.mesh.moved(np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]), np.zeros(3))
    laid = found.pieces[0].laid
    low = (
        laid.bounds[0]
        if index == 0
        else np.array([laid.bounds[1, 0] - mesh.size[0], laid.bounds[0, 1], laid.bounds[0, 2]])
    )
    return mesh.moved(np.eye(3), low - mesh.bounds[0])


def test_no_cut_runs_through_raised_letters() -> None:
    """A plate that would be cut in its middle, where a row of bars stands raised on it: the cut keeps off the whole
    row.
    """
    plate = M.cube([300, 60, 12])
    for k in range(5):
        plate = plate + M.cube([4, 20, 1.0]).translate([126.0 + 10 * k, 20, 12])
    found = pattern_of(plate, "printed-filament", numbers=False, draw_screw=False, bed_mm=(200.0, 100.0, 200.0))
    assert len(found.making.prints) > 1
    swell = factor(tables.metal("aluminium-silicon").contraction.value)
    middle = found.pieces[0].laid.bounds.mean(axis=0)[0]
    for one in found.making.prints:
        for end in one.lies.bounds[:, 0] - middle:
            assert abs(end) > 24.0 * swell


def test_cuts_are_numbered() -> None:
    plain, numbered = (pattern_of(box(400, 60, 50), "printed-filament", numbers=on).making for on in (False, True))
    assert sum(one.mesh.volume for one in numbered.prints) < sum(one.mesh.volume for one in plain.prints) - 5.0


def test_sheets_of_foam_are_joined_where_little_is_glued() -> None:
    frame = M.cube([900, 700, 40], True) - M.cube([780, 580, 60], True)
    found = pattern_of(frame, "foam-burned-out")
    (layer,) = found.making.layers
    assert sum(part.area for part in layer.parts) == pytest.approx(layer.saw.area, rel=1e-6) and len(layer.parts) == 2
    for part in layer.parts:
        x0, y0, x1, y1 = part.bounds
        assert min(x1 - x0, y1 - y0) < 600 and max(x1 - x0, y1 - y0) < 1250
    # the joint crosses the two bars, and never runs along one
    swell = factor(tables.metal("aluminium-silicon").contraction.value)
    assert found.making.figures["glued_mm2"] == pytest.approx(2 * 60 * swell * 40 * swell, rel=1e-3)
    assert {one.board for one in found.making.blanks} <= set(range(found.making.boards))
    assert found.making.boards >= 1 and all(one.board >= 0 for one in found.making.blanks)


def test_joints_keep_away_from_detail() -> None:
    tall = mesh_of(box(80, 60, 90))
    free = levels_of(tall, 50.0)
    assert free.tolist() == pytest.approx([0.0, 45.0, 90.0])
    held = levels_of(tall, 50.0, near=[(np.array([10.0, 10.0, 44.0]), 5.0)])
    assert abs(held[1] - 44.0) >= 5.0 - 1e-9 and max(np.diff(held)) <= 50.0 + 1e-9


@pytest.mark.parametrize("half_of_it", [False, True])
def test_a_turned_piece_gives_its_profile(half_of_it: bool) -> None:
    bell = M.cylinder(30, 20, 30, 128) + M.cylinder(40, 30, 12, 128).translate([0, 0, 30])
    mesh = mesh_of(bell.rotate([0, 90, 0]).trim_by_plane([0, 0, 1], 0.0) if half_of_it else bell)
    found = turned(mesh)
    assert found is not None and found.half is half_of_it
    along = found.profile[:, 0]
    assert float(np.ptp(along)) == pytest.approx(70.0, abs=1e-6)
    sizes = dict((round(at, 1), width) for at, width in found.sizes)
    # sides of 128 facets lie up to R (1 - cos(pi / 128)) inside the circle
    for at, width in ((0.0, 40.0), (70.0, 24.0)):
        assert sizes[at] == pytest.approx(width, abs=0.05)
    assert max(width for _, width in found.sizes) == pytest.approx(60.0, abs=0.05)
    # Pappus: the profile turned about the axis holds what the piece (or both its halves) does
    profile = shapely.Polygon(found.profile)
    turned_round = 2 * np.pi * profile.centroid.y * profile.area
    assert turned_round == pytest.approx(mesh.volume * (2 if half_of_it else 1), rel=2e-3)
    assert turned(mesh_of(box(80, 50, 30))) is None


def test_the_turning_template_measures_one_to_one() -> None:
    found = pattern_of(M.cylinder(40, 30, 20, 96), "wood")
    drawing = turning_drawing(found.pieces[0])
    assert drawing is not None
    swell = factor(tables.metal("aluminium-silicon").contraction.value)
    profile = drawing.lines[0].points
    assert np.ptp(profile, axis=0).tolist() == pytest.approx([40 * swell, 30 * swell], abs=0.05)
    # the draw screw's hole is bored when it is turned: it is no part of the profile
    assert found.pieces[0].holes and shapely.Polygon(profile).area == pytest.approx(40 * 25 * swell**2, rel=1e-3)


def ring() -> m3.Manifold:
    """A finger ring with a heavy head toward +x."""
    return (
        M.cylinder(6, 13, 13, 96, True)
        - M.cylinder(8, 10, 10, 96, True)
        + M.cube([6, 12, 8], True).translate([14, 0, 0])
    )


def plan() -> Clay:
    """The ring pressed into clay."""
    found = clay_plan(mesh_of(ring()), UP, 0.0, None)
    assert found is not None
    return found[0]


def test_the_funnel_stands_at_the_heavier_end_and_the_piece_lies_to_half_its_depth() -> None:
    clay = plan()
    assert clay.way_deg % 360.0 == pytest.approx(0.0, abs=1e-6) or clay.way_deg % 360.0 == pytest.approx(
        360.0, abs=1e-6
    )
    assert clay.under_mm == clay.over_mm == pytest.approx(4.0)
    assert clay.throat_mm == pytest.approx(limits()["clay_gate"].value * 8.0)
    assert clay.funnel[1] == pytest.approx(float(clay.outline[:, 1].max()))
    other = clay_plan(mesh_of(ring()), UP, 0.0, 90.0)
    assert other is not None and other[0].way_deg == 90.0


def test_breathers_lead_from_the_far_ends_up_past_the_piece() -> None:
    clay = plan()
    piece = shapely.Polygon(clay.outline).buffer(-0.05)
    edge = clay.low_mm + clay.block_mm[1]
    assert clay.breathers
    for way in clay.breathers:
        line = shapely.LineString(way)
        assert line.distance(shapely.Polygon(clay.outline).exterior) < 0.5 and not line.crosses(piece)
        assert min(line.distance(shapely.Point(key)) for key in clay.keys) > limits()["clay_key"].value / 2
        assert float(way[-1, 1]) == pytest.approx(edge) and abs(float(way[-1, 0])) <= clay.block_mm[0] / 2
    far = clay.outline[int(np.argmin(clay.outline[:, 1]))]
    assert min(float(np.linalg.norm(way[0] - far)) for way in clay.breathers) < 3.0


def test_keys_fit_one_way_only() -> None:
    clay = plan()
    middle = np.array([0.0, clay.low_mm + clay.block_mm[1] / 2])
    spots = np.array(clay.keys) - middle
    for turn in (np.diag([-1.0, -1.0]), np.diag([-1.0, 1.0]), np.diag([1.0, -1.0])):
        gap = np.linalg.norm((spots @ turn)[:, None] - spots[None], axis=2).min(axis=1)
        assert gap.max() > limits()["clay_key"].value
    assert not any(shapely.Polygon(clay.outline).contains(shapely.Point(key)) for key in clay.keys)


def test_clay_comes_with_any_way_of_making_and_is_drawn_at_size() -> None:
    from_clay = pattern_of(ring(), "original-part").making
    assert from_clay.clay is None
    drawing = clay_drawing(plan())
    assert np.ptp(drawing.lines[0].points, axis=0).tolist() == pytest.approx([26.0, 30.0], abs=0.2)


def test_an_original_gives_a_smaller_casting_and_a_new_pattern_one_at_size() -> None:
    """Common practice: an aluminium casting comes out about 1.2 per cent under the original it was moulded from."""
    plate = (
        box(200, 80, 20)
        - M.cylinder(60, 4, 4, 48).translate([40, 40, -5])
        - M.cylinder(60, 4, 4, 48).translate([160, 40, -5])
    )
    found = pattern_of(plate, "original-part")
    ways = {one.kind: one for one in found.making.ways}
    assert ways["original"].figures["casting_long_mm"] == pytest.approx(200.0 / (100 / 98.8), abs=1e-6)
    assert ways["printed"].figures["casting_long_mm"] == ways["wood"].figures["casting_long_mm"] == 200.0
    assert ways["original"].figures["holes"] == 2.0 and ways["original"].hours < ways["wood"].hours
    said = {one.code: one for one in found.findings}
    assert said["casting-comes-out-smaller"].figures["short_mm"] == pytest.approx(200.0 - 200.0 / (100 / 98.8))
    assert said["taper-the-original"].figures["taper_mm2"] > 0.0
    assert not any(piece.holes for piece in found.pieces)
    job = edits.set_pattern_kind(Job(), "original-part").job
    remedy = said["casting-comes-out-smaller"].remedies[0]
    assert take_remedy(job, remedy).job.method.pattern == "printed-filament"


def test_prints_say_why_they_lie_as_they_do() -> None:
    found = pattern_of(M.cube([60, 40, 120], True), "printed-filament", 0.0)
    said = {one.code: one for one in found.findings}["layers-across-the-draw"]
    assert said.figures["stair_mm"] == pytest.approx(0.2 * np.tan(np.radians(2.0)))
    assert said.figures["down_hours"] > 0.0 and said.figures["end_hours"] > 0.0
    fine = pattern_of(M.cube([60, 40, 60], True), "printed-resin", 0.0).making
    assert fine.figures["layer_mm"] == limits()["resin_layer"].value
    assert fine.figures["plastic_mm3"] == pytest.approx(sum(one.mesh.volume for one in fine.prints))


def test_trimesh_takes_every_print_for_closed() -> None:
    for solid, at in (
        (M.cube([400, 60, 50], True), None),
        (M.cylinder(60, 60, 50, 96), None),
        (M.cube([120, 90, 60], True), 0.0),
    ):
        for words in ({"bed_joint": "tongue"}, {"hollow": True}, {"rapping": True, "guide": True}):
            for one in pattern_of(solid, "printed-filament", at, **words).making.prints:
                mesh = trimesh.Trimesh(one.mesh.vertices, one.mesh.faces)
                assert mesh.is_watertight, words
