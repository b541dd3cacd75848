"""The pattern in the part's place: what is rammed is judged, and nothing is judged twice."""

from dataclasses import replace

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.progress import silent
from pounce.job import edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.proof.rammed import asked_before, rammed_draw
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES, DRAW, METAL, PART, PARTING, RAMMED, RAMMED_DRAW, RAMMED_PARTING, STOCK
from pounce.solid.mesh import Mesh
from pounce.stock.values import Draft, Fill, Machining
from tests.conftest import box, mesh_of, model_of
from tests.shapes import SHAPES

UP = (0.0, 0.0, 1.0)


def worked(name: str, *lines: object, pattern: str = "printed-filament") -> Results:
    model = model_of(SHAPES[name](), name=name)
    job = edits.set_draw(with_model(Job(), model), UP).job
    job = edits.set_pattern_kind(job, pattern).job
    for line in lines:
        job = add_line(job, line).job  # type: ignore[arg-type]
    return Pipeline().run(job, model, until=RAMMED_PARTING)


def test_a_bare_part_is_rammed_as_it_is_and_judged_once() -> None:
    """The same objects: neither reach nor joint is worked again."""
    r = worked("bracket")
    assert r.need(RAMMED) is r.need(PART)
    assert r.need(RAMMED_DRAW) is r.need(DRAW) and r.need(RAMMED_PARTING) is r.need(PARTING)


@pytest.mark.parametrize("line", [Draft(), Fill()])
def test_what_was_added_is_judged_along_the_same_draw(line: object) -> None:
    r = worked("bracket", line)
    part, rammed, body = r.need(PART), r.need(RAMMED), r.need(CORES).mesh
    assert rammed is not part and rammed.closed
    assert rammed.volume_mm3 == pytest.approx(body.volume) and rammed.area_mm2 == pytest.approx(body.area)
    assert rammed.volume_mm3 > part.volume_mm3, "metal is added"
    draw, again = r.need(DRAW), r.need(RAMMED_DRAW)
    assert (again.direction == draw.direction).all() and again.candidates == ()
    assert len(again.reach.up) == len(body.faces) and len(draw.reach.up) == len(part.mesh.faces)
    # the joint is the part's, at the height that Stock leaves it
    joint = r.need(RAMMED_PARTING).joint
    assert joint.level and joint.height_mm == pytest.approx(r.need(STOCK).joint_mm)


def test_no_more_is_asked_of_a_leaned_wall_than_was_asked_of_the_part() -> None:
    """A block of which every wall is asked for something else, and a frustum made of it that knows nothing of whence
    its faces come: each stands for the wall that it was laid on. A boss stands for none.
    """
    part = mesh_of(box(40, 30, 20))
    asked = 1.0 + np.arange(len(part.faces)) * 0.25
    by_way = {tuple(np.round(n).astype(int)): max(a for m, a in zip(part.normals, asked, strict=True) if m @ n > 0.9)
              for n in part.normals}  # fmt: skip
    frustum = m3.Manifold.hull(box(40, 30, 0.01).translate([0, 0, 20]) + box(42, 32, 0.01).translate([-1, -1, 0]))
    boss = m3.Manifold.cylinder(8, 5, 4, 64).translate([20, 15, 20])
    body = mesh_of(frustum + boss)
    body = body.tagged(body.tags.changed(np.ones(len(body.faces), bool), face=-1))
    found = asked_before(part, asked, body)
    for normal, middle, one in zip(body.normals, body.corners.mean(axis=1), found, strict=True):
        way = tuple(np.round(normal).astype(int))
        if middle[2] > 20.5:
            assert np.isinf(one) or way == (0, 0, 1)
        else:
            assert 1.0 <= one <= by_way[way]


def test_a_print_only_has_to_lean() -> None:
    """Its lean is chosen at Cores; asked as a wall is, 3 degrees were too little where it is low."""
    body = mesh_of(box(40, 30, 20))
    body = body.tagged(body.tags.changed(np.arange(len(body.faces)) < 4, print=0))
    found = asked_before(body, np.full(len(body.faces), 5.0), body)
    assert found[:4] == pytest.approx(0.5) and found[4:] == pytest.approx(5.0)


def test_draft_takes_what_dragged_and_holds_no_sand_of_its_own() -> None:
    bare, leaned = worked("bracket"), worked("bracket", Draft(), Fill())
    before, after = bare.need(PARTING).shown_areas, leaned.need(RAMMED_PARTING).shown_areas
    assert after[1] < 0.1 * before[1], "hardly a wall is tight any more"
    assert after[2] <= before[2] + 1.0


def test_stock_on_a_face_that_is_machined_is_of_the_pattern() -> None:
    """Three millimetres on the top of the bracket: it is rammed so much higher."""
    top = float(model_of(SHAPES["bracket"](), name="bracket").bodies[0].mesh.bounds[1, 2])
    mesh = worked("bracket").need(PART).mesh
    face = next(
        k for k in range(len(mesh.faces)) if mesh.normals[k, 2] > 0.99 and mesh.corners[k, :, 2].min() > top - 0.01
    )
    x, y, z = mesh.corners[face].mean(axis=0).tolist()
    r = worked("bracket", Machining((x, y, z), own_mm=3.0))
    assert r.need(RAMMED).mesh.bounds[1, 2] == pytest.approx(top + 3.0, abs=1e-3)


def test_foam_that_stays_in_the_sand_is_not_judged_as_drawn() -> None:
    r = worked("bracket", Fill(), pattern="foam-burned-out")
    assert r.need(RAMMED) is r.need(PART)


@pytest.mark.parametrize(("deep", "held"), [(0.05, False), (0.3, True)])
def test_a_step_lower_than_half_a_grain_that_draft_left_holds_no_sand(deep: float, held: bool) -> None:
    """A groove all round the walls: half a grain of green sand is 0.075 mm."""
    solid = box(60, 40, 30) - (
        box(60, 40, 8) - box(60 - 2 * deep, 40 - 2 * deep, 8).translate([deep, deep, 0])
    ).translate([0, 0, 10])
    r = worked("bracket")
    part, bare = r.need(PART), mesh_of(solid)
    drafted = bare.tagged(bare.tags.changed(line=np.zeros(len(bare.faces), np.int64)))

    def locked(mesh: Mesh) -> float:
        reach = rammed_draw(part, replace(part, mesh=mesh), r.need(METAL), r.need(DRAW), silent).reach
        return float(mesh.areas[~reach.up & ~reach.down].sum())

    floor = 2 * 8 * (60 + 40) * 0.9
    assert (locked(drafted) > floor) is held
    assert locked(bare) > floor, "of the part as it is drawn nothing is forgiven"
