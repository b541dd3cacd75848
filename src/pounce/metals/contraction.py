"""The arithmetic of contraction: per cent, factor and inch in a foot, stated on the casting or on the pattern.

Pattern size = part size x (1 + s) where s is stated on the casting (as EN 12890, DIN 1511 and the old
contraction rules state it), or x 1 / (1 - s) where s is stated on the pattern.
"""

from fractions import Fraction
from typing import Literal

from pounce.base.errors import UserFault

Stated = Literal["casting", "pattern"]
MOST_PERCENT = 10.0


def factor(percent: float, stated: Stated = "casting") -> float:
    """Pattern size over part size. UserFault unless 0 <= percent <= 10."""
    if not 0.0 <= percent <= MOST_PERCENT:
        raise UserFault(
            f"A contraction of {percent:g} % is outside 0 to {MOST_PERCENT:g} %.",
            "Metals in sand contract by 0.4 to 2.5 %: check the figure.",
        )
    share = percent / 100.0
    return 1.0 + share if stated == "casting" else 1.0 / (1.0 - share)


def percent(size_factor: float, stated: Stated = "casting") -> float:
    """The inverse of :func:`factor`: the contraction in per cent of a pattern-over-part factor > 0."""
    return 100.0 * (size_factor - 1.0) if stated == "casting" else 100.0 * (1.0 - 1.0 / size_factor)


def restate(value_percent: float, before: Stated, after: Stated) -> float:
    """The same pattern size with its contraction stated the other way."""
    if before == after:
        return value_percent
    return percent(factor(value_percent, before), after)


def inches_in_a_foot(size_factor: float) -> float:
    """How many inches a contraction rule of this factor gains in a foot of 12 inches."""
    return 12.0 * (size_factor - 1.0)


def rule_percent(inch_in_a_foot: str) -> float:
    """Per cent of a rule such as ``"5/32"``: 100 x (5/32) / 12 = 1.3021 %."""
    return float(Fraction(inch_in_a_foot) / 12 * 100)


def nearest_rule(size_factor: float, parts: int = 32) -> tuple[str, float]:
    """The nearest rule in ``1/parts`` inches to a foot, as text, and what it misses by (inches in a foot).

    (the mark is what could be bought as an engraved rule; 32nds were the usual step)
    """
    exact = inches_in_a_foot(size_factor)
    nearest = Fraction(round(exact * parts), parts)
    whole, rest = divmod(nearest, 1)
    text = f"{nearest}" if not whole else f"{whole}" if not rest else f"{whole} {rest}"
    return text, exact - float(nearest)
