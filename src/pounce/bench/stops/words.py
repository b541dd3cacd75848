"""Words that several stops use on the bench."""

from pounce.base.finding import Finding, Severity
from pounce.base.units import area, count_words
from pounce.bench.widgets.labels import Chip, Tag
from pounce.parting.values import PartingResult, State
from pounce.proof.values import Verdict
from pounce.route.results import Results
from pounce.route.stops import DRAW
from pounce.solid.mesh import Floats

# Labels on leaders at most.
MOST_TAGS = 8
# And of one cause.
MOST_OF_CAUSE = 3


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
        said.append(f"{count_words(tight)} {'place is' if tight == 1 else 'places are'} tight")
    if locked:
        said.append(f"{count_words(locked)} {'place locks' if locked == 1 else 'places lock'}")
    return ", ".join(said)


def said_of_draw(r: Results, unit: str) -> tuple[str, str]:
    """The headline of Draw, and what comes before the joint's own sentence under it: what is true of the pattern once
    it is proved, else of the part.
    """
    assert r.draw is not None
    here = [] if r.causes is None else [one for one in r.causes.open if one.stop in ("draw", "parting")]
    worst = here[0].brief_words(unit) if here else ""
    behind = sum(len(one.members) for one in here)
    several = f"{count_words(len(here)).capitalize()} {'cause stands' if len(here) == 1 else 'causes stand'}"
    under = f"{several} behind {count_words(behind)} findings." if behind > len(here) else ""
    if r.wanted is not None and r.proof is not None:
        if r.proof.verdict is Verdict.CLEAN:
            return "Proved: the pattern leaves the sand clean.", "Lifted straight, no sand is torn."
        if r.proof.verdict is Verdict.DRAGS:
            return f"Proved: the pattern leaves the sand, but {worst}.", under
        return f"The pattern still locks: {worst}.", under
    if r.causes is None:
        found = counted(*states(r))
        return f"Draws {way(r.draw.direction)}. {found.capitalize()}." if found else _all_leave(r), ""
    return f"Draws {way(r.draw.direction)}, but {worst}." if worst else _all_leave(r), under


def _all_leave(r: Results) -> str:
    assert r.draw is not None
    return f"Draws {way(r.draw.direction)}. Every face leaves the sand."


def cause_tags(results: Results, stops: tuple[str, ...], unit: str) -> tuple[Tag, ...]:
    """A label for each place of each open cause of these stops, with the cause's number."""
    tags: list[Tag] = []
    for cause in () if results.causes is None else results.causes.open:
        seen: set[int] = set()
        for _, finding in cause.members if cause.stop in stops else ():
            region = -1 if finding.region is None else finding.region
            again = region in seen if region >= 0 else bool(seen)
            if finding.place_mm is None or again or len(seen) >= MOST_OF_CAUSE or len(tags) >= MOST_TAGS:
                continue
            seen.add(region)
            tags.append(_tag(finding, results, unit, cause.rank))
    return tuple(tags)


def cured_tags(results: Results, unit: str) -> tuple[Tag, ...]:
    """A label for each cause that is no more, with what cured it."""
    cured = () if results.causes is None else results.causes.cured
    return tuple(
        Tag(f"{one.noun_words(unit)}: {one.cured_by.partition(',')[0]}", one.place_mm, "filled", one.rank)
        for one in cured
        if one.place_mm is not None and one.cured_by is not None
    )


def place_tags(findings: tuple[Finding, ...], results: Results, unit: str) -> tuple[Tag, ...]:
    """A label for each open finding that has a place, while they are not grouped yet."""
    told = [one for one in findings if one.place_mm is not None and not one.informational]
    return tuple(_tag(one, results, unit, None) for one in told[:MOST_TAGS])


def _tag(finding: Finding, results: Results, unit: str, nth: int | None) -> Tag:
    assert finding.place_mm is not None
    region = -1 if finding.region is None else finding.region
    several = region >= 0 and results.parting is not None and results.parting.regions[region].count > 1
    words = finding.noun_words(unit)
    if finding.code == "locked":
        words += f" {'lock' if several else 'locks'}"
    elif finding.mark != "locked":
        words += f" {finding.main_words(unit)}"
    return Tag(words, finding.place_mm, mark_of(finding), nth, region)


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
    clean, tight, locked = p.shown_areas
    return (
        Chip("clean", "Draws clean", area(clean, unit)),
        Chip("tight", "Tight", area(tight, unit)),
        Chip("locked", "Locks", area(locked, unit) if locked > 0.0 else "none"),
    )


def point(v: Floats) -> tuple[float, float, float]:
    """A point as a plain triple."""
    return float(v[0]), float(v[1]), float(v[2])
