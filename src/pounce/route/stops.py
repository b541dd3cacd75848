"""The stops of the route, one record each: keys, pipeline, check, build, sheet, command and bench are loops over them.

A stop's room holds its work and its values; its record says what it needs, what it hangs on and what it shows. Rooms
are loaded when a stop is run: the window reads these records and loads none of them.
"""

import importlib
import os
from dataclasses import replace
from functools import cache
from typing import TYPE_CHECKING, Final

import msgspec

from pounce.base.environment import MORE
from pounce.base.errors import UserFault
from pounce.base.finding import Finding
from pounce.base.progress import span
from pounce.causes import VERSION as CAUSES_VERSION
from pounce.causes.values import CausesResult
from pounce.cores import VERSION as CORES_VERSION
from pounce.cores.choices import TABLE as CORES_CHOICES
from pounce.cores.values import CoresResult
from pounce.draw import VERSION as DRAW_VERSION
from pounce.draw.choices import TABLE as DRAW_CHOICES
from pounce.draw.values import DrawResult
from pounce.feeding import VERSION as FREEZE_VERSION
from pounce.feeding.choices import SLOW
from pounce.feeding.choices import TABLE as FREEZE_CHOICES
from pounce.feeding.values import FreezeResult
from pounce.hollows import VERSION as HOLLOWS_VERSION
from pounce.hollows.values import HollowsAsked, HollowsResult
from pounce.job.job import Job
from pounce.job.rig_edits import asked_rig
from pounce.logbook import VERSION as LOG_VERSION
from pounce.logbook.choices import TABLE as LOG_CHOICES
from pounce.logbook.keeping import stamp
from pounce.logbook.said import LogResult
from pounce.metals import method as method_stop
from pounce.metals.choices import TABLE as METAL_CHOICES
from pounce.metals.method import Method
from pounce.part import VERSION as PART_VERSION
from pounce.part.choices import TABLE as PART_CHOICES
from pounce.part.model import PartResult
from pounce.part.words import wall_findings, weight_findings
from pounce.parting import VERSION as PARTING_VERSION
from pounce.parting.choices import TABLE as PARTING_CHOICES
from pounce.parting.values import PartingResult
from pounce.pattern import VERSION as PATTERN_VERSION
from pounce.pattern.choices import TABLE as PATTERN_CHOICES
from pounce.pattern.values import PatternResult
from pounce.pour import VERSION as POUR_VERSION
from pounce.pour.choices import TABLE as POUR_CHOICES
from pounce.pour.things import own_things
from pounce.pour.values import Mouldful, PourResult
from pounce.pour.window import aimed_c
from pounce.proof import VERSION as PROOF_VERSION
from pounce.proof.values import ProofResult
from pounce.rig import VERSION as RIG_VERSION
from pounce.rig.choices import TABLE as RIG_CHOICES
from pounce.rig.flasks import own_flasks
from pounce.rig.setting import CARRIERS, Setting, set_out_of, setting
from pounce.rig.values import RigResult
from pounce.route import cores as cores_said
from pounce.route import freeze as freeze_said
from pounce.route import log as log_said
from pounce.route import logkeys as log_keys_said
from pounce.route import making as making_said
from pounce.route import moulding as said
from pounce.route import pour as pour_said
from pounce.route import rig as rig_said
from pounce.route import stock as stock_said
from pounce.route.causes import causes_keys, causes_of_job
from pounce.route.guests import guest_of, pattern_of, written
from pounce.route.papers import cores_papers, parting_papers, pattern_papers, stock_papers
from pounce.route.places import place_findings
from pounce.route.proof import guesses_dropped, proof_keys, proof_of, proved
from pounce.route.results import Given, Results, Stop
from pounce.stock import VERSION as STOCK_VERSION
from pounce.stock.choices import TABLE as STOCK_CHOICES
from pounce.stock.values import StockResult

if TYPE_CHECKING:
    from pounce.pour.stop import Given as Poured


def _run_part(given: Given) -> PartResult:
    from pounce.part.stop import part_stop  # noqa: PLC0415  a room is loaded when it works

    if given.model is None:
        raise UserFault("There is no part yet.", "Open a model first.")
    return part_stop(given.job.part, given.model, given.progress)


