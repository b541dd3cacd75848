"""What the worker does for the logbook."""

import importlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.base.finding import Change
from pounce.job.changes import made
from pounce.job.job import Job
from pounce.part.model import Model
from pounce.route.log import effects
from pounce.route.results import Results

Worked = Callable[[Job], tuple[Results, Model]]


def verbs(worked: Worked) -> dict[str, Callable[..., Any]]:
    """By the names that the window asks by."""

    def effect(job: Job, change: Change) -> Any:
        """What a change would do; the line keeps what it worked, so that taking the change costs nothing more."""
        return effects(worked(job)[0], worked(made(change, job).job)[0])

    def story(job: Job, path: str) -> str:
        """Writes the part's story."""
        results, _ = worked(job)
        try:
            write_whole(Path(path), importlib.import_module("pounce.route.story").story_pdf(results))
        except OSError as error:
            raise UserFault(f"The story could not be written ({error.strerror}).", "Choose another folder.") from error
        return path

    def picture(job: Job, at_mm: tuple[float, float, float]) -> Any:
        """The part with the place that is spoken of: a picture, and where in it the place lies."""
        results, _ = worked(job)
        return importlib.import_module("pounce.route.paper").spot_png(results, at_mm)

    return {"log-effect": effect, "log-story": story, "log-picture": picture}
