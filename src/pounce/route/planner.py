"""The search for plans: the best few draws, what a master does about each cause there, proved; then what is left is
tried again. Greedy: a plan is kept when it holds less sand, or as little for fewer hours.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import msgspec
import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Change
from pounce.base.progress import Progress, silent, span
from pounce.base.units import count_words
from pounce.causes.values import Cause, Harm, Rule
from pounce.cores.changes import MakeHollow
from pounce.draw.changes import SetDraw
from pounce.feeding.outlook import Lying, outlook_of
from pounce.job.job import Job
from pounce.metals.tables import limits
from pounce.part.model import Model
from pounce.parting.changes import AskFor, SetGroove
from pounce.parting.values import held_mm2
from pounce.plan import words
from pounce.plan.costs import Made, cost_of, fed
from pounce.plan.edits import bare, edit_of, stock_lines_of
from pounce.plan.makes import fillets_line, first_lines, others_of, solid_holes
from pounce.plan.values import Line, LineKind, Plan
from pounce.proof.values import Verdict
from pounce.route.keys import keys
from pounce.route.pipeline import Pipeline
from pounce.route.proof import as_rammed
from pounce.route.results import Results
from pounce.route.stops import DRAW, LOGBOOK, METAL, MOULD, PART, PARTING, PATTERN, PROOF, SETTING, STOCK
from pounce.solid.frame import axis_name
from pounce.stock.values import Draft

# Draws that are tried to the end, rounds in which what is left is tried again, and cures tried in each.
DRAWS, ROUNDS, CURES = 3, 4, 3
# Plans that are mended where none leaves the sand as it is.
MENDED = 3
# Stops that say nothing about how a part leaves the sand.
SKIPPED = frozenset({SETTING.id, PATTERN.id, MOULD.id, LOGBOOK.id})
# From clean to locked, as they are listed.
_VERDICTS = tuple(Verdict)
OWN_AXES = ((0.0, 0.0, 1.0), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0))
Found = Callable[[tuple[Plan, ...]], None]
Way = tuple[float, float, float]


@dataclass(frozen=True, eq=False)
class Tried:
    """A job with its lines done, and what came of it; ``failed`` what was tried and could not be made, in words."""

    lines: tuple[Line, ...]
    job: Job
    results: Results
    plan: Plan
    failed: tuple[str, ...] = ()


class Planner:
    """Searches plans of one job. Results are kept in its pipeline, so that rivals share what they have alike."""

    def __init__(self, job: Job, model: Model, castings: int = 3, known: Results | None = None) -> None:
        self._start, self._model, self._castings = bare(job), model, castings
        self._pipeline = Pipeline(light=True)
        # drafts that could not be made, and where: see _where
        self._no_draft: set[tuple[object, ...]] = set()
        # what stands in the way of the bare part, along the draw that the search takes first
        self.causes: tuple[Cause, ...] = ()
        if known is not None:  # what the job on the bench knows of the bare part is worked only once
            names = keys(self._start)
            for step in (PART, METAL, DRAW, PARTING):
                if known.get(step) is not None and names[step.id] == keys(known.job)[step.id]:
                    self._pipeline.keep(names[step.id], known.found[step.id])

    def plans(self, progress: Progress = silent, found: Found | None = None) -> tuple[Plan, ...]:
        """One to three plans, the best first; ``found`` is told each time a better list is known. UserFault for a part
        whose shell is open or whose stops cannot be worked.
        """
        first = self._run(self._start, span(progress, 0.0, 0.1))
        self.causes = () if first.causes is None else first.causes.open
        part, method, draw = first.need(PART), first.need(METAL), first.need(DRAW)
        if not part.closed:
            raise UserFault("An open shell gets no plan: nothing can be proved of it.", "Close it where it is drawn.")
        if not method.pattern.draws:
            raise UserFault(
                "Nothing has to draw from this pattern, so there is nothing to plan.", "Choose a pattern that is drawn."
            )
        tried: list[Tried] = []
        likely = _apart([candidate.direction for candidate in draw.candidates])
        ways = _apart([*likely[:DRAWS], *OWN_AXES])
        for nth, way in enumerate(ways):
            free = bool(tried) and tried[0].plan.leaves
            if nth >= min(DRAWS, len(likely)) and free:
                break  # the own axes that the search thought little of are tried where nothing leaves the sand
            share = 0.1 + 0.5 * nth / len(ways)
            one = self._way(way, first, span(progress, share, share + 0.5 / len(ways)), free)
            if one is not None:
                tried = _unlike(sorted([*tried, one], key=lambda each: each.plan.order))
                if found is not None:
                    found(tuple(each.plan for each in tried))
        if not tried:
            raise UserFault("No plan could be made of this part.", "Choose a draw, and decide at each stop.")
        if not tried[0].plan.leaves:  # none leaves as it is: what still holds is tried again, the likeliest first
            for nth, one in enumerate(tried[:MENDED]):
                share = 0.6 + 0.25 * nth / MENDED
                mended = self._settled(one, span(progress, share, share + 0.25 / MENDED))
                tried = [mended if each is one else each for each in tried]
                if found is not None and mended is not one:
                    found(tuple(each.plan for each in sorted(tried, key=lambda each: each.plan.order)))
            tried = sorted(tried, key=lambda each: each.plan.order)
        tried[0] = self._filleted(tried[0], span(progress, 0.85, 0.92))
        if tried[0].plan.leaves:  # what loses every mould is no rival
            tried = [each for each in tried if each.plan.leaves]
        plans = [
            self._fed(each, span(progress, 0.92 + 0.08 * nth / len(tried), 0.92 + 0.08 * (nth + 1) / len(tried)))
            for nth, each in enumerate(tried)
        ]
        progress(1.0, "Plans proved")
        return tuple(sorted(plans, key=lambda plan: plan.order))

    def known(self, job: Job) -> Results:
        """What was worked of a plan's job."""
        return self._pipeline.known(job)

    def _run(self, job: Job, progress: Progress) -> Results:
        return self._pipeline.run(job, self._model, progress, skip=SKIPPED)

    def _way(self, way: Way, first: Results, progress: Progress, free: bool) -> Tried | None:
        """The best that was found for one draw; None where a stop cannot work along it, and where it holds sand though
        another way is ``free`` of that: it is no rival, and draft, which takes longest, frees nothing.
        """
        line = _draw_line(way)
        start = self._start
        progress(0.0, "Trying a draw")
        chosen = edit_of(start, line).job
        known = first if _same(first.need(DRAW).direction, way) else None
        results = known or self._run(chosen, span(progress, 0.0, 0.2))
        if results.causes is None or results.cores is None:
            return None
        volume = results.need(PART).volume_mm3
        wanted = first_lines(results.causes.open, results.cores, limits()["vessel_share"].value * volume)
        upright = [one for one in wanted if one.kind is not LineKind.DRAFT]
        if free and len(upright) < len(wanted):
            bare_one = self._tried((line, *upright), span(progress, 0.2, 0.3))
            if bare_one is None or not bare_one.plan.leaves:
                return None
        best = self._tried((line, *wanted), span(progress, 0.3, 0.5))
        if best is None:
            return None
        return self._without_failed(best, span(progress, 0.5, 1.0))

    def _tried(self, lines: tuple[Line, ...], progress: Progress, failed: tuple[str, ...] = ()) -> Tried | None:
        job = self._start
        try:
            for line in lines:
                job = edit_of(job, line).job
        except UserFault:
            return None
        results = self._run(job, progress)
        if results.proof is None or results.causes is None or results.stock is None:
            return None
        return Tried(lines, job, results, self._plan(lines, job, results, failed), failed)

    def _without_failed(self, tried: Tried, progress: Progress) -> Tried:
        """The same less what could not be made, a core that failed, a line that could not be worked, and less lines
        that found nothing to do.
        """
        why = {line.id: _failure(line, tried) for line in tried.lines}
        kept = tuple(line for line in tried.lines if not why[line.id] and not _idle(line, tried))
        if kept == tried.lines:
            return tried
        lost = [line.kind for line in tried.lines if line not in kept]
        if tried.results.causes is not None and LineKind.HOLES in lost:
            kept = (*kept, *solid_holes(tried.results.causes.open))
        self._no_draft |= {
            _where(line, tried.job) for line in tried.lines if line.kind is LineKind.DRAFT and why[line.id]
        }
        again = self._tried(kept, progress, (*tried.failed, *filter(None, why.values())))
        return tried if again is None else again

    def _settled(self, tried: Tried, progress: Progress) -> Tried:
        """Mended, less the lines that the mending has left without their place: nothing is lost with them. Draft goes
        too where it holds sand itself, as a wall does that leans for the cope under what hangs over it.
        """
        mended = self._mended(tried, span(progress, 0.0, 0.9))
        kept = tuple(line for line in mended.lines if not _failure(line, mended) and not _idle(line, mended))
        again = None if kept == mended.lines else self._tried(kept, span(progress, 0.9, 0.95), tried.failed)
        best = again if again is not None and again.plan.order <= mended.plan.order else mended
        upright = tuple(line for line in best.lines if line.kind is not LineKind.DRAFT)
        if best.plan.leaves or upright == best.lines:
            return best
        again = self._tried(upright, span(progress, 0.95, 1.0), best.failed)
        return again if again is not None and again.plan.order < best.plan.order else best

    def _mended(self, best: Tried, progress: Progress) -> Tried:
        """What the proof still finds is tried again by its next cure, as long as that helps."""
        seen: set[str] = {line.id for line in best.lines}
        for turn in range(ROUNDS):
            if best.results.causes is None or best.plan.leaves:
                return best
            offered = [line for cause in best.results.causes.open for line in others_of(cause, seen)][:CURES]
            better: Tried | None = None
            for nth, line in enumerate(offered):
                seen.add(line.id)
                at = (turn + nth / len(offered)) / ROUNDS
                tried = self._tried((*best.lines, line), span(progress, at, at + 0.1), best.failed)
                if tried is not None and _better(tried.plan, best.plan):
                    tried = self._completed(tried, progress)
                    better = tried if better is None or tried.plan.order < better.plan.order else better
            if better is None:
                return best
            best = better
        return best

    def _completed(self, tried: Tried, progress: Progress) -> Tried:
        """With lines for causes that a cure brought up: walls to lean, hollows to core."""
        assert tried.results.causes is not None
        here = {line.id for line in tried.lines}
        volume = tried.results.need(PART).volume_mm3
        more = [
            line
            for line in first_lines(
                tried.results.causes.open, tried.results.cores, limits()["vessel_share"].value * volume
            )
            # walls that could not be leaned a moment ago, along this draw to this joint, cannot be now
            if line.id not in here and _where(line, tried.job) not in self._no_draft
        ]
        again = self._tried((*tried.lines, *more), progress, tried.failed) if more else None
        if again is not None:
            self._no_draft |= {
                _where(line, tried.job) for line in more if line.kind is LineKind.DRAFT and _failure(line, again)
            }
        return again if again is not None and again.plan.order < tried.plan.order else tried

    def _filleted(self, best: Tried, progress: Progress) -> Tried:
        """With fillets, where corners are sharp and they cost no proof."""
        if not any(finding.code == "corners-sharp" for finding in best.results.need(STOCK).findings):
            return best
        tried = self._tried((*best.lines, fillets_line()), progress, best.failed)
        if tried is None or tried.plan.held_mm2 > best.plan.held_mm2:
            return best
        if _VERDICTS.index(tried.plan.proof.verdict) > _VERDICTS.index(best.plan.proof.verdict):
            return best
        had, has = (each.results.need(STOCK).lines for each in (best, tried))
        # what could not be made before is no fault of theirs
        harm = any(line.trouble and (nth >= len(had) or not had[nth].trouble) for nth, line in enumerate(has))
        return best if harm else tried

    def _fed(self, tried: Tried, progress: Progress) -> Plan:
        """The plan with the feeders that its casting wants as it lies: one that needs none wins at equal work."""
        r, f = tried.results, tried.job.freeze
        if f.feeding == "cool":
            return tried.plan
        rammed = as_rammed(r).parting
        assert rammed is not None
        cores = () if r.cores is None else tuple(core.mesh for core in r.cores.cores)
        lying = Lying(r.need(STOCK).mesh, cores, r.need(DRAW).direction, rammed.joint.height_mm)
        out = outlook_of(lying, r.need(METAL), f.carbon_pct, f.walls == "hard", progress)
        cost = fed(tried.plan.cost, out.feeders, out.chills, out.feeders_kg)
        plan = replace(tried.plan, cost=cost, feeders=out.feeders, chills=out.chills)
        return replace(plan, why=words.why_of(plan))

    def _plan(self, lines: tuple[Line, ...], job: Job, results: Results, failed: tuple[str, ...]) -> Plan:
        proof, stock, rammed = results.need(PROOF), results.need(STOCK), as_rammed(results)
        part, method = results.need(PART), results.need(METAL)
        parting = rammed.parting
        assert parting is not None and results.causes is not None
        direction = results.need(DRAW).direction
        large = limits()["bore_solid"].high
        left = tuple(one for one in results.causes.open if one.harm >= Harm.SCARS)
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
            cost=cost_of(made_of, self._castings),
            left=(*failed, *(_left_words(one) for one in left if _weighs(one, proof.verdict))),
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


