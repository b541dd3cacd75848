"""Lines worked before: a job that differs in its last lines is worked on from where it begins to differ.

Kept for the last few lines of this process. A kept state counts only for the very same results of the stops before, and
for the same choices but for the lines after it; what one line needs to know of later ones (which faces are machined) is
part of what must be the same. What cores make is asked by draft alone. Draft takes longest: a body whose walls were
leaned is kept for itself too, since a line that found nothing to do, or a core that was not made, leaves the same body.
"""

from collections import OrderedDict
from dataclasses import dataclass, replace

import msgspec
import numpy as np

from pounce.parting.joint import Joint
from pounce.solid.mesh import Floats, Mesh
from pounce.stock import taper
from pounce.stock.values import Addition, Draft, Machining, StockChoices
from pounce.stock.work import Work

# States kept, and the triangles that all of their bodies may have; leaned bodies kept, with as many at most.
KEPT, KEPT_TRIANGLES, LEANED = 12, 1_500_000, 4


@dataclass(frozen=True, eq=False)
class _Key:
    """``inputs`` the results worked from, held so that they cannot be mistaken for others; ``rest`` the choices less
    their lines; ``machined`` all lines of stock; ``lines`` worked so far.
    """

    inputs: tuple[object, ...]
    rest: StockChoices
    machined: tuple[Addition, ...]
    lines: tuple[Addition, ...]

    def same(self, other: "_Key") -> bool:
        """Whether a state of the one is a state of the other."""
        return (
            len(self.inputs) == len(other.inputs)
            and all(one is two for one, two in zip(self.inputs, other.inputs, strict=True))
            and self.rest == other.rest
            and self.machined == other.machined
            and self.lines == other.lines
        )


_KEPT: OrderedDict[int, tuple[_Key, Work]] = OrderedDict()


def keep(work: Work, count: int) -> None:
    """Keeps the state after ``count`` lines."""
    key = _key(work, count)
    for name, (other, _) in _KEPT.items():
        if other.same(key):
            _KEPT.move_to_end(name)
            return
    _KEPT[max(_KEPT, default=0) + 1] = (key, _copied(work))
    while len(_KEPT) > KEPT or (len(_KEPT) > 1 and _triangles() > KEPT_TRIANGLES):
        _KEPT.popitem(last=False)


def resumed(fresh: Work) -> tuple[Work, int]:
    """The furthest kept state that this work goes through, with how many lines are done; the same work with none where
    there is no such state.
    """
    least = 0 if any(line.on for line in fresh.choices.lines) else 1  # a part with nothing to do stays as it was read
    for count in range(len(fresh.choices.lines), least - 1, -1):
        key = _key(fresh, count)
        for other, kept in _KEPT.values():
            if other.same(key):
                return replace(_copied(kept), choices=fresh.choices, hollows=fresh.hollows), count
    return fresh, -1


@dataclass(frozen=True, eq=False)
class _Leaned:
    """What draft was laid on and with what figures, the number of its line, and what came of it."""

    body: Mesh
    joint: Joint
    figures: tuple[Floats, Floats]
    only_adds: frozenset[int]
    least_mm: float
    line: int
    made: taper.Tapered

    def same(self, other: "_Leaned") -> bool:
        """Whether both come out alike but for the number of their line."""
        return (
            self.body is other.body
            and self.joint is other.joint
            and all(np.array_equal(one, two) for one, two in zip(self.figures, other.figures, strict=True))
            and (self.only_adds, self.least_mm) == (other.only_adds, other.least_mm)
        )


_LEANED: list[_Leaned] = []


def tapered(
    work: Work, body: Mesh, figures: tuple[Floats, Floats], line: int, only_adds: set[int], least_mm: float
) -> taper.Tapered:
    """Draft of these ``figures`` (degrees asked and share taken of each face of the part) on the body, see
    :func:`pounce.stock.taper.tapered`; as it was the last time where all of it is the same.
    """
    empty = taper.Tapered(body, 0, 0.0, 0.0, None, 0.0)
    asked = _Leaned(body, work.joint, figures, frozenset(only_adds), least_mm, line, empty)
    for known in _LEANED:
        if known.same(asked):
            return _renumbered(known.made, body, known.line, line)
    made = taper.tapered(body, work.part.mesh, work.features, work.joint, *figures, line, only_adds, least_mm)
    _LEANED.append(replace(asked, made=made))
    while len(_LEANED) > LEANED or (len(_LEANED) > 1 and sum(len(k.made.body.faces) for k in _LEANED) > KEPT_TRIANGLES):
        del _LEANED[0]
    return made


def _renumbered(made: taper.Tapered, body: Mesh, had: int, line: int) -> taper.Tapered:
    """The same, made by a line of another number."""
    if had == line or made.body is body:
        return made
    tags = made.body.tags
    return replace(made, body=made.body.tagged(tags.changed(tags.line == had, line=line)))


def _key(work: Work, count: int) -> _Key:
    choices = work.choices
    machined = tuple(line for line in choices.lines if isinstance(line, Machining))
    lines = choices.lines[:count]
    inputs: tuple[object, ...] = (work.part, work.method, work.draw, work.parting)
    if any(line.on and isinstance(line, Draft) for line in lines):
        inputs = (*inputs, work.hollows)
    return _Key(inputs, msgspec.structs.replace(choices, lines=()), machined, lines)


def _copied(work: Work) -> Work:
    """The state with lists of its own."""
    return replace(
        work,
        lines=list(work.lines),
        bodies=list(work.bodies),
        drill=list(work.drill),
        changed=dict(work.changed),
        machined=dict(work.machined),
        marks=list(work.marks),
    )


def _triangles() -> int:
    return sum(len(body.faces) for _, work in _KEPT.values() for body in work.bodies)
