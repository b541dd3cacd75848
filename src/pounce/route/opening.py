"""A file given to the program: a job or a part, and the choices that came with it as words."""

from collections.abc import Mapping
from pathlib import Path

import msgspec

from pounce.base.choice import Choice
from pounce.base.errors import UserFault
from pounce.base.progress import Progress, silent
from pounce.job import edits, file
from pounce.job.choose import HOLDERS, choose_word
from pounce.job.job import SUFFIX, Job
from pounce.job.unsaved import Edits, read_edits
from pounce.metals import tables
from pounce.metals.method import MethodChoices
from pounce.part.measured import measured_model
from pounce.part.measures import Measures
from pounce.part.model import Model
from pounce.part.reading import read_model
from pounce.pattern.choices import STL
from pounce.route.stops import stops


def open_any(path: Path, progress: Progress = silent) -> tuple[Job, Model]:
    """The job in a job file, or a new job on the model in a model file. UserFault when it is neither."""
    if path.suffix.lower() == SUFFIX:
        edits_beside = _edits_beside(path)
        if edits_beside is not None:
            return _unsaved(path, edits_beside, progress)
        kept = file.load(path)
        if kept.model is None:
            raise UserFault(f"'{path.name}' holds no part yet.", "Open it on the bench and give it one.")
        return kept.job, kept.model
    return new_job(read_model(path, progress))


def _edits_beside(path: Path) -> Edits | None:
    """The edits beside a copy put aside; None also where they cannot be read and the copy, if older, is there."""
    try:
        return read_edits(path)
    except UserFault:
        if path.exists():
            return None
        raise


def _unsaved(path: Path, kept: Edits, progress: Progress) -> tuple[Job, Model]:
    """The job as it was last edited, with its part from the copy or from where it was opened."""
    if path.exists():
        model = file.load(path).model
    elif kept.source:
        model = open_any(Path(kept.source), progress)[1]
    else:
        model = None
    if model is None or model.fingerprint() != kept.job.part.model:
        raise UserFault(
            "The part of this unsaved job is not what it was.", "Open the part's file, or the last saved job."
        )
    return kept.job, model


def new_job(model: Model, like: Job | None = None) -> tuple[Job, Model]:
    """A new job on this model, with the metal and method of another where one is given."""
    job = Job(name=model.name) if like is None else Job(name=model.name, method=like.method, pattern=like.pattern)
    return with_model(job, model), model


def measured_job(asked: Measures, method: MethodChoices, of_metal: str | None = None) -> tuple[Job, Model]:
    """A new job on a part that has no model, from its measures. ``of_metal`` what was weighed (None: the metal it is
    to be cast in).
    """
    density = tables.metal(of_metal or method.metal).density.value
    model, used = measured_model(asked, density)
    job = with_model(Job(name=used.name, method=method), model)
    job = edits.set_unit(job, "mm").job
    return (edits.set_scale(job, asked.weight_kg, of_metal).job if asked.weight_kg > 0.0 else job), model


def with_model(job: Job, model: Model) -> Job:
    """The job on this model, with no answers about the model before."""
    part = msgspec.structs.replace(job.part, model=model.fingerprint(), unit=None, bodies=None)
    return msgspec.structs.replace(job, part=part)


def chosen(job: Job, words: Mapping[str, str | float | tuple[str, ...] | None]) -> Job:
    """The job with the choices given as words on the command line, by the names of :func:`options`; UserFault for
    one that makes no sense.
    """
    known = options()
    for name, value in words.items():
        if value is None:
            continue
        stop, choice = known[name]
        for one in value if isinstance(value, tuple) else (value,):
            job = choose_word(job, stop, choice, str(one)).job
    return job


def options() -> dict[str, tuple[str, Choice]]:
    """Every choice that is an option of the command, by its name there: the stop's id and the row of its table, in
    the order they are worked.
    """
    out: dict[str, tuple[str, Choice]] = {}
    for stop in stops():
        for choice in stop.choices:
            if choice.option or stop.id not in HOLDERS:
                name = choice.key if stop.id in HOLDERS else f"{stop.id}-{choice.key}"
                out[name.replace("-", "_")] = (stop.id, choice)
    return out | {"stl": ("pattern", STL)}
