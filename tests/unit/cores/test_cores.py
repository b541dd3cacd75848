"""Cores of analytic and awkward solids: what is found, that everything fits, and what is said."""

from pathlib import Path

import manifold3d as m3
import numpy as np
import pytest
import trimesh

from pounce.base.finding import Severity
from pounce.cores.parse import with_words
from pounce.cores.values import CoreChoices, CoresResult, HollowChoice
from pounce.job import core_edits, edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.route.opening import open_any
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results, stop_keys
from pounce.route.stops import CORES, PATTERN, STOCK
from pounce.solid.boolean import closed_solid
from pounce.solid.mesh import Mesh
from tests.conftest import box, model_of
from tests.unit.pattern.helpers import distances

M = m3.Manifold
SIDES = 64


def cored(
    solid: m3.Manifold,
    draw: tuple[float, float, float] = (0.0, 0.0, 1.0),
    height: float | None = None,
    **choices: object,
) -> Results:
    """The line with every hollow that locks made a core."""
    job = edits.set_draw(Job(), draw).job
    if height is not None:
        job = edits.set_height(job, height).job
    job = core_edits.set_cores(job, every=True, **choices).job
    return Pipeline().run(job, model_of(solid), until=PATTERN)


def solid_of(mesh: Mesh) -> m3.Manifold:
    """As the solid library takes it; fails where it is open."""
    found = closed_solid(mesh)
    assert found is not None
    return found


def block(bore: float = 20.0) -> m3.Manifold:
    """A block of 80 x 50 x 50 with a bore through along x."""
    return M.cube([80, 50, 50], True) - M.cylinder(100, bore / 2, bore / 2, SIDES, True).rotate([0, 90, 0])


def cup() -> m3.Manifold:
    """A mug lying on its side, with a handle."""
    handle = M.revolve(m3.CrossSection.circle(4, 24).translate([20, 0]), 48).rotate([90, 0, 0]).translate([36, 0, 40])
    wall = M.cylinder(80, 36, 36, SIDES)
    return (wall + (handle - M.cylinder(80, 33, 33, SIDES))) - M.cylinder(80, 30, 30, SIDES).translate([0, 0, 6])


PARTS = {
    "bore": (block(), (0.0, 0.0, 1.0), 0.0, 1, 2),
    "chamfered bore": (
        block() - M.cylinder(4, 14, 10, SIDES).rotate([0, 90, 0]).translate([-40, 0, 0]),
        (0.0, 0.0, 1.0),
        0.0,
        1,
        2,
    ),
    "two openings": (
        M.sphere(40, 96) - M.sphere(32, 96) - M.cylinder(200, 10, 10, 48, True).rotate([90, 0, 0]),
        (0.0, 0.0, 1.0),
        0.0,
        1,
        2,
    ),
    "three crossing bores": (
        M.cube([80, 80, 80], True)
        - M.cylinder(200, 12, 12, 48, True)
        - M.cylinder(200, 12, 12, 48, True).rotate([90, 0, 0])
        - M.cylinder(200, 12, 12, 48, True).rotate([0, 90, 0]),
        (0.0, 0.0, 1.0),
        0.0,
        1,
        6,
    ),
    "cup": (cup(), (0.0, 1.0, 0.0), 0.0, 1, 1),
    "ring groove": (block() - M.cylinder(10, 14, 14, SIDES, True).rotate([0, 90, 0]), (0.0, 0.0, 1.0), 0.0, 1, 2),
}


@pytest.mark.parametrize("name", list(PARTS))
def test_core_casting_and_clearance_fill_the_mould(name: str) -> None:
    """The volume identity by the solid library: pattern with prints = part + core + clearance, nothing overlapping,
    all closed.
    """
    solid, draw, height, count, prints = PARTS[name]
    results = cored(solid, draw, height)
    found: CoresResult = results.need(CORES)
    assert len(found.cores) == count, [f.words() for f in found.findings]
    core = found.cores[0]
    assert len(core.prints) == prints
    part, body = solid_of(results.need(STOCK).mesh), solid_of(found.mesh)
    cores = solid_of(core.mesh)
    assert float((cores ^ part).volume()) < 1e-6 * float(part.volume())
    assert float((cores - body).volume()) < 1e-6 * float(part.volume())
    assert float((part - body).volume()) < 1e-6 * float(part.volume())
    room = float((body - part - cores).volume())
    # between pattern and core lie the clearance and the metal that the draft of the core leaves
    assert room == pytest.approx(found.clearance_mm3 + core.draft_mm3, rel=1e-6, abs=1e-5 * core.mesh.volume)
    assert float(part.volume() + cores.volume()) + room == pytest.approx(
        float(body.volume()), rel=1e-6 if core.draft_mm3 else 1e-9
    )
    for made in (core.mesh, *(part_of_box.mesh for one in core.boxes for part_of_box in one.parts)):
        # in single precision and read by another library, as a file of it is
        other = trimesh.Trimesh(made.vertices.astype(np.float32), made.faces)
        assert other.is_watertight
    for one in core.boxes:
        for part_of_box in one.parts:
            held = solid_of(part_of_box.mesh)
            assert float((held ^ solid_of(one.core)).volume()) < 1e-6 * core.mesh.volume
    assert results.need(PATTERN).pieces


