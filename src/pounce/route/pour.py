"""What Pour came to, under the stable keys of ``pounce.pour/1``, and moulds of other jobs in the same melt."""

from datetime import datetime, tzinfo
from pathlib import Path
from typing import TYPE_CHECKING

from pounce.base.errors import UserFault
from pounce.base.progress import Progress, silent, span
from pounce.route.results import PaperFile, Plain, Results

if TYPE_CHECKING:
    from pounce.job.job import Job
    from pounce.pour.clock import Times
    from pounce.pour.values import Mouldful, PourResult


def pour_of(results: Results) -> "PourResult | None":
    """The pour, where it is known."""
    from pounce.pour.values import PourResult  # noqa: PLC0415  a room is loaded when it works

    found = results.found.get("pour")
    assert found is None or isinstance(found, PourResult)
    return found


def pour_summary(results: Results) -> Plain | None:
    """The few figures that a check shows; None where the pour could not be planned."""
    r = pour_of(results)
    if r is None:
        return None
    return {
        "charge_kg": r.charged.kg,
        "fills": r.fills,
        "crucible": r.pot.id,
        "window_c": [r.first.mould.low_c, r.first.mould.high_c],
        "lift_c": r.lift_c,
        "open_after_min": r.open_min,
        "before_min": r.before_min,
    }


def pour_keys(results: Results) -> Plain:
    """All of it as plain values; the steps in minutes from the beginning of the pour."""
    r = pour_of(results)
    assert r is not None, "its keys are asked for once the result is there"
    return {
        "schema": "pounce.pour/1",
        "poured_kg": r.poured_kg,
        "charge_kg": r.charged.kg,
        "charge": {
            "ingots": r.charged.ingots,
            "ingot_kg": r.charged.ingot_kg,
            "pieces_kg": r.charged.pieces_kg,
            "loss_percent": r.charged.loss_percent,
        },
        "left": {"kg": r.left.kg, "ingot_moulds": r.left.moulds, "heel_kg": r.left.heel_kg},
        "crucible": {"id": r.pot.id, "name": r.pot.name, "holds_kg": r.pot.holds_kg, "whole_kg": r.pot.whole_kg},
        "falls_c_min": r.pot.falls_k_min,
        "fills": r.fills,
        "window_c": [r.first.mould.low_c, r.first.mould.high_c],
        "lift_c": r.lift_c,
        "most_c": r.most_c,
        "moulds_c": [one.at_c for one in r.turns],
        "moulds": _moulds(r),
        "furnace": _furnace(r),
        "steps": _steps(r),
        "open_after_min": r.open_min,
        "open_c": r.open_c,
        "checklist": [{"id": one.id, "text": one.text, "why": one.why} for one in r.checks],
        "if_it_goes_wrong": list(r.wrong),
        "cautions": list(r.cautions),
    }


def _moulds(r: "PourResult") -> list[Plain]:
    return [
        {
            "name": one.mould.name,
            "kg": one.mould.kg,
            "wall_mm": one.mould.wall_mm,
            "fill": one.fill,
            "after_s": one.after_s,
            "at_c": one.at_c,
            "window_c": [one.mould.low_c, one.mould.high_c],
            "aim_c": one.mould.aim_c,
            "least_c": one.mould.least_c,
        }
        for one in r.turns
    ]


def _furnace(r: "PourResult") -> Plain:
    f = r.furnace
    return {
        "name": f.name,
        "warm_min": f.warm_min,
        "melt_min": f.melt_min,
        "share": f.share,
        "learned": f.learned,
        "heat_mj": f.heat_mj,
    }


def _steps(r: "PourResult") -> list[Plain]:
    return [
        {
            "id": one.step.id,
            "text": one.step.text,
            "start": one.start,
            "minutes": one.step.minutes,
            "after": list(one.step.after),
            "busy": one.step.kind.value,
            "critical": one.critical,
        }
        for one in r.placed
    ]


def at_clock(times: "Times", zone: tzinfo | None = None) -> Plain:
    """The steps with clock times, as local times with their offset."""

    def said(moment: datetime) -> str:
        return moment.astimezone(zone).isoformat(timespec="minutes")

    return {
        "pour": said(times.pour),
        "wanted": None if times.missed is None else said(times.missed),
        "steps": [
            {"id": one.step.id, "start": said(one.start), "end": said(one.end), "state": one.state.value}
            for one in times.steps
        ],
        "at_risk": [{"text": one.limit.text, "at": said(one.at), "over_min": one.over_min} for one in times.risks],
    }


def moulds_of(job: "Job", progress: Progress) -> "tuple[Mouldful, ...]":
    """One mould of each other job that is poured from the same melt. UserFault for one of another metal, one that is
    gone, or whose own route stops.
    """
    return tuple(_mouldful(Path(file), job, span(progress, 0.0, 0.9)) for file in job.pour.jobs)


def _mouldful(path: Path, job: "Job", progress: Progress) -> "Mouldful":
    from pounce.pour.stop import mouldful  # noqa: PLC0415  a room is loaded when it works
    from pounce.route.opening import open_any  # noqa: PLC0415  the route runs its stops, and this is called by one
    from pounce.route.pipeline import Pipeline  # noqa: PLC0415
    from pounce.route.stops import FREEZE, given_pour  # noqa: PLC0415

    if not path.is_file():
        raise UserFault(
            f"{path.stem}, which is to be poured from the same melt, is not where it was ({path.name}).",
            "Take it out, or add it again from where it is now.",
        )
    progress(0.0, f"Working out {path.stem}")
    other, model = open_any(path, silent)
    if other.method.metal != job.method.metal:
        raise UserFault(f"{other.name} is cast in another metal.", "Only jobs of one metal come from one melt.")
    results = Pipeline(light=True).run(other, model, progress, until=FREEZE)
    results.need(FREEZE)
    return mouldful(given_pour(other, results, ()))


def pour_papers(results: Results) -> tuple[PaperFile, ...]:
    """The pour card as a page of its own; none where a stop that it needs could not work."""
    from pounce.route.stops import POUR  # noqa: PLC0415  the route has its stops' papers from here

    if results.faults and results.get(POUR) is None:
        return ()
    return (PaperFile("pour-card.pdf", "sheet", "the pour on one page", "pounce.route.paper:pour_card"),)
