"""How a pattern is made: layers, boards, foam, beds; held against closed forms, a handbook's example and other
libraries.
"""

from typing import Any

import manifold3d as m3
import numpy as np
import pytest
import shapely

from pounce.base.errors import UserFault
from pounce.job import edits, pattern_edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.metals.tables import limits, timber
from pounce.pattern.making.foam import sheets as foam
from pounce.pattern.making.layers import layers_of, levels_of, with_meshes
from pounce.pattern.making.printed.prints import test_piece as block_to_try
from pounce.pattern.making.values import Blank, Layer, Making
from pounce.pattern.making.wood import boards as wood
from pounce.pattern.values import PatternResult
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import PATTERN
from pounce.solid import boolean
from pounce.solid.mesh import Mesh
from pounce.stock.letters import outlines
from tests.conftest import box, mesh_of, model_of

M = m3.Manifold


def pattern_of(solid: m3.Manifold, kind: str, at: float | None = None, **changes: Any) -> PatternResult:
    """The pattern of a solid made in this way, parted flat at the height ``at`` where it is not to lie on its back."""
    model = model_of(solid)
    job = edits.set_pattern_kind(edits.set_draw(with_model(Job(), model), (0.0, 0.0, 1.0)).job, kind).job
    if at is not None:
        job = edits.set_parting(job, *edits.parse_parting(f"flat:{at}")).job
    if changes:
        job = pattern_edits.set_making(job, **changes).job
    found = Pipeline().run(job, model, until=PATTERN).need(PATTERN)
    assert isinstance(found, PatternResult)
    return found


def test_the_stack_tends_to_the_solid_as_boards_get_thinner() -> None:
    dome = mesh_of(M.sphere(40, 96).trim_by_plane([0, 0, 1.0], 0.0))
    over = []
    for thick in (10.0, 5.0, 2.5):
        stack = layers_of(dome, 0, thick)
        over.append(sum(float(one.saw.area) * one.thick_mm for one in stack) / dome.volume - 1.0)
        assert sum(one.thick_mm for one in stack) == pytest.approx(float(dome.size[2]))
    # sawn outside the larger face: never less than the solid, and the surplus halves with the thickness
    assert over[0] > over[1] > over[2] > 0.0
    assert over[1] / over[0] == pytest.approx(0.5, abs=0.06) and over[2] / over[1] == pytest.approx(0.5, abs=0.06)


def test_layers_meet_on_level_faces_and_add_up_to_the_piece() -> None:
    stepped = mesh_of(M.cube([80, 50, 11]) + M.cube([40, 50, 25]))
    assert levels_of(stepped, 18.0).tolist() == pytest.approx([0.0, 11.0, 25.0])
    assert levels_of(stepped, 6.0).tolist() == pytest.approx([0.0, 5.5, 11.0, 11 + 14 / 3, 11 + 28 / 3, 25.0])
    stack = with_meshes(layers_of(stepped, 0, 6.0), [stepped])
    assert sum(one.mesh.volume for one in stack if one.mesh is not None) == pytest.approx(stepped.volume, rel=1e-9)
    for one in stack:
        assert one.mesh is not None and one.mesh.bounds[0, 2] == pytest.approx(one.low_mm, abs=1e-9)


def test_boards_cross_their_grain_but_slender_ones_keep_it() -> None:
    found = pattern_of(M.cube([120, 100, 60], True), "wood", 0.0).making
    per_half = [one for one in found.layers if one.piece == 0]
    assert [round(one.grain_deg) % 180 for one in per_half] == [0, 90]
    bar = pattern_of(M.cube([200, 30, 80], True), "wood", 0.0).making
    assert {round(one.grain_deg) % 180 for one in bar.layers} == {0}


