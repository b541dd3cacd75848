"""What the Parting stop says: the joint and how it is made, the trial draw, and what the sand must hold."""

import numpy as np

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import degrees, plain
from pounce.draw.relief import ASTRAY
from pounce.metals.changes import SetMould
from pounce.metals.method import Method
from pounce.metals.tables import Bond, held, limits
from pounce.parting import sand
from pounce.parting.changes import AskFor, SetHeight, SetMoulded, SetRammed, SetUpsideDown
from pounce.parting.choose import STUCK
from pounce.parting.columngrid import ColumnGrid
from pounce.parting.joint import Joint
from pounce.parting.values import FREE, PLAIN_BOARD, CutDown, PartingChoices, PartingResult, State, Torn, held_mm2
from pounce.solid.mesh import Mesh

# An outline shorter than this share of the longest is noise of the mesh beside it.
OUTLINE_SHARE = limits()["joint_outline_least"].value


def joint_findings(result: PartingResult, best_locked: float, total: float | None) -> list[Finding]:
    """What there is to say of the joint itself; ``total`` area of the part (mm2), None where nothing has to draw."""
    found: list[Finding] = []
    level = result.joint.level
    if total is not None and level and result.chosen_by == "user" and result.locked_mm2 > best_locked + FREE * total:
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
                remedies=(Remedy("parting-best", "Part at {best_height_mm}", SetHeight(None)),),
            )
        )
    if total is not None:
        found += _freed(result, total)
    if result.slope_deg > limits()["joint_slope"].value + 0.5:
        found.append(
            Finding(
                "joint-steep",
                Severity.WARN,
                "The joint rises at {slope_deg}, steeper than sand holds well. Its edge may crumble when the "
                "cope lifts.",
                noun="steeper than sand holds",
                figures={"slope_deg": result.slope_deg},
                main="slope_deg",
                remedies=(Remedy("board", "Ram it on a follow board, and vent the steep side"),),
                source=limits()["joint_slope"].source,
            )
        )
    found += _shape_findings(result)
    count = _real_outlines(result)
    if count > 1:
        found.append(
            Finding(
                "joint-in-islands",
                Severity.NOTE,
                f"The joint meets the part in {count} outlines.",
                noun=f"{count} outlines",
                figures={"loops": float(count)},
                main="loops",
            )
        )
    return found


def _freed(result: PartingResult, total: float) -> list[Finding]:
    """Whether any joint frees every face."""
    found: list[Finding] = []
    if held_mm2(result) <= 0.0:  # what locks holds no sand
        return found
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
    return found


def _real_outlines(result: PartingResult) -> int:
    """How many outlines the joint has beside the crumbs that a mesh's own noise makes on walls."""
    sizes = np.array([float(np.linalg.norm(np.diff(loop, axis=0), axis=1).sum()) for loop in result.outline])
    return int((sizes > OUTLINE_SHARE * sizes.max()).sum()) if len(sizes) else 0


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
                "The flat back lies on the joint, so the pattern stays whole. It is rammed in the drag, on its "
                "board, and its sand stands."
                if result.drag_depth_mm > result.cope_depth_mm
                else (
                    "The flat back lies on the joint, so the pattern stays whole. It is rammed in the cope, and "
                    "its sand hangs."
                ),
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
    return found if result.cut_down is None else [*found, *_coin_like(result), _moulded(result, result.cut_down)]


def _coin_like(result: PartingResult) -> list[Finding]:
    """Whether a false pattern suits the part."""
    found: list[Finding] = []
    if result.moulded == "false-pattern" and result.outline:
        flat = result.joint.flat_points(np.concatenate(result.outline))[:, :2]
        thick = result.cope_depth_mm + result.drag_depth_mm
        ratio = float(np.ptp(flat, axis=0).min()) / max(thick, 1e-9)
        if ratio < limits()["false_pattern_ratio"].value:
            found.append(
                Finding(
                    "not-coin-like",
                    Severity.WARN,
                    "A false pattern suits flat, coin-like parts; this one is {thick_mm} thick. A follow board "
                    "carries it better.",
                    noun="false pattern",
                    figures={"thick_mm": thick, "ratio": ratio},
                    main="thick_mm",
                    remedies=(Remedy("follow-board", "Use a follow board", SetMoulded("follow-board")),),
                    source=limits()["false_pattern_ratio"].source,
                )
            )
    return found


