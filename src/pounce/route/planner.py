"""The search for plans: the best few draws, what a master does about each cause there, proved; then what is left is
tried again. Greedy: a plan is kept when it holds less sand, or as little for fewer hours.
"""

import math
import mmap
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from itertools import islice

import numpy as np

from pounce.base.beside import Task, second_core
from pounce.base.errors import UserFault
from pounce.base.progress import Progress, silent, span
from pounce.causes.values import Cause, Rule
from pounce.draw.changes import SetDraw
from pounce.feeding.outlook import Lying, outlook_of
from pounce.job.job import Job
from pounce.metals.tables import limits
from pounce.part.model import Model, PartResult
from pounce.parting.values import FREE
from pounce.plan import words
from pounce.plan.costs import fed, least_hours
from pounce.plan.edits import bare, edit_of
from pounce.plan.makes import (
    cores_instead,
    fillets_line,
    first_lines,
    in_order,
    others_of,
    sand_lines,
    solid_holes,
    turned_lines,
)
from pounce.plan.values import Line, LineKind, Plan
from pounce.proof.values import Verdict
from pounce.route.keys import keys
from pounce.route.pipeline import Pipeline
from pounce.route.proof import as_rammed
from pounce.route.results import Results
from pounce.route.stops import DRAW, LOGBOOK, METAL, MOULD, PART, PARTING, PATTERN, SETTING, STOCK
from pounce.route.tried import (
    Tried,
    dragged_mm2,
    failure_of,
    is_better,
    is_hopeless,
    is_idle,
    is_shut,
    much_filled,
    plan_of,
    surer,
    where_of,
    winds,
)
from pounce.solid.features.find import features_of
from pounce.solid.frame import axis_name

# Draws that are tried to the end, rounds in which what is left is tried again, and cures tried in each.
DRAWS, ROUNDS, CURES = 3, 4, 3
# Plans that are mended where none leaves the sand as it is.
MENDED = 3
# Stops that say nothing about how a part leaves the sand.
SKIPPED = frozenset({SETTING.id, PATTERN.id, MOULD.id, LOGBOOK.id})
# From clean to locked, as they are listed.
_VERDICTS = tuple(Verdict)
OWN_AXES = ((0.0, 0.0, 1.0), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0))
_MADE_HOLLOW = (LineKind.BORE, LineKind.CORE)
Found = Callable[[tuple[Plan, ...]], None]
Way = tuple[float, float, float]