def test_the_cut_list_fits_its_boards_without_overlap() -> None:
    making = pattern_of(box(140, 90, 100), "wood", board_wide_mm=120.0, board_long_mm=400.0).making
    assert making.boards >= 1
    places: dict[int, list[shapely.Polygon]] = {}
    for one in making.blanks:
        assert one.long_mm * one.wide_mm > 0.0
        if one.board < 0:
            assert one.wide_mm + 3.0 > 120.0
            continue
        x, y = one.at_mm
        rect = shapely.box(x, y, x + one.long_mm, y + one.wide_mm)
        assert shapely.box(0, 0, 400, 120).covers(rect)
        assert all(rect.intersection(other).area < 1e-6 for other in places.setdefault(one.board, []))
        places[one.board].append(rect)
    # boards are as long as the layer along the grain, with the room to plane on both sides
    size = 140.0 * (100 / 98.8) + 2 * 1.5
    assert max(one.long_mm for one in making.blanks) == pytest.approx(size, abs=0.11)


def test_a_ring_of_segments_covers_the_ring() -> None:
    ring = shapely.Point(0, 0).buffer(200.0, 256).difference(shapely.Point(0, 0).buffer(150.0, 256))
    found = wood.segments_of(Layer(0, 1, 0.0, 18.0, ring, ring, ring, 0.0), 2.0)
    assert found is not None and found.wide_mm <= limits()["segments_width"].value
    assert found.mitre_deg == pytest.approx(180.0 / found.count)
    # trapezoids of that board, mitred so, laid round: nothing of the ring is bare
    half = np.pi / found.count
    top = found.outer_mm
    low = top - found.wide_mm  # the outer edge of the board is the tangent side
    assert low == pytest.approx((150.0 - 2.0) * np.cos(half), abs=0.01)
    trapezoid = shapely.Polygon(
        [(low, -low * np.tan(half)), (top, -top * np.tan(half)), (top, top * np.tan(half)), (low, low * np.tan(half))]
    )
    assert found.long_mm == pytest.approx(2 * top * np.tan(half))
    whole = shapely.unary_union(
        [shapely.affinity.rotate(trapezoid, 360.0 * k / found.count, (0, 0)) for k in range(found.count)]
    )
    assert ring.difference(whole.buffer(1e-6)).area < 1e-3
    assert (
        wood.segments_of(Layer(0, 1, 0.0, 18.0, shapely.box(0, 0, 9, 9), ring, shapely.box(0, 0, 9, 9), 0.0), 2.0)
        is None
    )


def test_movement_across_the_grain() -> None:
    """Wood Handbook's worked example, from memory: flat-sawn sugar maple of 232 mm from 8 to 11 per cent moisture
    moves 2.46 mm.
    """
    assert wood.movement_mm(232.0, timber("maple"), 3.0) == pytest.approx(2.46, rel=0.02)


def test_gas_of_burned_foam_is_the_ideal_gas_law() -> None:
    """One mol of an ideal gas takes 22.414 l at 0 C and 101.325 kPa (the molar volume of every chemistry table)."""
    assert foam.gas_litres(0.10415, 0.0) == pytest.approx(22.414, rel=1e-4)


def test_hot_wire_profiles_run_in_step_and_allow_for_the_kerf() -> None:
    tapered = mesh_of(M.extrude(m3.CrossSection.square((80, 50), True), 30.0, 0, 0.0, (0.8, 0.8)))
    layers = layers_of(tapered, 0, 50.0)
    (cut,) = foam.hot_cuts(layers, 1.0)
    assert not foam.is_straight(cut) and cut.lower.shape == cut.upper.shape
    for points, scale in ((cut.lower, 1.0), (cut.upper, 0.8)):
        low, high = points.min(axis=0), points.max(axis=0)
        # half a kerf outside the piece on every side
        assert (high - low).tolist() == pytest.approx([80 * scale + 1.0, 50 * scale + 1.0], abs=0.02)
    # every rule line of a frustum runs through its tip: corners belong to corners
    tip = 30.0 / (1.0 - 0.8)
    slopes = (cut.upper - cut.lower * (tip - 30.0) / tip)[:-1]
    assert np.abs(slopes).max() < 0.25
    one, two = foam.marks_of(cut)
    assert len(one) == len(two) >= 8
    straight = foam.hot_cuts(layers_of(mesh_of(box(40, 30, 20)), 0, 50.0), 1.0)
    assert all(foam.is_straight(each) for each in straight)


def test_an_opening_is_cut_inside_its_outline() -> None:
    plate = mesh_of(M.cube([60, 60, 20], True) - M.cylinder(50, 10, 10, 64, True))
    cuts = foam.hot_cuts(layers_of(plate, 0, 50.0), 2.0)
    (hole,) = [one for one in cuts if one.inside]
    assert float(np.ptp(hole.lower[:, 0])) == pytest.approx(18.0, abs=0.05)