def _part_findings(results: Results) -> tuple[Finding, ...]:
    if results.part is None:
        return ()
    walls = [] if results.metal is None else wall_findings(results.part, results.metal)
    walls += [] if results.metal is None else weight_findings(results.part, results.job.part, results.metal)
    return tuple(sorted([*results.part.findings, *walls], key=lambda finding: finding.informational))


PART: Final = Stop[PartResult](
    "part",
    "Part",
    PART_VERSION,
    (),
    (),
    # what the scale says is held beside the part and changes nothing of it
    reads=lambda job: (msgspec.structs.replace(job.part, scale_kg=None, scale_metal=None),),
    run=_run_part,
    findings=_part_findings,
    check=said.part_keys,
    view="pounce.bench.stops.part:VIEW",
    choices=PART_CHOICES,
)

METAL: Final = Stop[Method](
    "metal",
    "Metal",
    method_stop.VERSION,
    (),
    (),
    reads=lambda job: (job.method,),
    run=lambda given: method_stop.resolve(given.job.method),
    findings=lambda results: () if results.metal is None else results.metal.findings,
    check=said.metal_keys,
    without_model=True,
    view="pounce.bench.stops.metal:VIEW",
    choices=METAL_CHOICES,
)


def _run_draw(given: Given) -> DrawResult:
    from pounce.draw.stop import draw_stop  # noqa: PLC0415  a room is loaded when it works

    return draw_stop(given.job.draw, given.results.need(PART), given.progress)


DRAW: Final = Stop[DrawResult](
    "draw",
    "Draw",
    DRAW_VERSION,
    (PART,),
    (PART,),
    reads=lambda job: (job.draw,),
    run=_run_draw,
    findings=lambda results: proved("draw", results, place_findings(results)),
    check=said.draw_keys,
    view="pounce.bench.stops.draw:VIEW",
    choices=DRAW_CHOICES,
)


def _run_parting(given: Given) -> PartingResult:
    from pounce.parting.stop import parting_stop  # noqa: PLC0415  a room is loaded when it works

    r = given.results
    return parting_stop(given.job.parting, r.need(PART), r.need(METAL), r.need(DRAW), given.progress)


def _read_by_parting(job: Job) -> tuple[object, ...]:
    """Of the method only what the joint hangs on: another metal leaves it where it is."""
    try:
        draft = method_stop.resolve(job.method).required_draft_deg
    except UserFault:
        draft = -1.0
    return job.parting, draft, job.method.draft_deg is None, job.method.pattern, job.method.mould


def _parting_findings(results: Results) -> tuple[Finding, ...]:
    return () if results.parting is None else results.parting.findings


PARTING: Final = Stop[PartingResult](
    "parting",
    "Parting",
    PARTING_VERSION,
    (PART, METAL, DRAW),
    (DRAW, PART),
    reads=_read_by_parting,
    run=_run_parting,
    findings=lambda results: proved("parting", results, _parting_findings(results)),
    check=said.parting_keys,
    papers=parting_papers,
    view="pounce.bench.stops.parting:VIEW",
    choices=PARTING_CHOICES,
)


def hollows_asked(job: Job) -> HollowsAsked:
    """What was said of hollows on the card of Cores."""
    said = job.cores.hollows
    made, kept = ([one.at_mm for one in said if (one.make == "core") == wanted] for wanted in (True, False))
    return HollowsAsked(tuple(made), tuple(kept), job.cores.every)


def _run_hollows(given: Given) -> HollowsResult:
    from pounce.hollows.stop import hollows_stop  # noqa: PLC0415  a room is loaded when it works

    r = given.results
    return hollows_stop(
        hollows_asked(given.job), r.need(PART), r.need(METAL), r.need(DRAW), r.need(PARTING), given.progress
    )


# A step without a card: it is decided before Stock what cores make, and Cores makes them after.
HOLLOWS: Final = Stop[HollowsResult](
    "hollows",
    "Hollows",
    HOLLOWS_VERSION,
    (PART, METAL, DRAW, PARTING),
    (PARTING, METAL),
    reads=lambda job: (hollows_asked(job),),
    run=_run_hollows,
    shown=False,
)


