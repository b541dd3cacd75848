"""What came of the lines of a plan: which did nothing or could not be made, what the plan costs and leaves, and which
of two is taken.
"""

from dataclasses import dataclass, replace

import msgspec

from pounce.base.finding import Change
from pounce.base.units import count_words
from pounce.causes.values import Cause, Harm, Rule
from pounce.cores.changes import MakeHollow
from pounce.job.job import Job
from pounce.metals.tables import limits
from pounce.parting.changes import AskFor, SetGroove
from pounce.parting.values import held_mm2
from pounce.plan import words
from pounce.plan.costs import Made, cost_of
from pounce.plan.edits import stock_lines_of
from pounce.plan.values import Line, LineKind, Plan
from pounce.proof.values import Verdict
from pounce.route.proof import as_rammed
from pounce.route.results import Results
from pounce.route.stops import DRAW, METAL, PART, PROOF, STOCK
from pounce.solid.frame import axis_name
from pounce.stock.values import Draft


@dataclass(frozen=True, eq=False)
class Tried:
    """A job with its lines done, and what came of it; ``failed`` what was tried and could not be made, in words."""

    lines: tuple[Line, ...]
    job: Job
    results: Results
    plan: Plan
    failed: tuple[str, ...] = ()


def plan_of(lines: tuple[Line, ...], results: Results, failed: tuple[str, ...], castings: int) -> Plan:
    """The plan that these lines are, as its results have it: what it costs for so many castings, what it leaves."""
    job = results.job
    proof, stock, rammed = results.need(PROOF), results.need(STOCK), as_rammed(results)
    part, method = results.need(PART), results.need(METAL)
    parting = rammed.parting
    assert parting is not None and results.causes is not None
    direction = results.need(DRAW).direction
    large = limits()["bore_solid"].high
    left = tuple(one for one in results.causes.open if one.harm >= Harm.SCARS)
    # what could not be made matters where sand is held for want of it; else what it leaves is told as a cause
    missed = failed if proof.verdict is Verdict.LOCKS else ()
    figured = tuple(_figured(line, job, results) for line in lines)
    milled = [line for line in figured if any(_fills(change) for change in line.changes)]
    made_of = Made(
        parting=parting,
        cores=results.cores,
        drilled=sum(point.diameter_mm <= large for point in stock.drill),
        bored=sum(point.diameter_mm > large for point in stock.drill),
        milled=len(milled),
        milled_mm3=sum(line.figures.get("added_mm3", 0.0) for line in milled),
        metal_kg=method.mass_kg(max(stock.added_mm3, 0.0)),
        tilted=axis_name(direction) is None,
        left=left,
    )
    x, y, z = (float(value) for value in direction)
    bare_one = Plan(
        title="",
        why="",
        lines=figured,
        job=job,
        direction=(x, y, z),
        parting=parting.kind,
        proof=proof,
        clean_mm2=parting.shown_areas[0],
        tight_mm2=parting.shown_areas[1],
        held_mm2=held_mm2(parting),
        cores=0 if results.cores is None else len(results.cores.cores),
        metal_mm3=max(stock.added_mm3, 0.0),
        depth_mm=max(parting.cope_depth_mm, parting.drag_depth_mm),
        cost=cost_of(made_of, castings),
        unsure=any(one.harm >= Harm.LOSES_MOULD for one in left),
        left=(*missed, *(_left_words(one) for one in left if _weighs(one, proof.verdict))),
    )
    title = f"{words.lies(results.need(DRAW).depth_mm, part.mesh.size, (x, y, z))}, {words.parts(parting)}"
    return replace(bare_one, title=title, why=words.why_of(bare_one))


def _weighs(cause: Cause, verdict: Verdict) -> bool:
    """Whether what is left is worth a word beside a plan."""
    return cause.harm >= Harm.LOSES_MOULD or (cause.rule is Rule.DRAFT and verdict is Verdict.DRAGS)


def _left_words(cause: Cause) -> str:
    figure = cause.main_words()
    return f"{cause.words()} {figure}".strip()


def _fills(change: Change) -> bool:
    """Whether an undercut is filled, to be milled out of the casting."""
    return isinstance(change, AskFor) and change.kind == "fill"


def winds(tried: Tried) -> bool:
    """Whether its walls wind round the draw, so that it is turned as it is drawn."""
    causes = () if tried.results.causes is None else tried.results.causes.open
    return any(finding.code == "winds" for cause in causes for _, finding in cause.members)


def dragged_mm2(tried: Tried) -> float:
    """Area of the walls that are told to drag, to the mm2."""
    causes = () if tried.results.causes is None else tried.results.causes.open
    drags = [one for one in causes if one.rule is Rule.DRAFT and one.harm >= Harm.SCARS]
    return round(sum(one.figures.get("area_mm2", 0.0) for one in drags))