def test_a_tube_core_has_the_volume_of_its_bore() -> None:
    """A polygon of 64 sides, 20 across, 80 long, to 1e-9; the core's prints add their own."""
    results = cored(block(), height=0.0)
    core = results.need(CORES).cores[0]
    area = 0.5 * SIDES * np.sin(2.0 * np.pi / SIDES) * 100.0
    assert core.hollow.volume == pytest.approx(area * 80.0, rel=1e-9)
    assert core.symmetric
    assert core.boxes[0].twice


def test_core_prints_stand_off_the_mould_by_their_clearance() -> None:
    """By VTK's own distances: points on the core's prints lie the clearance off the pattern's surface, all round."""
    results = cored(block(30.0), height=0.0)
    found = results.need(CORES)
    core = found.cores[0]
    on_print = np.flatnonzero(core.mesh.tags.print >= 0)
    middles = core.mesh.corners[on_print].mean(axis=1)
    one = core.prints[0]
    beyond = np.array([max(float((p - q.at_mm) @ q.axis) for q in core.prints) for p in middles])
    side = (np.abs(core.mesh.normals[on_print] @ one.axis) < 0.1) & (beyond > 2.0) & (beyond < one.length_mm - 3.0)
    assert side.sum() > 20
    assert distances(found.mesh, middles[side]) == pytest.approx(one.clearance_mm, abs=0.03)


def test_upright_prints_taper_and_the_cope_finds_its_seat() -> None:
    """A bore along the draw, pointed at: 5 degrees below, 10 above (common practice)."""
    solid = M.cylinder(60, 30, 30, SIDES, True) - M.cylinder(80, 12, 12, SIDES, True)
    job = edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job
    job = core_edits.set_hollow(job, (12.0, 0.0, 5.0), "core").job
    results = Pipeline().run(job, model_of(solid), until=CORES)
    core = results.need(CORES).cores[0]
    kinds = {one.kind: one for one in core.prints}
    assert set(kinds) == {"drag", "cope"}
    assert (kinds["drag"].taper_deg, kinds["cope"].taper_deg) == (5.0, 10.0)
    pattern = kinds["cope"].pattern
    assert pattern is not None
    high = pattern.vertices[:, 2].max()
    top = pattern.vertices[np.abs(pattern.vertices[:, 2] - high) < 1e-6]
    radius = float(np.linalg.norm(top[:, :2], axis=1).max())
    assert radius == pytest.approx(12.0 - kinds["cope"].length_mm * np.tan(np.radians(10.0)), abs=0.05)
    assert any(f.code.startswith("core-sag") and "stands" in f.words() for f in results.need(CORES).findings)


def test_a_long_core_sags_and_is_cured_by_standing_it_on_end() -> None:
    pipe = M.cylinder(400, 12, 12, SIDES, True).rotate([0, 90, 0]) - M.cylinder(420, 8, 8, SIDES, True).rotate(
        [0, 90, 0]
    )
    found = cored(pipe, height=0.0).need(CORES)
    said = next(f for f in found.findings if f.code.startswith("core-sag"))
    assert not said.informational
    remedy = next(r for r in said.remedies if r.id == "on-end")
    job = take_remedy(
        core_edits.set_cores(edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job, every=True).job,
        remedy,
    ).job
    stood = Pipeline().run(job, model_of(pipe), until=CORES).need(CORES)
    assert next(f for f in stood.findings if f.code.startswith("core-sag")).informational
    assert any(f.code == "on-end" for f in stood.findings)
    assert len(stood.cores[0].boxes) > 1  # and it is cut in pieces for the printer
    pieces = sum(one.core.volume for one in stood.cores[0].boxes)
    # the sockets' play is all that is missing
    assert 0.985 * stood.cores[0].mesh.volume < pieces <= stood.cores[0].mesh.volume * (1.0 + 1e-9)


def test_a_blind_core_gets_one_print_that_outweighs_it() -> None:
    core = cored(cup(), (0.0, 1.0, 0.0), 0.0).need(CORES).cores[0]
    assert len(core.prints) == 1
    assert core.prints[0].length_mm >= 0.8 * core.prints[0].width_mm
    assert not core.loads.tips


def test_a_hollow_is_refused_asked_again_and_filled_instead() -> None:
    job = edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job
    model = model_of(block())
    offered = Pipeline().run(job, model, until=CORES).need(CORES)
    assert not offered.cores
    said = next(f for f in offered.findings if f.code == "hollow-0")
    assert {r.id for r in said.remedies} == {"core-it", "drill-it", "sand-it"}
    by = {r.id: r for r in said.remedies}
    sand = take_remedy(job, by["sand-it"]).job
    left = Pipeline().run(sand, model, until=CORES).need(CORES)
    assert not left.cores
    assert left.offers[0].make == "sand"
    again = take_remedy(sand, next(r for f in left.findings for r in f.remedies if r.id == "hollow-undo")).job
    assert again.cores.hollows == ()
    filled = Pipeline().run(take_remedy(job, by["drill-it"]).job, model, until=CORES)
    assert filled.need(STOCK).drill
    assert not filled.need(CORES).offers
    made = Pipeline().run(take_remedy(job, by["core-it"]).job, model, until=CORES).need(CORES)
    assert len(made.cores) == 1


