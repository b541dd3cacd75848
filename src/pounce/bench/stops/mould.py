"""Mould on the bench."""

from pounce.base.units import count_words, length, mass, quantity, sizes
from pounce.bench.cards.card import Card
from pounce.bench.cards.mould import MouldCard
from pounce.bench.mould.board import MouldBoard
from pounce.bench.stops.view import Action, Headline, StopView
from pounce.job import rig_edits
from pounce.rig.values import RigResult
from pounce.route.results import Results
from pounce.route.stops import MOULD


def _headline(r: Results, unit: str) -> Headline | None:
    rig = r.get(MOULD)
    if rig is None:
        return None
    opened = [one for one in rig.findings if not one.informational]
    under = _under(rig)
    if opened:
        more = f" {count_words(len(opened) - 1).capitalize()} more." if len(opened) > 1 else ""
        return Headline(f"{opened[0].words(unit)}{more}", f"{_what(rig, unit)}. {under}")
    return Headline(f"{_what(rig, unit)}.", under)


def _what(rig: RigResult, unit: str) -> str:
    """How many in which flask."""
    f = rig.flask
    many = "One casting" if len(rig.castings) == 1 else f"{count_words(len(rig.castings)).capitalize()} castings"
    inside = sizes((f.long_mm, f.wide_mm), unit) if f.shape == "box" else f"{length(f.long_mm, unit)} across"
    name = f"the {f.name.lower()}, {inside}" if rig.own else f"a box to build, {inside}" if rig.boards else f"{inside}"
    tree = f", {count_words(rig.tiers)} tiers of a tree," if rig.tiers > 1 else ""
    return f"{many} on end in {name}" if rig.on_end else f"{many}{tree} in {name}"


def _under(rig: RigResult) -> str:
    """What a moulder does next: how much to pour through what, and what lies on the cope."""
    w = rig.weights
    gates = "one gate" if len(rig.gates) == 1 else f"{count_words(len(rig.gates))} gates"
    pour = f"Pour {mass(w.poured_kg)} through {gates} in {quantity('fill_s', rig.flow.fill_s)}."
    if rig.on_end:
        return f"{pour} Clamp it with {mass(w.add_kg)}, then stand it on end."
    if w.lift_n <= 0.0:
        return f"{pour} Keep the cup full."
    hold = f"Put {mass(w.add_kg)} on the cope." if w.add_kg > 0.05 else "The cope stays down by itself."
    jacket = "Slip the jacket on. " if rig.stands == "jacket" else ""
    return f"{jacket}{pour} {hold}"


def _line(r: Results, _unit: str) -> str | None:
    rig = r.get(MOULD)
    if rig is None:
        return None
    return f"{len(rig.castings)} up, {rig.flask.name.lower()}" if rig.own else f"{len(rig.castings)} up, box to build"


def _anew(card: Card) -> None:
    card.document.edit(rig_edits.arrange_anew)


VIEW = StopView(
    "Flask, castings and the metal's way in.",
    "Flask and gates",
    MouldCard,
    _headline,
    _line,
    board=MouldBoard,
    actions=(Action("Arrange the mould anew", "", _anew, goes=True),),
)
