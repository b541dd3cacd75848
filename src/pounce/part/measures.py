"""What was measured of a part that has no model, and reading it from words."""

from typing import Literal

import msgspec

from pounce.base.errors import UserFault
from pounce.base.figures import figure

Shape = Literal["block", "round", "tube", "tray", "angle", "outline"]


class Measures(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What was measured, mm: ``long``, ``wide`` and ``high`` over all; ``wall``; round through holes down the height,
    as x, y from the middle and their width. ``shape``: block; round and tube (``long`` is the diameter); tray (open
    on top); angle (a foot and an upright leg); outline (``points`` sketched round, ``high`` thick). ``weight_kg`` on
    the scale; it gives the wall where that could not be measured (0).
    """

    shape: Shape = "block"
    name: str = "Measured part"
    long_mm: float = 100.0
    wide_mm: float = 60.0
    high_mm: float = 30.0
    wall_mm: float = 0.0
    holes: tuple[tuple[float, float, float], ...] = ()
    points: tuple[tuple[float, float], ...] = ()
    weight_kg: float = 0.0


def points_of(text: str) -> tuple[tuple[float, float], ...]:
    """Corners of a sketch from words such as ``0,0 120,0 120,40``; UserFault for anything else."""
    return tuple((x, y) for x, y in _numbers(text, 2, "0,0 120,0 120,40 0,40"))


def holes_of(text: str) -> tuple[tuple[float, float, float], ...]:
    """Holes from words such as ``-40,0,8 40,0,8``: x and y from the middle, and the width. UserFault for anything
    else.
    """
    return tuple((x, y, wide) for x, y, wide in _numbers(text, 3, "-40,0,8 40,0,8"))


def _numbers(text: str, count: int, like: str) -> list[list[float]]:
    out: list[list[float]] = []
    for word in text.replace(";", " ").split():
        try:
            values = [figure(one) for one in word.split(",")]
        except ValueError:
            values = []
        if len(values) != count:
            raise UserFault(f"'{word}' cannot be read.", f"Write it like {like}.")
        out.append(values)
    return out
