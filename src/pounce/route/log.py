"""The logbook on the route: what of a job speaks of defects, what is kept beside a pour, what one change would do."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

import msgspec
import numpy as np

from pounce.base.finding import Change
from pounce.base.units import count_words, plain, quantity
from pounce.cores.changes import StandOnEnd
from pounce.feeding.changes import MoreGates, PourAt, SetFeeding
from pounce.feeding.values import FreezeResult
from pounce.job.choose import HOLDERS
from pounce.job.job import Job
from pounce.job.log_edits import chosen_of, revision_of
from pounce.logbook.facts import Facts, Neck, Spot
from pounce.logbook.said import LogResult
from pounce.metals.defects import defects
from pounce.metals.melt import melt
from pounce.parting.changes import SetUpsideDown
from pounce.pour.changes import TakeCrucible
from pounce.pour.values import PourResult
from pounce.rig.values import FeederChoice, RigResult
from pounce.route.results import Results
from pounce.stock.changes import AddUsual
from pounce.stock.values import Fillets, LineKind

if TYPE_CHECKING:
    from pounce.logbook.sizes import On
    from pounce.logbook.stop import Given as Logged


def log_of(results: Results) -> LogResult | None:
    """What the logbook says, where it is known."""
    found = results.found.get("logbook")
    assert found is None or isinstance(found, LogResult)
    return found


def _rig(results: Results) -> RigResult | None:
    found = results.found.get("mould")
    return found if isinstance(found, RigResult) else None


def _freeze(results: Results) -> FreezeResult | None:
    found = results.found.get("freeze")
    return found if isinstance(found, FreezeResult) else None


def _pour(results: Results) -> PourResult | None:
    found = results.found.get("pour")
    return found if isinstance(found, PourResult) else None


# --- what the stop works from ----------------------------------------------------------------------------------------


def given_log(job: Job, r: Results) -> "Logged":
    """What the stop works from; what no stop could say is left out."""
    from pounce.logbook.stop import Given as Logged  # noqa: PLC0415  a room is loaded when it works

    method, pour = r.metal, _pour(r)
    assert method is not None, "the stop needs it"
    used = {name: value for name in ("ram_min_l", "melt_percent", "loss_percent") if (value := getattr(job.pour, name))}
    if job.pour.fall_from_c is not None and job.pour.fall_to_c is not None and job.pour.fall_s:
        used["falls_c_min"] = 60.0 * (job.pour.fall_from_c - job.pour.fall_to_c) / job.pour.fall_s
    if job.stock.print_shrink_percent:
        used["growth_percent"] = -job.stock.print_shrink_percent
    lines = () if r.stock is None else r.stock.lines
    stocks = tuple((one.asked, one.figures["stock_mm"]) for one in lines if one.kind is LineKind.MACHINING and one.on)
    return Logged(
        job.name,
        method,
        job.stock.tolerance,
        on_of(r),
        facts_of(r),
        chosen(job),
        revision_of(job),
        used,
        job.pour.charge,
        stocks,
        None if pour is None else pour.lift_c,
        ways_of(r),
    )


def chosen(job: Job) -> dict[str, str]:
    """What was chosen and is not the usual, by name."""
    from pounce.route.stops import stops  # noqa: PLC0415  the stops run this

    # how the pattern is made and what is kept of it change no casting
    cast = [one for one in stops() if one.id in HOLDERS and one.id not in ("pattern", "logbook")]
    return chosen_of(job, tuple((one.id, one.title, HOLDERS[one.id], one.choices) for one in cast))


def on_of(r: Results) -> "On | None":
    """Where sizes are taken; None where Stock could not work."""
    from pounce.logbook.sizes import On  # noqa: PLC0415  a room is loaded when it works

    if r.part is None or r.stock is None or r.draw is None or r.parting is None:
        return None
    cores = () if r.cores is None else r.cores.cores
    x, y, z = (axis.hindered != "" for axis in r.job.stock.axes)
    return On(
        r.part.mesh,
        r.stock,
        r.stock.rammed_factors,
        np.asarray(r.draw.direction, float),
        (x, y, z),
        tuple(one.at_mm for one in cores),
        r.parting.kind != "flat-back",
    )


def facts_of(r: Results) -> Facts:
    """What the job's own figures say of defects."""
    rig, freeze, pour, method = _rig(r), _freeze(r), _pour(r), r.metal
    cores = None if r.cores is None else len(r.cores.cores)
    opened = 0 if r.cores is None else sum(one.core is not None and not one.informational for one in r.cores.findings)
    torn = r.proof.torn_mm3 if r.proof is not None else None if r.parting is None else r.parting.trial.torn_mm3
    fills_c = None if freeze is None else freeze.fill.fills_c
    meets = [] if freeze is None else [one.front_c for one in freeze.fill.meets]
    return Facts(
        long_mm=0.0 if r.part is None else r.part.mesh.diagonal,
        frozen=freeze is not None,
        spots=() if freeze is None or rig is None else _spots(rig, freeze),
        necks=() if freeze is None or rig is None else _necks(rig, freeze),
        filled=freeze is not None,
        spare_c=None if freeze is None or fills_c is None else freeze.pour_c - fills_c,
        short=freeze is not None and freeze.fill.short,
        meets_c=min(meets) - method.metal.liquidus.value if meets and method is not None else None,
        gate_m_s=None if rig is None else rig.flow.gate_speed_m_s,
        limit_m_s=None if rig is None or not rig.flow.limit_m_s else rig.flow.limit_m_s,
        fills=None if pour is None else pour.fills,
        broken=pour is not None and any(one.code == "two-goes" for one in pour.findings),
        cores=cores,
        cores_open=opened,
        torn_mm3=torn,
        add_kg=None if rig is None else rig.weights.add_kg,
        aim_c=None if pour is None else pour.first.at_c,
        lift_c=None if pour is None else pour.lift_c,
        most_c=None if pour is None else pour.most_c,
        ram_min_l=melt().work.ram_litre.value if r.job.pour.ram_min_l is None else r.job.pour.ram_min_l,
        held=bool(cores) or any(axis.hindered for axis in r.job.stock.axes),
        rounded=any(isinstance(line, Fillets) and line.on for line in r.job.stock.lines),
        water=method is not None and method.mould.bond == "damp",
    )


