"""Edits of the Pattern stop: the printer, the boards, the foam, the paper, and the way of making itself."""

from typing import Any

import msgspec

from pounce.base.errors import UserFault
from pounce.job.edits import Edit, set_pattern_kind
from pounce.job.job import Job
from pounce.metals import tables
from pounce.pattern.values import PatternChoices

LABELS = {
    "bed_mm": "Bed of the printer", "layer_mm": "Layer height", "walls": "Walls", "inside_percent": "Filling inside", "test_piece": "Test piece",
    "timber": "Timber", "board_mm": "Thickest board", "board_wide_mm": "Boards at hand", "board_long_mm": "Boards at hand", "room_mm": "Room to plane",
    "dowel_count": "Number of dowels", "proud_mm": "Dowels stand out", "guide": "Guide holes", "screw": "Draw screw", "rapping": "Rapping plate",
    "mount": "Mounting", "copies": "Patterns on the board", "flask_mm": "Inside of the flask", "pin_mm": "Pins of the flask", "bed_joint": "Joint of cut parts",
    "hollow": "Hollow", "wall_mm": "Wall of hollow pieces", "lap_mm": "Stock on the joint", "back": "Hollow back", "funnel_deg": "Funnel",
    "sheet_wide_mm": "Foam sheets at hand", "sheet_long_mm": "Foam sheets at hand", "sheet_mm": "Foam sheet", "kerf_mm": "Kerf of the wire", "paper": "Paper", "rule": "Contraction rule", "numbers": "Pair numbers",
}  # fmt: skip
# Which kind of pattern a way of making stands for when it is chosen from beside the others.
WAYS = {
    "printed": "printed-filament",
    "wood": "wood",
    "foam": "foam-drawn",
    "metal": "metal-from-master",
    "original": "original-part",
}
# Words of the command and the figures they set.
WORDS = {
    "layer": "layer_mm", "inside": "inside_percent", "board": "board_mm", "room": "room_mm", "sheet": "sheet_mm", "kerf": "kerf_mm", "proud": "proud_mm",
    "pin": "pin_mm", "wall": "wall_mm", "lap": "lap_mm", "funnel": "funnel_deg",
}  # fmt: skip
NAMES = {"timber": "timber", "paper": "paper", "screw": "screw", "mount": "mount", "bed-joint": "bed_joint"}
COUNTS = {"walls": "walls", "dowel-count": "dowel_count", "copies": "copies"}
PAIRS = {"boards": ("board_wide_mm", "board_long_mm"), "sheets": ("sheet_wide_mm", "sheet_long_mm")}
FLAGS: dict[str, dict[str, Any]] = {
    "test-piece": {"test_piece": True}, "no-rule": {"rule": False}, "no-numbers": {"numbers": False}, "guide": {"guide": True},
    "rapping-plate": {"rapping": True}, "hollow": {"hollow": True}, "full-back": {"back": False},
}  # fmt: skip
HELP = (
    "Give dowel-count=N, proud=MM, guide, screw=NAME, rapping-plate, mount=boards|one-side|match-plate, copies=N, flask=LONGxWIDE, pin=MM, bed=XxYxZ, layer=MM, "
    "walls=N, inside=PERCENT, bed-joint=dowels|tongue, hollow, wall=MM, timber=NAME, board=MM, boards=WIDExLONG, room=MM, sheet=MM, sheets=WIDExLONG, kerf=MM, "
    "lap=MM, full-back, funnel=DEG, paper=A4|A3|letter, test-piece, no-rule or no-numbers."
)


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
    return Edit(LABELS[next(iter(changes))], msgspec.structs.replace(job, pattern=pattern))


def set_way(job: Job, way: str) -> Edit:
    """Another way of making; a job that is made in one of that kind already stays as it is."""
    kind = WAYS.get(way)
    if kind is None:
        raise UserFault(f"'{way}' is no way of making a pattern.", f"Choose one of {', '.join(WAYS)}.")
    if job.method.pattern.startswith(way):
        kind = job.method.pattern
    return set_pattern_kind(job, kind)


def with_word(job: Job, text: str) -> Job:
    """The job with one word more, such as ``bed=220x220x250`` or ``timber=pine``; UserFault for one that makes no sense."""
    word = text.strip()
    if word in FLAGS:
        return set_making(job, **FLAGS[word]).job
    name, _, value = word.partition("=")
    try:
        if name == "bed":
            sides = [float(side) for side in value.split("x")]
            if len(sides) not in (2, 3):
                raise ValueError(value)
            return set_making(job, bed_mm=(*sides, *[job.pattern.bed_mm[2]] * (3 - len(sides)))).job
        if name == "flask":
            long, wide = (float(side) for side in value.split("x"))
            return set_making(job, flask_mm=(long, wide)).job
        if name in PAIRS:
            one, two = (float(side) for side in value.split("x"))
            return set_making(job, **dict(zip(PAIRS[name], (one, two), strict=True))).job
        if name in NAMES:
            return set_making(job, **{NAMES[name]: value}).job
        if name in COUNTS:
            return set_making(job, **{COUNTS[name]: int(value)}).job
        return set_making(job, **{WORDS[name]: float(value)}).job
    except (KeyError, ValueError):
        raise UserFault(f"'{text}' says nothing about how the pattern is made.", HELP) from None
