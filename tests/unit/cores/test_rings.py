"""A groove round the outside by a ring core in a belt, or by a cheek as third part of the flask: solids against hand
figures and trial lifts.
"""

import itertools
from pathlib import Path

import manifold3d as m3
import numpy as np
import pypdf
import pytest
import trimesh

from pounce.base.finding import Severity
from pounce.job import core_edits, edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.parting.values import Kind
from pounce.route.build import build
from pounce.route.check import check, failed_keys
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results, Stop
from pounce.route.stops import CORES, DRAW, PART, PARTING, PATTERN, STOCK
from pounce.solid.boolean import closed_solid
from pounce.solid.mesh import Mesh
from pounce.stock.parse import parse_addition
from tests.conftest import model_of, some
from tests.unit.stock.test_grooves import vee, wheel

UP = (0.0, 0.0, 1.0)


def run(solid: m3.Manifold, how: str, *lines: str, until: Stop[object] = CORES, job: Job | None = None) -> Results:
    job = edits.set_groove(edits.set_draw(job or Job(), UP).job, how).job
    for line in lines:
        job = add_line(job, parse_addition(line)).job
    return Pipeline().run(job, model_of(solid), until=until)


def solid_of(mesh: Mesh) -> m3.Manifold:
    found = closed_solid(mesh)
    assert found is not None
    return found


def sound(mesh: Mesh, euler: int | None = None) -> None:
    made = trimesh.Trimesh(mesh.vertices, mesh.faces)
    assert made.is_watertight and made.body_count == 1
    assert euler is None or made.euler_number == euler


# name, profile (r, z), sand between the rims by hand (Pappus: area x 2 pi x radius of its middle), groove from and to
SQUARE = wheel([(8, 0), (60, 0), (60, 5), (48, 5), (48, 21), (60, 21), (60, 26), (8, 26)])
VEE = vee(60, 50, 16, 5)
CORD = wheel(
    [
        (8, 0),
        (60, 0),
        (60, 4),
        *((60 - 7 * np.sin(np.pi * k / 24), 12 - 8 * np.cos(np.pi * k / 24)) for k in range(1, 24)),
        (60, 20),
        (60, 24),
        (8, 24),
    ]
)
# the lower flange stands out farther: the mouth is a cone from 64 to 60
UNEVEN = wheel([(8, 0), (64, 0), (64, 5), (48, 8), (48, 21), (60, 24), (60, 29), (8, 29)])
JOBS = {
    "square": (SQUARE, np.pi * (60**2 - 48**2) * 16, 5.0, 21.0),
    "vee": (VEE, 2 * np.pi * (0.5 * 16 * 10) * (60 - 10 / 3), 5.0, 21.0),
    "cord": (CORD, 2 * np.pi * (np.pi / 2 * 7 * 8) * (60 - 4 * 7 / (3 * np.pi)), 4.0, 20.0),
    "uneven": (
        UNEVEN,
        np.pi / 3 * 19 * (64**2 + 64 * 60 + 60**2)
        - np.pi * 48**2 * 13
        - np.pi * (64**2 + 64 * 48 + 48**2)
        - np.pi * (60**2 + 60 * 48 + 48**2),
        5.0,
        24.0,
    ),
}