def _on_beds(making: Making, bed: tuple[float, float, float]) -> None:
    seen: dict[int, list[shapely.Polygon]] = {}
    for one in making.prints:
        assert boolean.closed_solid(one.mesh) is not None
        assert one.mesh.bounds[0, 2] == pytest.approx(0.0, abs=1e-9) and float(one.mesh.size[2]) <= bed[2]
        x, y = one.at_mm
        rect = shapely.box(*(np.array([x, y]) - one.mesh.size[:2] / 2), *(np.array([x, y]) + one.mesh.size[:2] / 2))
        assert shapely.box(0, 0, bed[0], bed[1]).covers(rect)
        assert all(rect.intersection(other).area < 1e-6 for other in seen.setdefault(one.bed, []))
        seen[one.bed].append(rect)


def test_prints_are_closed_on_the_bed_and_within_it() -> None:
    _on_beds(pattern_of(box(100, 60, 40), "printed-filament").making, (220.0, 220.0, 250.0))


def test_a_piece_too_large_is_cut_and_adds_up_to_the_whole() -> None:
    found = pattern_of(box(400, 60, 50), "printed-filament", numbers=False)
    making = found.making
    _on_beds(making, (220.0, 220.0, 250.0))
    parts = [one for one in making.prints if one.of == 0]
    assert len(parts) >= 2 and {one.part for one in parts} == set(range(1, len(parts) + 1))
    whole = found.pieces[0].volume_mm3
    cuts = len(parts) - 1
    bored = whole - sum(one.mesh.volume for one in parts)
    # two dowel holes a cut, 6 mm and their glue, 12 mm into either side
    thick = 6.0 + limits()["dowel_glue_clearance"].value
    assert bored == pytest.approx(cuts * 2 * 24.0 * np.pi / 4.0 * thick**2, rel=0.02)


def test_a_long_piece_is_turned_on_the_bed_before_it_is_cut() -> None:
    making = pattern_of(box(270, 20, 30), "printed-filament").making
    assert all(one.part == 0 and 30.0 <= one.turn_deg <= 60.0 for one in making.prints)
    _on_beds(making, (220.0, 220.0, 250.0))


def test_plastic_is_never_more_than_the_solid_and_time_grows_with_finer_layers() -> None:
    thin = pattern_of(box(60, 3, 20), "printed-filament")
    for one in thin.making.prints:
        assert one.plastic_mm3 <= one.mesh.volume * (1 + 1e-9)
    coarse, fine = (
        pattern_of(box(60, 40, 30), "printed-filament", layer_mm=h).making.figures["minutes"] for h in (0.2, 0.1)
    )
    assert fine > coarse


def test_every_way_is_held_beside_the_others() -> None:
    for kind, way, first in (
        ("printed-filament", "printed", []),
        ("wood", "wood", []),
        ("foam-drawn", "foam", []),
        ("metal-from-master", "metal", ["metal"]),
        ("original-part", "original", ["original"]),
    ):
        making = pattern_of(box(60, 40, 30), kind).making
        assert making.kind == way and [one.kind for one in making.ways] == [*first, "printed", "wood", "foam"]
        assert all(one.hours > 0.0 and one.hours >= one.hand_hours for one in making.ways)


def test_long_foam_is_told_to_bow_and_burned_foam_its_gas() -> None:
    found = pattern_of(M.cube([600, 30, 30], True), "foam-burned-out")
    said = {one.code: one for one in found.findings}
    assert said["foam-bows"].figures["slender_ratio"] == pytest.approx(20.0, rel=1e-6)
    assert said["foam-gas"].figures["gas_litres"] > 0.0
    assert "foam-gas" not in {one.code for one in pattern_of(M.cube([600, 30, 30], True), "foam-drawn").findings}


