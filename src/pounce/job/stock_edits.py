"""Edits of the Stock stop: lines added, changed, switched, moved and dropped; contraction per axis and the table's
choices.
"""

from typing import Any

import msgspec

from pounce.base.errors import UserFault
from pounce.job.edits import Edit
from pounce.job.job import Job
from pounce.metals import tables
from pounce.stock.values import (
    FREE_ORDER,
    NAMES,
    ORDER,
    Addition,
    AxisShrink,
    Draft,
    Fill,
    Machining,
    Place,
    StockChoices,
    line_kind,
)

AXIS = {"x": 0, "y": 1, "z": 2}


def _with(job: Job, **changes: object) -> Job:
    return msgspec.structs.replace(job, stock=msgspec.structs.replace(job.stock, **changes))


def _rank(line: Addition) -> int:
    return ORDER[line_kind(line)]


def _said(line: Addition) -> str:
    return NAMES[line_kind(line)].lower()


def add_line(job: Job, line: Addition) -> Edit:
    """Puts a line in its usual place: after those of its own kind, before those that come later."""
    lines = list(job.stock.lines)
    at = next((k for k, other in enumerate(lines) if _rank(other) > _rank(line)), len(lines))
    lines.insert(at, line)
    return Edit(f"Add {_said(line)}", _with(job, lines=tuple(lines)))


def change_line(job: Job, index: int, **changes: Any) -> Edit:
    """Other figures for a line. UserFault for a line that is not there or a value that cannot be."""
    line = _line(job, index)
    try:
        made = msgspec.convert(msgspec.to_builtins(msgspec.structs.replace(line, **changes)), type(line))
    except msgspec.ValidationError as error:
        raise UserFault(f"That cannot be set ({error}).", "Choose another value.") from None
    lines = (*job.stock.lines[:index], made, *job.stock.lines[index + 1 :])
    return Edit(f"Change {_said(line)}", _with(job, lines=lines))


def switch_line(job: Job, index: int, on: bool) -> Edit:
    """Leaves a line out, or works it again."""
    made = change_line(job, index, on=on)
    return Edit(f"{'Work' if on else 'Leave out'} {_said(_line(job, index))}", made.job)


def drop_line(job: Job, index: int) -> Edit:
    """Takes a line away."""
    line = _line(job, index)
    return Edit(f"Take {_said(line)} away", _with(job, lines=job.stock.lines[:index] + job.stock.lines[index + 1 :]))


def may_move(job: Job, index: int, by: int) -> bool:
    """Whether the line may change places with its neighbour: only where the order matters."""
    lines, other = job.stock.lines, index + by
    if not (0 <= index < len(lines) and 0 <= other < len(lines)):
        return False
    one, two = line_kind(lines[index]), line_kind(lines[other])
    return one != two and one in FREE_ORDER and two in FREE_ORDER


def move_line(job: Job, index: int, by: int) -> Edit:
    """Changes places with the line before (-1) or after (1). UserFault where the order does not matter or must stay."""
    if not may_move(job, index, by):
        raise UserFault(
            "These two lines come in the one order that works.", "Move stock, draft, fillets and text among themselves."
        )
    lines = list(job.stock.lines)
    lines[index], lines[index + by] = lines[index + by], lines[index]
    return Edit(f"Move {_said(lines[index + by])}", _with(job, lines=tuple(lines)))


def _line(job: Job, index: int) -> Addition:
    if not 0 <= index < len(job.stock.lines):
        raise UserFault("That line is no longer there.", "Choose one that is on the card.")
    return job.stock.lines[index]


def set_axis(job: Job, axis: str, **changes: Any) -> Edit:
    """How contraction is hindered along x, y or z, an own figure there, or the printer's measured error."""
    at = AXIS[axis]
    axes = list(job.stock.axes)
    try:
        axes[at] = msgspec.convert(msgspec.to_builtins(msgspec.structs.replace(axes[at], **changes)), AxisShrink)
    except msgspec.ValidationError as error:
        raise UserFault(f"That cannot be set ({error}).", "Choose free, core or flanges.") from None
    return Edit(f"Contraction along {axis}", _with(job, axes=tuple(axes)))


def set_stock(job: Job, **changes: Any) -> Edit:
    """The printing material's shrink, the other metal, the grade of the table, the axis for the moment of inertia."""
    other = changes.get("other_metal")
    if other is not None:
        tables.metal(str(other))
    try:
        stock = msgspec.convert(msgspec.to_builtins(msgspec.structs.replace(job.stock, **changes)), StockChoices)
    except msgspec.ValidationError as error:
        raise UserFault(f"That cannot be set ({error}).", "Choose another value.") from None
    return Edit("Change the table of dimensions", msgspec.structs.replace(job, stock=stock))


def machining_at(job: Job, index: int) -> Machining:
    """The machining line there. UserFault for another kind of line."""
    line = _line(job, index)
    if not isinstance(line, Machining):
        raise UserFault("That line is no machining stock.", "Choose one that is.")
    return line


def taper_at(job: Job, at_mm: Place) -> Edit:
    """Draft for the wall at a place alone. UserFault where a line leans all walls already."""
    for index, line in enumerate(job.stock.lines):
        if isinstance(line, Draft) and line.on:
            if not line.only:
                raise UserFault(
                    "A line of Stock gives every wall its draft already.",
                    "Look at what Stock says of walls that stay tight, or give this wall a draft of its own there.",
                )
            only = line.only if at_mm in line.only else (*line.only, at_mm)
            return Edit("Taper it", change_line(job, index, only=only).job)
    return Edit("Taper it", add_line(job, Draft(only=(at_mm,))).job)


def nothing_at(job: Job, at_mm: Place) -> Edit:
    """Takes back what lines do at this very place: its fill, its taper."""
    kept: list[Addition] = []
    for line in job.stock.lines:
        if isinstance(line, Fill) and line.at_mm == at_mm:
            continue
        if isinstance(line, Draft) and at_mm in line.only:
            only = tuple(place for place in line.only if place != at_mm)
            if not only:
                continue
            line = msgspec.structs.replace(line, only=only)
        kept.append(line)
    return Edit("Ask no more", _with(job, lines=tuple(kept)))