@some("name", JOBS, 2)
def test_a_ring_core_fills_the_groove_and_lies_in_a_belt_that_draws(name: str) -> None:
    solid, hand, low, high = JOBS[name]
    results = run(solid, "ring-core")
    cores, parting = results.need(CORES), results.need(PARTING)
    assert parting.height_mm == pytest.approx((low + high) / 2)
    core = cores.cores[0]
    assert core.hollow.volume == pytest.approx(hand, rel=4e-3)
    belt = core.prints[0]
    # the pattern's belt: rim to rim, its outside leaned away from the joint
    lean, half = np.tan(np.radians(belt.taper_deg)), (high - low) / 2
    rim = max(60.0, belt.rim_mm)
    outer = [rim + belt.length_mm + lean * half, rim + belt.length_mm]
    assert cores.mesh.size[0] / 2 == pytest.approx(outer[0], rel=2e-3)
    assert belt.bearing_mm2[0] == pytest.approx(np.pi * ((rim + belt.length_mm) ** 2 - rim**2), rel=1e-6)
    part, body, made = solid_of(results.need(STOCK).mesh), solid_of(cores.mesh), solid_of(core.mesh)
    assert (made ^ part).volume() < 1e-6 * part.volume()
    assert (made - body).volume() < 1e-6 * made.volume()
    # what the mould holds, less the core, is the casting and the play between
    left = body - made
    assert (part - left).volume() < 1e-6 * part.volume()
    assert left.volume() - part.volume() == pytest.approx(cores.clearance_mm3, rel=1e-3)
    assert 0.0 < cores.clearance_mm3 < 0.12 * made.volume()
    sound(core.mesh, 0)
    sound(cores.mesh, 0)
    # drawn up and down from the joint nothing of the belt locks
    above = body.trim_by_plane(UP, parting.height_mm)
    flat = [abs(float(above.slice(h).area())) for h in np.linspace(parting.height_mm + 0.01, high, 6)]
    assert all(b <= a + 1e-6 for a, b in itertools.pairwise(flat))
    box = core.boxes[0]
    assert abs(box.pull @ np.array(UP)) == pytest.approx(1.0) and box.locked_mm2 < 4e-3 * core.mesh.area
    for piece in box.parts:
        sound(piece.mesh)
    assert (solid_of(box.parts[0].mesh) ^ made).volume() < 1e-6 * made.volume()
    informational = {
        finding.code for finding in (*DRAW.findings(results), *PARTING.findings(results)) if finding.informational
    }
    assert "groove-core" in informational
    assert not any(
        f.code in ("locked", "tears", "no-joint-frees-all") for f in DRAW.findings(results) if not f.informational
    )


def test_draft_leans_the_flanges_and_leaves_the_groove_to_its_core() -> None:
    """Leaned from the joint in the middle of the groove, flanges of 60 grow by tan a x what lies between joint and
    end.
    """
    results = run(VEE, "ring-core", "draft:2", until=PATTERN)
    core = results.need(CORES).cores[0]
    grown = np.tan(np.radians(2.0)) * (13.0 - 8.0)  # at the rim of the groove, 8 mm off the joint, of 13 in all
    assert np.linalg.norm(core.prints[0].rim_mm) == pytest.approx(60.0 + grown, abs=0.02)
    sound(core.mesh, 0)
    roles = [str(piece.role) for piece in results.need(PATTERN).pieces]
    assert roles == ["cope-half", "drag-half"]
    assert results.need(PATTERN).dowel_mm


def test_figures_of_a_ring_are_taken_and_a_joint_beside_it_is_refused() -> None:
    job = edits.set_groove(edits.set_draw(Job(), UP).job, "ring-core").job
    at = Pipeline().run(job, model_of(VEE), until=PARTING).need(PARTING).ringed.core_at
    wider = core_edits.change_at(job, at, side_mm=20.0).job
    core = Pipeline().run(wider, model_of(VEE), until=CORES).need(CORES).cores[0]
    assert core.prints[0].length_mm == pytest.approx(20.0)
    assert len(Pipeline().run(wider, model_of(VEE), until=CORES).need(CORES).cores) == 1
    beside = edits.set_height(job, 26.0).job
    results = Pipeline().run(beside, model_of(VEE), until=CORES)
    said = next(f for f in CORES.findings(results) if f.code == "core-failed")
    assert said.severity is Severity.WARN and "between 5 mm and 21 mm" in said.words().replace("\xa0", " ")
    holed = VEE - m3.Manifold.cylinder(140, 2.5, 2.5, 24, True).rotate([90, 0, 0]).translate([0, 0, 13])
    refused = run(holed, "ring-core")
    assert any("run into this groove" in f.words() for f in CORES.findings(refused))


