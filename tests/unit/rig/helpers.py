"""Moulds of plain solids, for the tests of the room."""

import manifold3d
import numpy as np

from pounce.base.progress import silent
from pounce.job import edits
from pounce.job.job import Job
from pounce.parting.joint import Joint, flat_joint
from pounce.rig.flasks import SAMPLE, Flask
from pounce.rig.item import Item, item_of
from pounce.rig.stop import Given, rig_stop
from pounce.rig.values import RigChoices, RigResult
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES, METAL, PARTING, STOCK
from tests.conftest import mesh_of, model_of

UP = np.array([0.0, 0.0, 1.0])


def joint_at(height_mm: float) -> Joint:
    """A flat joint across z."""
    return flat_joint(UP, height_mm)


def item_like(solid: manifold3d.Manifold, height_mm: float) -> Item:
    """The item of a solid that is casting and pattern in one, with its joint at this height."""
    mesh = mesh_of(solid)
    return item_of(mesh, mesh, (), joint_at(height_mm), (1.0, 1.0, 1.0))


def worked(solid: manifold3d.Manifold, metal: str = "aluminium-silicon") -> Results:
    """The whole route of a solid, but for its mould."""
    model = model_of(solid)
    job = edits.set_metal(with_model(Job(name="Block"), model), metal).job
    return Pipeline().run(job, model, silent, until=CORES)


def mould_of(results: Results, choices: RigChoices | None = None, own: tuple[Flask, ...] = SAMPLE) -> RigResult:
    """The mould of what was worked."""
    asked = choices or RigChoices()
    return rig_stop(asked, (given_of(results, asked.count),), own, silent)


def given_of(results: Results, count: int = 1) -> Given:
    """So many castings of what was worked."""
    r = results
    return Given(r.job.name, count, r.need(METAL), r.need(PARTING), r.need(STOCK), r.need(CORES))