def _better(one: Plan, than: Plan) -> bool:
    """Whether a cure is worth its line: the sand leaves, or clearly less of it is held."""
    return one.leaves > than.leaves or one.held_mm2 < limits()["plan_better"].value * than.held_mm2


def _failure(line: Line, tried: Tried) -> str:
    """Why a line could not be made, in words; nothing where it was."""
    results = tried.results
    worked = [results.need(STOCK).lines[nth] for nth in stock_lines_of(tried.job, line)]
    # a line that did some of what it was to do stays: what it left is found by the proof
    done = any(one.added_mm3 > 0.0 or one.taken_mm3 > 0.0 for one in worked)
    troubles = [] if done else [one.trouble for one in worked]
    cores = () if results.cores is None else results.cores.findings
    troubles += [one.words() for one in cores if one.code == "core-failed" and _at(one.place_mm) in _cored_at(line)]
    groove = None if results.parting is None else results.parting.ringed
    if groove is not None and any(isinstance(change, SetGroove) for change in line.changes):
        troubles.append(groove.trouble)
    why = next(filter(None, troubles), "")
    return f"{line.words()} could not be made. {why}" if why else ""


def _idle(line: Line, tried: Tried) -> bool:
    """Whether a line did nothing, and without trouble: what it was for another line does already."""
    if _cored_at(line) and tried.results.cores is not None:
        return not _cored_at(line) & {_at(core.place_mm) for core in tried.results.cores.cores}
    worked = [tried.results.need(STOCK).lines[nth] for nth in stock_lines_of(tried.job, line)]
    return bool(worked) and not any(one.added_mm3 > 0.0 or one.taken_mm3 > 0.0 or one.trouble for one in worked)


