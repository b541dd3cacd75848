"""Text on faces of the pattern."""

import manifold3d as m3
import numpy as np
import pytest
import shapely

from pounce.base.errors import UserFault
from pounce.base.progress import silent
from pounce.job import edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line, move_line
from pounce.metals.tables import limits
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import PROOF, STOCK
from pounce.stock.letters import drafted, outlines, stroke_of
from pounce.stock.values import Addition, Draft, Fillets, Finish, Lettering, LineKind, Machining
from tests.conftest import model_of, some
from tests.unit.stock.helpers import UP, change, is_closed, stocked

M = m3.Manifold


def test_text_stands_on_its_face_and_is_refused_where_sand_cannot_show_it() -> None:
    plate = M.cube([120, 40, 15])
    results = stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 10.0, 1.2), height=0.0)
    added = change(results)
    assert results.need(STOCK).mesh.bounds[1][2] == pytest.approx(16.2, abs=1e-6)
    sunk = -stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 10.0, -1.2), height=0.0).need(STOCK).added_mm3
    # raised ones have round inner corners, where the sand would end in an edge
    assert sunk < added == pytest.approx(sunk, rel=0.01)
    fine = stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 3.0, 1.2), height=0.0).need(STOCK)
    assert "shows nothing finer" in fine.lines[0].trouble and fine.added_mm3 == pytest.approx(0.0, abs=1e-9)
    turned = stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 10.0, 1.2, turn_deg=90.0), height=0.0).need(
        STOCK
    )
    assert "longer than its face" in turned.lines[0].trouble


def test_a_line_is_a_capital_high_and_stands_in_its_middle() -> None:
    points = np.concatenate(outlines("HEB"))
    assert np.ptp(points[:, 1]) == pytest.approx(1.0, abs=0.02)
    assert points[:, 0].min() == pytest.approx(-points[:, 0].max(), abs=0.05)
    assert len(outlines("I")) == 1 and len(outlines("O")) == 2 and len(outlines("B")) == 3
    # a counter runs the other way round
    areas = [float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()) for x, y in (loop.T for loop in outlines("O"))]
    assert areas[0] * areas[1] < 0.0


def test_letters_are_those_of_the_typeface() -> None:
    assert outlines("ÄÖÜß éà №")
    with pytest.raises(UserFault):
        outlines("\u4e2d")


@pytest.mark.parametrize(("wide", "high"), [(1.0, 20.0), (2.0, 50.0)])
def test_the_stroke_of_a_bar_is_its_width(wide: float, high: float) -> None:
    bar = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], float)
    assert stroke_of([bar]) == pytest.approx(wide * high / (wide + high), rel=1e-9)


def test_mirrored_text_is_the_mirror_of_text() -> None:
    plate = M.cube([120, 40, 15])
    plain, other = (
        stocked(plate, Lettering("FERN", (60.0, 20.0, 15.0), 10.0, 1.2, mirrored=one), height=0.0).need(STOCK).mesh
        for one in (False, True)
    )
    assert plain.volume == pytest.approx(other.volume)
    middle = plain.corners[plain.tags.line >= 0].reshape(-1, 3)
    turned = other.corners[other.tags.line >= 0].reshape(-1, 3)
    mine, yours = (np.sort(points[points[:, 2] > 16.0][:, 0]) for points in (middle, turned))
    assert np.ptp(mine) == pytest.approx(np.ptp(yours))
    assert mine.mean() - 60.0 == pytest.approx(60.0 - yours.mean(), abs=0.3)


LETTERS = ("ABCDEFGHIJKLM", "0123456789&ß@", "NOPQRSTUVWXYZ", "abcdefghijklm", "nopqrstuvwxyz")


@pytest.mark.parametrize("proud", [1.2, 3.0, -1.2], ids=["raised", "far-raised", "sunk"])
@some("text", LETTERS, 2)
def test_letters_lean_so_that_they_draw(text: str, proud: float) -> None:
    """Every wall of every letter has the draft of the table, in notches and counters too, and nothing hangs over."""
    plate = M.cube([400, 40, 15])
    made = stocked(plate, Lettering(text, (200.0, 20.0, 15.0), 10.0, proud), height=0.0).need(STOCK)
    mesh = made.mesh
    written = mesh.tags.line >= 0
    assert mesh.normals[written, 2].min() > 0.0
    sides = written & (mesh.normals[:, 2] < 0.9)
    draft = np.degrees(np.arcsin(mesh.normals[sides, 2]))
    least = limits()["letter_draft"].value
    # steeper only where an acute corner is cut off or two letters' feet meet
    assert draft.min() > 0.75 * least
    assert mesh.areas[sides][draft < 0.98 * least].sum() < 0.01 * mesh.areas[sides].sum()
    assert is_closed(mesh)


@pytest.mark.parametrize(("proud", "closes"), [(1.2, False), (3.0, True)])
def test_letters_whose_openings_close_are_told(proud: float, closes: bool) -> None:
    plate = M.cube([120, 40, 15])
    text = Lettering("eße", (60.0, 20.0, 15.0), 10.0, proud)
    assert ("close for their draft" in stocked(plate, text, height=0.0).need(STOCK).lines[0].trouble) == closes


def test_a_notch_narrower_than_its_feet_is_filled() -> None:
    """By hand: 1.2 mm proud and 10 degrees, a foot is 0.215 mm wider a side, so a gap of 0.4 closes and 0.6 stays."""
    u = np.array([[0, 0], [4.4, 0], [4.4, 9], [2.4, 9], [2.4, 2], [2, 2], [2, 9], [0, 9]], float)
    wide = np.array([[0, 0], [4.6, 0], [4.6, 9], [2.6, 9], [2.6, 2], [2, 2], [2, 9], [0, 9]], float)
    ((filled,),), ((kept,),) = drafted([u], 1.2), drafted([wide], 1.2)
    assert shapely.Polygon(filled).area == pytest.approx(4.4 * 9.0, rel=1e-3)
    assert shapely.Polygon(kept).area == pytest.approx(shapely.Polygon(wide).area, rel=1e-3)


