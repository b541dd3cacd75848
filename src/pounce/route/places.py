"""What the Draw stop says: every locked or tight place with its cures, with what was asked for it, and loose pieces.

A step derived once Parting has judged the places: whether a face leaves the sand hangs on the joint, and what was
asked of a place on the lines of Stock and the hollows of Cores.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import degrees
from pounce.draw.changes import SetDraw
from pounce.draw.values import DrawResult
from pounce.job.job import Job
from pounce.metals.changes import SetDraft
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.parting.changes import AskFor, AskNoMore, KeepWhole, SetGroove, SetHeight
from pounce.parting.values import FREE, Kind, PartingResult, Region, Ringed, State
from pounce.route.results import Results
from pounce.solid.frame import axis_name
from pounce.stock.values import Draft, Fill


@dataclass(frozen=True)
class Wish:
    """What was asked at a place (mm, on the part): a hole filled, a core, a wall tapered."""

    kind: Literal["fill", "core", "taper"]
    at_mm: tuple[float, float, float]


def wishes_of(job: Job) -> tuple[Wish, ...]:
    """What lines of Stock and decisions on hollows ask at a place."""
    lines = [line for line in job.stock.lines if line.on]
    return (
        *(Wish("fill", line.at_mm) for line in lines if isinstance(line, Fill) and line.at_mm is not None),
        *(Wish("taper", place) for line in lines if isinstance(line, Draft) for place in line.only),
        *(Wish("core", hollow.at_mm) for hollow in job.cores.hollows if hollow.make == "core"),
    )


def place_findings(results: Results, wishes: tuple[Wish, ...] | None = None) -> tuple[Finding, ...]:
    """Every place that locks or is tight, with its cures; none while the joint is not there. ``wishes`` what was asked
    of places (None: what the job says).
    """
    result, method, draw, part = results.parting, results.metal, results.draw, results.part
    if result is None or method is None or draw is None or part is None:
        return ()
    wished = wishes_of(results.job) if wishes is None else wishes
    return tuple(_by_place(result, method, draw, part.mesh.area, wished))


def _nothing_draws(method: Method) -> Finding:
    return Finding(
        "nothing-draws",
        Severity.NOTE,
        "Foam that is dug out of its hardened mould leaves in pieces, so nothing has to draw: part the "
        "mould where hands reach every hollow."
        if method.pattern.dug
        else "A burned-out pattern stays in the sand, so nothing has to draw.",
        noun="nothing has to draw",
        source=method.pattern.draft.source,
    )


def _by_place(
    result: PartingResult, method: Method, draw: DrawResult, total: float, wishes: tuple[Wish, ...]
) -> list[Finding]:
    found: list[Finding] = []
    if result.ringed is not None:
        found.append(_ringed(result.ringed))
    if not method.pattern.draws:
        return [_nothing_draws(method)]
    shorts: list[Region] = []
    near: list[Region] = []
    crumbs: list[Region] = []
    wished = _wished(result, wishes)
    wound = _wound(result)
    found += wound
    for index, region in enumerate(result.regions):
        if region.kind is Kind.GROOVE and result.ringed is not None and result.ringed.core_at is not None:
            continue  # said above
        if index in wished:
            found.append(_wish_kept(index, region, wished[index]))
        elif region.state is State.LOCKED and _is_loose(region, result):
            found.append(_loose_kept(index, region, result))
        elif _is_crumb(region, total):
            crumbs.append(region)
        elif region.state is State.LOCKED:
            found += [] if wound else [_locked(index, region, result, draw)]
        elif _covered_by_a_grain(region, method):
            shorts.append(region)
        elif region.least_draft_deg >= limits()["draft_nearly"].value * region.asked_deg:
            near.append(region)
        else:
            found.append(_tight(index, region, method))
    found += [*_all_of(shorts, method, _short), *_all_of(near, method, _near)]
    named = sum(region.area_mm2 for region in result.regions)
    rest = result.locked_mm2 + result.tight_mm2 - named
    crumbs_mm2 = sum(region.area_mm2 for region in crumbs) + (rest if len(found) < 3 else 0.0)
    if crumbs or crumbs_mm2 > FREE * total:
        found.append(
            Finding(
                "crumbs",
                Severity.NOTE,
                "Small places are tight or lock too, each under what a mesh can tell or sand can fill; rapping frees "
                "them.",
                noun="Small places",
                figures={"area_mm2": crumbs_mm2},
                main="area_mm2",
            )
        )
    return found


def _all_of(places: list[Region], method: Method, told: Callable[[list[Region], Method], Finding]) -> list[Finding]:
    return [told(places, method)] if places else []


def _wound(result: PartingResult) -> list[Finding]:
    """Teeth or a thread that wind round the draw: every place of them holds sand for the one reason."""
    if not result.lead_mm:
        return []
    figures = {"lead_mm": abs(result.lead_mm), "right_hand": float(result.lead_mm > 0.0)}
    return [
        Finding(
            "winds",
            Severity.WARN,
            "Its walls wind round the draw and hold sand: turn it as it is drawn, one turn in {lead_mm}, through a "
            "plate cut to its outline; or cast it without them and cut them.",
            noun="wind round the draw",
            figures={**figures, "area_mm2": result.locked_mm2},
            main="area_mm2",
            mark="locked",
            remedies=(
                Remedy("turn-out", "Turn it out through a plate"),
                Remedy("cut-teeth", "Cast the blank and cut it"),
            ),
            source="draft-practice",
        )
    ]


def _locked(index: int, region: Region, result: PartingResult, draw: DrawResult) -> Finding:
    many = region.count > 1
    how = {
        "across": "lie across the draw and hold sand" if many else "lies across the draw and holds sand",
        "slanting": "slant to the draw and hold sand" if many else "slants to the draw and holds sand",
        "upright": "close in and hold sand" if many else "closes in and holds sand",
    }.get(region.note, "hold sand when the mould opens" if many else "holds sand when the mould opens")
    remedies: list[Remedy] = list(result.cures.get(index, ()))
    here = result.locked_any_mm2
    for candidate in draw.candidates:
        name = axis_name(np.array(candidate.direction))
        same = abs(float(np.dot(candidate.direction, draw.direction))) > 0.999
        if not same and name is not None and candidate.any_parting_mm2 < 0.9 * here:
            x, y, z = (float(round(side)) for side in candidate.direction)
            remedies.append(Remedy("draw-other", f"Draw along {name[1]}", SetDraw((x, y, z))))
            break
    if result.chosen_by == "user" and result.joint.level and abs(result.best_height_mm - result.height_mm) > 1e-6:
        remedies.append(Remedy("parting-best", "Part at {best_height_mm}", SetHeight(None)))
    at = region.centre_mm
    grooves = sum(one.count for one in result.regions if one.kind is Kind.GROOVE)
    if region.kind is Kind.GROOVE:
        if grooves == 1 and result.joint.level:
            remedies.append(Remedy("ring-core", "Make it by a ring core", SetGroove("ring-core")))
            remedies.append(Remedy("cheek", "Make it by a cheek", SetGroove("cheek")))
        remedies.append(Remedy("fill", "Fill it and turn it", AskFor("fill", at)))
    elif region.kind not in (Kind.ROUND, Kind.FACE):
        hole = region.kind.is_hole
        remedies.append(Remedy("fill", "Fill this hole" if hole else "Fill it", AskFor("fill", at)))
        remedies.append(Remedy("core", "Make a core", AskFor("core", at)))
    else:  # what stands out is built up behind, down to the joint
        remedies.append(Remedy("fill", "Fill under it", AskFor("fill", at)))
    text = f"The {region.name} {how}."
    if region.kind is Kind.GROOVE:
        text += (
            " A ring core of {ring_mm3} of sand can make it, or a cheek {cheek_mm} high as third part of the "
            "flask; or fill it and turn it after casting."
            if grooves == 1
            else " Draw it another way, or fill the grooves and turn them after casting."
        )
    return Finding(
        "locked",
        Severity.WARN,
        text,
        noun=region.name,
        place_mm=region.centre_mm,
        figures={
            "area_mm2": region.area_mm2,
            "depth_mm": region.depth_mm,
            "best_height_mm": result.best_height_mm,
            "diameter_mm": region.diameter_mm,
            **({"ring_mm3": region.ring_mm3, "cheek_mm": region.cheek_mm} if region.kind is Kind.GROOVE else {}),
        },
        main="area_mm2",
        remedies=tuple(remedies),
        region=index,
        mark="locked",
    )


def _tight(index: int, region: Region, method: Method) -> Finding:
    least, asked = region.least_draft_deg, region.asked_deg
    core = ", or a core" if region.kind.is_hole else ""
    many, it = region.count > 1, "They want" if region.count > 1 else "It wants"
    if region.note == "upright" and least < 0.25:
        text = f"The {region.name} {'stand' if many else 'stands'} upright in the sand. {it} {degrees(asked)}{core}."
    elif least < -0.05:
        verb = "lean" if many else "leans"
        text = f"The {region.name} {verb} back a little, within what a mesh can tell. {it} {degrees(asked)}."
    elif least < 0.25:
        text = f"The {region.name} {'have' if many else 'has'} no draft. {it} {degrees(asked)}."
    else:
        text = f"The {region.name} {'lean' if many else 'leans'} too little. {it} {degrees(asked)}."
    remedies: list[Remedy] = []
    accepted = np.floor(least * 2.0) / 2.0
    if accepted >= max(0.5, method.pattern.draft.low) and accepted < asked:
        remedies.append(Remedy("ask-less", f"Ask for {degrees(accepted)} only", SetDraft(float(accepted))))
    remedies.append(Remedy("taper", f"Taper it {degrees(asked)}", AskFor("taper", region.centre_mm)))
    return Finding(
        "tight",
        Severity.WARN,
        text,
        noun=region.name,
        place_mm=region.centre_mm,
        figures={
            "least_draft_deg": least,
            "asked_draft_deg": asked,
            "area_mm2": region.area_mm2,
            "depth_mm": region.depth_mm,
            "diameter_mm": region.diameter_mm,
        },
        main="least_draft_deg",
        remedies=tuple(remedies),
        source=method.pattern.draft.source,
        region=index,
        mark="tight",
    )


def _is_crumb(region: Region, total: float) -> bool:
    """Whether a place holds no sand, or drags over so little of the surface that rapping frees it."""
    if region.state is State.LOCKED:
        return not region.holds(total)
    return bool(region.area_mm2 < min(limits()["tight_crumb"].value * total, limits()["tight_crumb_most"].value))


def _covered_by_a_grain(region: Region, method: Method) -> bool:
    """Whether the taper that a tight place lacks, over its depth, is under half a grain of the sand."""
    lacking = np.radians(region.asked_deg - region.least_draft_deg)
    return bool(region.depth_mm * np.tan(lacking) < method.mould.grain.value * limits()["draft_grains"].value)


def _near(near: list[Region], method: Method) -> Finding:
    places = sum(region.count for region in near)
    what = "A wall leans" if places == 1 else f"{places} walls lean"
    return Finding(
        "tight-but-near",
        Severity.NOTE,
        f"{what} a little less than is asked, {{least_draft_deg}} at least: the sand lets go of that.",
        noun=what.rpartition(" ")[0].removeprefix("A "),
        place_mm=near[0].centre_mm,
        figures={
            "area_mm2": sum(region.area_mm2 for region in near),
            "least_draft_deg": min(region.least_draft_deg for region in near),
        },
        main="area_mm2",
        source=method.pattern.draft.source,
        mark="tight",
    )


def _short(shorts: list[Region], method: Method) -> Finding:
    places = sum(region.count for region in shorts)
    what = "A short wall lacks" if places == 1 else f"{places} short walls lack"
    return Finding(
        "tight-but-short",
        Severity.NOTE,
        f"{what} draft over so little depth that half a grain of the sand covers it.",
        noun=what.rpartition(" ")[0].removeprefix("A "),
        place_mm=shorts[0].centre_mm,
        figures={"area_mm2": sum(region.area_mm2 for region in shorts), "depth_mm": max(r.depth_mm for r in shorts)},
        main="area_mm2",
        source=method.mould.grain.source,
        mark="tight",
    )


def _wished(result: PartingResult, wishes: tuple[Wish, ...]) -> dict[int, Wish]:
    """The wish for each region that has one: the region nearest to the place it was made for."""
    out: dict[int, Wish] = {}
    for wish in wishes:
        wanted = State.TIGHT if wish.kind == "taper" else State.LOCKED
        near = [
            (float(np.linalg.norm(np.subtract(region.centre_mm, wish.at_mm))), index)
            for index, region in enumerate(result.regions)
            if region.state is wanted
        ]
        if near and min(near)[0] < 0.5 * max(result.regions[min(near)[1]].area_mm2, 1e-9) ** 0.5 + 1e-6:
            out[min(near)[1]] = wish
    return out


def _wish_kept(index: int, region: Region, wish: Wish) -> Finding:
    many = region.count > 1
    said = {
        "fill": f"The {region.name} {'are' if many else 'is'} to be filled and "
        f"{'turned' if region.kind is Kind.GROOVE else 'drilled'} after casting. Stock will do it.",
        "core": f"The {region.name} {'are' if many else 'is'} left to a core.",
        "taper": f"The {region.name} {'are' if many else 'is'} to be tapered. Stock will do it.",
    }[wish.kind]
    return Finding(
        f"wish-{wish.kind}",
        Severity.NOTE,
        said,
        noun=region.name,
        place_mm=region.centre_mm,
        figures={"area_mm2": region.area_mm2, "diameter_mm": region.diameter_mm},
        main="area_mm2",
        remedies=(Remedy("unwish", "Ask no more", AskNoMore(wish.at_mm)),),
        region=index,
    )


def _is_loose(region: Region, result: PartingResult) -> bool:
    return any(np.allclose(piece.at_mm, region.centre_mm, atol=1e-6) for piece in result.loose)


def _loose_kept(index: int, region: Region, result: PartingResult) -> Finding:
    piece = next(piece for piece in result.loose if np.allclose(piece.at_mm, region.centre_mm, atol=1e-6))
    way = ", ".join(f"{value:.2f}" for value in piece.way)
    name = axis_name(np.array(piece.way).round(9))
    return Finding(
        "loose-piece",
        Severity.NOTE,
        f"The {region.name} {'leave' if region.count > 1 else 'leaves'} with a loose piece, drawn along "
        f"{name or way} into the "
        "cavity after the main pattern.",
        noun="loose piece",
        place_mm=region.centre_mm,
        figures={"travel_mm": piece.travel_mm, "diameter_mm": region.diameter_mm},
        main="travel_mm",
        remedies=(Remedy("no-loose", "Keep it whole", KeepWhole(region.centre_mm)),),
        region=index,
    )


def _ringed(made: Ringed) -> Finding:
    """What there is to say of it."""
    undo = Remedy("no-groove", "Ask no more", SetGroove(""))
    if made.trouble:
        return Finding(
            "groove-refused", Severity.WARN, made.trouble, noun="groove", place_mm=made.centre_mm, remedies=(undo,)
        )
    figures = {
        "cheek_mm": made.high_mm - made.low_mm,
        "neck_mm": made.neck_mm,
        "low_mm": made.low_mm,
        "high_mm": made.high_mm,
    }
    if made.how == "ring-core":
        text = "A ring core makes the groove round the outside; the mould parts through it."
        return Finding(
            "groove-core",
            Severity.NOTE,
            text,
            noun="ring core",
            place_mm=made.centre_mm,
            figures=figures,
            remedies=(undo,),
        )
    text = (
        "A cheek {cheek_mm} high between drag and cope makes the groove: the flask has three parts, and the "
        "pattern parts in the neck. Lift the cope, draw "
        "the upper part up, lift the cheek off, then draw the lower part."
    )
    return Finding(
        "cheek",
        Severity.NOTE,
        text,
        noun="cheek",
        place_mm=made.centre_mm,
        figures=figures,
        main="cheek_mm",
        remedies=(undo,),
    )
