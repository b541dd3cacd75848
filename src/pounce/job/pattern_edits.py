"""Edits of the Pattern stop: the printer, the boards, the foam, the paper, and the way of making itself."""

from typing import Any

import msgspec

from pounce.base.errors import UserFault
from pounce.base.finding import Remedy
from pounce.job.edits import Edit, set_pattern_kind
from pounce.job.job import Job
from pounce.metals import tables
from pounce.pattern.values import PatternChoices

LABELS = {
    "bed_mm": "Bed of the printer", "layer_mm": "Layer height", "walls": "Walls", "inside_percent": "Filling inside", "test_piece": "Test piece",
    "timber": "Timber", "board_mm": "Thickest board", "board_wide_mm": "Boards at hand", "board_long_mm": "Boards at hand", "room_mm": "Room to plane",
    "sheet_mm": "Foam sheet", "kerf_mm": "Kerf of the wire", "paper": "Paper", "rule": "Contraction rule", "numbers": "Pair numbers",
}  # fmt: skip
# Which kind of pattern a way of making stands for when it is chosen from beside the others.
WAYS = {"printed": "printed-filament", "wood": "wood", "foam": "foam-drawn"}
# Words of the command and the figures they set.
WORDS = {
    "layer": "layer_mm", "walls": "walls", "inside": "inside_percent", "timber": "timber", "board": "board_mm", "room": "room_mm",
    "sheet": "sheet_mm", "kerf": "kerf_mm", "paper": "paper",
}  # fmt: skip
HELP = (
    "Give bed=XxYxZ, layer=MM, walls=N, inside=PERCENT, timber=NAME, board=MM, boards=WIDExLONG, room=MM, sheet=MM, kerf=MM, paper=A4|A3|letter, "
    "test-piece, no-rule or no-numbers."
)


def set_making(job: Job, **changes: Any) -> Edit:
    """Other figures of the way of making. UserFault for a value that cannot be."""
    if "timber" in changes:
        tables.timber(str(changes["timber"]))
    try:
        pattern = msgspec.convert(msgspec.to_builtins(msgspec.structs.replace(job.pattern, **changes)), PatternChoices)
    except msgspec.ValidationError as error:
        raise UserFault(f"That cannot be set ({error}).", "Choose another value.") from None
    return Edit(LABELS[next(iter(changes))], msgspec.structs.replace(job, pattern=pattern))


def set_way(job: Job, way: str) -> Edit:
    """Another way of making; a job that is made in one of that kind already stays as it is."""
    kind = WAYS.get(way)
    if kind is None:
        raise UserFault(f"'{way}' is no way of making a pattern.", f"Choose one of {', '.join(WAYS)}.")
    if job.method.pattern.startswith(way):
        kind = job.method.pattern
    return set_pattern_kind(job, kind)


def take_pattern(job: Job, remedy: Remedy) -> Edit:
    """The edit a remedy of Pattern stands for."""
    return set_making(job, **{(remedy.edit or "").removeprefix("pattern_"): remedy.value})


def with_word(job: Job, text: str) -> Job:
    """The job with one word more, such as ``bed=220x220x250`` or ``timber=pine``; UserFault for one that makes no sense."""
    word = text.strip()
    flags = {"test-piece": {"test_piece": True}, "no-rule": {"rule": False}, "no-numbers": {"numbers": False}}
    if word in flags:
        return set_making(job, **flags[word]).job
    name, _, value = word.partition("=")
    try:
        if name == "bed":
            sides = [float(side) for side in value.split("x")]
            if len(sides) not in (2, 3):
                raise ValueError(value)
            return set_making(job, bed_mm=(*sides, *[job.pattern.bed_mm[2]] * (3 - len(sides)))).job
        if name == "boards":
            wide, long = (float(side) for side in value.split("x"))
            return set_making(job, board_wide_mm=wide, board_long_mm=long).job
        field = WORDS[name]
        made: Any = value if field in ("timber", "paper") else int(value) if field == "walls" else float(value)
    except (KeyError, ValueError):
        raise UserFault(f"'{text}' says nothing about how the pattern is made.", HELP) from None
    return set_making(job, **{field: made}).job