@pytest.mark.parametrize(
    ("line", "said"),
    [
        (Lettering("", (60.0, 20.0, 15.0)), "letters can be written"),
        (Lettering("A" * 200, (60.0, 20.0, 15.0)), "letters can be written"),
        (Lettering("FERN", (60.0, 20.0, 15.0), 10.0, 0.1), "shows nothing finer"),
    ],
)
def test_what_cannot_be_written_is_said(line: Lettering, said: str) -> None:
    stock = stocked(M.cube([120, 40, 15]), line, height=0.0).need(STOCK)
    assert said in stock.lines[0].trouble and stock.added_mm3 == pytest.approx(0.0, abs=1e-9)


def test_text_wants_a_flat_face() -> None:
    drum = M.cylinder(60, 40, 40, 96)
    stock = stocked(drum, Lettering("FERN", (40.0, 0.0, 30.0)), height=0.0).need(STOCK)
    assert "flat face" in stock.lines[0].trouble


@pytest.mark.parametrize("hole", [False, True])
def test_letters_never_hang_over_a_hole_or_a_step(hole: bool) -> None:
    plate = M.cube([120, 40, 15])
    plate = plate - M.cylinder(40, 6, 6, 48).translate([70, 22, -5]) if hole else plate + M.cube([120, 18, 25])
    stock = stocked(plate, Lettering("FERN HOUSE", (60.0, 22.0, 15.0), 9.0, 1.2), height=0.0).need(STOCK)
    beside = stocked(plate, Lettering("FERN", (30.0, 28.0, 15.0), 9.0, 1.2), height=0.0).need(STOCK)
    assert "over a hole or an edge" in stock.lines[0].trouble and stock.added_mm3 == pytest.approx(0.0, abs=1e-9)
    assert not beside.lines[0].trouble and beside.added_mm3 > 0.0


@pytest.mark.parametrize(
    ("before", "level"),
    [((Finish(paint_mm=0.15),), 14.85), ((Draft(), Finish(sanding_mm=0.1), Fillets()), 15.1), ((Draft(),), 15.0)],
    ids=["painted", "all-of-it", "drafted"],
)
def test_text_stands_on_its_face_where_earlier_lines_left_it(before: tuple[Addition, ...], level: float) -> None:
    plate = M.cube([120, 40, 15])
    bare = stocked(plate, *before, height=0.0).need(STOCK)
    text = stocked(plate, *before, Lettering("FERN", (60.0, 20.0, 15.0), 10.0, 1.2), height=0.0).need(STOCK)
    alone = stocked(plate, Lettering("FERN", (60.0, 20.0, 15.0), 10.0, 1.2), height=0.0).need(STOCK)
    assert not text.lines[-1].trouble
    assert bare.mesh.bounds[1][2] == pytest.approx(level, abs=1e-6)
    assert text.mesh.bounds[1][2] == pytest.approx(level + 1.2, abs=1e-6)
    assert text.added_mm3 - bare.added_mm3 == pytest.approx(alone.added_mm3, rel=1e-3)


@pytest.mark.parametrize("text_first", [False, True])
def test_text_on_a_machined_face_would_be_cut_away(text_first: bool) -> None:
    """Common practice: cast text stands on faces that stay as cast. It is so whichever line comes first."""
    job = add_line(edits.set_draw(Job(), UP).job, Machining((60.0, 20.0, 15.0), own_mm=2.0)).job
    job = add_line(job, Lettering("FERN", (60.0, 20.0, 15.0), 10.0, 1.2)).job
    job = move_line(job, 0, 1).job if text_first else job
    made = Pipeline().run(job, model_of(M.cube([120, 40, 15])), until=STOCK).need(STOCK)
    text, stock = made.lines if text_first else made.lines[::-1]
    assert text.kind == LineKind.LETTERING and "cut away" in text.trouble
    assert not stock.trouble and made.mesh.bounds[1][2] == pytest.approx(17.0, abs=1e-6)


@pytest.mark.parametrize(("deep", "fits"), [(10.5, True), (10.1, False)])
def test_a_letters_foot_stays_on_its_face(deep: float, fits: bool) -> None:
    """10 mm high and 1.2 mm proud, a foot is 0.215 mm wider at top and bottom: 10.43 mm of face."""
    plate = M.cube([120, deep, 15])
    line = stocked(plate, Lettering("HIH", (60.0, deep / 2.0, 15.0), 10.0, 1.2), height=0.0).need(STOCK).lines[0]
    assert bool(line.trouble) != fits


@pytest.mark.parametrize("high", [8.0, 12.0])
def test_the_sand_between_strokes_has_neither_slits_nor_edges(high: float) -> None:
    """Inner corners are round: a plate with text on it is told of no sand that is finer than its grain."""
    plate = model_of(M.cube([160, 60, 15]))
    job = edits.set_draw(with_model(Job(name="Plate"), plate), (0.0, 0.0, 1.0)).job
    text = Lettering("MAN VAWKY 147", (80.0, 30.0, 15.0), high, 1.2)
    job = add_line(add_line(job, Draft(2.0)).job, text).job
    results = Pipeline().run(job, plate, silent, until=PROOF)
    assert not any(line.trouble for line in results.need(STOCK).lines)
    assert {"finer-than-sand", "sharp-sand"} & {one.code for one in PROOF.findings(results)} == set()