class Planner:
    """Searches plans of one job. Results are kept in its pipeline, so that rivals share what they have alike."""

    def __init__(self, job: Job, model: Model, castings: int = 3, known: Results | None = None) -> None:
        self._start, self._model, self._castings = bare(job), model, castings
        self._pipeline = Pipeline(light=True)
        # drafts that could not be made, and where: see _where
        self._no_draft: set[tuple[object, ...]] = set()
        # whether there is a second core, and what is known of a plan that leaves the sand: both processes see it
        self._two, self._best = second_core(), _Best()
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
            raise _open_shell(part)
        if not method.pattern.draws:
            raise UserFault(
                "Nothing has to draw from this pattern, so there is nothing to plan.", "Choose a pattern that is drawn."
            )
        likely = _apart([candidate.direction for candidate in draw.candidates])
        ways, sure = _apart([*likely[:DRAWS], *OWN_AXES]), min(DRAWS, len(likely))
        tried, last = self._searched(ways, sure, first, span(progress, 0.1, 0.6), found or _nobody)
        if not tried:
            raise UserFault("No plan could be made of this part.", "Choose a draw, and decide at each stop.")
        # none leaves as it is: what still holds is tried again, the likeliest first; of what is turned out nothing is
        if not tried[0].plan.leaves and not any(winds(one) for one in tried):
            tried = self._all_settled(tried, span(progress, 0.6, 0.85), found or _nobody)
        plans = self._finished(tried, last, span(progress, 0.85, 1.0), found or _nobody)
        progress(1.0, "Plans proved")
        return tuple(sorted(plans, key=lambda plan: plan.order))

    def _searched(
        self, ways: list[Way], sure: int, first: Results, progress: Progress, found: Found
    ) -> tuple[list[Tried], "_Work | None"]:
        """The best along each way, the best first. The own axes that the search thought little of come after the
        ``sure`` ones, where nothing leaves the sand. With a second core two ways are tried at a time, and the last may
        be left to be tried beside the finish.
        """
        tried: list[Tried] = []
        self._best.forget()
        todo = [partial(self._way, way, first, ways[: _begun(nth, sure)]) for nth, way in enumerate(ways)]
        nth = 0
        while nth < len(ways) and (nth < sure or not self._best.free):
            if self._two and nth == sure - 1 and self._best.free:
                return tried, todo[nth]
            pair = self._two and nth + 1 < (sure if nth < sure else len(ways))
            share = span(progress, nth / len(ways), (nth + 1) / len(ways))
            with self._trying(todo[nth + 1] if pair else None) as other:
                tried = self._with(tried, todo[nth](share), found)
                # where the first of two own axes is free, the second is one too many
                if pair and (nth < sure or not self._best.free):
                    tried = self._with(tried, other.answer(share), found)
            nth += 2 if pair else 1
        return tried, None

    def _with(self, tried: list[Tried], one: Tried | None, found: Found) -> list[Tried]:
        """The best of each way to lay and part it, with one more; who looks on is told."""
        if one is None:
            return tried
        more = _unlike(sorted([*tried, one], key=lambda each: each.plan.order))
        self._best.told(more[0].plan)
        found(tuple(each.plan for each in more))
        return more

    def _all_settled(self, tried: list[Tried], progress: Progress, found: Found) -> list[Tried]:
        """The likeliest mended, one after another: what cannot come before one that leaves is no more tried."""
        mended = list(tried)
        for nth, one in enumerate(tried[:MENDED]):
            share = span(progress, nth / MENDED, (nth + 1) / MENDED)
            if nth and mended[0].plan.leaves and is_hopeless(one, tried[0]):
                continue
            mended[nth] = self._settled(one, share)
            self._best.told(mended[nth].plan)
            if mended[nth].lines != one.lines:
                found(tuple(sorted((each.plan for each in mended), key=lambda plan: plan.order)))
        return sorted(mended, key=lambda each: each.plan.order)

    def _finished(self, tried: list[Tried], last: "_Work | None", progress: Progress, found: Found) -> list[Plan]:
        """The plans of what was tried, the best with fillets, all with the feeders that they want; the ``last`` way is
        tried meanwhile. What loses every mould is no rival of what leaves.
        """
        made: dict[tuple[Tried, bool], Plan] = {}

        def finish(most: int, share: Progress) -> list[Plan]:
            rivals = ([each for each in tried if each.plan.leaves] or tried)[:most]
            wanted = [(one, nth == 0) for nth, one in enumerate(rivals)]
            todo = [each for each in wanted if each not in made]
            with _beside(partial(self._all_finished, todo[1:]) if self._two and todo[1:] else None) as other:
                mine = todo[:1] if other.busy else todo
                plans = self._all_finished(mine, span(share, 0.0, 0.7))
                plans += other.answer(span(share, 0.7, 1.0)) if other.busy else []
            made.update(zip(todo, plans, strict=True))
            return [made[each] for each in wanted]

        with self._trying(last) as other:
            # the best so far is most likely the best of all
            plans = finish(1 if other.busy else len(tried), span(progress, 0.0, 0.6))
            if other.busy:
                tried = self._with(tried, other.answer(span(progress, 0.6, 0.7)), found)
        return finish(len(tried), span(progress, 0.7, 1.0)) if last is not None else plans

    def _all_finished(self, todo: list[tuple[Tried, bool]], progress: Progress) -> list[Plan]:
        """The plans of these, the best with fillets, each with the feeders that it wants."""
        out = []
        for nth, (one, best) in enumerate(todo):
            share = span(progress, nth / len(todo), (nth + 1) / len(todo))
            whole = self._filleted(one, span(share, 0.0, 0.5)) if best else one
            out.append(self._fed(whole, span(share, 0.5, 1.0)))
        return out

    def _trying(self, work: "_Work | None") -> Task[Tried | None]:
        """A way or a mending in another process, if any."""
        return Task(work, None if work is None else partial(self._told, work), self._heard, "Trying a draw")

    def known(self, job: Job) -> Results:
        """What was worked of a plan's job."""
        return self._pipeline.known(job)

    def _told(self, work: "_Work") -> "_Told | None":
        """What another process tells of its work: the lines, and what it worked out that was not known before."""
        had, no_draft = self._pipeline.all_keys(), set(self._no_draft)
        tried = work(silent)
        if tried is None:
            return None
        names = keys(tried.job)
        new = {names[stop]: result for stop, result in tried.results.found.items() if names[stop] not in had}
        return _Told(tried.lines, tried.failed, new, self._no_draft - no_draft)

    def _heard(self, told: "_Told | None", progress: Progress) -> Tried | None:
        """What another process tried, as if it had been tried here."""
        if told is None:
            return None
        for key, result in told.results.items():
            self._pipeline.keep(key, result)
        self._no_draft |= told.no_draft
        return self._tried(told.lines, progress, told.failed)

    def _run(self, job: Job, progress: Progress) -> Results:
        return self._pipeline.run(job, self._model, progress, skip=SKIPPED)

    def _way(self, way: Way, first: Results, before: list[Way], progress: Progress) -> Tried | None:
        """The best that was found for one draw; None where a stop cannot work along it, where the part looks the same
        along one of the ways ``before``, as a turned one does, and where it holds sand though another way is free of
        that: it is no rival, and draft, which takes longest, frees nothing.
        """
        line = _draw_line(way)
        start = self._start
        progress(0.0, "Trying a draw")
        chosen = edit_of(start, line).job
        known = first if _same(first.need(DRAW).direction, way) else None
        results = known or self._run(chosen, span(progress, 0.0, 0.2))
        if results.causes is None or results.cores is None:
            return None
        others = [self._pipeline.known(edit_of(start, _draw_line(other)).job) for other in before]
        if any(_looks_alike(results, other) for other in others):
            return None
        best: Tried | None = None
        for wanted in self._wanted(line, results, span(progress, 0.2, 0.25)):
            upright = [one for one in wanted if one.kind is not LineKind.DRAFT]
            if len(upright) < len(wanted) and self._best.free:
                bare_one = self._done((line, *upright), span(progress, 0.25, 0.3))
                if bare_one is None or not bare_one.plan.leaves:
                    continue
            one = self._done((line, *wanted), span(progress, 0.3, 1.0))
            best = one if best is None or (one is not None and surer(one) < surer(best)) else best
        return best if best is None else self._standing(best, progress)

    def _standing(self, tried: Tried, progress: Progress) -> Tried:
        """Turned over, where sand that hangs would then stand; then with cores, or bores cast solid, where it still
        leaves slender sand: each if that mends it, or costs less than the moulds that may be lost. What was cast solid
        may have been all that kept it from standing, so it is turned once more at the end.
        """
        if tried.results.causes is None or not tried.plan.leaves:
            return tried
        tried = self._turned(tried, progress)
        mesh = tried.results.need(PART).mesh
        vessel_mm3 = limits()["vessel_share"].value * tried.results.need(PART).volume_mm3
        best, first = tried, tried.lines
        for _ in range(ROUNDS):  # gaps of one make after those of another
            if tried.results.causes is None:
                break
            here = {line.id for line in tried.lines}
            more = sand_lines(tried.results.causes.open, mesh, features_of(mesh), vessel_mm3)
            more = [line for line in more if line.id not in here]
            if not 0 < len(more) <= limits()["plan_cores"].value:
                break
            again = self._done(in_order([*tried.lines, *more]), progress)
            if again is None or any(much_filled(line, again) for line in more):
                break
            best = again if surer(again) < surer(best) else best
            if again.lines == tried.lines:  # none of them could be made
                break
            tried = again
        return self._turned(best, progress) if best.lines != first else best

    def _turned(self, tried: Tried, progress: Progress) -> Tried:
        """The same turned over in the sand, where that helps."""
        assert tried.results.causes is not None
        for turn in turned_lines(tried.results.causes.open, tried.results.need(DRAW).direction):
            again = self._tried(in_order([*tried.lines, turn]), progress, tried.failed)
            tried = again if again is not None and surer(again) < surer(tried) else tried
        return tried

    def _done(self, lines: tuple[Line, ...], progress: Progress) -> Tried | None:
        """What comes of lines, less those that could not be made."""
        tried = self._tried(lines, span(progress, 0.0, 0.3))
        return None if tried is None else self._without_failed(tried, span(progress, 0.3, 1.0))

    def _wanted(self, line: Line, results: Results, progress: Progress) -> list[list[Line]]:
        """What is done at once along a draw: one list of lines, or two to try.

        A hollow is another one without the small holes that run into it: plain, narrow enough to bore, or none. What
        they alone locked may draw by itself then, or want its core all the same, for its sand is slender.
        """
        assert results.causes is not None and results.cores is not None
        volume = results.need(PART).volume_mm3
        wanted = first_lines(results.causes.open, results.cores, volume)
        drills = [one for one in wanted if one.kind is LineKind.HOLES]
        if not drills or not any(offer.holes for offer in results.cores.offers):
            return [wanted]
        plain = self._tried((line, *drills), progress)
        if plain is None or plain.results.causes is None:
            return [wanted]
        known = {one.id for one in drills}
        after = [
            one for one in first_lines(plain.results.causes.open, plain.results.cores, volume) if one.id not in known
        ]
        made, still = ([one for one in lines if one.kind in _MADE_HOLLOW] for lines in (wanted, after))
        if len(still) >= len(made):
            return [[*drills, *after]]
        cured = [replace(one, cures=(*one.cures, Rule.HOLLOW)) for one in drills]
        return [[*cured, *after], [*drills, *made, *(one for one in after if one.kind not in _MADE_HOLLOW)]]

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
        return Tried(lines, job, results, plan_of(lines, results, failed, self._castings), failed)

    def _without_failed(self, tried: Tried, progress: Progress) -> Tried:
        """The same less what could not be made, a core that failed, a line that could not be worked, and less lines
        that found nothing to do.
        """
        why = {line.id: failure_of(line, tried) for line in tried.lines}
        kept = tuple(line for line in tried.lines if not why[line.id] and not is_idle(line, tried))
        if kept == tried.lines:
            return tried
        opened = tuple(line for line in tried.lines if line.kind is not LineKind.HOLES)
        if opened != tried.lines and is_shut(tried):  # the small holes were the only ways out of what is cored
            again = self._tried(opened, progress, tried.failed)
            if again is not None and not any(failure_of(line, again) for line in opened):
                return again
        lost = [line.kind for line in tried.lines if line not in kept]
        for line in tried.lines:
            if line.kind is LineKind.BORE and why[line.id]:
                kept, why[line.id] = (*kept, *cores_instead(line)), ""
        if tried.results.causes is not None and LineKind.HOLES in lost:
            kept = (*kept, *solid_holes(tried.results.causes.open))
        self._no_draft |= {
            where_of(line, tried.job) for line in tried.lines if line.kind is LineKind.DRAFT and why[line.id]
        }
        again = self._tried(kept, progress, (*tried.failed, *filter(None, why.values())))
        return tried if again is None else again

    def _settled(self, tried: Tried, progress: Progress) -> Tried:
        """Mended, less the lines that the mending has left without their place: nothing is lost with them. Draft goes
        too where it holds sand itself, as a wall does that leans for the cope under what hangs over it.
        """
        mended = self._mended(tried, span(progress, 0.0, 0.9))
        if self._best.beats(mended.plan):
            return mended
        kept = tuple(line for line in mended.lines if not failure_of(line, mended) and not is_idle(line, mended))
        again = None if kept == mended.lines else self._tried(kept, span(progress, 0.9, 0.95), tried.failed)
        best = again if again is not None and again.plan.order <= mended.plan.order else mended
        upright = tuple(line for line in best.lines if line.kind is not LineKind.DRAFT)
        if not best.plan.leaves and upright != best.lines:
            again = self._tried(upright, span(progress, 0.95, 1.0), best.failed)
            best = again if again is not None and again.plan.order < best.plan.order else best
        return self._standing(best, progress)

    def _mended(self, best: Tried, progress: Progress) -> Tried:
        """What the proof still finds is tried again by its next cure, as long as that helps and it may yet come first;
        the last cure of a round beside the others where there is a second core.
        """
        seen: set[str] = {line.id for line in best.lines}
        for turn in range(ROUNDS):
            if best.results.causes is None or best.plan.leaves:
                return best
            cures = (line for cause in best.results.causes.open for line in others_of(cause, seen))
            # the first few of those that may still come first: a dear one takes no cheap one's place
            offered = list(islice((line for line in cures if not self._best.beats(best.plan, line)), CURES))
            seen.update(line.id for line in offered)
            better: Tried | None = None
            last = partial(self._cured, best, offered[-1]) if self._two and len(offered) > 1 else None
            with self._trying(last) as other:
                for nth, line in enumerate(offered):
                    at = (turn + nth / len(offered)) / ROUNDS
                    share = span(progress, at, at + 0.1)
                    mine = not other.busy or nth + 1 < len(offered)
                    cured = self._cured(best, line, share) if mine else other.answer(share)
                    if cured is not None and (better is None or cured.plan.order < better.plan.order):
                        better = cured
            if better is None:
                return best
            best = better
        return best

    def _cured(self, best: Tried, line: Line, progress: Progress) -> Tried | None:
        """What comes of one cure more; None where it does not help, or fills so much that it is another part."""
        tried = self._tried((*best.lines, line), span(progress, 0.0, 0.7), best.failed)
        if tried is None or not is_better(tried.plan, best.plan) or much_filled(line, tried):
            return None
        return self._completed(tried, span(progress, 0.7, 1.0))

    def _completed(self, tried: Tried, progress: Progress) -> Tried:
        """With lines for causes that a cure brought up: walls to lean, hollows to core."""
        assert tried.results.causes is not None
        here = {line.id for line in tried.lines}
        volume = tried.results.need(PART).volume_mm3
        more = [
            line
            for line in first_lines(tried.results.causes.open, tried.results.cores, volume)
            # walls that could not be leaned a moment ago, along this draw to this joint, cannot be now
            if line.id not in here and where_of(line, tried.job) not in self._no_draft
        ]
        again = self._tried((*tried.lines, *more), progress, tried.failed) if more else None
        if again is not None:
            self._no_draft |= {
                where_of(line, tried.job) for line in more if line.kind is LineKind.DRAFT and failure_of(line, again)
            }
        return again if again is not None and again.plan.order < tried.plan.order else tried

    def _filleted(self, best: Tried, progress: Progress) -> Tried:
        """With fillets, where corners are sharp and they cost no proof."""
        if not any(finding.code == "corners-sharp" for finding in best.results.need(STOCK).findings):
            return best
        tried = self._tried((*best.lines, fillets_line()), progress, best.failed)
        if tried is None or tried.plan.held_mm2 > best.plan.held_mm2 or dragged_mm2(tried) > dragged_mm2(best):
            return best
        had_mm2, has_mm2 = (each.plan.proof.locked_mm2 for each in (best, tried))
        if has_mm2 > had_mm2 + FREE * tried.results.need(PART).area_mm2:  # slits, too thin for sand to be held there
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
        # as it is poured: a flat back in the drag lies the other way up
        joint = rammed.joint
        height = -joint.height_mm if joint.turned else joint.height_mm
        lying = Lying(r.need(STOCK).mesh, cores, joint.up, height, r.need(PART).mesh)
        out = outlook_of(lying, r.need(METAL), f.carbon_pct, f.walls == "hard", progress)
        cost = fed(tried.plan.cost, out.feeders, out.chills, out.feeders_kg)
        plan = replace(tried.plan, cost=cost, feeders=out.feeders, chills=out.chills)
        return replace(plan, why=words.why_of(plan))


