"""Edits of the Pattern stop: the printer, the boards, the foam, the paper, and the way of making itself."""

from typing import Any

import msgspec

from pounce.base.choice import Flag, Sides
from pounce.base.errors import UserFault
from pounce.job.edits import Edit, set_pattern_kind
from pounce.job.job import Job
from pounce.metals import tables
from pounce.pattern.choices import TABLE
from pounce.pattern.values import PatternChoices
from pounce.rig.setting import CARRIERS

TITLES = {
    field: one.title
    for one in TABLE
    for field in ((one.field,) if one.field else one.fields if isinstance(one, Sides) else ())
}
# Which kind of pattern a way of making stands for when it is chosen from beside the others.
WAYS = {
    "printed": "printed-filament",
    "wood": "wood",
    "foam": "foam-drawn",
    "metal": "metal-from-master",
    "original": "original-part",
}
WORDS = {one.key: one for one in TABLE if one.word_of == "make"}
HELP = f"Give {', '.join(one.form for one in WORDS.values())}."


def set_making(job: Job, **changes: Any) -> Edit:
    """Other figures of the way of making. UserFault for a value that cannot be."""
    if "timber" in changes:
        tables.timber(str(changes["timber"]))
    if "screw" in changes:
        tables.screw(str(changes["screw"]))
    try:
        pattern = msgspec.convert(msgspec.to_builtins(msgspec.structs.replace(job.pattern, **changes)), PatternChoices)
    except msgspec.ValidationError as error:
        raise UserFault(f"That cannot be set ({error}).", "Choose another value.") from None
    rig = job.rig
    if pattern.mount in CARRIERS:  # boards carry the mould's layout: what is said of them is said of it
        if "copies" in changes:
            rig = msgspec.structs.replace(rig, count=pattern.copies, placed=(), sprue_mm=None)
        if "flask_mm" in changes:
            rig = msgspec.structs.replace(rig, flask="", inside_mm=None, placed=(), sprue_mm=None)
    return Edit(TITLES[next(iter(changes))], msgspec.structs.replace(job, pattern=pattern, rig=rig))


def set_way(job: Job, way: str) -> Edit:
    """Another way of making; a job that is made in one of that kind already stays as it is."""
    kind = WAYS.get(way)
    if kind is None:
        raise UserFault(f"'{way}' is no way of making a pattern.", f"Choose one of {', '.join(WAYS)}.")
    if job.method.pattern.startswith(way):
        kind = job.method.pattern
    return set_pattern_kind(job, kind)


def with_word(job: Job, text: str) -> Job:
    """The job with one word more, such as ``bed=220x220x250`` or ``timber=pine``; UserFault for one that makes no
    sense.
    """
    name, equals, value = text.strip().partition("=")
    choice = WORDS.get(name)
    if choice is None or isinstance(choice, Flag) == bool(equals):
        raise UserFault(f"'{text}' says nothing about how the pattern is made.", HELP)
    given = choice.checked(choice.read(value))
    if isinstance(choice, Sides):
        if choice.fields:
            return set_making(job, **dict(zip(choice.fields, given, strict=True))).job
        # sides that were left out stay as they are
        given = (*given, *(getattr(job.pattern, choice.field) or ())[len(given) :])
    return set_making(job, **{choice.field: given}).job
