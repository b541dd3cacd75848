"""Logbook on the bench."""

from typing import cast

from pounce.base.units import count_words, length, percent, plain
from pounce.bench.cards.card import Card
from pounce.bench.cards.logbook import LogCard
from pounce.bench.log.board import LogBoard
from pounce.bench.stops.view import Action, Headline, StopView
from pounce.logbook.said import LogResult, Row
from pounce.logbook.values import Outcome
from pounce.route.log import log_of
from pounce.route.logkeys import came_out
from pounce.route.results import Results
from pounce.route.stops import PART


def _headline(r: Results, unit: str) -> Headline | None:
    made = log_of(r)
    if made is None:
        return None
    c = made.contraction
    if made.last is None:
        under = f"The table says {plain(c.low, 2)} to {plain(c.high, 2)} %: what is measured here makes that narrower."
        if c.learned:
            under = f"{_learned(made)}, of other jobs in this metal."
        return Headline("No pour of this job is in the book yet.", under)
    last = came_out(tuple(one.outcome for one in made.last.castings))
    seen = [one for one in made.seen if one.defect.fault]
    if seen:
        first = seen[0]
        return Headline(
            f"{last[0].upper()}{last[1:]}. {first.diagnosis.said}",
            f"{_learned(made)}; the pattern is made for {plain(made.made_percent, 2)}.",
        )
    rows = [row for _, each in made.rows for row in each]
    if rows:
        return Headline(f"{_worst(rows, unit)} {_learned(made)}.", _under(made))
    return Headline(f"The last pour: {last}.", f"{_learned(made)}. Measure a casting cold and unground.")


def _worst(rows: list[Row], unit: str) -> str:
    """The longest size, which says most."""
    row = max(rows, key=lambda one: one.expected_mm)
    off = row.off_mm
    if abs(off) < row.resolution_mm:
        return f"Came out right over {length(row.expected_mm, unit, 0)}."
    return (
        f"Came out {length(abs(off), unit)} {'over' if off > 0.0 else 'short'} over {length(row.expected_mm, unit, 0)}."
    )


def _learned(made: LogResult) -> str:
    c = made.contraction
    if not c.learned:
        return "Nothing measured yet in this metal"
    return f"Learned contraction {c.free.value:.2f} %, give or take {c.free.give:.2f}"


def _under(made: LogResult) -> str:
    c = made.contraction
    off = f"pattern made for {percent(round(made.made_percent, 2))}"
    many = f"{count_words(c.measures).capitalize()} sizes of {count_words(len(c.says))} pours"
    return f"{many}; {off}. Long bars count for less."


def _line(r: Results, _unit: str) -> str | None:
    made = log_of(r)
    if made is None:
        return None
    if not made.pours:
        return "No pour kept yet"
    bad = sum(one.outcome is not Outcome.SOUND for pour in made.pours for one in pour.castings)
    many = len(made.pours)
    pours = f"{many} pour{'s' if many != 1 else ''}"
    return f"{pours}, {count_words(bad)} not sound" if bad else f"{pours}, all sound"


def _keep(card: Card) -> None:
    card.act()


def _story(card: Card) -> None:
    cast(LogCard, card).ask_story()


VIEW = StopView(
    "What came out, and what it teaches.",
    "What came out",
    LogCard,
    _headline,
    _line,
    board=LogBoard,
    known=lambda results: results.get(PART) is not None and log_of(results) is not None,
    actions=(
        Action("Keep this pour", "Ctrl+Return", _keep),
        Action("The part's story on one page", "", _story, goes=True),
    ),
)
