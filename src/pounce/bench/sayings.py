"""What the bench says in words: headlines, route lines, legends. Formatting only."""

from dataclasses import dataclass

from pounce.base.finding import Finding, Severity
from pounce.base.units import area, length, mass, percent, plain, quantity, sizes, volume
from pounce.bench.section.sketch import Lifted
from pounce.cores.values import key_of
from pounce.job.job import Job
from pounce.parting.values import State
from pounce.pattern.making.values import Making
from pounce.pattern.values import PatternResult
from pounce.route.results import Results, findings_at

TITLES = {
    "part": ("Part", "What is wanted, and what will be hard."),
    "metal": ("Metal", "What it is poured in, and how it shrinks."),
    "draw": ("Draw", "How the pattern leaves the sand."),
    "parting": ("Parting", "Where cope and drag come apart."),
    "stock": ("Stock", "What is added, and what is taken off later."),
    "cores": ("Cores", "Sand that makes the hollow places."),
    "pattern": ("Pattern", "How it is made, and what to write."),
}
FIRST_LINES = {
    "part": "What is wanted", "metal": "How it shrinks", "draw": "How it leaves the sand",
    "parting": "Where the mould opens", "stock": "What is added", "cores": "What the sand cannot make", "pattern": "What to write",
}  # fmt: skip
_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


@dataclass(frozen=True)
class Saying:
    """A headline and the line under it."""

    head: str
    under: str


def number(count: int) -> str:
    """A small count in words."""
    return _NUMBERS[count] if count < len(_NUMBERS) else str(count)


def saying(stop: str, results: Results, unit: str, busy: bool = True) -> Saying:
    """The true sentence about this job that the stop opens with; ``busy`` whether the rest is being worked out."""
    fault = results.faults.get(stop)
    if fault is not None:
        return Saying(fault.what, fault.try_this)
    made = {
        "part": _part, "metal": _metal, "draw": _draw, "parting": _parting, "stock": _stock, "cores": _cores, "pattern": _pattern,
    }[stop]  # fmt: skip
    said = made(results, unit)
    if said is None:
        earlier = next(iter(results.faults.values()), None)
        if earlier is not None:
            return Saying(earlier.what, earlier.try_this)
        if not busy:
            return Saying("Stopped before this was worked out.", "Press F5 to look at the part again.")
        return Saying("Looking at the part.", "The first figures come in a moment.")
    return said


def _part(r: Results, unit: str) -> Saying | None:
    if r.part is None:
        return None
    size = r.part.mesh.size
    head = f"A part of {sizes((size[0], size[1], size[2]), unit)}."
    if r.part.unit_from == "guess":
        head = f"{head[:-1]}, if the guess of its unit is right."
    hard = sum(not f.settled for f in findings_at("part", r))
    if not r.part.closed:
        under = "Its shell is open: it can be judged, but not built."
    elif hard:
        under = f"{number(hard).capitalize()} {'thing wants' if hard == 1 else 'things want'} your eye before it is cast."
    else:
        under = "Closed and sound. Nothing stands in the way."
    return Saying(head, under)


def _metal(r: Results, unit: str) -> Saying | None:
    m = r.metal
    if m is None:
        return None
    if m.pattern_id == "original-part":
        head = f"The casting comes out {percent(100 * (1.0 - 1.0 / m.casting_factor))} smaller than the original."
    elif r.part is None:
        head = f"Shrinks {percent(m.contraction_percent)} as it cools."
    else:
        most = float(r.part.mesh.size.max()) * (m.factor - 1.0)
        head = f"Shrinks {percent(m.contraction_percent)} as it cools, so the pattern is {length(most, unit, 2)} longer."
    if m.own_contraction:
        under = f"Your own figure. The table says {percent(m.metal.contraction.value)}."
    else:
        low, high = m.metal.contraction.low, m.metal.contraction.high
        under = f"The table's figure. It ranges from {plain(low, 2)} to {percent(high)}; cores and ribs hold it back."
    return Saying(head, under)


def _states(r: Results) -> tuple[int, int]:
    if r.parting is None:
        return 0, 0
    settles = frozenset() if r.cores is None else r.cores.settles
    shown = [
        r.parting.regions[f.region] for f in r.parting.draw_findings if f.region is not None and key_of(f) not in settles
    ]
    tight = sum(region.count for region in shown if region.state is State.TIGHT)
    return tight, sum(region.count for region in shown if region.state is State.LOCKED)


def _counted(tight: int, locked: int) -> str:
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


