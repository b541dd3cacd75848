"""What really holds sand: a hole does; a film and what rapping frees do not."""

import manifold3d
import numpy as np
import pytest

from pounce.job import edits
from pounce.job.job import Job
from pounce.parting.holds import held_share
from pounce.parting.values import FREE, Judged, State, held_mm2
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import DRAW, PARTING
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of, model_of

M = manifold3d.Manifold


def held(solid: manifold3d.Manifold) -> tuple[float, list[float], list[str]]:
    """Surface that holds sand, the shares of what locks, and what Draw says; drawn straight up."""
    model = model_of(solid)
    results = Pipeline().run(edits.set_draw(with_model(Job(), model), (0.0, 0.0, 1.0)).job, model, until=PARTING)
    parting = results.need(PARTING)
    shares = [region.held for region in parting.regions if region.state is State.LOCKED]
    return held_mm2(parting), shares, [finding.code for finding in DRAW.findings(results) if not finding.informational]


def test_a_hole_across_the_draw_holds_all_round() -> None:
    hole = M.cylinder(100, 5, 5, 64, True).rotate([90, 0, 0]).translate([30, 20, 15])
    surface, shares, codes = held(box(60, 40, 30) - hole)
    # half its wall lies in each half, and most of that looks the wrong way: the rest is freed by nothing
    assert shares and min(shares) > 0.6 and "locked" in codes
    assert surface > 0.5 * 3.14159 * 10 * 40 * 0.5


@pytest.mark.parametrize("slit", [0.2, 0.5])
def test_sand_thinner_than_it_can_form_locks_nothing(slit: float) -> None:
    """A saw cut into the side, thinner than five grains of green sand (0.75 mm)."""
    surface, shares, codes = held(box(60, 40, 30) - box(4, 50, slit).translate([-1, -5, 20]))
    assert surface == 0.0 and all(share < 0.2 for share in shares) and "locked" not in codes


def test_what_rapping_frees_is_a_crumb() -> None:
    """A side that leans back by 0.3 mm over its height: rapped 0.4 each way, its sand is free."""
    leaning = M.hull_points(
        [[x + 0.3 * (z == 30) * (x == 60), y, z] for x in (0, 60) for y in (0, 40) for z in (0, 30)]
    )
    surface, _, codes = held(leaning)
    assert surface == 0.0 and "locked" not in codes
    steep = M.hull_points([[x + 4.0 * (z == 30) * (x == 60), y, z] for x in (0, 60) for y in (0, 40) for z in (0, 30)])
    back = edits.set_height(edits.set_draw(with_model(Job(), model_of(steep)), (0.0, 0.0, 1.0)).job, 30.0).job
    parting = Pipeline().run(back, model_of(steep), until=PARTING).need(PARTING)
    assert parting.locked_mm2 < FREE * parting.area_mm2 or held_mm2(parting) > 0.0


@pytest.mark.parametrize(("thick", "share"), [(5e-4, 0.0), (5.0, 1.0)])
def test_a_film_in_the_metal_holds_nothing(thick: float, share: float) -> None:
    """A room thinner than the hair that places are lifted by is jumped, and seen from beyond it metal is no sand."""
    model = model_of(box(120, 80, 60))
    joint = Pipeline().run(edits.set_height(Job(), 0.0).job, model, until=PARTING).need(PARTING).joint
    block, room = mesh_of(box(120, 80, 60)), mesh_of(box(30, 20, thick).translate([40, 30, 20]))
    mesh = Mesh.of(
        np.concatenate([block.vertices, room.vertices]),
        np.concatenate([block.faces, room.faces[:, ::-1] + len(block.vertices)]),
    )
    count = len(mesh.faces)
    judged = Judged(
        mesh.corners,
        np.repeat(mesh.normals[:, None], 3, axis=1),
        np.arange(count),
        np.full(count, State.LOCKED),
        np.zeros(count, np.int64),
        np.zeros(count),
        np.ones(count, bool),
    )
    floor = np.flatnonzero((np.arange(count) >= len(block.faces)) & (np.abs(mesh.normals[:, 2]) > 0.9))
    assert held_share(mesh, judged, floor, joint, 0.1, 0.0) == share
