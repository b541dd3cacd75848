"""The Parting stop, first form: a flat joint, its height found by one scan or given."""

from dataclasses import replace

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.tick import Tick
from pounce.base.units import degrees, length
from pounce.draw.candidates import best_height, flat_share
from pounce.draw.scan import locked_at
from pounce.draw.values import DrawResult
from pounce.metals.method import Method
from pounce.part.model import PartResult
from pounce.parting.regions import grouped
from pounce.parting.states import judged_at, scan_pieces
from pounce.parting.values import Judged, PartingChoices, PartingResult, Region, State
from pounce.solid.frame import across, axis_name
from pounce.solid.section import cut

# Locked crumbs under this share of the surface are within what a mesh can tell.
FREE = 5e-4


def parting_stop(choices: PartingChoices, part: PartResult, method: Method, draw: DrawResult, tick: Tick) -> PartingResult:
    """States of all faces with cope and drag parted at the given or the best height.

    UserFault when the given height lies off the part.
    """
    mesh, direction = part.mesh, draw.direction
    slack = 1e-4 * draw.depth_mm
    pieces = scan_pieces(mesh, draw.reach, direction)
    tick(0.2, "Trying heights")
    best, _ = best_height(pieces, draw.low_mm, draw.high_mm, mesh, direction)
    height = best if choices.height_mm is None else choices.height_mm
    if not draw.low_mm - slack <= height <= draw.high_mm + slack:
        raise UserFault(
            f"A parting at {length(height)} misses the part, which runs from {length(draw.low_mm)} to "
            f"{length(draw.high_mm)} along the draw.",
            "Choose a height between them.",
        )
    tick(0.5, "Judging every face")
    judged = judged_at(mesh, draw.reach, direction, height, method.required_draft_deg, slack)
    regions, piece_region = grouped(mesh, judged, direction)
    judged = replace(judged, region=piece_region)
    areas = _areas(judged)
    by_state = [float(areas[judged.state == state].sum()) for state in State]
    at_end = min(abs(height - draw.low_mm), abs(height - draw.high_mm)) <= slack
    kind = "flat-back" if at_end and flat_share(mesh, direction, height, slack) > 0.02 else "split"
    outline, size = _outline(part, draw, height, kind, slack)
    drawing = judged.state != State.LOCKED
    tick(0.9, "Naming the places")
    result = PartingResult(
        kind=kind,
        chosen_by="search" if choices.height_mm is None else "user",
        height_mm=height,
        best_height_mm=best,
        outline=outline,
        length_mm=size,
        judged=judged,
        clean_mm2=by_state[State.CLEAN],
        tight_mm2=by_state[State.TIGHT],
        locked_mm2=by_state[State.LOCKED],
        locked_any_mm2=float(pieces.areas[~pieces.up & ~pieces.down].sum()),
        least_draft_deg=float(judged.draft_deg[drawing].min()) if drawing.any() else 0.0,
        required_draft_deg=method.required_draft_deg,
        cope_depth_mm=draw.high_mm - height,
        drag_depth_mm=height - draw.low_mm,
        regions=regions,
        draw_findings=(),
        findings=(),
    )
    best_locked = locked_at(pieces, best, slack)
    result = replace(
        result,
        draw_findings=tuple(_draw_findings(result, method, draw, mesh.area)),
        findings=tuple(_parting_findings(result, best_locked, mesh.area)),
    )
    tick(1.0, "Parting found")
    return result


def _areas(judged: Judged) -> np.ndarray:
    c = judged.corners
    return np.asarray(0.5 * np.linalg.norm(np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0]), axis=1))


def _outline(
    part: PartResult, draw: DrawResult, height: float, kind: str, slack: float
) -> tuple[tuple[np.ndarray, ...], float]:
    """The loops where the joint meets the part, in space, and their length in mm."""
    u, v = across(draw.direction)
    inside = height
    if kind == "flat-back":  # just inside the part, so that the cut meets walls and not the flat itself
        inside += slack if abs(height - draw.low_mm) <= abs(height - draw.high_mm) else -slack
    loops = [loop[:, :1] * u + loop[:, 1:] * v + draw.direction * height for loop in cut(part.mesh, u, v, inside).loops]
    size = sum(float(np.linalg.norm(np.diff(loop, axis=0), axis=1).sum()) for loop in loops)
    return tuple(loops), size


def _draw_findings(result: PartingResult, method: Method, draw: DrawResult, total: float) -> list[Finding]:
    found: list[Finding] = []
    if not method.pattern.draws:
        return [
            Finding(
                "nothing-draws",
                Severity.NOTE,
                "A burned-out pattern stays in the sand, so nothing has to draw.",
                noun="nothing has to draw",
                source=method.pattern.draft.source,
            )
        ]
    shorts: list[Region] = []
    for index, region in enumerate(result.regions):
        if region.state is State.LOCKED:
            found.append(_locked(index, region, result, draw))
        elif _covered_by_a_grain(region, method):
            shorts.append(region)
        else:
            found.append(_tight(index, region, method))
    if shorts:
        found.append(_short(shorts, method))
    named = sum(region.area_mm2 for region in result.regions)
    rest = result.locked_mm2 + result.tight_mm2 - named
    if rest > FREE * total and len(found) < 3:
        found.append(
            Finding(
                "crumbs",
                Severity.NOTE,
                "Small places beside these are tight or lock too, each under what a mesh can tell.",
                noun="Small places",
                figures={"area_mm2": rest},
                main="area_mm2",
            )
        )
    return found