def _moulded(result: PartingResult, cut: CutDown) -> Finding:
    """How the joint is made in the sand."""
    said = {
        "follow-board": "A follow board carries the pattern at its line; it is written with the files.",
        "cut-down": "The drag is cut down {cut_depth_mm} to the line and sloped up over {cut_width_mm}; a plan at 1:1 "
        "is written.",
        "false-pattern": "The drag is rammed over a half-thickness false pattern, then the pattern takes its place.",
        "split": "The pattern is split along its line; the halves fit by the shape of the joint.",
        PLAIN_BOARD: "Its rim is level, so it lies on a plain board, open side down; the "
        f"{'drag' if result.board_for_drag else 'cope'} fills it.",
    }[result.moulded]
    noun = {
        "follow-board": "follow board",
        "cut-down": "cut down",
        "false-pattern": "false pattern",
        "split": "split",
        PLAIN_BOARD: "plain board",
    }
    return Finding(
        f"moulded-{result.moulded}",
        Severity.NOTE,
        said,
        noun=noun[result.moulded],
        figures={
            "cut_volume_mm3": cut.volume_mm3,
            "cut_depth_mm": cut.depth_mm,
            "cut_width_mm": cut.width_mm,
            "relief_mm": result.relief_mm,
        },
        main="cut_volume_mm3" if result.moulded == "cut-down" else "relief_mm",
        source=limits()["joint_slope"].source,
    )


def shell_open() -> Finding:
    """Why nothing is said of torn sand, pockets and detail: they need an inside and an outside."""
    return Finding(
        "shell-open",
        Severity.NOTE,
        "The shell is open or doubled, so torn sand, pockets and fine detail are not worked out. Close it "
        "where it is drawn.",
        noun="open or doubled",
    )


def trial_findings(result: PartingResult, mesh: Mesh) -> list[Finding]:
    """What the trial draw showed: sand that tears, walls that drag, and lifting askew."""
    found: list[Finding] = []
    trial = result.trial
    torn_here: list[Torn] = []
    for torn in trial.places:  # the largest of each place and half: its crumbs go with it
        again = torn.region >= 0 and any((one.region, one.half) == (torn.region, torn.half) for one in torn_here)
        if not again and _really_tears(torn, result, mesh.area):
            torn_here.append(torn)
    for torn in torn_here[:4]:
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
    found += _askew(result, abs(mesh.volume))
    if not torn_here:
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


def _really_tears(torn: Torn, result: PartingResult, total_mm2: float) -> bool:
    """Whether this sand is more than the crumbs of a mesh: at a place that holds, or a good deal of it."""
    if torn.region >= 0 and result.regions[torn.region].state is State.LOCKED:
        return result.regions[torn.region].holds(total_mm2)
    return torn.volume_mm3 > limits()["torn_crumb"].value


def _askew(result: PartingResult, volume_mm3: float) -> list[Finding]:
    """What hands that lift askew press."""
    found: list[Finding] = []
    for tilted in result.trial.tilted:
        if tilted.pressed_mm3 < 1e-5 * volume_mm3 or tilted.deepest_mm < 0.05:
            continue
        found.append(
            Finding(
                "askew",
                Severity.WARN if tilted.allowed_deg < 1.0 else Severity.NOTE,
                f"Lifted {degrees(tilted.askew_deg)} askew, the {tilted.half} side is pressed {{deepest_mm}} deep. "
                "It leaves clean up to {allowed_deg}.",
                noun="askew",
                place_mm=tilted.at_mm,
                figures={
                    "allowed_deg": tilted.allowed_deg,
                    "deepest_mm": tilted.deepest_mm,
                    "pressed_mm3": tilted.pressed_mm3,
                },
                main="allowed_deg",
            )
        )
    return found


def sand_findings(
    mesh: Mesh, grid: ColumnGrid, joint: Joint, method: Method, choices: PartingChoices, flat_back: bool
) -> list[Finding]:
    """Pockets, strips, edges and detail that ask much of the sand, and which way up to open the mould."""
    return [
        *_pockets(mesh, grid, joint, method, choices, flat_back),
        *_strips_and_edges(mesh, grid, method),
        *_detail(mesh, method),
    ]


