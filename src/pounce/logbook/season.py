"""What matters over many pours, ready to be drawn: contraction by metal, yield, what went wrong, time a piece."""

from collections import Counter

from pounce.logbook.learn import contraction_of
from pounce.logbook.said import Bar, Season
from pounce.logbook.values import Pour
from pounce.metals import tables
from pounce.metals.defects import defects

# Rows of a chart, the last ones.
MOST = 7


def season_of(pours: tuple[Pour, ...]) -> Season:
    """The charts of these pours, the newest first among them."""
    return Season(_metals(pours), _yields(pours), _wrongs(pours), _times(pours))


def _metals(pours: tuple[Pour, ...]) -> tuple[Bar, ...]:
    """Contraction by metal and mould, those that were measured most first."""
    out = []
    for metal, mould in sorted({(one.metal, one.mould) for one in pours if one.metal in tables.metals()}):
        c = contraction_of(pours, metal, mould)
        if c.learned:
            name = f"{tables.metal(metal).name}, {tables.mould(mould).name.lower()}"
            said = f"{c.free.value:.2f} ± {c.free.give:.2f} %"
            out.append((c.measures, Bar(name, c.free.value, said, c.free.low, c.free.high, c.low, c.high)))
    return tuple(bar for _, bar in sorted(out, key=lambda one: -one[0])[:MOST])


def _yields(pours: tuple[Pour, ...]) -> tuple[Bar, ...]:
    rows = [(one, one.yield_share) for one in pours]
    return tuple(Bar(_named(one), 100.0 * share, f"{100.0 * share:.0f} %") for one, share in rows if share)[:MOST]


def _times(pours: tuple[Pour, ...]) -> tuple[Bar, ...]:
    rows = [(one, one.work_min / len(one.castings)) for one in pours if one.castings and one.work_min]
    return tuple(Bar(_named(one), each, f"{each:.0f} min") for one, each in rows)[:MOST]


def _wrongs(pours: tuple[Pour, ...]) -> tuple[Bar, ...]:
    """Castings by what was wrong: by its cause where that is settled, else by what is seen."""
    table, counted = defects(), Counter[str]()
    for pour in pours:
        for casting in pour.castings:
            counted.update({_wrong(one.cause, one.seen, table.noun) for one in casting.defects if one.fault})
    return tuple(Bar(name, float(many), str(many)) for name, many in counted.most_common(MOST))


def _wrong(cause: str, seen: str, nouns: dict[str, str]) -> str:
    if cause:
        return defects().cause[cause].name
    noun = nouns.get(seen, seen).removeprefix("a ").removeprefix("an ")
    return f"{noun[0].upper()}{noun[1:]}"


def _named(one: Pour) -> str:
    day = one.at.astimezone()
    return f"{day.day} {day:%b}, {one.job}"