def _run_stock(given: Given) -> StockResult:
    from pounce.stock.stop import stock_stop  # noqa: PLC0415  a room is loaded when it works

    r = given.results
    return stock_stop(
        given.job.stock,
        r.need(PART),
        r.need(METAL),
        r.need(DRAW),
        r.need(PARTING),
        given.progress,
        r.need(HOLLOWS),
        given.light,
    )


STOCK: Final = Stop[StockResult](
    "stock",
    "Stock",
    STOCK_VERSION,
    (PART, METAL, DRAW, PARTING, HOLLOWS),
    (HOLLOWS,),
    reads=lambda job: (job.stock,),
    run=_run_stock,
    findings=lambda results: () if results.stock is None else guesses_dropped(results, results.stock.findings),
    check=lambda results, _model: {"stock": stock_said.stock_summary(results)},
    keys=stock_said.stock_keys,
    help="Add stock, draft, fillets and the rest, and measure what comes out.",
    papers=stock_papers,
    view="pounce.bench.stops.stock:VIEW",
    choices=STOCK_CHOICES,
)


def _run_cores(given: Given) -> CoresResult:
    from pounce.cores.stop import cores_stop  # noqa: PLC0415  a room is loaded when it works

    r = given.results
    return cores_stop(
        given.job.cores,
        r.need(HOLLOWS),
        r.need(STOCK),
        r.need(PART),
        r.need(METAL),
        r.need(DRAW),
        r.need(PARTING),
        given.progress,
        given.light,
    )


CORES: Final = Stop[CoresResult](
    "cores",
    "Cores",
    CORES_VERSION,
    (PART, METAL, DRAW, PARTING, HOLLOWS, STOCK),
    (STOCK,),
    reads=lambda job: (job.cores,),
    run=_run_cores,
    findings=lambda results: () if results.cores is None else results.cores.findings,
    check=lambda results, _model: {"cores": cores_said.cores_summary(results)},
    keys=cores_said.cores_keys,
    help="Find hollows, make cores with prints and boxes, and check what bears on them.",
    papers=cores_papers,
    view="pounce.bench.stops.cores:VIEW",
    choices=CORES_CHOICES,
)


def _rig(given: Given) -> RigResult:
    from pounce.rig.stop import Given as Castings  # noqa: PLC0415  a room is loaded when it works
    from pounce.rig.stop import rig_stop  # noqa: PLC0415

    asked, r = asked_rig(given.job), given.results
    own = Castings(
        given.job.name,
        asked.count,
        r.need(METAL),
        r.need(PARTING),
        r.need(STOCK),
        r.need(CORES),
        asked.feeders,
        asked.chills,
        asked.gates_mm,
    )
    others = tuple(guest_of(guest, given.progress) for guest in asked.guests)
    return rig_stop(asked, (own, *others), own_flasks(), span(given.progress, 0.3 if others else 0.0, 1.0))


def _run_setting(given: Given) -> Setting:
    level = given.results.need(PARTING).joint.level
    made = setting(level and given.job.pattern.mount in CARRIERS, lambda: _rig(given))
    if made.rig is None:
        return made
    return replace(made, others=tuple(pattern_of(one, given.progress) for one in asked_rig(given.job).guests))


def _read_by_rig(job: Job) -> tuple[object, ...]:
    """The own flasks go in too: another bench has others; of other jobs in the pour when they were written."""
    asked = asked_rig(job)
    named = (job.name, tuple(written(guest.file) for guest in asked.guests)) if asked.guests else ()
    try:
        return asked, job.cores.on_end, own_flasks(), *named
    except UserFault as fault:
        return asked, str(fault), *named


# Boards and plates carry the mould's layout, so it is worked out before the pattern where there are any.
SETTING: Final = Stop[Setting](
    "setting",
    "Mould set out",
    RIG_VERSION,
    (METAL, PARTING, STOCK, CORES),
    (CORES,),
    reads=lambda job: _read_by_rig(job) if job.pattern.mount in CARRIERS else (),
    run=_run_setting,
    shown=False,
)


