"""What the Draw and Parting stops say: every locked or tight place with its cures, and the joint itself."""

import numpy as np

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import degrees, plain
from pounce.draw.values import DrawResult
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.parting import sand
from pounce.parting.choose import ASTRAY, FREE, STUCK
from pounce.parting.cures import Cures
from pounce.parting.ground import Ground
from pounce.parting.values import PartingResult, Region, State, Wish
from pounce.solid.frame import axis_name
from pounce.solid.mesh import Mesh


def draw_findings(
    result: PartingResult, method: Method, draw: DrawResult, total: float, cures: dict[int, Cures]
) -> list[Finding]:
    """Every place that locks or is tight, with its cures."""
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
    wished = _wished(result)
    for index, region in enumerate(result.regions):
        if index in wished:
            found.append(_wish_kept(index, region, wished[index]))
        elif region.state is State.LOCKED and _is_loose(region, result):
            found.append(_loose_kept(index, region, result))
        elif region.state is State.LOCKED:
            found.append(_locked(index, region, result, draw, cures.get(index)))
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


def _locked(index: int, region: Region, result: PartingResult, draw: DrawResult, cures: Cures | None) -> Finding:
    many = region.count > 1
    how = {
        "across": "lie across the draw and hold sand" if many else "lies across the draw and holds sand",
        "slanting": "slant to the draw and hold sand" if many else "slants to the draw and holds sand",
        "upright": "close in and hold sand" if many else "closes in and holds sand",
    }.get(region.note, "hold sand when the mould opens" if many else "holds sand when the mould opens")
    remedies: list[Remedy] = [] if cures is None else list(cures.remedies)
    here = result.locked_any_mm2
    for candidate in draw.candidates:
        name = axis_name(np.array(candidate.direction))
        same = abs(float(np.dot(candidate.direction, draw.direction))) > 0.999
        if not same and name is not None and candidate.any_parting_mm2 < 0.9 * here:
            remedies.append(Remedy("draw-other", f"Draw along {name[1]}", "draw", name))
            break
    if result.chosen_by == "user" and result.joint.level and abs(result.best_height_mm - result.height_mm) > 1e-6:
        remedies.append(Remedy("parting-best", "Part at {best_height_mm}", "parting", None))
    at = region.centre_mm
    if not region.name.split(" {")[0].endswith(("round", "rounds")) and region.note != "flat":
        hole = region.diameter_mm > 0.0
        remedies.append(Remedy("fill", "Fill this hole" if hole else "Fill it", "wish", ("fill", *at)))
        remedies.append(Remedy("core", "Make a core", "wish", ("core", *at)))
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
    remedies.append(Remedy("taper", f"Taper it {degrees(asked)}", "wish", ("taper", *region.centre_mm)))
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


def _wished(result: PartingResult) -> dict[int, Wish]:
    """The wish for each region that has one: the region nearest to the place it was made for."""
    out: dict[int, Wish] = {}
    for wish in result.wishes:
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
        "fill": f"The {region.name} {'are' if many else 'is'} to be filled and drilled after casting. Stock will do it.",
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
        remedies=(Remedy("unwish", "Ask no more", "unwish", ("", *wish.at_mm)),),
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
        f"The {region.name} {'leave' if region.count > 1 else 'leaves'} with a loose piece, drawn along {name or way} into the "
        "cavity after the main pattern.",
        noun="loose piece",
        place_mm=region.centre_mm,
        figures={"travel_mm": piece.travel_mm, "diameter_mm": region.diameter_mm},
        main="travel_mm",
        remedies=(Remedy("no-loose", "Keep it whole", "unloose", region.centre_mm),),
        region=index,
    )


def joint_findings(result: PartingResult, best_locked: float, total: float) -> list[Finding]:
    """What there is to say of the joint itself."""
    found: list[Finding] = []
    level = result.joint.level
    if level and result.chosen_by == "user" and result.locked_mm2 > best_locked + FREE * total:
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
    if result.missed >= ASTRAY and result.locked_any_mm2 > STUCK * total:
        found.append(
            Finding(
                "no-single-joint",
                Severity.WARN,
                "No single joint frees this part along this draw. It wants loose pieces or cores, or another draw.",
                noun="No single joint",
                figures={"locked_any_parting_mm2": result.locked_any_mm2},
                main="locked_any_parting_mm2",
            )
        )
    elif min(result.locked_any_mm2, result.locked_mm2) > FREE * total:
        found.append(
            Finding(
                "no-joint-frees-all",
                Severity.WARN,
                "No joint frees every face along this draw. What is left needs a core, filling or a loose piece.",
                noun="No joint frees every face",
                figures={"locked_any_parting_mm2": result.locked_any_mm2},
                main="locked_any_parting_mm2",
            )
        )
    if result.slope_deg > limits()["joint_slope"].value + 0.5:
        found.append(
            Finding(
                "joint-steep",
                Severity.WARN,
                "The joint rises at {slope_deg}, steeper than sand holds well. Its edge may crumble when the cope lifts.",
                noun="steeper than sand holds",
                figures={"slope_deg": result.slope_deg},
                main="slope_deg",
                remedies=(Remedy("board", "Ram it on a follow board, and vent the steep side"),),
                source=limits()["joint_slope"].source,
            )
        )
    found += _shape_findings(result)
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
    return found


