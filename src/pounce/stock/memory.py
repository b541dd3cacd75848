"""Lines worked before: a job that differs in its last lines is worked on from where it begins to differ.

Kept for the last few lines of this process. A kept state counts only for the very same results of the stops before, and
for the same choices but for the lines after it; what one line needs to know of later ones (which faces are machined) is
part of what must be the same.
"""

from collections import OrderedDict
from dataclasses import dataclass, replace

import msgspec

from pounce.stock.values import Addition, Machining, StockChoices
from pounce.stock.work import Work

# States kept, and the triangles that all of their bodies may have.
KEPT, KEPT_TRIANGLES = 12, 1_500_000


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
    for count in range(len(fresh.choices.lines), -1, -1):
        key = _key(fresh, count)
        for other, kept in _KEPT.values():
            if other.same(key):
                return replace(_copied(kept), choices=fresh.choices), count
    return fresh, -1


def _key(work: Work, count: int) -> _Key:
    choices = work.choices
    machined = tuple(line for line in choices.lines if isinstance(line, Machining))
    inputs = (work.part, work.method, work.draw, work.parting, work.hollows)
    return _Key(inputs, msgspec.structs.replace(choices, lines=()), machined, choices.lines[:count])


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