def _draw(r: Results, unit: str) -> Saying | None:
    if r.draw is None or r.parting is None or r.metal is None:
        return None
    if not r.metal.pattern.draws:
        dug = r.metal.pattern.dug
        return Saying(
            "Nothing has to draw.",
            "The foam is dug out in pieces when the mould has hardened."
            if dug
            else "A burned-out pattern stays in the sand.",
        )
    tight, locked = _states(r)
    found = _counted(tight, locked)
    head = f"Draws {way(r.draw.direction)}. " + (
        f"{found[:1].upper()}{found[1:]}." if found else "Every face leaves the sand."
    )
    if not r.parting.joint.level:
        under = f"The joint follows the part, {length(r.parting.relief_mm, unit)} up and down."
    elif r.parting.kind == "flat-back":
        half = "drag" if r.parting.drag_depth_mm > r.parting.cope_depth_mm else "cope"
        under = f"Flat back on the joint, {length(max(r.parting.cope_depth_mm, r.parting.drag_depth_mm), unit)} deep in the {half}."
    else:
        under = (
            f"Split: {length(r.parting.cope_depth_mm, unit)} in the cope and "
            f"{length(r.parting.drag_depth_mm, unit)} in the drag."
        )
    return Saying(head, under)


def _parting(r: Results, unit: str) -> Saying | None:
    p = r.parting
    if p is None:
        return None
    where = "on the flat back" if p.kind == "flat-back" else f"at {length(p.height_mm, unit)}"
    free = p.locked_mm2 < 5e-4 * (p.clean_mm2 + p.tight_mm2 + p.locked_mm2)
    held = "both halves leave" if free else f"{area(p.locked_mm2, unit)} stays locked"
    if not free and _states(r)[1] == 0 and r.cores is not None and r.cores.settles:
        held = "both halves leave, and cores make what locks"
    if p.ringed is not None and p.ringed.cheek_mm > 0.0:
        where += f", in the neck of a cheek {length(p.ringed.cheek_mm, unit)} high"
    head = f"A flat joint {where}: {held}."
    if not p.joint.level:
        shape = "The joint steps" if p.kind == "stepped" else "The joint follows the part"
        rise = f", {length(p.relief_mm, unit)} up and down" if p.relief_mm > 0.05 else ", level beside it"
        made = {
            "follow-board": "Moulded on a follow board.",
            "cut-down": "The drag is cut down to it.",
            "false-pattern": "Moulded with a false pattern.",
            "split": "The pattern is split along it.",
        }[p.moulded]
        return Saying(f"{shape}{rise}: {held}.", made)
    by = "Found by trying every height." if p.chosen_by == "search" else "Your height."
    loops = len(p.outline)
    return Saying(head, f"{by} The joint meets the part in {number(loops)} {'outline' if loops == 1 else 'outlines'}, "
                        f"{length(p.length_mm, unit, 0)} long.")  # fmt: skip


def _stock(r: Results, unit: str) -> Saying | None:
    s = r.stock
    if s is None:
        return None
    working = [line for line in s.lines if line.on and not line.trouble]
    if not working:
        return Saying(
            "Nothing is added yet: the casting would have the part's own shape.",
            "Point at a face or a bore, or add a line.",
        )
    count = number(len(working)).capitalize()
    kind = "addition" if len(working) == 1 else "additions"
    head = f"{count} {kind}, {volume(s.added_mm3, unit)} of metal, before it meets the sand."
    if s.added_mm3 < 0.0:
        head = f"{count} {kind} take {volume(-s.added_mm3, unit)} of metal away."
    return Saying(head, "Pointing at a line lights its metal here and in the section.")


def _cores(r: Results, unit: str) -> Saying | None:
    c = r.cores
    if c is None:
        return None
    waiting = [offer for offer in c.offers if not offer.make]
    if not c.cores:
        if not c.offers:
            return Saying(
                "No core is needed: the sand makes every hollow by itself.",
                "Click the wall of a bore or pocket to ask for one.",
            )
        if not waiting:
            return Saying("No core: every hollow is made another way.", "The card says how each is made.")
        many = "hollows lock or are" if len(waiting) > 1 else "hollow locks or is"
        head = f"{number(len(waiting)).capitalize()} {many} too slender for green sand."
        return Saying(head, "The card offers a core, or another way, for each.")
    kinds = {one.kind for core in c.cores for one in core.prints}
    stands = kinds <= {"cope", "drag"} or c.on_end
    lies = (
        "standing upright"
        if stands
        else "lying in the joint"
        if kinds <= {"side", "tail", "ring"}
        else "held on several sides"
    )
    count = number(len(c.cores)).capitalize()
    word = "core" if len(c.cores) == 1 else "cores"
    opened = [finding for finding in c.findings if not finding.settled]
    more = (
        f" {number(len(opened)).capitalize()} {'thing is' if len(opened) == 1 else 'things are'} left to decide."
        if opened
        else ""
    )
    style = "ring" if kinds == {"ring"} else c.cores[0].boxes[0].style
    how = {"split": "Ram from the open end, vent, open, lift out.", "ring": "Ram both halves from the joint, strike off, close and turn.", "half": "Ram two halves, turn one over, glue.",
           "tube": "Ram the tube on a plate, vent, push the core out."}[style]  # fmt: skip
    beside = "Core beside its open box." if style != "tube" else "Core beside its tube."
    return Saying(f"{count} {word}, {lies}.{more}", f"{beside} {how}")