def _shape_findings(result: PartingResult) -> list[Finding]:
    """Notes on the shape of the joint and how it is made."""
    found: list[Finding] = []
    if result.rim_below_mm > 0.0:
        found.append(
            Finding(
                "rounded-rim",
                Severity.NOTE,
                "The line runs {rim_below_mm} below the top of the rounded rim, where the outline points outward most.",
                noun="rounded rim",
                figures={"rim_below_mm": result.rim_below_mm},
                main="rim_below_mm",
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
    elif result.joint.level and result.locked_mm2 <= FREE * (result.clean_mm2 + result.tight_mm2):
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
    cut = result.cut_down
    if cut is None:
        return found
    if result.moulded == "false-pattern" and result.outline:
        flat = result.joint.flat_points(np.concatenate(result.outline))[:, :2]
        thick = result.cope_depth_mm + result.drag_depth_mm
        ratio = float(np.ptp(flat, axis=0).min()) / max(thick, 1e-9)
        if ratio < limits()["false_pattern_ratio"].value:
            found.append(
                Finding(
                    "not-coin-like",
                    Severity.WARN,
                    "A false pattern suits flat, coin-like parts; this one is {thick_mm} thick. A follow board carries it better.",
                    noun="false pattern",
                    figures={"thick_mm": thick, "ratio": ratio},
                    main="thick_mm",
                    remedies=(Remedy("follow-board", "Use a follow board", "moulded", "follow-board"),),
                    source=limits()["false_pattern_ratio"].source,
                )
            )
    said = {
        "follow-board": "A follow board carries the pattern at its line; it is written with the files.",
        "cut-down": "The drag is cut down {cut_depth_mm} to the line and sloped up over {cut_width_mm}; a plan at 1:1 is written.",
        "false-pattern": "The drag is rammed over a half-thickness false pattern, then the pattern takes its place.",
        "split": "The pattern is split along its line; the halves fit by the shape of the joint.",
    }[result.moulded]
    noun = {"follow-board": "follow board", "cut-down": "cut down", "false-pattern": "false pattern", "split": "split"}
    found.append(
        Finding(
            f"moulded-{result.moulded}",
            Severity.NOTE,
            said,
            noun=noun[result.moulded],
            figures={
                "cut_volume_mm3": cut.volume_mm3, "cut_depth_mm": cut.depth_mm, "cut_width_mm": cut.width_mm,
                "relief_mm": result.relief_mm,
            },
            main="cut_volume_mm3" if result.moulded == "cut-down" else "relief_mm",
            source=limits()["joint_slope"].source,
        )
    )  # fmt: skip
    return found


def trial_findings(result: PartingResult, volume_mm3: float) -> list[Finding]:
    """What the trial draw showed: sand that tears, walls that drag, and lifting askew."""
    found: list[Finding] = []
    trial = result.trial
    for torn in trial.places[:4]:
        name = result.regions[torn.region].name if torn.region >= 0 else "place"
        figures = {"torn_mm3": torn.volume_mm3, "clear_mm": torn.clear_mm}
        if torn.region >= 0:
            figures["diameter_mm"] = result.regions[torn.region].diameter_mm
        falls = "falls on the joint" if (torn.half == "cope") != result.upside_down else "stays in the drag's pocket"
        found.append(
            Finding(
                "sand-tears",
                Severity.WARN,
                f"Sand of the {torn.half} tears at the {name} and {falls}; it is all gone after {{clear_mm}} of lift.",
                noun=f"tears at the {name}",
                place_mm=torn.at_mm,
                figures=figures,
                main="torn_mm3",
                region=torn.region if torn.region >= 0 else None,
                mark="locked",
            )
        )
    if trial.drags_mm > 0.0:
        found.append(
            Finding(
                "walls-drag",
                Severity.NOTE,
                "Walls with too little draft drag along the sand for {drag_mm}. Rapping frees them by its own amount.",
                noun="drag along the sand",
                figures={"drag_mm": trial.drags_mm},
                main="drag_mm",
                mark="tight",
            )
        )
    for rocked in trial.rocked:
        if rocked.pressed_mm3 < 1e-5 * volume_mm3 or rocked.deepest_mm < 0.05:
            continue
        found.append(
            Finding(
                "askew",
                Severity.WARN if rocked.allowed_deg < 1.0 else Severity.NOTE,
                f"Lifted {degrees(rocked.askew_deg)} askew, the {rocked.half} side is pressed {{deepest_mm}} deep. "
                "It leaves clean up to {allowed_deg}.",
                noun="askew",
                place_mm=rocked.at_mm,
                figures={
                    "allowed_deg": rocked.allowed_deg, "deepest_mm": rocked.deepest_mm, "pressed_mm3": rocked.pressed_mm3,
                },
                main="allowed_deg",
            )
        )  # fmt: skip
    if not trial.places:
        found.append(
            Finding(
                "nothing-tears",
                Severity.NOTE,
                "Lifted straight, no sand tears.",
                noun="no sand tears",
                figures={"depth_mm": float(trial.lifts_mm[-1])},
                main="depth_mm",
            )
        )
    return found


def sand_findings(mesh: Mesh, ground: Ground, method: Method, upside_down: bool) -> list[Finding]:
    """Pockets, strips, edges and detail that ask much of the sand, and which way up to open the mould."""
    found: list[Finding] = []
    stands, hangs = limits()["pocket_standing"], limits()["pocket_hanging"]
    slender = sand.pockets(ground)
    worst = {half: max((p.ratio for p in slender if p.half == half), default=0.0) for half in ("cope", "drag")}
    hanging = "drag" if upside_down else "cope"
    standing = "cope" if upside_down else "drag"
    load = max(worst[hanging] / hangs.value, worst[standing] / stands.value)
    turned = max(worst[standing] / hangs.value, worst[hanging] / stands.value)
    helps = turned < 0.9 * load
    for pocket in slender[:5]:
        limit = hangs if pocket.half == hanging else stands
        if pocket.ratio <= limit.value:
            continue
        how = "hangs" if pocket.half == hanging else "stands"
        remedies: list[Remedy] = []
        if pocket.half == hanging and helps:
            words = "Open it the usual way up" if upside_down else "Open the mould upside down"
            remedies.append(Remedy("turn-over", words, "upside_down", "no" if upside_down else "yes"))
        remedies.append(Remedy("core", "Make a core", "wish", ("core", *pocket.at_mm)))
        found.append(
            Finding(
                "slender-sand",
                Severity.WARN,
                f"Sand {how} in the {pocket.half} {{depth_mm}} deep and only {{width_mm}} wide. It may break off.",
                noun=f"Sand {how}",
                place_mm=pocket.at_mm,
                figures={
                    "depth_mm": pocket.depth_mm,
                    "width_mm": pocket.width_mm,
                    "ratio": pocket.ratio,
                    "limit": limit.value,
                },
                main="depth_mm",
                remedies=tuple(remedies),
                source=limit.source,
            )
        )
    for strip in sand.bridges(ground)[:2]:
        found.append(
            Finding(
                "thin-strip",
                Severity.WARN,
                "A strip of sand between two edges at the joint is only {width_mm} wide. It may break when the pattern is drawn.",
                noun="strip of sand",
                place_mm=strip.at_mm,
                figures={"width_mm": strip.size, "along_mm": strip.extent},
                main="width_mm",
                remedies=(Remedy("ram-well", "Ram it firmly and set a nail in it, or fill the gap in the pattern"),),
                source=limits()["sand_bridge"].source,
            )
        )
    edge = sand.sharp_sand(mesh)
    if edge is not None:
        found.append(
            Finding(
                "sharp-sand",
                Severity.WARN,
                "The sand ends in an edge of {sharpest_deg} in an inside corner. It crumbles, or washes off in pouring.",
                noun="edge",
                place_mm=edge.at_mm,
                figures={"sharpest_deg": edge.size, "along_mm": edge.extent},
                main="sharpest_deg",
                remedies=(Remedy("fillet", "Give the corner a fillet"),),
                source=limits()["sand_edge"].source,
            )
        )
    return found + _detail(mesh, method)


def _detail(mesh: Mesh, method: Method) -> list[Finding]:
    found = []
    grains = limits()["grains_across_detail"]
    least = grains.value * method.mould.grain.value
    texts = ("Ribs or letters are only {width_mm} thick", "Slits of sand are only {width_mm} wide")
    for place, text, noun in zip(sand.fine_detail(mesh, method), texts, ("Ribs or letters", "Slits of sand"), strict=True):
        if place is not None:
            found.append(
                Finding(
                    "finer-than-sand",
                    Severity.WARN,
                    text
                    + f", under {plain(grains.value, 0)} grains of this sand, which is {{limit_mm}}. They will be lost.",
                    noun=noun,
                    place_mm=place.at_mm,
                    figures={"width_mm": place.size, "area_mm2": place.extent, "limit_mm": least},
                    main="width_mm",
                    remedies=(Remedy("finer-sand", "Take a finer facing sand, or make them bolder"),),
                    source=grains.source,
                )
            )
    return found
