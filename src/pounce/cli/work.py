"""The line worked for a sub-command."""

from pathlib import Path

from pounce.cli.choices import Given as Words
from pounce.cli.words import Watch
from pounce.job.freeze_edits import FOUND
from pounce.job.job import Job
from pounce.part.model import Model
from pounce.route.fed import fed
from pounce.route.opening import chosen, open_any
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.store import result_store


def worked(path: Path, words: Words, quiet: bool) -> tuple[Results, Model]:
    """The results of a file with these choices, and its model. Raises UserFault for one that cannot be read."""
    with Watch(quiet) as watch:
        job, model = open_any(path, watch.progress)
        return run_line(chosen(job, words), model, words, watch), model


def run_line(job: Job, model: Model, words: Words, watch: Watch) -> Results:
    """The whole line; with the feeders that the heat finds, where those were asked for."""
    asked = words.get("feeder")
    if isinstance(asked, tuple) and FOUND in asked:
        return fed(Pipeline(store=result_store()), job, model, watch.progress)
    return Pipeline(store=result_store()).run(job, model, watch.progress)
