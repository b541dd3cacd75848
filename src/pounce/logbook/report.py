"""A dimension report of one casting: wanted, expected, measured, whether it lies within the grade of ISO 8062, and what
stock is left to machine.
"""

from pounce.logbook.said import Row
from pounce.logbook.values import Casting, Measure, Side
from pounce.metals.tables import NOISE_SHARE, grades


def report(casting: Casting, grade: str) -> tuple[Row, ...]:
    """The rows of a casting. UserFault for a grade that the table does not know."""
    return tuple(_row(one, grade) for one in casting.measures)


def _row(one: Measure, grade: str) -> Row:
    machined = one.finished_mm > 0.0
    left = one.casting_mm - one.finished_mm
    return Row(
        one.name,
        one.finished_mm or one.wanted_mm,
        one.wanted_mm,
        one.casting_mm,
        half_of(one.wanted_mm, grade),
        None if not machined else left if one.side is Side.OUTSIDE else -left,
        one.resolution_mm,
    )


def half_of(size_mm: float, grade: str) -> float | None:
    """Half the total tolerance of a size by ISO 8062, mm; None outside its table."""
    table = grades()["tolerance"]
    if not table.over < size_mm <= table.rows[-1].upto * (1.0 + NOISE_SHARE):
        return None
    return table.at(size_mm, grade) / 2.0
