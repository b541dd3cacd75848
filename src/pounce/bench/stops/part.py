"""Part on the bench."""

from pounce.base.units import count_words, length, mass, sizes, volume
from pounce.bench.cards.part import PartCard
from pounce.bench.stops.measures import measures
from pounce.bench.stops.view import Headline, StopView
from pounce.bench.stops.words import MOST_TAGS
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.widgets.labels import Measure, Tag
from pounce.route.results import Results
from pounce.route.stops import PART


def _part(r: Results, unit: str) -> Headline | None:
    if r.part is None:
        return None
    size = r.part.mesh.size
    head = f"A part of {sizes((size[0], size[1], size[2]), unit)}."
    if r.part.unit_from == "guess":
        head = f"{head[:-1]}, if the guess of its unit is right."
    hard = sum(not f.informational for f in PART.findings(r))
    if not r.part.closed:
        under = "Its shell is open: it can be judged, but not built."
    elif hard:
        things = "thing wants" if hard == 1 else "things want"
        under = f"{count_words(hard).capitalize()} {things} your eye before it is cast."
    else:
        under = "Closed and sound. Nothing stands in the way."
    return Headline(head, under)


def _line(r: Results, unit: str) -> str | None:
    if r.part is None or r.metal is None:
        return None
    if r.part.unit_from == "guess":
        return "Which unit?"
    weight = mass(r.metal.mass_kg(r.part.volume_mm3))
    return f"{volume(r.part.volume_mm3, unit)}, {weight}" if r.part.closed else "Open shell"


def _tags(results: Results, _scene: SceneAsked, unit: str) -> tuple[Tag, ...]:
    told = [
        finding for finding in PART.findings(results) if finding.place_mm is not None and not finding.informational
    ][:MOST_TAGS]
    return tuple(
        Tag(f"{one.noun_words(unit)} {one.main_words(unit)}", one.place_mm, "half")
        for one in told
        if one.place_mm is not None
    )


def _measures(results: Results, unit: str) -> tuple[Measure, ...]:
    return measures(results, unit, lambda value: length(value, unit, 1))


VIEW = StopView(
    "What is wanted, and what will be hard.",
    "What is wanted",
    PartCard,
    _part,
    _line,
    "part",
    tags=_tags,
    measures=_measures,
)