def _run_pattern(given: Given) -> PatternResult:
    from pounce.pattern.stop import pattern_stop  # noqa: PLC0415  a room is loaded when it works

    r = given.results
    return pattern_stop(
        given.job.pattern,
        r.need(STOCK),
        r.need(CORES),
        r.need(PART),
        r.need(METAL),
        r.need(DRAW),
        r.need(PARTING),
        given.progress,
        set_out_of(r.need(SETTING)),
    )


def _read_by_pattern(job: Job) -> tuple[object, ...]:
    try:
        splits = method_stop.resolve(job.method).pattern.splits
    except UserFault:
        splits = False
    return job.pattern, splits


PATTERN: Final = Stop[PatternResult](
    "pattern",
    "Pattern",
    PATTERN_VERSION,
    (PART, METAL, DRAW, PARTING, STOCK, CORES, SETTING),
    (SETTING,),
    reads=_read_by_pattern,
    run=_run_pattern,
    findings=lambda results: () if results.pattern is None else results.pattern.findings,
    check=lambda results, _model: {"make": making_said.making_summary(results)},
    keys=making_said.making_keys,
    command="make",
    help="Hold the ways of making the pattern side by side: prints on the bed, boards to cut, sheets of foam.",
    papers=pattern_papers,
    view="pounce.bench.stops.pattern:VIEW",
    choices=PATTERN_CHOICES,
)


def _run_rammed(given: Given) -> PartResult:
    from pounce.proof.rammed import rammed_part  # noqa: PLC0415  a room is loaded when it works

    r = given.results
    return rammed_part(r.need(PART), r.need(METAL), r.need(STOCK), r.need(CORES))


# Steps without a card: the pattern as it will be rammed takes the part's place, and is judged by the same rooms.
RAMMED: Final = Stop[PartResult](
    "rammed",
    "Rammed pattern",
    PROOF_VERSION,
    (PART, METAL, STOCK, CORES),
    (CORES,),
    reads=lambda _job: (),
    run=_run_rammed,
    shown=False,
)


def _run_rammed_draw(given: Given) -> DrawResult:
    from pounce.proof.rammed import rammed_draw  # noqa: PLC0415  a room is loaded when it works

    r = given.results
    return rammed_draw(r.need(PART), r.need(RAMMED), r.need(METAL), r.need(DRAW), given.progress)


RAMMED_DRAW: Final = Stop[DrawResult](
    "rammed-draw",
    "Rammed pattern's draw",
    PROOF_VERSION,
    (PART, METAL, DRAW, RAMMED),
    (RAMMED,),
    reads=lambda _job: (),
    run=_run_rammed_draw,
    shown=False,
)


def _run_rammed_parting(given: Given) -> PartingResult:
    from pounce.proof.rammed import rammed_parting  # noqa: PLC0415  a room is loaded when it works

    r = given.results
    part, rammed, method = r.need(PART), r.need(RAMMED), r.need(METAL)
    parting, stock = r.need(PARTING), r.need(STOCK)
    return rammed_parting(given.job.parting, part, rammed, method, r.need(RAMMED_DRAW), parting, stock, given.progress)


RAMMED_PARTING: Final = Stop[PartingResult](
    "rammed-parting",
    "Rammed pattern's joint",
    PROOF_VERSION,
    (PART, METAL, PARTING, STOCK, RAMMED, RAMMED_DRAW),
    (RAMMED_DRAW,),
    reads=lambda _job: (),
    run=_run_rammed_parting,
    shown=False,
)


def _run_proof(given: Given) -> ProofResult:
    r = given.results
    part, parting, again = r.need(PART), r.need(PARTING), r.need(RAMMED_PARTING)
    return proof_of(
        r, part, parting, r.need(RAMMED), again, r.need(METAL), r.need(STOCK), r.need(CORES), given.progress
    )


