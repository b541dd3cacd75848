"""The arithmetic of contraction: per cent, factor and inch in a foot, stated on the casting or on the pattern.

Pattern size = part size x 100 / (100 - S) where S is stated on the pattern: what the pattern loses to become the
casting. So trade handbooks work the table of EN 12890 and DIN 1511, and so do we. The old contraction rules gain so
many inches in a foot of the casting: x (1 + s), stated on the casting.
"""

from fractions import Fraction
from typing import Literal

from pounce.base.errors import UserFault

Stated = Literal["casting", "pattern"]
MOST_PERCENT = 10.0


def factor(percent: float, stated: Stated = "pattern") -> float:
    """Pattern size over part size. UserFault unless 0 <= percent <= 10."""
    if not 0.0 <= percent <= MOST_PERCENT:
        raise UserFault(
            f"A contraction of {percent:g} % is outside 0 to {MOST_PERCENT:g} %.",
            "Metals in sand contract by 0.4 to 2.5 %: check the figure.",
        )
    share = percent / 100.0
    return 1.0 + share if stated == "casting" else 1.0 / (1.0 - share)


def percent(size_factor: float, stated: Stated = "pattern") -> float:
    """The inverse of :func:`factor`: the contraction in per cent of a pattern-over-part factor > 0."""
    return 100.0 * (size_factor - 1.0) if stated == "casting" else 100.0 * (1.0 - 1.0 / size_factor)


def restate(value_percent: float, before: Stated, after: Stated) -> float:
    """The same pattern size with its contraction stated the other way."""
    if before == after:
        return value_percent
    return percent(factor(value_percent, before), after)


def formula(percent_text: str, stated: Stated) -> str:
    """How the pattern's size follows, in words a reader can work by hand."""
    if stated == "pattern":
        return f"pattern = casting × 100/(100 − {percent_text})"
    return f"pattern = casting × (100 + {percent_text})/100"


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
