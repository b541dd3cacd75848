"""Choices of a table read from a job and set in it; some are set by an edit of their own, which changes more than
their field.
"""

from collections.abc import Callable
from functools import partial
from typing import Any, Final

import msgspec

from pounce.base.choice import Choice, FigureChoice, OneOf, Sides
from pounce.base.errors import UserFault
from pounce.cores.parse import with_words
from pounce.job import edits, freeze_edits, log_edits, pour_edits, rig_edits
from pounce.job.edits import Edit
from pounce.job.job import Job
from pounce.job.pattern_edits import with_word
from pounce.job.stock_edits import add_line
from pounce.parting.choices import OPEN
from pounce.rig import choices as rig
from pounce.stock.parse import parse_addition

# Which field of the job holds the choices of a stop; those of further stops stand in ``more``.
HOLDERS: Final = {
    "part": "part",
    "metal": "method",
    "draw": "draw",
    "parting": "parting",
    "stock": "stock",
    "cores": "cores",
    "pattern": "pattern",
    "mould": "rig",
    "freeze": "freeze",
    "pour": "pour",
    "logbook": "log",
}


def value_of(job: Job, stop_id: str, choice: Choice) -> Any:
    """What was said of this choice, else what is usual; None where it goes by the table."""
    holder = HOLDERS.get(stop_id)
    if holder is None:
        return job.more.get(stop_id, {}).get(choice.key, getattr(choice, "usual", None))
    if isinstance(choice, Sides) and choice.fields:
        return tuple(getattr(getattr(job, holder), field) for field in choice.fields)
    return getattr(getattr(job, holder), choice.field)


def figure_of(job: Job, stop_id: str, choice: FigureChoice) -> float:
    """The figure of a further stop's choice."""
    return float(value_of(job, stop_id, choice))


def choose(job: Job, stop_id: str, choice: Choice, value: Any) -> Edit:
    """The choice at this value, None for the table's. UserFault outside what it may be."""
    own = OWN.get((stop_id, choice.key))
    if own is not None:  # it says itself what it cannot take
        return own(job, value)
    value = value if value is None else choice.checked(value)
    holder = HOLDERS.get(stop_id)
    label = (
        f"{choice.title}: {value:g} {choice.unit}".rstrip()
        if isinstance(choice, FigureChoice) and value is not None
        else choice.title
    )
    if holder is None:
        figures = {**job.more.get(stop_id, {}), choice.key: float(value)}
        return Edit(label, msgspec.structs.replace(job, more={**job.more, stop_id: figures}))
    changes = (
        dict(zip(choice.fields, value, strict=True))
        if isinstance(choice, Sides) and choice.fields
        else {choice.field: _stored(choice, value)}
    )
    now = getattr(job, holder)
    try:
        made = msgspec.convert(msgspec.to_builtins(msgspec.structs.replace(now, **changes)), type(now))
    except msgspec.ValidationError as error:
        raise UserFault(f"{choice.title}: that cannot be set ({error}).", "Choose another value.") from None
    return Edit(label, msgspec.structs.replace(job, **{holder: made}))


def choose_word(job: Job, stop_id: str, choice: Choice, text: str) -> Edit:
    """The choice as a word on the command line. UserFault for one that makes no sense."""
    return choose(job, stop_id, choice, choice.read(text))


def _stored(choice: Choice, value: Any) -> Any:
    # where nothing may be chosen the job holds None
    return None if isinstance(choice, OneOf) and choice.none is not None and value == "" else value


OWN: Final[dict[tuple[str, str], Callable[[Job, Any], Edit]]] = {
    ("part", "unit"): edits.set_unit,
    ("part", "weight"): lambda job, kg: edits.set_scale(job, kg or None, job.part.scale_metal),
    ("metal", "metal"): edits.set_metal,
    ("metal", "mould"): edits.set_mould,
    ("metal", "pattern"): edits.set_pattern_kind,
    ("metal", "master"): edits.set_master_metal,
    ("metal", "stated"): edits.set_stated,
    ("metal", "contraction"): edits.set_contraction,
    ("metal", "draft"): edits.set_draft,
    ("draw", "draw"): lambda job, text: edits.set_draw(job, edits.parse_draw(text)),
    ("parting", "parting"): lambda job, text: edits.set_parting(job, *edits.parse_parting(text)),
    ("parting", "joint"): edits.set_joint,
    ("parting", "height"): edits.set_height,
    ("parting", "moulded"): edits.set_moulded,
    ("parting", "rammed"): edits.set_rammed,
    ("parting", "groove"): edits.set_groove,
    ("parting", "open"): lambda job, how: edits.set_upside_down(job, OPEN.checked(how) == "upside-down"),
    ("parting", "keyed"): edits.set_keyed,
    ("parting", "rap"): edits.set_rap,
    ("parting", "askew"): edits.set_tilt,
    ("stock", "add"): lambda job, text: add_line(job, parse_addition(text)),
    ("cores", "core"): lambda job, text: Edit("Cores", msgspec.structs.replace(job, cores=with_words(job.cores, text))),
    ("pattern", "make"): lambda job, text: Edit("How it is made", with_word(job, text)),
    ("pattern", "dowels"): edits.set_dowels,
    ("pattern", "dowel"): edits.set_dowel_size,
    ("pattern", "draw-screw"): edits.set_draw_screw,
    ("pattern", "stl"): edits.set_stl,
    ("mould", "tiers"): lambda job, tiers: rig_edits.set_tiers(job, int(rig.TIERS.checked(tiers))),
    ("mould", "count"): lambda job, count: rig_edits.set_count(job, int(rig.COUNT.checked(count))),
    ("mould", "also"): rig_edits.also,
    ("freeze", "feeder"): freeze_edits.feeder_word,
    ("freeze", "chill"): freeze_edits.chill_word,
    ("freeze", "formers"): freeze_edits.formers_word,
    ("pour", "scrap"): pour_edits.scrap_word,
    ("pour", "crucible"): partial(pour_edits.thing_word, "crucible"),
    ("pour", "furnace"): partial(pour_edits.thing_word, "furnace"),
    ("pour", "ingot"): partial(pour_edits.thing_word, "ingot"),
    ("pour", "fall"): pour_edits.fall_word,
    ("pour", "at"): pour_edits.at_word,
    ("pour", "same-melt"): pour_edits.with_word,
    ("logbook", "pair"): log_edits.pair_word,
    ("mould", "gates"): lambda job, gates: rig_edits.set_gates(job, gates and int(rig.GATES.checked(gates))),
    ("mould", "gate-at"): rig_edits.gate_word,
    ("mould", "cup"): lambda job, cup: rig_edits.set_cup(job, rig.CUP.checked(cup)),
    ("mould", "head"): lambda job, mm: rig_edits.set_head(job, None if mm is None else rig.HEAD.checked(mm)),
    ("mould", "flask"): lambda job, flask: rig_edits.set_flask(job, rig.FLASK.checked(flask)),
    ("mould", "inside"): lambda job, sides: rig_edits.set_inside(job, sides and rig.INSIDE.checked(sides)),
}