def _cored_at(line: Line) -> set[str]:
    """The places of the hollows that a line makes cores of."""
    return {_at(change.at_mm) for change in line.changes if isinstance(change, MakeHollow) and change.how == "core"}


def _where(line: Line, job: Job) -> tuple[object, ...]:
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
        holes = sum(point.diameter_mm <= limits()["bore_solid"].high for point in stock.drill)
        line = replace(line, text="Fill the small hole" if holes == 1 else f"Fill the {count_words(holes)} small holes")
    added = sum(stock.lines[nth].added_mm3 for nth in made)
    return replace(line, figures=line.figures | {"added_mm3": added}, main="added_mm3")


def _unlike(tried: list[Tried]) -> list[Tried]:
    """The best of each way to lay and part it: what is called the same is no rival."""
    titles = [one.plan.title for one in tried]
    return [one for nth, one in enumerate(tried) if one.plan.title not in titles[:nth]]


def _apart(ways: list[Way]) -> list[Way]:
    """The ways in their order, less those that are nearly one before them or its opposite."""
    out: list[Way] = []
    for way in ways:
        if all(
            abs(float(np.dot(way, other))) < np.cos(np.radians(limits()["plan_draws_apart"].value)) for other in out
        ):
            out.append(way)
    return out


def _draw_line(way: Way) -> Line:
    name = axis_name(np.array(way))
    along = name[1] if name else ", ".join(f"{value:.2f}" for value in way)
    cures = (Rule.UNDERCUT, Rule.JOINT)
    return Line(
        LineKind.DRAW, f"Draw it along {along}", "the least that stands in the way", (SetDraw(way),), cures=cures
    )


def _same(one: np.ndarray, two: Way) -> bool:
    return float(np.dot(one, two)) > 1.0 - 1e-9


def _at(place: tuple[float, float, float] | None) -> str:
    return "" if place is None else ",".join(f"{value:.3f}" for value in place)
