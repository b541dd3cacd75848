"""A file given to the program: a job or a part, and the choices that came with it as words."""

from collections.abc import Callable, Mapping
from pathlib import Path

import msgspec

from pounce.base.errors import UserFault
from pounce.base.tick import Tick, silent
from pounce.cores.parse import with_words
from pounce.job import edits, file
from pounce.job.choice import set_figure
from pounce.job.edits import Edit
from pounce.job.job import Job
from pounce.job.pattern_edits import set_making, with_word
from pounce.job.stock_edits import add_line
from pounce.metals import tables
from pounce.metals.method import MethodChoices
from pounce.part.measured import measured_model
from pounce.part.measures import Measures
from pounce.part.model import Model
from pounce.part.reading import read_model
from pounce.route.stops import stops
from pounce.stock.parse import parse_addition

SUFFIX = ".pounce"


def open_any(path: Path, tick: Tick = silent) -> tuple[Job, Model]:
    """The job in a job file, or a new job on the model in a model file. UserFault when it is neither."""
    if path.suffix.lower() == SUFFIX:
        kept = file.load(path)
        if kept.model is None:
            raise UserFault(f"'{path.name}' holds no part yet.", "Open it on the bench and give it one.")
        return kept.job, kept.model
    return new_job(read_model(path, tick))


def new_job(model: Model, like: Job | None = None) -> tuple[Job, Model]:
    """A new job on this model, with the metal and method of another where one is given."""
    job = Job(name=model.name) if like is None else Job(name=model.name, method=like.method, pattern=like.pattern)
    return with_model(job, model), model


def measured_job(asked: Measures, method: MethodChoices, of_metal: str | None = None) -> tuple[Job, Model]:
    """A new job on a part that has no model, from its measures. ``of_metal`` what was weighed (None: the metal it is to be cast in)."""
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
    """The job with the choices given as words on the command line; UserFault for one that makes no sense."""
    figures = {f"{stop.id}_{choice.key}": (stop.id, choice) for stop in stops() for choice in stop.choices}
    for name, value in words.items():
        if value is None:
            continue
        for one in value if isinstance(value, tuple) else (value,):
            if name in figures:
                job = set_figure(job, *figures[name], float(one)).job
            else:
                job = _MANY[name](job, str(one)) if name in _MANY else _EDITS[name](job, str(one)).job
    return job


_MANY: dict[str, Callable[[Job, str], Job]] = {
    "add": lambda job, text: add_line(job, parse_addition(text)).job,
    "make": with_word,
    "core": lambda job, text: msgspec.structs.replace(job, cores=with_words(job.cores, text)),
}


def _opened(job: Job, how: str) -> Edit:
    if how not in ("usual", "upside-down"):
        raise UserFault(f"A mould is not opened '{how}'.", "Give usual or upside-down.")
    return edits.set_upside_down(job, how == "upside-down")


_EDITS: dict[str, Callable[[Job, str], Edit]] = {
    "unit": edits.set_unit,
    "metal": edits.set_metal,
    "mould": edits.set_mould,
    "pattern": edits.set_pattern_kind,
    "contraction": lambda job, text: edits.set_contraction(job, float(text)),
    "draw": lambda job, text: edits.set_draw(job, edits.parse_draw(text)),
    "parting": lambda job, text: edits.set_parting(job, *edits.parse_parting(text)),
    "draft": lambda job, text: edits.set_draft(job, float(text)),
    "moulded": edits.set_moulded,
    "master": edits.set_master_metal,
    "stated": edits.set_stated,
    "rammed": edits.set_rammed,
    "groove": lambda job, text: edits.set_groove(job, "" if text == "none" else text),
    "open": _opened,
    "paper": lambda job, text: set_making(job, paper=text),
    "dowels": edits.set_dowels,
    "stl": lambda job, text: edits.set_stl(job, text == "yes"),
}