def _pattern(r: Results, unit: str) -> Saying | None:
    p = r.pattern
    if p is None:
        return None
    size = sizes(p.size_mm, unit)
    said = _making(p, unit)
    if said is not None:
        return said
    roles = [piece.role for piece in p.pieces]
    if len(p.pieces) == 1 or "cope-half" not in roles:
        more = [piece.name.lower() for piece in p.pieces[1:]]
        under = f"{plain(100 * (p.factor - 1), 2)} % over the part."
        return Saying(f"The pattern stays whole, {size}.", f"{under} With it: {', '.join(more)}." if more else under)
    fit = "Two dowels of different thickness bring them together one way only." if p.dowel_mm else "No dowels."
    return Saying(f"Two halves make a pattern of {size}.", f"Opened like a book. {fit}")


def _making(p: PatternResult, unit: str) -> Saying | None:
    """What the chosen way of making comes to; None where the pieces themselves say it."""
    made = p.making
    way = next((one for one in made.ways if one.kind == made.kind), None)
    if way is None:
        return None
    time = quantity("all_hours", way.hours)
    if made.kind == "original":
        casting = length(made.figures["casting_long_mm"], unit)
        return Saying(
            f"The original serves: its casting comes out {casting} long.",
            _clay_words(made, unit) or f"About {time} to fill, taper and wax it.",
        )
    if made.kind in ("printed", "metal"):
        beds = int(made.figures["beds"])
        pieces = len(made.prints)
        where = "one bed" if beds == 1 else f"{number(beds)} beds"
        what = "One piece fits" if pieces == 1 else f"{number(pieces).capitalize()} pieces fit"
        after = "with the rubbing" if made.kind == "printed" else "with casting and lapping"
        return Saying(f"{what} {where}, {time} {after}.", _clay_words(made, unit) or _printed_under(p, unit))
    count = len(made.layers)
    pieces = len({one.piece for one in made.layers})
    if made.kind == "wood":
        each = f"{number(count).capitalize()} {'board' if count == 1 else 'boards'}"
        return Saying(
            f"{each} {'make' if count > 1 else 'makes'} {'the pattern' if pieces == 1 else f'{number(pieces)} pieces'}, about {time} by hand.",
            "Each saws outside its line and is carved to the next; grain crossed so that it stays flat.",
        )
    each = f"{number(count).capitalize()} {'sheet' if count == 1 else 'sheets'} of foam"
    return Saying(
        f"{each}, {quantity('stuff_kg', made.figures['stuff_kg'])}, about {time}.",
        "Cut by the wire or a router, glued from the joint up.",
    )


def _clay_words(made: Making, unit: str) -> str:
    """How deep it is pressed, where it is pressed into clay."""
    if made.clay is None:
        return ""
    if min(made.clay.under_mm, made.clay.over_mm) < 0.5:
        return f"Pressed into clay to its full depth of {length(max(made.clay.under_mm, made.clay.over_mm), unit)}, flat on the joint."
    return f"Pressed into clay, {length(made.clay.under_mm, unit)} under the joint and {length(made.clay.over_mm, unit)} over it."


def _printed_under(p: PatternResult, unit: str) -> str:
    """What is seen on the bench beside the headline."""
    made = p.making
    if p.mount is not None:
        board = {"boards": "Two boards", "one-side": "One board", "match-plate": "A match plate"}[p.mount.kind]
        each = "one casting" if p.mount.castings == 1 else f"{number(p.mount.castings)} castings"
        return f"{board} for a flask of {sizes((*p.mount.flask_mm,), unit)} inside; {each} a mould."
    if made.kind == "metal":
        return f"The master carries two contractions, {plain(100 * (p.factor - 1), 2)} % over the part, and stock on its joint."
    if any(one.part for one in made.prints):
        return "Cut for the bed, joined and numbered in each cut."
    if made.hollow:
        return "Turned over to show the ribs. They print face down, roofed without supports."
    if any(q.role == "cope-half" for q in p.pieces):
        fit = "Dowels of different thickness bring the halves together one way only." if p.dowel_mm else "Split face down."
        return f"Opened like a book. {fit}"
    return f"{plain(100 * (p.factor - 1), 2)} % over the part, {sizes(p.size_mm, unit)}."


