"""Words that several stops use on the bench."""

from pounce.base.finding import Finding, Severity
from pounce.base.units import area
from pounce.bench.widgets.labels import Chip
from pounce.parting.values import PartingResult, State
from pounce.route.results import Results
from pounce.route.stops import DRAW
from pounce.solid.mesh import Floats

# Labels on leaders at most.
MOST_TAGS = 8
_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


def number(count: int) -> str:
    """A small count in words."""
    return _NUMBERS[count] if count < len(_NUMBERS) else str(count)


def states(r: Results) -> tuple[int, int]:
    """How many places are tight and how many lock, less those that cores make and of which something was asked."""
    if r.parting is None:
        return 0, 0
    shown = [r.parting.regions[f.region] for f in DRAW.findings(r) if f.region is not None and not f.informational]
    tight = sum(region.count for region in shown if region.state is State.TIGHT)
    return tight, sum(region.count for region in shown if region.state is State.LOCKED)


def counted(tight: int, locked: int) -> str:
    """The same in words."""
    said = []
    if tight:
        said.append(f"{number(tight)} {'place is' if tight == 1 else 'places are'} tight")
    if locked:
        said.append(f"{number(locked)} {'place locks' if locked == 1 else 'places lock'}")
    return ", ".join(said)


def way(direction: object) -> str:
    """The draw in words."""
    x, y, z = (float(value) for value in direction)  # type: ignore[attr-defined]
    key = (round(x, 6), round(y, 6), round(z, 6))
    if key[2] == 1.0:
        return "straight up"
    if key[2] == -1.0:
        return "upside down"
    for index, letter in enumerate("xyz"):
        if abs(abs(key[index]) - 1.0) < 1e-6:
            return f"along {'+' if key[index] > 0 else '−'}{letter}"
    return f"along ({x:.2f}, {y:.2f}, {z:.2f})"


def mark_of(finding: Finding) -> str:
    """The mark a finding carries: tight and locked for the draw, else a ring."""
    if finding.mark and finding.severity is not Severity.NOTE:
        return finding.mark
    return "filled" if finding.informational else "half"


def draw_chips(p: PartingResult | None, unit: str) -> tuple[Chip, ...]:
    """What the colours of the faces mean, with their areas."""
    if p is None:
        return ()
    return (
        Chip("clean", "Draws clean", area(p.clean_mm2, unit)),
        Chip("tight", "Tight", area(p.tight_mm2, unit)),
        Chip("locked", "Locks", area(p.locked_mm2, unit)),
    )


def point(v: Floats) -> tuple[float, float, float]:
    """A point as a plain triple."""
    return float(v[0]), float(v[1]), float(v[2])
