"""How much draft a wall is asked for: by its height along the draw, outside or inside, the mould and the way of
making.
"""

import math
from functools import cache

import msgspec

from pounce.metals.tables import NOISE_MM, Figure, PatternKind, checked, read


class HeightRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Walls up to and including ``upto`` mm lean ``deg`` degrees."""

    upto: float
    deg: float


class HeightTable(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Draft by height for a pattern whose usual draft is ``base``; ``over`` what is taller than the last row."""

    source: str
    unit: str
    condition: str
    base: float
    rows: tuple[HeightRow, ...]
    over: float


class Drafts(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The table of drafts. ``mould`` by the id of the medium."""

    height: HeightTable
    inside: Figure
    inside_most: Figure
    slot: Figure
    least: Figure
    mould: dict[str, Figure]


@cache
def drafts() -> Drafts:
    """The table."""
    content = read("drafts")
    checked("drafts", content)
    return msgspec.convert(content, Drafts)


def asked_deg(height_mm: float, inside: bool, mould_id: str, usual_deg: float, across_mm: float = math.inf) -> float:
    """Draft (degrees) asked of a wall ``height_mm`` high along the draw, to a quarter of a degree.

    ``usual_deg`` is the way of making's own usual draft; 0 where nothing draws. ``across_mm`` how far off other metal
    stands that looks at it, where it is nearest: both together take no more than their share of that. Taper tables of
    EN 12890 and DIN 1511, from memory.
    """
    if usual_deg <= 0.0:
        return 0.0
    table = drafts()
    row = next((row.deg for row in table.height.rows if height_mm <= row.upto + NOISE_MM), table.height.over)
    plain = row * usual_deg / table.height.base * table.mould[mould_id].value
    if inside:
        plain = min(plain * table.inside.value, max(table.inside_most.value, usual_deg))
    room = math.degrees(math.atan(table.slot.value * across_mm / (2.0 * max(height_mm, NOISE_MM))))
    return max(min(round(4.0 * plain), math.floor(4.0 * room)) / 4.0, table.least.value)


def range_deg(mould_id: str, kind: PatternKind) -> tuple[float, float]:
    """The least and the most the table asks for this mould and way of making, degrees; (0, 0) where nothing draws."""
    heights = [*(row.upto for row in drafts().height.rows), 1e6]
    found = [
        asked_deg(height, inside, mould_id, kind.draft.value if kind.draws else 0.0)
        for height in heights
        for inside in (False, True)
    ]
    return min(found), max(found)


def rows_of(mould_id: str, kind: PatternKind) -> list[tuple[str, float, float]]:
    """The table as it stands for a mould and a way of making: height in words, degrees outside, degrees inside."""
    out: list[tuple[str, float, float]] = []
    before = 0.0
    for row in drafts().height.rows:
        words = f"up to {row.upto:g} mm" if not out else f"{before:g} to {row.upto:g} mm"
        out.append(
            (
                words,
                asked_deg(row.upto, False, mould_id, kind.draft.value),
                asked_deg(row.upto, True, mould_id, kind.draft.value),
            )
        )
        before = row.upto
    out.append(
        (
            f"over {before:g} mm",
            asked_deg(1e6, False, mould_id, kind.draft.value),
            asked_deg(1e6, True, mould_id, kind.draft.value),
        )
    )
    return out