def test_figures_given_for_a_core_are_kept_and_bad_ones_said() -> None:
    job = edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job
    words = with_words(with_words(CoreChoices(), "0,0,10:side=31:clearance=0.5:box=half"), "mix=core-oil")
    given = core_edits.set_cores(job, hollows=words.hollows, mix=words.mix).job
    results = Pipeline().run(given, model_of(block()), until=CORES)
    core = results.need(CORES).cores[0]
    assert {one.length_mm for one in core.prints} == {31.0}
    assert {one.clearance_mm for one in core.prints} == {0.5}
    assert core.boxes[0].style == "half"
    assert len(core.boxes[0].parts) == 1
    keys = stop_keys(CORES, results)
    assert keys["schema"] == "pounce.cores/1"
    assert keys["cores"][0]["prints"][0]["length_mm"] == 31.0
    wild = core_edits.change_at(given, (0.0, 0.0, 10.0), side_mm=9999.0).job
    found = Pipeline().run(wild, model_of(block()), until=CORES).need(CORES)
    assert any("cannot be used" in f.words() for f in found.findings)
    off = core_edits.set_hollow(job, (40.0, 20.0, 20.0), "core").job
    assert any(
        f.code.startswith("no-hollow") for f in Pipeline().run(off, model_of(block()), until=CORES).need(CORES).findings
    )


def test_sand_is_weighed_out_with_a_tenth_over() -> None:
    """Flour and molasses: 8 % binder and 6 % water of the sand's weight (common practice), 1600 kg/m3, contraction
    1.2 % each way.
    """
    results = cored(block(), height=0.0, mix="flour-molasses")
    core = results.need(CORES).cores[0]
    assert core.make_kg == pytest.approx(1.1 * 1600e-9 * core.mesh.volume * (100 / 98.8) ** 3, rel=1e-3)
    assert core.binder_kg / core.sand_kg == pytest.approx(0.08)
    assert core.water_kg / core.sand_kg == pytest.approx(0.06)


def test_a_burned_out_pattern_needs_no_core() -> None:
    job = edits.set_pattern_kind(Job(), "foam-burned-out").job
    found = Pipeline().run(job, model_of(block()), until=CORES).need(CORES)
    assert [f.code for f in found.findings] == ["no-core"]


def test_a_plain_block_has_no_hollow() -> None:
    found = (
        Pipeline().run(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, model_of(box(40, 30, 20)), until=CORES).need(CORES)
    )
    assert not found.offers
    assert not found.findings


def test_a_square_core_leans_in_its_box_unless_told_not_to() -> None:
    square = M.cube([80, 50, 50], True) - M.cube([100, 20, 20], True)
    core = cored(square, height=0.0).need(CORES).cores[0]
    # four walls of 80 x 10 beside the joint lose 80 x 10 x 10 tan(1 degree) / 2 each
    assert core.draft_mm3 == pytest.approx(4 * 80 * 10 * 10 * np.tan(np.radians(1.0)) / 2.0, rel=1e-3)
    box = core.boxes[0]
    own = core.mesh.tags.print < 0
    lean = np.degrees(np.arcsin(np.abs(core.mesh.normals[own] @ box.pull)))
    ends = np.abs(core.mesh.normals[own][:, 0]) > 0.99
    assert float(lean[~ends].min()) > 0.99
    place = core.place_mm
    straight = cored(square, height=0.0, hollows=(HollowChoice(place, draft_deg=0.0),)).need(CORES).cores[0]
    assert straight.draft_mm3 == 0.0 and straight.hollow.volume == pytest.approx(80 * 400, rel=1e-9)
    refused = cored(square, height=0.0, hollows=(HollowChoice(place, draft_deg=-3.0),)).need(CORES)
    assert not refused.cores and any("draft of -3" in one.words() for one in refused.findings)


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


def test_a_package_part_with_three_crossing_bores() -> None:
    """A cube with square bores along all three axes that meet: example003 of Debian's openscad package (CC0)."""
    job, model = open_any(Path(__file__).parents[2] / "data" / "parts" / "crossing-bores.stl")
    results = Pipeline().run(core_edits.set_cores(edits.set_unit(job, "mm").job, every=True).job, model, until=PATTERN)
    found = results.need(CORES)
    (core,) = found.cores
    assert sorted(one.kind for one in core.prints) == ["cope", "drag", "side", "side", "side", "side"]
    assert core.boxes[0].locked_mm2 == pytest.approx(0.0, abs=1.0)
    assert [one.code for one in found.findings if one.severity != Severity.NOTE and not one.informational] == [
        "core-shift-0"
    ]
    assert len(results.need(PATTERN).pieces) == 2
