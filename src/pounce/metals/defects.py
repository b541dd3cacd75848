"""The table of defects: how each cause shows, and what the job's own figures say for or against it."""

from functools import cache

import msgspec

from pounce.metals.tables import Figure, checked, read


class DefectCause(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A cause: what it is called and does, the ``test`` that would tell and the ``advice``; its ``prior`` (to one
    another); of a hundred castings with it how many show each sign (what is left shares the rest).
    """

    name: str
    says: str
    test: str
    advice: str
    prior: Figure
    seen: dict[str, float]
    where: dict[str, float]
    when: dict[str, float]
    source: str


class Speaks(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A figure that speaks ``pro`` or ``con`` a cause: what it multiplies the odds by."""

    cause: str
    pro: Figure
    con: Figure


class DefectLimits(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where a job's figure begins to speak."""

    spare: Figure
    meets: Figure
    plan: Figure
    near: Figure
    water: Figure
    rammed: Figure
    hotter: Figure
    wider: Figure


class Defects(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The table: signs by question, each sign that is seen as a noun, causes, evidence, limits."""

    seen: dict[str, str]
    noun: dict[str, str]
    where: dict[str, str]
    when: dict[str, str]
    cause: dict[str, DefectCause]
    evidence: dict[str, Speaks]
    limits: DefectLimits


QUESTIONS = ("seen", "where", "when")


@cache
def defects() -> Defects:
    """The table. ValueError for a figure that cannot stand, a sign or a cause that is not there, or shares over a
    hundred.
    """
    content = read("defects")
    checked("defects", content)
    table = msgspec.convert(content, Defects)
    if set(table.noun) != set(table.seen):
        raise ValueError("defects: each sign that is seen has one noun")
    for name, cause in table.cause.items():
        for question in QUESTIONS:
            row, known = getattr(cause, question), getattr(table, question)
            if set(row) - set(known):
                raise ValueError(f"defects: {name} shows signs that are not there: {sorted(set(row) - set(known))}")
            if not 0.0 < sum(row.values()) < 100.0:
                raise ValueError(f"defects: the shares of {name} come to {sum(row.values()):g} of a hundred")
    for name, one in table.evidence.items():
        if one.cause not in table.cause:
            raise ValueError(f"defects: {name} speaks of no cause '{one.cause}'")
    return table


def share_of(cause: str, question: str, sign: str) -> float:
    """How often a cause shows this sign, 0 to 1. KeyError for an unknown cause or question."""
    table = defects()
    row: dict[str, float] = getattr(table.cause[cause], question)
    if sign in row:
        return row[sign] / 100.0
    left = len(getattr(table, question)) - len(row)
    return (100.0 - sum(row.values())) / 100.0 / left
