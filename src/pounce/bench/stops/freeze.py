"""Freeze on the bench."""

from typing import Literal

import numpy as np

from pounce.base.units import count_words, quantity
from pounce.bench.cards.card import Card
from pounce.bench.cards.freeze import FreezeCard
from pounce.bench.freeze.board import FreezeBoard
from pounce.bench.stops.view import Action, Headline, Shown, StopView, box_of
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.widgets.labels import Tag
from pounce.feeding.values import FreezeResult, Lies
from pounce.job import freeze_edits
from pounce.route.results import Results
from pounce.route.stops import FREEZE
from pounce.solid.mesh import Floats

# A feeder is named so far up, mm.
UP_MM = 15.0
# A place so many cells before the cut is cut away.
CELLS_BEFORE = 2.0


def _headline(r: Results, unit: str) -> Headline | None:
    made = r.get(FREEZE)
    if made is None:
        return None
    opened = [one for one in made.findings if not one.informational]
    if made.wanting and not made.fill.short:
        first = made.wanting[0]
        most = quantity("v_mm3", sum(one.void_mm3[1] for one in made.wanting))
        if len(made.wanting) == 1:
            return Headline(f"{first.name[0].upper()}{first.name[1:]} may draw hollow, up to {most}.", _under(made))
        many = count_words(len(made.wanting)).capitalize()
        return Headline(f"{many} places may draw hollow, up to {most} in all.", _under(made))
    if opened:
        more = f" {count_words(len(opened) - 1).capitalize()} more." if len(opened) > 1 else ""
        return Headline(f"{opened[0].words(unit)}{more}", _under(made))
    if made.feeders:
        hold = "The feeder holds" if len({one.number for one in made.feeders}) == 1 else "All feeders hold"
        return Headline(f"{hold} out: the casting sets first, and sound.", _under(made))
    if made.reason:
        return Headline("It feeds itself: no feeder is wanted.", _under(made))
    counted = [one for one in made.places if one.counts]
    if counted and all(one.lies == Lies.GONE for one in counted):
        return Headline("What sets last is machined off: no feeder is wanted.", _under(made))
    high = sum(one.void_mm3[1] for one in counted)
    if r.job.freeze.feeding == "cool" and high > 0.0:
        return Headline(f"Poured cool: up to {quantity('v_mm3', high)} may be hollow.", _under(made))
    return Headline("Even section: no place sets long after the rest.", _under(made))


def _under(made: FreezeResult) -> str:
    if made.rough:
        return "A quick look; what cures it is tried on the fine grid. Bright sets last."
    fill = made.fill
    said = f"Poured at {quantity('c_c', made.pour_c)}, solid after {quantity('s_s', made.solid_s)}; bright sets last."
    if fill.short or fill.fills_c is None:
        return said
    return f"{said} It fills with {quantity('c_c', made.pour_c - fill.fills_c)} to spare."


def _line(r: Results, _unit: str) -> str | None:
    made = r.get(FREEZE)
    if made is None:
        return None
    if made.fill.short:
        return "Stops short"
    if made.wanting:
        n = len(made.wanting)
        return "One place draws hollow" if n == 1 else f"{count_words(n).capitalize()} places draw hollow"
    if made.feeders:
        many = len({one.number for one in made.feeders})
        return f"{quantity('s_s', made.solid_s)}, {count_words(many)} feeder{'s' if many > 1 else ''}"
    return f"{quantity('s_s', made.solid_s)}, no feeder"


def _none(card: Card) -> None:
    card.document.edit(freeze_edits.set_feeding, (), ())


def _scene(kind: str, _results: Results, paths: dict[str, str], _shown: Shown) -> SceneAsked:
    return SceneAsked(kind, paths.get("part"), freeze=paths.get("freeze"))


def _points(_scene: SceneAsked, results: Results) -> Floats:
    made = results.get(FREEZE)
    if made is None:
        return box_of(results)
    (x0, y0, z0), (x1, y1, z1) = made.cutaway.box.tolist()
    return np.array([[x, y, z] for x in (x0, x1) for y in (y0, y1) for z in (z0, z1)])


def _tags(results: Results, _scene: SceneAsked, _unit: str) -> tuple[Tag, ...]:
    made = results.get(FREEZE)
    if made is None:
        return ()
    y = made.cutaway.y_mm
    out = [
        Tag(f"sets last, {quantity('s_s', one.seconds)}", one.at_mm, "tight", one.number, ring="dashed")
        for one in made.wanting
        if one.at_mm[1] > y - CELLS_BEFORE * made.step_mm  # what is cut away is not named
    ]
    if not out and made.places:
        one = made.places[0]
        out.append(Tag(f"last of the casting, {quantity('s_s', one.seconds)}", one.at_mm))
    for feeder in made.feeders:
        if feeder.at_mm[1] < y - CELLS_BEFORE * made.step_mm:
            continue
        at = (feeder.at_mm[0], max(feeder.at_mm[1], y), feeder.at_mm[2] + UP_MM)
        ring: Literal["dashed", "whole"] = "whole" if feeder.holds else "dashed"
        out.append(Tag(f"feeder {feeder.number + 1}, {quantity('s_s', feeder.seconds)}", at, ring=ring))
    gates = [one for one in made.gates if one.at_mm[1] > y - CELLS_BEFORE * made.step_mm]
    if gates:
        gate = min(gates, key=lambda one: one.seconds)
        out.append(Tag(f"gate, {quantity('s_s', gate.seconds)}", gate.at_mm))
    return tuple(out)


VIEW = StopView(
    "What sets last, and what feeds it.",
    "What sets last",
    FreezeCard,
    _headline,
    _line,
    kind="freeze",
    scene=_scene,
    points=_points,
    tags=_tags,
    strip=lambda results: "section" if results.get(FREEZE) is None else "freeze",
    scaled=True,
    board=FreezeBoard,
    actions=(Action("Take all feeders and chills away", "", _none, goes=True),),
)
