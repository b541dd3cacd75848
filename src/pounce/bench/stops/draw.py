"""Draw on the bench."""

from pounce.base.units import length
from pounce.bench.cards.card import Card
from pounce.bench.cards.draw import DrawCard
from pounce.bench.stops.view import Action, Headline, StopView, judged_cut
from pounce.bench.stops.words import cause_tags, draw_chips, place_tags, said_of_draw, states
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.widgets.labels import Tag
from pounce.route.results import Results
from pounce.route.stops import DRAW


def _draw(r: Results, unit: str) -> Headline | None:
    if r.draw is None or r.parting is None or r.metal is None:
        return None
    if not r.metal.pattern.draws:
        dug = r.metal.pattern.dug
        return Headline(
            "Nothing has to draw.",
            "The foam is dug out in pieces when the mould has hardened."
            if dug
            else "A burned-out pattern stays in the sand.",
        )
    head, before = said_of_draw(r, unit)
    if not r.parting.joint.level:
        under = f"The joint follows the part, {length(r.parting.relief_mm, unit)} up and down."
    elif r.parting.kind == "flat-back":
        half = "drag" if r.parting.drag_depth_mm > r.parting.cope_depth_mm else "cope"
        under = (
            f"Flat back on the joint, {length(max(r.parting.cope_depth_mm, r.parting.drag_depth_mm), unit)} deep "
            f"in the {half}."
        )
    else:
        under = (
            f"Split: {length(r.parting.cope_depth_mm, unit)} in the cope and "
            f"{length(r.parting.drag_depth_mm, unit)} in the drag."
        )
    return Headline(head, f"{before} {under}".strip())


def _line(r: Results, _unit: str) -> str | None:
    if r.parting is None:
        return None
    tight, locked = states(r)
    said = [f"{tight} tight"] * bool(tight) + [f"{locked} {'locks' if locked == 1 else 'lock'}"] * bool(locked)
    return ", ".join(said) or "Clean"


def _tags(results: Results, _scene: SceneAsked, unit: str) -> tuple[Tag, ...]:
    """Labels on leaders; every place of a cause bears its number."""
    return cause_tags(results, ("draw",), unit) or place_tags(DRAW.findings(results), results, unit)


def _tilted(right: float, nearer: float) -> Action:
    def act(card: Card) -> None:
        card.tilt.emit(right, nearer)

    name = {(-1, 0): "left", (1, 0): "right", (0, -1): "away", (0, 1): "nearer"}[(int(right), int(nearer))]
    key = {"left": "Left", "right": "Right", "away": "Up", "nearer": "Down"}[name]
    return Action(f"Tilt the draw {name}", f"Alt+{key}", act)


VIEW = StopView(
    "How the pattern leaves the sand.",
    "How it leaves the sand",
    DrawCard,
    _draw,
    _line,
    "draw",
    tags=_tags,
    chips=lambda results, unit, _shown: draw_chips(results.parting, unit),
    flask=True,
    judges=True,
    cut=judged_cut,
    tilts=True,
    numbered=True,
    sand=True,
    known=lambda results: results.parting is not None,
    actions=(_tilted(-1.0, 0.0), _tilted(1.0, 0.0), _tilted(0.0, -1.0), _tilted(0.0, 1.0)),
)