def _pockets(
    mesh: Mesh, grid: ColumnGrid, joint: Joint, method: Method, choices: PartingChoices, flat_back: bool
) -> list[Finding]:
    """Slender sand that stands or hangs."""
    bond = method.mould.bond
    found: list[Finding] = []
    upside_down = choices.upside_down
    stands, hangs = held("pocket_standing", bond), held("pocket_hanging", bond)
    slender = sand.pockets(grid, joint, mesh)
    worst = {half: max((p.ratio for p in slender if p.half == half), default=0.0) for half in ("cope", "drag")}
    hanging = "drag" if upside_down else "cope"
    standing = "cope" if upside_down else "drag"
    load = max(worst[hanging] / hangs.value, worst[standing] / stands.value)
    turned = max(worst[standing] / hangs.value, worst[hanging] / stands.value)
    helps = turned < 0.9 * load
    over = sum(pocket.ratio > (hangs if pocket.half == hanging else stands).value for pocket in slender)
    setting = _set_sand(worst[hanging], worst[standing], bond)
    for pocket in slender[:5]:
        limit = hangs if pocket.half == hanging else stands
        if pocket.ratio <= limit.value:
            continue
        how = "hangs" if pocket.half == hanging else "stands"
        remedies: list[Remedy] = []
        if pocket.half == hanging and helps:
            if flat_back and choices.rammed == "cope" and not upside_down:
                remedies.append(Remedy("in-drag", "Ram it in the drag", SetRammed("drag")))
            else:
                words = "Open it the usual way up" if upside_down else "Open the mould upside down"
                remedies.append(Remedy("turn-over", words, SetUpsideDown(not upside_down)))
        remedies += _instead(pocket, setting, over > limits()["slender_few"].value)
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
    return found


def _instead(pocket: sand.Pocket, setting: list[Remedy], many: bool) -> list[Remedy]:
    """What is done where green sand would not hold: a core, metal where a core would break as well; ``setting`` sand
    holds ``many`` such places at once, for which nobody makes as many cores.
    """
    core = Remedy("core", "Make a core", AskFor("core", pocket.at_mm))
    solid = Remedy("cast-solid", "Fill the gap, saw it later", AskFor("fill", pocket.at_mm))
    wide = limits()["slot_solid"]
    made = [solid] if pocket.width_mm < wide.value else [core, solid] if pocket.width_mm < wide.high else [core]
    return [*setting, *made] if many else [*made, *setting]


def _set_sand(hanging: float, standing: float, bond: Bond) -> list[Remedy]:
    """Sand that sets, where it would hold what hangs and what stands, so many times as deep as wide at worst."""
    hangs, stands = held("pocket_hanging", "set").value, held("pocket_standing", "set").value
    if bond != "damp" or hanging > hangs or standing > stands:
        return []
    return [Remedy("set-sand", "Mould it in sand that sets", SetMould("silicate-sand"))]


def _strips_and_edges(mesh: Mesh, grid: ColumnGrid, method: Method) -> list[Finding]:
    """Thin strips of sand at the joint, and sharp edges of it."""
    bond = method.mould.bond
    found: list[Finding] = []
    for strip in sand.bridges(grid, bond)[:2]:
        found.append(
            Finding(
                "thin-strip",
                Severity.WARN,
                "A strip of sand between two edges at the joint is only {width_mm} wide. It may break when the "
                "pattern is drawn.",
                noun="strip of sand",
                place_mm=strip.at_mm,
                figures={"width_mm": strip.size, "along_mm": strip.extent},
                main="width_mm",
                remedies=(Remedy("ram-well", "Ram it firmly and set a nail in it, or fill the gap in the pattern"),),
                source=held("sand_bridge", bond).source,
            )
        )
    edge = sand.sharp_sand(mesh, method.mould.grain.value)
    if edge is not None:
        found.append(
            Finding(
                "sharp-sand",
                Severity.WARN,
                "The sand ends in an edge of {sharpest_deg} in an inside corner. It crumbles, or washes off in "
                "pouring.",
                noun="edge",
                place_mm=edge.at_mm,
                figures={"sharpest_deg": edge.size, "along_mm": edge.extent},
                main="sharpest_deg",
                remedies=(Remedy("fillet", "Give the corner a fillet"),),
                source=limits()["sand_edge"].source,
            )
        )
    return found


def _detail(mesh: Mesh, method: Method) -> list[Finding]:
    found = []
    grains = limits()["grains_across_detail"]
    least = grains.value * method.mould.grain.value
    texts = ("Ribs or letters are only {width_mm} thick", "Slits of sand are only {width_mm} wide")
    for place, text, noun in zip(
        sand.fine_detail(mesh, method), texts, ("Ribs or letters", "Slits of sand"), strict=True
    ):
        if place is not None:
            found.append(
                Finding(
                    "finer-than-sand",
                    Severity.WARN,
                    text
                    + (
                        f", under {plain(grains.value, 0)} grains of this sand, which is {{limit_mm}}. They will "
                        "be lost."
                    ),
                    noun=noun,
                    place_mm=place.at_mm,
                    figures={"width_mm": place.size, "area_mm2": place.extent, "limit_mm": least},
                    main="width_mm",
                    remedies=(Remedy("finer-sand", "Take a finer facing sand, or make them bolder"),),
                    source=grains.source,
                )
            )
    return found
