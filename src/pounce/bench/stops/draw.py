"""Draw on the bench."""

from pounce.base.units import length
from pounce.bench.cards.card import Card
from pounce.bench.cards.draw import DrawCard
from pounce.bench.stops.view import Action, Headline, StopView
from pounce.bench.stops.words import MOST_TAGS, counted, draw_chips, mark_of, states, way
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
    tight, locked = states(r)
    found = counted(tight, locked)
    head = f"Draws {way(r.draw.direction)}. " + (
        f"{found[:1].upper()}{found[1:]}." if found else "Every face leaves the sand."
    )
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
    return Headline(head, under)


def _line(r: Results, _unit: str) -> str | None:
    if r.parting is None:
        return None
    tight, locked = states(r)
    said = [f"{tight} tight"] * bool(tight) + [f"{locked} {'locks' if locked == 1 else 'lock'}"] * bool(locked)
    return ", ".join(said) or "Clean"


def _tags(results: Results, _scene: SceneAsked, unit: str) -> tuple[Tag, ...]:
    """Labels on leaders; numbers as in the list of findings."""
    tags: list[Tag] = []
    nth = 0
    for finding in DRAW.findings(results):
        nth += finding.region is not None
        if finding.place_mm is None or finding.informational or len(tags) >= MOST_TAGS:
            continue
        region = -1 if finding.region is None else finding.region
        several = region >= 0 and results.parting is not None and results.parting.regions[region].count > 1
        words = finding.noun_words(unit)
        words += f" {'lock' if several else 'locks'}" if finding.mark == "locked" else f" {finding.main_words(unit)}"
        tags.append(Tag(words, finding.place_mm, mark_of(finding), nth, region))
    return tuple(tags)


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
    tilts=True,
    numbered=True,
    sand=True,
    known=lambda results: results.parting is not None,
    actions=(_tilted(-1.0, 0.0), _tilted(1.0, 0.0), _tilted(0.0, -1.0), _tilted(0.0, 1.0)),
)