def is_better(one: Plan, than: Plan) -> bool:
    """Whether a cure is worth its line: the sand leaves, or clearly less of it is held."""
    return one.leaves > than.leaves or one.held_mm2 < limits()["plan_better"].value * than.held_mm2


def much_filled(line: Line, tried: Tried) -> bool:
    """Whether a line fills an undercut with so much metal that it is another part."""
    if not any(_fills(change) for change in line.changes):
        return False
    added = sum(tried.results.need(STOCK).lines[nth].added_mm3 for nth in stock_lines_of(tried.job, line))
    return added > limits()["plan_fill_share"].value * tried.results.need(PART).volume_mm3


def failure_of(line: Line, tried: Tried) -> str:
    """Why a line could not be made, in words; nothing where it was."""
    results = tried.results
    worked = [results.need(STOCK).lines[nth] for nth in stock_lines_of(tried.job, line)]
    # a line that did some of what it was to do stays: what it left is found by the proof
    done = any(one.added_mm3 > 0.0 or one.taken_mm3 > 0.0 for one in worked)
    troubles = [] if done else [one.trouble for one in worked]
    cores = () if results.cores is None else results.cores.findings
    failed = [one for one in cores if one.code in ("core-failed", "core-shut")]
    troubles += [one.words() for one in failed if _at(one.place_mm) in _cored_at(line)]
    groove = None if results.parting is None else results.parting.ringed
    if groove is not None and any(isinstance(change, SetGroove) for change in line.changes):
        troubles.append(groove.trouble)
        if groove.core_at is not None and not _has_ring(results):
            troubles += [one.words() for one in failed]
    why = next(filter(None, troubles), "")
    return f"{line.words()} could not be made. {why}" if why else ""


def surer(tried: Tried) -> tuple[bool, float, bool, float]:
    """Of two ways to make one hollow along one draw: no core is saved by sand that may break off."""
    stays, held, hours = tried.plan.order
    return stays, held, tried.plan.unsure, hours


def is_hopeless(tried: Tried, best: Tried) -> bool:
    """Whether one holds so much more sand to begin with than the best, which was freed, that no mending makes it a
    rival.
    """
    return tried.plan.held_mm2 > limits()["plan_hopeless"].value * best.plan.held_mm2


def is_shut(tried: Tried) -> bool:
    """Whether a core was asked for in a hollow that has no way out."""
    return tried.results.cores is not None and any(one.code == "core-shut" for one in tried.results.cores.findings)


def _has_ring(results: Results) -> bool:
    """Whether a ring core was made."""
    return results.cores is not None and any(one.kind == "ring" for one in results.cores.prints)


def is_idle(line: Line, tried: Tried) -> bool:
    """Whether a line did nothing, and without trouble: what it was for another line does already."""
    if _cored_at(line) and tried.results.cores is not None:
        return not _cored_at(line) & {_at(core.place_mm) for core in tried.results.cores.cores}
    worked = [tried.results.need(STOCK).lines[nth] for nth in stock_lines_of(tried.job, line)]
    return bool(worked) and not any(one.added_mm3 > 0.0 or one.taken_mm3 > 0.0 or one.trouble for one in worked)


def _cored_at(line: Line) -> set[str]:
    """The places of the hollows that a line makes cores of."""
    return {_at(change.at_mm) for change in line.changes if isinstance(change, MakeHollow) and change.how == "core"}


def where_of(line: Line, job: Job) -> tuple[object, ...]:
    """A line with all that says whether its walls can be leaned: the draw, the joint without its loose pieces, what is
    cored, for such walls are not leaned, and the metal that other lines add.
    """
    others = tuple(one for one in job.stock.lines if not isinstance(one, Draft))
    return line.id, job.draw.direction, msgspec.structs.replace(job.parting, loose=()), job.cores, others


def _figured(line: Line, job: Job, results: Results) -> Line:
    """A line with the metal that it really added."""
    stock, made = results.need(STOCK), stock_lines_of(job, line)
    if not made:
        return line
    if line.kind is LineKind.HOLES:
        holes = round(sum(stock.lines[nth].figures.get("holes", 0.0) for nth in made))
        line = replace(line, text="Fill the small hole" if holes == 1 else f"Fill the {count_words(holes)} small holes")
    added = sum(stock.lines[nth].added_mm3 for nth in made)
    return replace(line, figures=line.figures | {"added_mm3": added}, main="added_mm3")


def _at(place: tuple[float, float, float] | None) -> str:
    return "" if place is None else ",".join(f"{value:.3f}" for value in place)
