"""A job run until what sets last is fed: what the heat found and proved is taken, and the mould judged again."""

from pounce.base.progress import Progress
from pounce.job.freeze_edits import set_feeding
from pounce.job.job import Job
from pounce.part.model import Model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import FREEZE

# What was tried alone may want a little more in the whole mould: so many times it is taken and judged again.
TIMES = 4


def fed(line: Pipeline, job: Job, model: Model, progress: Progress) -> Results:
    """The results with the feeders and chills that were found; as they stand where none are wanted or none cure."""
    results = line.run(job, model, progress)
    for _ in range(TIMES):
        made = results.get(FREEZE)
        if made is None or made.cure is None or not made.cure.proved or made.cure.uncured:
            break
        job = set_feeding(job, made.cure.feeders, made.cure.chills).job
        if job == results.job:
            break
        results = line.run(job, model, progress)
    return results
