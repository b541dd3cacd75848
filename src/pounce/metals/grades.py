"""Machining stock and tolerance by ISO 8062: which grade goes by itself, and raw sizes from finished ones."""

from dataclasses import dataclass
from functools import cache
from typing import Any

import msgspec

from pounce.metals.margins import group_of
from pounce.metals.tables import Mould, checked, grades, read


class UsualMachining(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The grade of RMA that goes by itself for a kind of metal, in the middle of its range."""

    grade: str
    range: str
    metals: str
    source: str

    def why(self) -> str:
        """The reason in one sentence."""
        return (
            f"Grade {self.grade} is the middle of {self.range}, what ISO 8062-3 gives for hand-moulded {self.metals}."
        )


class UsualTolerance(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The tolerance grade that goes by itself for a kind of sand."""

    grade: str
    range: str
    source: str


class Usual(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The table: by kind of metal, and by how the sand is bonded."""

    machining: dict[str, UsualMachining]
    tolerance: dict[str, UsualTolerance]


@dataclass(frozen=True)
class RawStock:
    """Stock a surface, mm: ``cut_mm`` the required machining allowance, ``tolerance_mm`` what the casting may be
    short by there.
    """

    cut_mm: float
    tolerance_mm: float

    @property
    def stock_mm(self) -> float:
        """Both together: what the pattern carries."""
        return self.cut_mm + self.tolerance_mm


@cache
def usual() -> Usual:
    """The table."""
    content: Any = read("usual")
    checked("usual", content)
    return msgspec.convert(content, Usual)


def machining_for(metal_id: str) -> UsualMachining:
    """What goes by itself for this metal."""
    return usual().machining["steel" if metal_id == "carbon-steel" else group_of(metal_id)]


def tolerance_grade(given: str | None, mould: Mould) -> str:
    """The tolerance grade: the given one, else the sand's usual."""
    return usual().tolerance[mould.bond].grade if given is None else given


def raw_stock(largest_mm: float, size_mm: float, grade: str, tolerance: str, both_sides: bool) -> RawStock:
    """Stock a surface on a dimension of ``size_mm``, of a casting whose largest dimension is ``largest_mm``.

    ISO 8062: raw size R = F + RMA + CT/2 where one side is machined, F + 2 RMA + CT/2 (a bore: F - 2 RMA - CT/2)
    where both are: so a surface carries RMA + CT/2, or RMA + CT/4. UserFault for an unknown grade or a size outside
    the tables.
    """
    total = grades()["tolerance"].at(size_mm, tolerance)
    return RawStock(grades()["machining"].at(largest_mm, grade), total / (4.0 if both_sides else 2.0))
