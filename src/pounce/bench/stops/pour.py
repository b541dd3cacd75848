"""Pour on the bench."""

from typing import cast

from pounce.base.units import count_words, heat_words, mass, quantity
from pounce.bench.cards.card import Card
from pounce.bench.cards.pour import PourCard
from pounce.bench.pour.board import PourBoard
from pounce.bench.stops.freeze import VIEW as FREEZE_VIEW
from pounce.bench.stops.view import Action, Headline, StopView
from pounce.pour.values import PourResult
from pounce.route.results import Results
from pounce.route.stops import FREEZE, POUR


def _headline(r: Results, unit: str) -> Headline | None:
    made = r.get(POUR)
    if made is None:
        return None
    opened = [one for one in made.findings if not one.informational]
    if opened:
        more = f" {count_words(len(opened) - 1).capitalize()} more." if len(opened) > 1 else ""
        return Headline(f"{opened[0].words(unit)}{more}", _under(made))
    return Headline(f"Melt {mass(made.charged.kg)}, lift at {heat_words(made.lift_c)}.", _under(made))


def _under(made: PourResult) -> str:
    first = made.first.mould
    window = f"{round(first.low_c)} and {quantity('a_c', first.high_c)}"
    begin = quantity("t_min", made.before_min)
    if len(made.turns) > 1:
        falls = f"{round(made.first.at_c)} at the first mould, {quantity('a_c', made.last.at_c)} at the last"
        return f"{falls}. Begin {begin} before; open after {quantity('t_min', made.open_min)}."
    return f"Pour between {window}. Begin {begin} before; open after {quantity('t_min', made.open_min)}."


def _line(r: Results, _unit: str) -> str | None:
    made = r.get(POUR)
    return None if made is None else f"{mass(made.charged.kg)}, lift at {quantity('a_c', made.lift_c)}"


def _large(card: Card) -> None:
    cast(PourCard, card).show_large()


def _anew(card: Card) -> None:
    cast(PourCard, card).under_way.begin_anew()


def _write(card: Card) -> None:
    cast(PourCard, card).ask_card()


VIEW = StopView(
    "What to melt, how hot, in what order.",
    "Metal and times",
    PourCard,
    _headline,
    _line,
    kind="freeze",
    scene=FREEZE_VIEW.scene,
    points=FREEZE_VIEW.points,
    tags=FREEZE_VIEW.tags,
    strip=lambda results: "section" if results.get(FREEZE) is None else "freeze",
    scaled=True,
    board=PourBoard,
    actions=(
        Action("Large figures for the shed", "F4", _large, goes=True),
        Action("Write the pour card", "", _write, goes=True),
        Action("Begin another pour of this job", "", _anew, goes=True),
    ),
)