PROOF: Final = Stop[ProofResult](
    "proof",
    "Proof",
    PROOF_VERSION,
    (PART, METAL, DRAW, PARTING, STOCK, CORES, RAMMED, RAMMED_DRAW, RAMMED_PARTING),
    (RAMMED_PARTING,),
    reads=lambda _job: (),
    run=_run_proof,
    check=lambda results, _model: {"proof": proof_keys(results)},
    shown=False,
)


def _run_causes(given: Given) -> CausesResult:
    r = given.results
    found = dict(r.found)
    said = tuple((stop.id, finding) for stop in stops() if stop.id in found for finding in stop.findings(r))
    return causes_of_job(r, said, ids())


CAUSES: Final = Stop[CausesResult](
    "causes",
    "Causes",
    CAUSES_VERSION,
    (PART, METAL, DRAW, PARTING),
    (),
    # what the scale says is held beside the part, and its key does not hang on it
    reads=lambda job: (job.part,),
    run=_run_causes,
    check=lambda results, _model: {"causes": causes_keys(results)},
    shown=False,
    hangs_on_all=True,
)


def _run_rig(given: Given) -> RigResult:
    made = given.results.need(SETTING).rig
    return _rig(given) if made is None else made


def _rig_findings(results: Results) -> tuple[Finding, ...]:
    made = results.get(MOULD)
    return () if made is None else made.findings


# After the proof, which is not to be kept waiting by it.
MOULD: Final = Stop[RigResult](
    "mould",
    "Mould",
    RIG_VERSION,
    (METAL, PARTING, STOCK, CORES, SETTING),
    (SETTING,),
    reads=_read_by_rig,
    run=_run_rig,
    findings=_rig_findings,
    check=lambda results, _model: {"rig": rig_said.rig_summary(results)},
    keys=rig_said.rig_keys,
    command="rig",
    help="Lay castings, gates and sprue out in a flask, and weigh what holds the cope down.",
    papers=rig_said.rig_papers,
    view="pounce.bench.stops.mould:VIEW",
    choices=RIG_CHOICES,
)


def _run_freeze(given: Given) -> FreezeResult:
    from pounce.feeding.stop import Given as Poured  # noqa: PLC0415  a room is loaded when it works
    from pounce.feeding.stop import freeze_stop, quick_look  # noqa: PLC0415

    r = given.results
    part, method = r.need(PART), r.need(METAL)
    usual = aimed_c(method, part.least_wall_mm, given.job.pour.school)
    stock = r.need(STOCK)
    poured = Poured(r.need(MOULD), method, part.mesh, stock.features, usual, stock.cut_away)
    if given.early is not None:
        given.early(quick_look(given.job.freeze, poured, span(given.progress, 0.0, 0.0)))
    return freeze_stop(given.job.freeze, poured, given.progress)


def _freeze_findings(results: Results) -> tuple[Finding, ...]:
    made = results.get(FREEZE)
    return () if made is None else made.findings


FREEZE: Final = Stop[FreezeResult](
    "freeze",
    "Freeze",
    FREEZE_VERSION,
    (PART, METAL, STOCK, MOULD),
    (MOULD,),
    reads=lambda job: (job.freeze, job.pour.school, os.environ.get(SLOW, "")),
    run=_run_freeze,
    findings=_freeze_findings,
    check=lambda results, _model: {"freeze": freeze_said.freeze_summary(results)},
    keys=freeze_said.freeze_keys,
    help="Let the mould freeze and fill on a grid: what sets last, what feeds it, where the metal stops.",
    papers=freeze_said.freeze_papers,
    view="pounce.bench.stops.freeze:VIEW",
    choices=FREEZE_CHOICES,
)


def given_pour(job: Job, r: Results, others: tuple[Mouldful, ...]) -> "Poured":
    """What a pour is planned from."""
    from pounce.pour.stop import Given as Poured  # noqa: PLC0415  a room is loaded when it works

    part, cores = r.need(PART), r.need(CORES)
    return Poured(
        job.name,
        r.need(METAL),
        r.need(MOULD),
        cores,
        job.cores.mix,
        r.need(FREEZE),
        part.least_wall_mm,
        job.freeze.pour_c is not None,
        others,
        own_things(),
    )