def trial_saying(r: Results, lifted: Lifted, torn_mm3: float, unit: str) -> Saying:
    """The headline while the trial draw is under way."""
    p = r.parting
    under = "The near corner of the cope is cut away so that you can see in."
    if p is None:
        return Saying("Trial draw.", under)
    what = "the pattern is drawn" if lifted.drawn_mm > 0.0 else "the cope lifts"
    if p.trial.torn_mm3 <= 0.0 or not p.trial.places:
        head = f"Trial draw: {what}, and no sand tears."
    elif torn_mm3 <= 0.0:
        head = f"Trial draw: {what}; {volume(p.trial.torn_mm3, unit)} of sand is in the way."
    else:
        head = f"Trial draw: {what}, but {volume(torn_mm3, unit)} of sand stays behind."
    return Saying(head, under)


def route_line(stop: str, results: Results | None, unit: str) -> str:
    """The one-line result of a stop on the route."""
    r = results
    if r is None:
        return FIRST_LINES[stop]
    if stop in r.faults:
        return "Cannot be worked out"
    if stop == "part" and r.part and r.metal:
        if r.part.unit_from == "guess":
            return "Which unit?"
        return (
            f"{volume(r.part.volume_mm3, unit)}, {mass(r.metal.mass_kg(r.part.volume_mm3))}"
            if r.part.closed
            else "Open shell"
        )
    if stop == "metal" and r.metal:
        return f"Shrinks {percent(r.metal.contraction_percent)}"
    if stop == "draw" and r.parting:
        tight, locked = _states(r)
        said = [f"{tight} tight"] * bool(tight) + [f"{locked} {'locks' if locked == 1 else 'lock'}"] * bool(locked)
        return ", ".join(said) or "Clean"
    if stop == "parting" and r.parting:
        if not r.parting.joint.level:
            return "In steps" if r.parting.kind == "stepped" else "Follows the part"
        return "Flat back" if r.parting.kind == "flat-back" else f"Flat, at {length(r.parting.height_mm, unit)}"
    if stop == "stock" and r.stock:
        working = sum(line.on for line in r.stock.lines)
        return (
            f"{working} {'line' if working == 1 else 'lines'}, {volume(r.stock.added_mm3, unit)}"
            if working
            else "Nothing added"
        )
    if stop == "cores" and r.cores:
        made = len(r.cores.cores)
        waiting = sum(not offer.make for offer in r.cores.offers)
        said = [f"{made} {'core' if made == 1 else 'cores'}"] * bool(made) + [f"{waiting} to decide"] * bool(waiting)
        return ", ".join(said) or "None needed"
    if stop == "pattern" and r.pattern and r.pattern.making.kind in ("wood", "foam"):
        stack = r.pattern.making
        stuff = "board" if stack.kind == "wood" else "sheet"
        return f"{len(stack.layers)} {stuff}{'s' if len(stack.layers) != 1 else ''}"
    if stop == "pattern" and r.pattern:
        roles = [piece.role for piece in r.pattern.pieces]
        if "cope-half" in roles:
            return "Two halves"
        return {
            "follow-board": "With a follow board",
            "false-pattern": "With a false pattern",
            "loose-piece": "With a loose piece",
        }.get(roles[-1], "Whole")
    return "Not reached"


def route_state(stop: str, results: Results | None, job: Job | None) -> tuple[str, int]:
    """Ring of a stop (open, half, filled) and how many findings are open."""
    if results is None or job is None:
        return "open", 0
    if stop in results.faults:
        return "half", 1
    known = {"draw": "parting"}.get(stop, stop)
    if getattr(results, known) is None:
        return "open", 0
    count = sum(not finding.settled for finding in findings_at(stop, results))
    if stop in job.settled:
        return "filled", 0
    return ("half", count) if count else ("filled", 0)


def mark_of(finding: Finding) -> str:
    """The mark a finding carries: tight and locked for the draw, else a ring."""
    if finding.mark and finding.severity is not Severity.NOTE:
        return finding.mark
    return "filled" if finding.settled else "half"