@some("name", JOBS, 2)
def test_a_cheek_comes_off_between_the_two_parts_of_the_pattern(name: str) -> None:
    """By trial lifts of solids: the upper part rises out of the cheek, the cheek rises off the lower part, and they
    never touch.
    """
    solid, _, low, high = JOBS[name]
    results = run(solid, "cheek", until=PATTERN)
    parting = results.need(PARTING)
    assert parting.ringed.cheek_mm == pytest.approx(high - low, abs=1e-6)
    assert parting.locked_mm2 < 1e-3 * results.need(PART).mesh.area and parting.trial.torn_mm3 == 0.0
    assert Kind.GROOVE not in {region.kind for region in parting.regions if region.state == 2}
    said = next(f for f in DRAW.findings(results) if f.code == "cheek")
    assert said.informational and "three parts" in said.words()
    neck = parting.height_mm
    ring = m3.Manifold.cylinder(high - low, 80, 80, 128).translate([0, 0, low]) - m3.Manifold.cylinder(
        99, 40, 40, 128, True
    )
    cheek = ring - solid
    upper, lower = solid.split_by_plane(UP, neck)
    for lift in (0.5, 2.0, 6.0, 15.0):
        assert (upper.translate([0, 0, lift]) ^ cheek).volume() < 1e-3 * cheek.volume() * lift / 100
        assert (cheek.translate([0, 0, lift]) ^ lower).volume() < 1e-3 * cheek.volume() * lift / 100
    assert [str(piece.role) for piece in results.need(PATTERN).pieces] == ["cope-half", "drag-half"]


def test_two_grooves_and_none_are_said() -> None:
    two = wheel([(8, 0), (60, 0), (60, 5), (50, 9), (60, 13), (60, 17), (50, 21), (60, 25), (60, 30), (8, 30)])
    for how in ("ring-core", "cheek"):
        said = next(f for f in DRAW.findings(run(two, how, until=PARTING)) if f.code == "groove-refused")
        assert "several grooves" in said.words()
    plain = run(wheel([(8, 0), (40, 0), (40, 24), (8, 24)]), "cheek", until=PARTING)
    assert next(f for f in DRAW.findings(plain) if f.code == "groove-refused").severity is Severity.WARN


def test_a_rim_with_stock_and_draft_beside_it_still_gets_its_ring_core() -> None:
    """Wedges of draft leave corners one above the other on the rim: the step from one to the other goes nowhere
    round the axis.
    """
    part = m3.Manifold.cylinder(14, 46, 46, 160) + m3.Manifold.cylinder(62, 21, 19, 128)
    part -= m3.Manifold.cylinder(200, 11, 11, 96, True)
    groove = m3.CrossSection([np.array([[40, 4], [47, 2.2], [47, 11.8], [40, 10]], float)])
    part -= m3.Manifold.revolve(groove, 160)
    plain = run(part, "ring-core").need(CORES).cores[0]
    results = run(part, "ring-core", "machine@0,0,62:F", "draft:2", job=edits.set_metal(Job(), "grey-iron").job)
    (core,) = results.need(CORES).cores
    sound(core.mesh)
    assert core.prints[0].kind == plain.prints[0].kind == "ring"


def test_what_is_refused_is_not_offered_of_two_grooves() -> None:
    """One flask part or belt serves one groove: of two, each is offered filling, and neither a ring core nor a
    cheek.
    """
    twice = wheel(
        [
            (8, 0),
            (60, 0),
            (60, 4),
            (50, 4),
            (50, 12),
            (60, 12),
            (60, 20),
            (45, 20),
            (45, 32),
            (60, 32),
            (60, 36),
            (8, 36),
        ]
    )
    results = run(twice, "", until=PARTING)
    findings = [one for one in DRAW.findings(results) if one.code == "locked" and "groove" in one.noun]
    assert findings
    for one in findings:
        assert {remedy.id for remedy in one.remedies} & {"ring-core", "cheek"} == set()
        assert "fill" in {remedy.id for remedy in one.remedies} and "ring core" not in one.text


def test_a_mould_without_a_gate_is_said_and_the_rest_is_built(tmp_path: Path) -> None:
    """A ring core lies round the joint: halves, core and boxes are written all the same, and the sheet says why not."""
    model = model_of(SQUARE)
    job = edits.set_groove(edits.set_draw(Job(), UP).job, "ring-core").job
    results = Pipeline().run(job, model)
    manifest = build(results, model, tmp_path / "out")
    (failed,) = manifest["failed"]
    assert failed["stop"] == "mould" and "all round the casting" in failed["what"] and failed["try"]
    assert failed_keys(results) == check(results, model)["failed"] == manifest["failed"]
    files = {entry["file"] for entry in manifest["files"]}
    assert {"cope-half.3mf", "drag-half.3mf", "core.3mf", "shop-sheet.pdf"} <= files
    assert not {"pour-card.pdf", "mould-plan.pdf"} & files
    said = "".join(page.extract_text() for page in pypdf.PdfReader(tmp_path / "out" / "shop-sheet.pdf").pages)
    assert "No mould yet: A core lies all round" in said
