"""A pour for tests: a plain block of aluminium in green sand, worked once."""

from functools import cache

import msgspec

from pounce.base.progress import silent
from pounce.feeding.values import FreezeChoices
from pounce.job.job import Job
from pounce.part.model import Model
from pounce.pour.values import PourChoices, PourResult
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import POUR
from tests.conftest import box, model_of

_LINE = Pipeline()


@cache
def block() -> tuple[Job, Model]:
    """The job and its model."""
    model = model_of(box(80.0, 50.0, 12.0), name="Block")
    job = with_model(Job(name="Block"), model)
    return msgspec.structs.replace(job, freeze=FreezeChoices(cells=80_000)), model


def results_of(pour: PourChoices, **more: object) -> Results:
    """The line with these choices of the pour, and others of the job."""
    job, model = block()
    return _LINE.run(msgspec.structs.replace(job, pour=pour, **more), model, silent)


def pour_result(pour: PourChoices | None = None, **more: object) -> PourResult:
    """The pour."""
    return results_of(pour or PourChoices(), **more).need(POUR)