def _spots(rig: RigResult, freeze: FreezeResult) -> tuple[Spot, ...]:
    """Places of this job's castings, on its part."""
    from pounce.rig.hands import to_part  # noqa: PLC0415  a room is loaded when it works

    out = []
    for one in freeze.places:
        casting = rig.castings[one.casting]
        if casting.lot == 0 and (one.counts or one.wants):
            at = to_part(rig, casting, np.array(one.at_mm))
            out.append(Spot(at, one.name, one.seconds, one.cut_s, _named(one.fed_by), one.wants))
    return tuple(out)


def _named(fed_by: str) -> str:
    return "" if not fed_by else f"{fed_by[0].upper()}{fed_by[1:]}".replace("-", " ")


def _necks(rig: RigResult, freeze: FreezeResult) -> tuple[Neck, ...]:
    """What leads feeding metal in: necks of feeders, and gates where they feed."""
    from pounce.rig.hands import to_part  # noqa: PLC0415  a room is loaded when it works

    out = []
    for one in freeze.feeders:
        casting = rig.castings[one.casting]
        if casting.lot == 0:
            at = to_part(rig, casting, np.array(one.at_mm))
            out.append(Neck(f"The neck of feeder {one.number + 1}", at, one.neck_s, one.feeds_s))
    feeds = max((one.seconds for one in freeze.places if one.counts), default=0.0)
    for gate in freeze.gates:
        casting = rig.castings[gate.casting]
        if casting.lot == 0 and any(one.fed_by.startswith("gate") for one in freeze.places):
            at = to_part(rig, casting, np.array(gate.at_mm))
            out.append(Neck("The gate", at, gate.seconds, feeds))
    return tuple(out)


def ways_of(r: Results) -> dict[str, tuple[Change, str]]:
    """The one change of the job that each cause asks for, where a choice stands for it, and what it is called."""
    return {**_heat_ways(r), **_mould_ways(r), **_sand_ways(r)}