def test_the_test_piece_is_closed_and_drafted() -> None:
    piece = block_to_try(2.0, 3.0, 0.1, outlines("Ag"))
    assert boolean.closed_solid(piece) is not None and piece.size[:2].tolist() == pytest.approx([60.0, 40.0], abs=1e-6)
    lean = np.degrees(np.arcsin(np.clip(piece.normals[:, 2], -1.0, 1.0)))
    sides = (piece.corners[:, :, 2].max(axis=1) < 10.001) & (np.abs(lean) < 45.0)
    assert lean[sides & (piece.areas > 1.0)].min() == pytest.approx(2.0, abs=0.05)
    # its letters lean all round, in their counters too, or it would try an undercut
    walls = (piece.corners[:, :, 2].min(axis=1) > 9.9) & (piece.corners[:, :, 0].min(axis=1) > 2.5) & (lean < 45.0)
    assert walls.sum() > 50 and lean[walls].min() > 0.75 * limits()["letter_draft"].value


@pytest.mark.parametrize(
    ("word", "field", "value"),
    [
        ("bed=300x300", "bed_mm", (300.0, 300.0, 250.0)),
        ("timber=pine", "timber", "pine"),
        ("walls=3", "walls", 3),
        ("boards=200x900", "board_wide_mm", 200.0),
        ("test-piece", "test_piece", True),
        ("paper=A3", "paper", "A3"),
        ("no-rule", "rule", False),
    ],
)
def test_words_of_the_command(word: str, field: str, value: object) -> None:
    assert getattr(pattern_edits.with_word(Job(), word).pattern, field) == value


@pytest.mark.parametrize("word", ["bed=wide", "timber=oak", "walls=two", "colour=red", "paper=A9"])
def test_words_that_make_no_sense_are_refused(word: str) -> None:
    with pytest.raises(UserFault):
        pattern_edits.with_word(Job(), word)


@pytest.mark.parametrize(
    "change", [{"board_mm": 0.0}, {"sheet_mm": 1.0}, {"layer_mm": 3.0}, {"bed_mm": (10.0, 10.0, 10.0)}]
)
def test_figures_that_no_shop_has_are_said(change: dict[str, Any]) -> None:
    model = model_of(box(60, 40, 30))
    job = pattern_edits.set_making(with_model(Job(), model), **change).job
    fault = Pipeline().run(job, model, until=PATTERN).faults["pattern"]
    assert "cannot be used" in str(fault)


def test_a_board_too_long_is_scarfed_and_one_too_wide_glued_up() -> None:
    found = pattern_of(box(900, 60, 10), "wood", board_long_mm=500.0)
    said = next(one for one in found.findings if one.code == "scarfed")
    # lengths of 500 less the saw, lapped by eight times their thickness, reach over the blank; one fewer would not
    (blank,) = found.making.blanks
    lap, count = 8.0 * blank.thick_mm, int(said.figures["lengths"])
    assert count * 497.0 - (count - 1) * lap >= blank.long_mm + 3.0 > (count - 1) * 497.0 - (count - 2) * lap
    assert said.figures["scarf_mm"] == pytest.approx(lap) and blank.board == -1
    found = pattern_of(box(300, 250, 30), "wood")
    assert "glued-up" in {one.code for one in found.findings}
    assert wood.glued_up(Blank("b", 1, 300.0, 256.0, 15.0, "along"), 150.0, 3.0) == 2


def test_a_remedy_takes_plywood() -> None:
    found = pattern_of(box(140, 120, 40), "wood")
    remedy = next(one for one in found.findings if one.code == "wood-moves").remedies[0]
    assert take_remedy(Job(), remedy).job.pattern.timber == "plywood"


def test_pair_numbers_are_cut_into_both_faces_the_same_way_round() -> None:
    found = pattern_of(box(80, 60, 40), "printed-filament", 20.0)
    plain = pattern_of(box(80, 60, 40), "printed-filament", 20.0, numbers=False)
    less = [a.volume_mm3 - b.volume_mm3 for a, b in zip(plain.pieces, found.pieces, strict=True)]
    section = m3.CrossSection([np.ascontiguousarray(loop * 8.0) for loop in outlines("1")], m3.FillRule.NonZero)
    assert less == pytest.approx([float(section.area()) * 0.6] * 2, rel=1e-3)
    for piece in found.pieces:
        assert isinstance(piece.mesh, Mesh) and boolean.closed_solid(piece.mesh) is not None