def _locked(index: int, region: Region, result: PartingResult, draw: DrawResult) -> Finding:
    many = region.count > 1
    how = {
        "across": "lie across the draw and hold sand" if many else "lies across the draw and holds sand",
        "slanting": "slant to the draw and hold sand" if many else "slants to the draw and holds sand",
        "upright": "close in and hold sand" if many else "closes in and holds sand",
    }.get(region.note, "hold sand when the mould opens" if many else "holds sand when the mould opens")
    remedies: list[Remedy] = []
    here = result.locked_any_mm2
    for candidate in draw.candidates:
        name = axis_name(np.array(candidate.direction))
        same = abs(float(np.dot(candidate.direction, draw.direction))) > 0.999
        if not same and name is not None and candidate.locked_mm2 < 0.9 * here:
            remedies.append(Remedy("draw-other", f"Draw along {name[1]}", "draw", name))
            break
    if result.chosen_by == "user" and abs(result.best_height_mm - result.height_mm) > 1e-6:
        remedies.append(Remedy("parting-best", "Part at {best_height_mm}", "parting", None))
    remedies.append(Remedy("fill-or-core", "Fill it and drill later, or leave it to a core"))
    return Finding(
        "locked",
        Severity.WARN,
        f"The {region.name} {how}.",
        noun=region.name,
        place_mm=region.centre_mm,
        figures={
            "area_mm2": region.area_mm2,
            "depth_mm": region.depth_mm,
            "best_height_mm": result.best_height_mm,
            "diameter_mm": region.diameter_mm,
        },
        main="area_mm2",
        remedies=tuple(remedies),
        region=index,
        mark="locked",
    )


def _tight(index: int, region: Region, method: Method) -> Finding:
    least, asked = region.least_draft_deg, method.required_draft_deg
    many, it = region.count > 1, "They want" if region.count > 1 else "It wants"
    if region.note == "upright" and least < 0.25:
        text = f"The {region.name} {'stand' if many else 'stands'} upright in the sand. {it} {degrees(asked)}, or a core."
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
        remedies.append(Remedy("ask-less", f"Ask for {degrees(accepted)} only", "draft", float(accepted)))
    remedies.append(Remedy("taper", f"Taper it {degrees(asked)} where it is drawn"))
    return Finding(
        "tight",
        Severity.WARN,
        text,
        noun=region.name,
        place_mm=region.centre_mm,
        figures={
            "least_draft_deg": least,
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


def _covered_by_a_grain(region: Region, method: Method) -> bool:
    """Whether the taper that a tight place lacks, over its depth, is under half a grain of the sand."""
    lacking = np.radians(method.required_draft_deg - region.least_draft_deg)
    return bool(region.depth_mm * np.tan(lacking) < method.mould.grain.value / 2.0)


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


def _parting_findings(result: PartingResult, best_locked: float, total: float) -> list[Finding]:
    found: list[Finding] = []
    if result.chosen_by == "user" and result.locked_mm2 > best_locked + FREE * total:
        found.append(
            Finding(
                "parting-not-best",
                Severity.WARN,
                "A joint at {best_height_mm} would lock less: {best_locked_mm2}.",
                noun="lock less",
                figures={
                    "locked_mm2": result.locked_mm2,
                    "best_locked_mm2": best_locked,
                    "best_height_mm": result.best_height_mm,
                },
                main="locked_mm2",
                remedies=(Remedy("parting-best", "Part at {best_height_mm}", "parting", None),),
            )
        )
    if result.locked_any_mm2 > FREE * total:
        found.append(
            Finding(
                "no-flat-joint-frees-all",
                Severity.WARN,
                "No flat joint frees every face along this draw. What is left needs a core, filling or a loose piece.",
                noun="No flat joint frees every face",
                figures={"locked_any_parting_mm2": result.locked_any_mm2},
                main="locked_any_parting_mm2",
            )
        )
    if len(result.outline) > 1:
        found.append(
            Finding(
                "joint-in-islands",
                Severity.NOTE,
                f"The joint meets the part in {len(result.outline)} outlines.",
                noun=f"{len(result.outline)} outlines",
                figures={"loops": float(len(result.outline))},
                main="loops",
            )
        )
    if result.kind == "flat-back":
        found.append(
            Finding(
                "flat-back",
                Severity.NOTE,
                "The flat back lies on the joint, so the pattern stays whole.",
                noun="flat back",
                figures={"depth_mm": max(result.cope_depth_mm, result.drag_depth_mm)},
                main="depth_mm",
            )
        )
    elif result.locked_mm2 <= FREE * total:
        found.append(
            Finding(
                "both-halves-leave",
                Severity.NOTE,
                "Both halves of the mould leave the pattern.",
                noun="Both halves",
                figures={"cope_depth_mm": result.cope_depth_mm, "drag_depth_mm": result.drag_depth_mm},
                main="cope_depth_mm",
            )
        )
    return found
