"""The proof, held against a push-out by the solid library: each half of the sand as a solid of its own, lifted in steps
and intersected with the pattern.
"""

from dataclasses import replace
from pathlib import Path

import manifold3d
import numpy as np
import pytest

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.progress import silent
from pounce.job import edits
from pounce.job.core_edits import set_hollow
from pounce.job.job import Job
from pounce.job.stock_edits import add_line, drop_line
from pounce.parting.changes import AskFor
from pounce.proof.stop import _with_cures_of
from pounce.proof.values import By, Verdict
from pounce.route.demo_jobs import DEMOS, lay_out
from pounce.route.opening import open_any, with_model
from pounce.route.pipeline import Pipeline
from pounce.route.proof import as_rammed
from pounce.route.results import Results
from pounce.route.stops import DRAW, PART, PARTING, PROOF
from pounce.solid.mesh import Mesh
from pounce.stock.values import Draft, Fill
from tests.conftest import box, model_of
from tests.worked import UNPOURED

M = manifold3d.Manifold
UP = (edits.set_draw, (0.0, 0.0, 1.0))
BLOCK = box(60, 40, 30) - M.cylinder(100, 5, 5, 64, True).rotate([90, 0, 0]).translate([30, 20, 15])


def worked(solid: manifold3d.Manifold, *steps: tuple[object, ...]) -> Results:
    model = model_of(solid)
    job = with_model(Job(), model)
    for make, *arguments in steps:
        job = make(job, *arguments).job  # type: ignore[operator]
    return Pipeline().run(job, model, skip=UNPOURED)


def pushed_out(mesh: Mesh, height_mm: float) -> float:
    """The most sand (mm3) of either half that is in the pattern's way over ten lifts, drawn along +z."""
    body = M(manifold3d.Mesh64(np.array(mesh.vertices), np.array(mesh.faces, np.uint64)))
    (x0, y0, z0), (x1, y1, z1) = mesh.bounds
    worst = 0.0
    for up, low, high in ((1.0, height_mm, z1 + 5.0), (-1.0, z0 - 5.0, height_mm)):
        sand = box(x1 - x0 + 20, y1 - y0 + 20, high - low).translate([x0 - 10, y0 - 10, low]) - body
        for lift in np.linspace(0.5, z1 - z0, 10):
            worst = max(worst, (sand.translate([0, 0, up * lift]) ^ body).volume())
    return worst


def test_a_hole_that_is_filled_is_cured_by_its_line_and_comes_back_without_it() -> None:
    bare = worked(BLOCK, UP)
    assert bare.proof is not None and bare.parting is not None
    assert bare.proof.verdict is Verdict.LOCKS and not bare.proof.changed and not bare.proof.cured
    assert pushed_out(bare.need(PART).mesh, bare.parting.height_mm) > 500.0
    lines = ((add_line, Fill(at_mm=(30.0, 20.0, 20.0))), (add_line, Draft()))
    cured = worked(BLOCK, UP, *lines)
    proof, rammed = cured.need(PROOF), as_rammed(cured)
    assert rammed.part is not None and rammed.parting is not None and rammed.wanted is cured
    assert proof.verdict is Verdict.CLEAN and proof.changed and proof.closed and proof.held_mm2 == 0.0
    assert pushed_out(rammed.part.mesh, rammed.parting.height_mm) < 1.0
    by = {one.finding.code: one.by for one in proof.cured}
    assert by["locked"] is not None and (by["locked"].kind, by["locked"].index) == (By.LINE, 0)
    assert by["tight"] is not None and (by["tight"].kind, by["tight"].index) == (By.LINE, 1)
    assert all(finding.informational for finding in DRAW.findings(cured))
    again = worked(BLOCK, UP, *lines, (drop_line, 0))
    assert again.proof is not None and again.proof.verdict is Verdict.LOCKS
    assert [one.was.code for one in again.proof.open if one.was is not None and one.finding.code == "locked"]


def test_a_core_cures_what_it_makes() -> None:
    cored = worked(BLOCK, UP, (set_hollow, (30.0, 20.0, 20.0), "core"))
    proof = cored.need(PROOF)
    locked = next(one for one in proof.cured if one.finding.code == "locked")
    assert locked.by is not None and locked.by.kind is By.CORE and locked.as_cured.cured_by == "the core"
    assert locked.as_cured.informational and not locked.finding.informational
    assert proof.verdict is not Verdict.LOCKS


def test_what_no_line_reaches_stays_open_with_what_it_was_on_the_part() -> None:
    """A line that leans one wall only leaves the hole, and the other walls, as they were."""
    part = worked(BLOCK, UP)
    tight = [f for f in DRAW.findings(part) if f.code == "tight"]
    one = worked(BLOCK, UP, (add_line, Draft(only=((60.0, 20.0, 10.0),)))).need(PROOF)
    left = {judged.finding.code: judged for judged in one.open}
    assert set(left) >= {"locked", "tight"} and left["locked"].was is not None
    assert left["locked"].was.figures["area_mm2"] == pytest.approx(left["locked"].finding.figures["area_mm2"], rel=0.05)
    shrunk = sum(judged.finding.figures["area_mm2"] for judged in one.open if judged.finding.code == "tight")
    assert shrunk < 0.9 * sum(f.figures["area_mm2"] for f in tight)


def test_every_finding_of_the_bearing_is_cured_open_or_new_and_the_sand_agrees(tmp_path: Path) -> None:
    lay_out(tmp_path)
    job, model = open_any(tmp_path / (Path(DEMOS[0].part).stem + ".pounce"), silent)
    results = Pipeline().run(job, model, silent, skip=UNPOURED)
    proof, rammed = results.need(PROOF), as_rammed(results)
    assert proof.verdict is Verdict.CLEAN and proof.closed
    bare = replace(results, found={k: v for k, v in results.found.items() if k not in ("proof", "causes", "cores")})
    decided = [f for stop in (DRAW, PARTING) for f in stop.findings(bare) if not f.informational]
    assert {one.finding.code for one in proof.cured} == {f.code for f in decided if not f.code.startswith("wish")}
    assert all(one.by is not None for one in proof.cured)
    assert rammed.part is not None and rammed.parting is not None
    # a crumb of 45 mm3 is what the trial draw, too, leaves out
    assert pushed_out(rammed.part.mesh, rammed.parting.height_mm) == pytest.approx(proof.torn_mm3, abs=45.0)


def test_what_is_said_of_sand_keeps_its_own_cures_and_a_place_that_holds_takes_those_tried_for_it() -> None:
    """A nook beside a hole that was filled is as near as the hole was: a core for the hole is none for the nook."""
    core = Remedy("core", "Make a core", AskFor("core", (0.0, 0.0, 0.0)))
    fill = Remedy("cast-solid", "Fill the gap, saw it later", AskFor("fill", (5.0, 0.0, 0.0)))
    wide, nook = (Finding("slender-sand", Severity.WARN, "Slender.", remedies=(one,)) for one in (core, fill))
    assert _with_cures_of(wide, nook).remedies == (fill,)
    before, now = (replace(one, code="locked", region=3) for one in (wide, nook))
    assert _with_cures_of(before, now).remedies == (core, fill)