class _Best:
    """The best plan that leaves the sand, as both processes know it: whether there is one, and the hours it is taken
    for (inf: none), as they were told since it was all forgotten.
    """

    def __init__(self) -> None:
        self._shared = memoryview(mmap.mmap(-1, 8)).cast("d")
        self.forget()

    @property
    def free(self) -> bool:
        return self._shared[0] < math.inf

    def forget(self) -> None:
        self._shared[0] = math.inf

    def told(self, plan: Plan) -> None:
        if plan.leaves:
            self._shared[0] = min(self._shared[0], plan.order[2])

    def beats(self, plan: Plan, line: Line | None = None) -> bool:
        """Whether a plan, or what comes of it with one more line, can no longer come first, even if it loses no
        mould.
        """
        return least_hours(plan, line) > self._shared[0]


_Work = Callable[[Progress], Tried | None]


@dataclass(frozen=True)
class _Told:
    """What another process tried: lines and what failed, in words; the results by their keys; drafts that failed."""

    lines: tuple[Line, ...]
    failed: tuple[str, ...]
    results: dict[str, object]
    no_draft: set[tuple[object, ...]]


def _open_shell(part: PartResult) -> UserFault:
    """Why a part whose shell is open gets no plan, and where it is."""
    opened = next(one for one in part.findings if one.code == "shell-open")
    at = ", ".join(f"{value:.1f}" for value in opened.place_mm or ())
    where = f"A hole of it is at {at} mm. " if len(part.open_edges) else ""
    return UserFault(
        "An open shell gets no plan: nothing can be proved of it.",
        f"{where}Close it where it is drawn, then read it again.",
    )