def _heat_ways(r: Results) -> dict[str, tuple[Change, str]]:
    out: dict[str, tuple[Change, str]] = {}
    freeze, method = _freeze(r), r.metal
    if freeze is None or method is None:
        return out
    most = max(method.metal.pouring.high, freeze.pour_c)
    hotter = round(min(freeze.pour_c + defects().limits.hotter.value, most) / 5.0) * 5.0
    if hotter > freeze.pour_c:
        out["thin-cool"] = out["cold-shut"] = PourAt(hotter), f"Pour at {hotter:.0f} °C"
    cure = freeze.cure
    if cure is not None and (cure.feeders or cure.chills):
        words = _cure_words(len(cure.feeders), len(cure.chills))
        out["feeder-first"] = SetFeeding(cure.feeders, cure.chills), words
    return out


def _mould_ways(r: Results) -> dict[str, tuple[Change, str]]:
    out: dict[str, tuple[Change, str]] = {}
    rig, pour, own = _rig(r), _pour(r), r.job.rig
    if rig is not None and rig.gates:
        each = max(1, round(len(rig.gates) / max(len(rig.castings), 1)))
        more = f"{count_words(each + 1).capitalize()} gates in place of {count_words(each)}"
        out["gate-speed"] = out["sand-wash"] = MoreGates(each + 1), more
    wide = tuple(_wider(one) for one in own.feeders)
    if wide != own.feeders:
        out["gate-frozen"] = SetFeeding(wide, own.chills), "Widen the necks"
    for finding in () if pour is None else pour.findings:
        for remedy in finding.remedies:
            if isinstance(remedy.change, TakeCrucible):
                out["two-goes"] = remedy.change, remedy.text
    return out


def _sand_ways(r: Results) -> dict[str, tuple[Change, str]]:
    out: dict[str, tuple[Change, str]] = {}
    if r.parting is not None and r.parting.kind == "flat-back":
        out["hanging-sand"] = SetUpsideDown(not r.job.parting.upside_down), "Ram it the other way up"
    if r.cores is not None and r.cores.cores and not r.cores.on_end:
        out["core-shift"] = StandOnEnd(), "Pour it on end"
    if not any(isinstance(line, Fillets) and line.on for line in r.job.stock.lines):
        out["hot-tear"] = AddUsual("fillets"), "Round the inside corners"
    return out


def _wider(feeder: FeederChoice) -> FeederChoice:
    """Its neck wider by a step, no wider than itself; 0 is a neck by the table, which has no step."""
    neck = min(defects().limits.wider.value * feeder.neck_mm, feeder.wide_mm)
    return msgspec.structs.replace(feeder, neck_mm=neck)


def _cure_words(feeders: int, chills: int) -> str:
    said = []
    if feeders:
        said.append("a feeder" if feeders == 1 else f"{count_words(feeders)} feeders")
    if chills:
        said.append("a chill" if chills == 1 else f"{count_words(chills)} chills")
    return f"Set {' and '.join(said)}"


# --- what one change would do ----------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Effect:
    """A figure before and after a change: its name, both as text, and whether they differ."""

    name: str
    was: str
    becomes: str

    @property
    def differs(self) -> bool:
        """Whether it changes."""
        return self.was != self.becomes


def effects(before: Results, after: Results) -> tuple[Effect, ...]:
    """What a change did to the figures that speak of defects."""
    was, becomes = _figures(before), _figures(after)
    return tuple(Effect(name, was.get(name, "none"), text) for name, text in becomes.items())


def _figures(r: Results) -> dict[str, str]:
    """The figures that a change at the mould or the pour moves, as text, by name."""
    facts, out = facts_of(r), {}
    wanting = [one for one in facts.spots if one.wants]
    if facts.frozen:
        out["Places that want a feeder"] = count_words(len(wanting))
    if facts.spots:
        out["The last sets after"] = quantity("at_s", max(one.sets_s for one in facts.spots))
    if facts.necks:
        out["The first neck sets after"] = quantity("at_s", min(one.sets_s for one in facts.necks))
    if facts.spare_c is not None:
        out["To spare at the last end"] = f"{round(facts.spare_c)} K"
    if facts.gate_m_s is not None:
        out["Speed in the gates"] = f"{plain(facts.gate_m_s, 2)} m/s"
    if facts.torn_mm3 is not None:
        out["Sand torn"] = quantity("torn_mm3", facts.torn_mm3)
    pour = _pour(r)
    if pour is not None:
        out["Metal in the mould"] = quantity("poured_kg", pour.poured_kg)
        out["Fills of the crucible"] = count_words(pour.fills)
    return out
