"""Metal on the bench."""

from pounce.base.units import from_mm, length, percent, plain
from pounce.bench.cards.metal import MetalCard
from pounce.bench.stops.measures import measures
from pounce.bench.stops.view import Headline, Shown, StopView, draw_of
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.widgets.labels import Chip, Measure
from pounce.route.results import Results

# How many times larger than life the growth of the pattern is drawn.
GROWTH = 8.0


def _metal(r: Results, unit: str) -> Headline | None:
    m = r.metal
    if m is None:
        return None
    if m.pattern_id == "original-part":
        head = f"The casting comes out {percent(100 * (1.0 - 1.0 / m.casting_factor))} smaller than the original."
    elif r.part is None:
        head = f"Shrinks {percent(m.contraction_percent)} as it cools."
    else:
        most = float(r.part.mesh.size.max()) * (m.factor - 1.0)
        head = (
            f"Shrinks {percent(m.contraction_percent)} as it cools, so the pattern is {length(most, unit, 2)} longer."
        )
    if m.own_contraction:
        under = f"Your own figure. The table says {percent(m.metal.contraction.value)}."
    else:
        low, high = m.metal.contraction.low, m.metal.contraction.high
        under = f"The table's figure. It ranges from {plain(low, 2)} to {percent(high)}; cores and ribs hold it back."
    return Headline(head, under)


def _line(r: Results, _unit: str) -> str | None:
    return None if r.metal is None else f"Shrinks {percent(r.metal.contraction_percent)}"


def _scene(kind: str, results: Results, paths: dict[str, str], _shown: Shown) -> SceneAsked:
    ghost = 1.0 if results.metal is None else 1.0 + GROWTH * (results.metal.factor - 1.0)
    return SceneAsked(kind, paths.get("part"), paths.get("parting"), None, draw_of(results), ghost)


def _measures(results: Results, unit: str) -> tuple[Measure, ...]:
    factor = 1.0 if results.metal is None else results.metal.factor
    digits = 2 if unit == "in" else 1

    def words(value: float) -> str:
        return f"{plain(from_mm(value, unit), digits)} → {length(value * factor, unit, digits if unit == 'mm' else 1)}"

    return measures(results, unit, words)


def _chips(_results: Results, _unit: str, _shown: Shown) -> tuple[Chip, ...]:
    return (Chip("steelFlat", "The part wanted"), Chip("dash", "The pattern"))


VIEW = StopView(
    "What it is poured in, and how it shrinks.",
    "How it shrinks",
    MetalCard,
    _metal,
    _line,
    "metal",
    _scene,
    measures=_measures,
    chips=_chips,
    strip=lambda _results: "sizes",
    note=f"growth drawn × {GROWTH:g}",
)