def _beside(work: Callable[[Progress], list[Plan]] | None) -> Task[list[Plan]]:
    """Plans finished in another process, if any."""
    there = None if work is None else partial(work, silent)
    return Task(work, there, lambda plans, _: plans, "Looking at what sets last")


def _nobody(_plans: tuple[Plan, ...]) -> None:
    """Told of plans, does nothing."""


def _begun(nth: int, sure: int) -> int:
    """How many ways are known when the ``nth`` is begun, if two are tried at a time, be there two processes or one."""
    return nth - nth % 2 if nth < sure else nth - (nth - sure) % 2


def _looks_alike(one: Results, other: Results) -> bool:
    """Whether the bare part lies and parts along two draws alike, and does the same there, as far as areas tell."""
    if other.get(PARTING) is None:
        return False
    looks = []
    for each in (one, other):
        part, draw, parting = each.need(PART), each.need(DRAW), each.need(PARTING)
        x, y, z = (float(value) for value in draw.direction)
        title = words.lies(draw.depth_mm, part.mesh.size, (x, y, z)), words.parts(parting)
        sides = parting.cope_depth_mm, parting.drag_depth_mm, parting.relief_mm
        looks.append((title, np.array(parting.shown_areas) / part.area_mm2, np.array(sides) / part.mesh.diagonal))
    (title, areas, deep), (like, those, deeps) = looks
    near = limits()["plan_draws_alike"].value
    return title == like and bool((np.abs(areas - those) < near).all() and (np.abs(deep - deeps) < near).all())


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