def _run_pour(given: Given) -> PourResult:
    from pounce.pour.stop import pour_stop  # noqa: PLC0415  a room is loaded when it works

    others = pour_said.moulds_of(given.job, given.progress)
    return pour_stop(given.job.pour, given_pour(given.job, given.results, others), given.progress)


def _read_by_pour(job: Job) -> tuple[object, ...]:
    """The own things go in too: another bench has others; of other jobs in the melt when they were written."""
    # a job is named only beside others: renaming it plans nothing anew
    others = (job.name, *(written(file) for file in job.pour.jobs)) if job.pour.jobs else ()
    named = (job.cores.mix, others)
    try:
        return job.pour, own_things(), *named
    except UserFault as fault:
        return job.pour, str(fault), *named


def _pour_findings(results: Results) -> tuple[Finding, ...]:
    made = results.get(POUR)
    return () if made is None else made.findings


POUR: Final = Stop[PourResult](
    "pour",
    "Pour",
    POUR_VERSION,
    (PART, METAL, CORES, MOULD, FREEZE),
    (FREEZE,),
    reads=_read_by_pour,
    run=_run_pour,
    findings=_pour_findings,
    check=lambda results, _model: {"pour": pour_said.pour_summary(results)},
    keys=pour_said.pour_keys,
    papers=pour_said.pour_papers,
    view="pounce.bench.stops.pour:VIEW",
    choices=POUR_CHOICES,
)


def _run_log(given: Given) -> LogResult:
    from pounce.logbook.stop import log_stop  # noqa: PLC0415  a room is loaded when it works

    return log_stop(given.job.log, log_said.given_log(given.job, given.results), given.progress)


def _log_findings(results: Results) -> tuple[Finding, ...]:
    made = results.get(LOGBOOK)
    return () if made is None else made.findings


# Whatever stop could not work, the logbook says what it can.
LOGBOOK: Final = Stop[LogResult](
    "logbook",
    "Logbook",
    LOG_VERSION,
    (PART, METAL),
    (POUR, PROOF, PATTERN),
    # what was chosen otherwise since the last pour may be any of it
    reads=lambda job: (msgspec.structs.replace(job, accepted=()), stamp()),
    run=_run_log,
    findings=_log_findings,
    check=lambda results, _model: {"log": log_keys_said.log_summary(results)},
    keys=log_keys_said.log_keys,
    sheet=log_keys_said.log_rows,
    view="pounce.bench.stops.logbook:VIEW",
    choices=LOG_CHOICES,
    hears=(PARTING, STOCK, CORES, PATTERN, PROOF, MOULD, FREEZE, POUR),
)

STOPS: Final[tuple[Stop[object], ...]] = (
    PART,
    METAL,
    DRAW,
    PARTING,
    HOLLOWS,
    STOCK,
    CORES,
    SETTING,
    PATTERN,
    RAMMED,
    RAMMED_DRAW,
    RAMMED_PARTING,
    PROOF,
    MOULD,
    FREEZE,
    POUR,
    LOGBOOK,
)


def steps() -> tuple[Stop[object], ...]:
    """All steps in the order they are worked, those without a card among them, those named in the environment after
    them, and last what hangs on all.
    """
    return (*STOPS, *_more(os.environ.get(MORE, "")), CAUSES)


def stops() -> tuple[Stop[object], ...]:
    """The stops of the route in order: the steps that have a card."""
    return tuple(step for step in steps() if step.shown)


@cache
def _more(names: str) -> tuple[Stop[object], ...]:
    found = []
    for name in filter(None, names.split(",")):
        module, _, record = name.partition(":")
        made = getattr(importlib.import_module(module), record)
        assert isinstance(made, Stop), f"{name} is no stop"
        found.append(made)
    return tuple(found)


def ids() -> tuple[str, ...]:
    """The ids of all stops in the order of the route."""
    return tuple(stop.id for stop in stops())


def stop_of(stop_id: str) -> Stop[object]:
    """The stop with this id. KeyError without one."""
    for stop in stops():
        if stop.id == stop_id:
            return stop
    raise KeyError(stop_id)
