"""What is checked of each core: passed or explained, with what cures it."""

from typing import Literal

import numpy as np

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import less_as_shown
from pounce.cores import mechanics
from pounce.cores.box import FREE
from pounce.cores.changes import SetBox, SetBoxDraft, SetPrint, StandOnEnd, WidenPrint
from pounce.cores.values import Core, CoreChoices, Print
from pounce.metals.method import Method
from pounce.metals.tables import limits, mix
from pounce.parting.changes import SetHeight
from pounce.solid.frame import three
from pounce.solid.mesh import Floats


def checks_of(core: Core, index: int, choices: CoreChoices, method: Method, direction: Floats) -> list[Finding]:
    """Every check of one core, the ``index``-th of the pattern: whether it floats, breaks, turns or shifts, how its
    prints hold it, where its gas goes, and how its box parts; ``direction`` (3,) of the draw.
    """
    found = [*_float(core, index), _bending(core, index, choices), *_turning(core, index), *_shift(core, index, method)]
    return found + _prints(core, index, direction) + _venting(core, index) + _shaking(core, index) + _boxed(core, index)


def _float(core: Core, index: int) -> list[Finding]:
    return [_lift(core, index), _hold(core, index)]


def _lift(core: Core, index: int) -> Finding:
    """What drives the core up."""
    load, at = core.loads, core.at_mm
    figures = {"lift_n": load.lift_n, "weight_n": load.weight_n, "pressure_kpa": load.pressure_kpa}
    upright = any(core_print.kind == "drag" for core_print in core.prints)
    if load.lift_n <= 0.0:
        said = f"{core.name} is heavier than the metal it puts aside and lies by itself."
        if upright:
            said = f"{core.name} stands in its drag print: no metal gets under it, so nothing drives it up."
        return note_of(
            f"core-float-{index}",
            said,
            "nothing drives it up" if upright else "heavier",
            at,
            figures,
            "weight_n",
            "float-textbook",
        )
    said = f"{core.name} is driven up by {{lift_n}} when the metal is in."
    return note_of(f"core-float-{index}", said, "driven up", at, figures, "lift_n", "float-textbook")


def _hold(core: Core, index: int) -> Finding:
    """Whether its prints hold it."""
    load, safety, at = core.loads, limits()["core_safety"], core.at_mm
    figures = {"lift_n": load.lift_n, "weight_n": load.weight_n, "pressure_kpa": load.pressure_kpa}
    if load.allowed_kpa is None:
        return Finding(
            f"core-hold-{index}",
            Severity.WARN,
            "Loose sand has no strength to hold a core print. Weigh the core down or wire it.",
            noun="no strength",
            place_mm=at,
        )
    figures = figures | {"allowed_kpa": load.allowed_kpa, "chaplet_n": load.chaplet_n, "head_mm": load.chaplet_mm}
    if load.bearing_up_mm2 <= 0.0 and load.lift_n > 0.0:
        return Finding(
            f"core-hold-{index}",
            Severity.WARN,
            f"Nothing holds {core.name} down: set chaplets of {{head_mm}} head over it, or wire it to the drag.",
            noun="Nothing holds",
            place_mm=at,
            figures=figures,
            main="chaplet_n",
            source=safety.source,
        )
    if load.pressure_kpa > load.allowed_kpa:
        return Finding(
            f"core-hold-{index}",
            Severity.WARN,
            f"The prints of {core.name} press {{pressure_kpa}} on sand that bears {{allowed_kpa}}. Make "
            "them longer, or set chaplets of "
            "{head_mm} head for the {chaplet_n} that are left.",
            noun="prints",
            place_mm=at,
            figures=figures,
            main="pressure_kpa",
            source=safety.source,
            remedies=_longer(core, load.pressure_kpa / load.allowed_kpa),
        )
    return note_of(
        f"core-hold-{index}",
        "Its prints press {pressure_kpa}; the sand bears {allowed_kpa}.",
        "prints",
        at,
        figures,
        "pressure_kpa",
        safety.source,
    )


def _longer(core: Core, by: float) -> tuple[Remedy, ...]:
    side = [core_print for core_print in core.prints if core_print.kind in ("side", "tail", "ring")]
    if not side:
        return ()
    wanted = float(np.ceil(max(one.length_mm for one in side) * by))
    return (Remedy("longer-prints", f"Prints of {wanted:g} mm", SetPrint(core.place_mm, "side", wanted)),)


def _bending(core: Core, index: int, choices: CoreChoices) -> Finding:
    load, at = core.loads, core.at_mm
    limit = limits()["core_overhang_baked" if mix(choices.mix).baked else "core_overhang"]
    figures = {
        "sag_mm": load.sag_mm,
        "span_mm": load.span_mm,
        "ratio": load.free_ratio,
        "stress_mpa": load.stress_mpa,
        "strength_mpa": load.strength_mpa,
        "limit_ratio": limit.value,
    }
    if load.sag_mm <= 0.0:
        ringed = any(core_print.kind == "ring" for core_print in core.prints)
        return note_of(
            f"core-sag-{index}",
            f"{core.name} {'lies in its seat all round' if ringed else 'stands'}, so it does not sag.",
            "lies" if ringed else "stands",
            at,
            figures,
            None,
            "beam-formulas",
        )
    on_end = () if choices.on_end else (Remedy("on-end", "Stand the mould on end", StandOnEnd()),)
    if load.stress_mpa * limits()["core_safety"].value > load.strength_mpa:
        return Finding(
            f"core-sag-{index}",
            Severity.WARN,
            f"{core.name} may break: {{stress_mpa}} of bending on sand that bears {{strength_mpa}}. Wire "
            "it, prop it, or stand the mould on end.",
            noun="may break",
            place_mm=at,
            figures=figures,
            main="stress_mpa",
            remedies=on_end,
            source="beam-formulas",
        )
    if load.free_ratio > limit.value:
        return Finding(
            f"core-sag-{index}",
            Severity.WARN,
            f"{core.name} lies free over {{ratio}} times its width; {{limit_ratio}} is usual. Stand the "
            "mould on end, prop it or wire it.",
            noun="lies free",
            place_mm=at,
            figures=figures,
            main="ratio",
            remedies=on_end,
            source=limit.source,
        )
    return note_of(
        f"core-sag-{index}",
        "It sags {sag_mm} over {span_mm} at most."
        if load.sag_mm >= 0.05
        else "It sags less than a tenth of a millimetre over {span_mm}.",
        "sags",
        at,
        figures,
        "sag_mm" if load.sag_mm >= 0.05 else None,
        "beam-formulas",
    )


def _turning(core: Core, index: int) -> list[Finding]:
    at = core.at_mm
    if core.loads.tips:
        cure: tuple[Remedy, ...] = ()
        wanted = core.loads.steady_mm
        if wanted is not None:
            many = "Prints" if len(core.prints) > 1 else "A print"
            cure = (Remedy("longer-prints", f"{many} of {wanted:g} mm", SetPrint(core.place_mm, "side", wanted)),)
        if len(core.prints) == 1 and core.prints[0].kind in ("side", "tail"):
            return [_single(core, index, cure)]
        said = f"{core.name} would turn over before the mould is closed. Make its print longer, or glue it in."
        if core.prints and all(core_print.kind == "cope" for core_print in core.prints):
            said = f"{core.name} hangs in the cope: glue or wire it there, or turn the mould over so that it stands."
        return [
            Finding(
                f"core-tips-{index}",
                Severity.WARN,
                said,
                noun=core.name,
                place_mm=at,
                remedies=cure,
                source="core-practice",
            )
        ]
    return [note_of(f"core-tips-{index}", "It lies or stands by itself in the open drag.", "by itself", at)]


def _single(core: Core, index: int, longer: tuple[Remedy, ...]) -> Finding:
    """A core held at one end that would turn over: a longer or a wider print, a chaplet under its end, or a weight
    on its print.
    """
    only, load = core.prints[0], core.loads
    arm = max(float((only.at_mm - np.array(core.at_mm)) @ only.axis), 0.0)
    # about the edge of the seat: what hangs out turns by weight x arm; a weight in the middle of the print holds
    # against it
    weight_kg = load.weight_n * arm / (only.length_mm / 2.0) / mechanics.GRAVITY
    wide = limits()["chaplet_wide"]
    figures = {"print_mm": only.length_mm, "hangs_mm": load.span_mm, "balance_kg": weight_kg, "wide_ratio": wide.value}
    ways = (
        *longer,
        Remedy("wider-print", f"A print {wide.value:g} times as wide", WidenPrint(core.place_mm, wide.value)),
        Remedy("chaplet", "Set a chaplet under its free end"),
        Remedy("weight", "Load its print with {balance_kg} till the mould is closed"),
    )
    return Finding(
        f"core-tips-{index}",
        Severity.WARN,
        f"{core.name} hangs {{hangs_mm}} out of one print of {{print_mm}} and would turn over. Make the print "
        "longer or wider, set a chaplet "
        "under its end, or load the print.",
        noun="one print",
        place_mm=core.at_mm,
        figures=figures,
        main="hangs_mm",
        remedies=ways,
        source="core-practice",
    )


def _shift(core: Core, index: int, method: Method) -> list[Finding]:
    wall, figure = core.loads.wall_mm, limits()["core_shift"]
    if wall is None:
        return []
    play = core.loads.tip_mm or max(core_print.clearance_mm for core_print in core.prints)
    least = method.metal.least_wall.value
    figures = {
        "wall_mm": wall,
        "play_mm": play,
        "left_mm": wall - play,
        "share": play / wall if wall > 0.0 else 1.0,
        "least_mm": least,
    }
    if less_as_shown(wall - play, least):
        return [
            Finding(
                f"core-shift-{index}",
                Severity.WARN,
                "The wall beside it is {wall_mm}; shifted by its play of {play_mm} the thin side is less than "
                "the metal runs, {least_mm}.",
                noun="wall",
                place_mm=core.at_mm,
                figures=figures,
                main="left_mm",
                remedies=_steadied(core, min(wall - least, figure.value * wall)),
                source=method.metal.least_wall.source,
            )
        ]
    if play > figure.value * wall:
        said = "Its play of {play_mm} may leave a wall of {wall_mm} uneven. Give the print less, or key it."
        if core.loads.tip_mm:
            said = (
                "It is held at one end: the other may shift by {play_mm}, and leave a wall of {wall_mm} uneven. Make "
                "the print longer, or set a chaplet under the free end."
            )
        return [
            Finding(
                f"core-shift-{index}",
                Severity.WARN,
                said,
                noun="uneven",
                place_mm=core.at_mm,
                figures=figures,
                main="play_mm",
                remedies=_steadied(core, figure.value * wall),
                source=figure.source,
            )
        ]
    return [
        note_of(
            f"core-shift-{index}",
            "Shifted by its play of {play_mm}, the thinnest wall beside it keeps {left_mm}.",
            "thinnest wall",
            core.at_mm,
            figures,
            "left_mm",
            figure.source,
        )
    ]


def _steadied(core: Core, allowed_mm: float) -> tuple[Remedy, ...]:
    """What keeps the free end of a core with one lying print within so much play: a print so long, where that is not
    much longer than it is or than what hangs out of it, or a chaplet.
    """
    if not core.loads.tip_mm:
        return ()
    only, span = core.prints[0], core.loads.span_mm
    wanted = mechanics.print_for_play_mm(only.clearance_mm, span, allowed_mm)
    chaplet = Remedy("chaplet", "Set a chaplet under its free end")
    most = limits()["print_much_longer"].value * max(span, only.length_mm)
    if not only.length_mm < wanted <= most:
        return (chaplet,)
    wanted = float(np.ceil(wanted))
    return Remedy("print-longer", f"A print of {wanted:g} mm", SetPrint(core.place_mm, "side", wanted)), chaplet


# What a print is called, and of which prints it is one by length.
_PRINTS: dict[str, tuple[str, Literal["side", "drag", "cope"]]] = {
    "side": ("print in the joint", "side"),
    "tail": ("print with a tail", "side"),
    "cope": ("cope print", "cope"),
    "drag": ("drag print", "drag"),
    "ring": ("belt round the outside", "side"),
}


def _prints(core: Core, index: int, direction: Floats) -> list[Finding]:
    """Prints much shorter than the table asks for."""
    found: list[Finding] = []
    tails: list[Print] = []
    for one in core.prints:
        key = {
            "side": "print_side_share",
            "tail": "print_side_share",
            "cope": "print_cope_share",
            "drag": "print_drag_share",
            "ring": "print_side_share",
        }[one.kind]
        figure = limits()[key]
        usual = min(max(figure.low * one.width_mm, limits()["print_least"].low), limits()["print_most"].value)
        if one.length_mm < 0.95 * usual:
            name, prints = _PRINTS[one.kind]
            wanted = float(np.ceil(usual))
            found.append(
                Finding(
                    f"print-short-{index}-{one.kind}",
                    Severity.WARN,
                    f"The {name} is short for an opening of {{width_mm}}.",
                    noun=f"{name} is short",
                    place_mm=three(one.at_mm),
                    figures={"print_mm": one.length_mm, "width_mm": one.width_mm},
                    main="print_mm",
                    remedies=(
                        Remedy("print-longer", f"Make it {wanted:g} mm", SetPrint(core.place_mm, prints, wanted)),
                    ),
                    source=figure.source,
                )
            )
        if one.kind == "tail":
            tails.append(one)
    if tails:
        heights = [float(one.at_mm @ direction) for one in tails]
        level = max(heights) - min(heights) < 0.05 * max(one.width_mm for one in tails)
        cure = (Remedy("part-there", "Part it through them", SetHeight(round(heights[0], 3))),) if level else ()
        many = (
            "Its openings lie off the joint, so their prints have tails that run"
            if len(tails) > 1
            else ("An opening lies off the joint, so its print has a tail that runs")
        )
        found.append(
            note_of(
                f"print-tail-{index}", f"{many} to it.", "tail", three(tails[0].at_mm), {}, None, "core-practice", cure
            )
        )
    return found


def _venting(core: Core, index: int) -> list[Finding]:
    figure = limits()["core_vent_away"]
    if not core.vents:
        return [
            Finding(
                f"core-vent-{index}",
                Severity.WARN,
                f"{core.name} has no vent: its gas would blow through the metal.",
                noun="no vent",
                place_mm=core.at_mm,
                source=limits()["core_vent"].source,
            )
        ]
    figures = {"vent_mm": core.vent_mm, "way_mm": core.loads.vent_way_mm}
    if core.loads.vent_way_mm < figure.low:
        return [
            Finding(
                f"core-vent-{index}",
                Severity.WARN,
                "Its vent leaves the sand {way_mm} from hot metal: lengthen the print.",
                noun="vent",
                place_mm=core.at_mm,
                figures=figures,
                main="way_mm",
                source=figure.source,
            )
        ]
    where = "up through the cope" if any(one.kind == "cope" for one in core.prints) else "out through the joint"
    if all(core_print.kind == "drag" for core_print in core.prints):
        where = "down through the drag: prick it to the board"
    return [
        note_of(
            f"core-vent-{index}",
            f"Gas leaves by the vent of {{vent_mm}} and {where}.",
            "vent",
            core.at_mm,
            figures,
            "vent_mm",
            limits()["core_vent"].source,
        )
    ]


def _shaking(core: Core, index: int) -> list[Finding]:
    figure = limits()["core_shakeout"]
    figures = {"share": core.loads.shakeout}
    if core.loads.shakeout < figure.value:
        return [
            Finding(
                f"core-shake-{index}",
                Severity.WARN,
                "Its widest opening is small for the hollow: the sand will be hard to get out.",
                noun="hard to get out",
                place_mm=core.at_mm,
                figures=figures,
                source=figure.source,
            )
        ]
    return [note_of(f"core-shake-{index}", "The sand can be shaken out by its openings.", "shaken out", core.at_mm)]


def _boxed(core: Core, index: int) -> list[Finding]:
    found: list[Finding] = []
    if not core.boxes:  # none were cut: the core was only tried
        return found
    box = core.boxes[0]
    locked = float(sum(one.locked_mm2 for one in core.boxes))
    tight = float(sum(one.tight_mm2 for one in core.boxes))
    area = float(sum(one.core.area for one in core.boxes))
    if box.refused:
        found.append(
            Finding(
                f"box-refused-{index}",
                Severity.WARN,
                f"{core.name} got a split box: {box.refused}.",
                noun="split box",
                place_mm=core.at_mm,
                remedies=(Remedy("split-box", "Keep the split box", SetBox(core.place_mm, "split")),),
                source="core-practice",
            )
        )
    if locked > FREE * area:
        found.append(
            Finding(
                f"box-locks-{index}",
                Severity.WARN,
                f"{{area_mm2}} of {core.name} locks in its box, however it is parted. Make it in shorter "
                "pieces and glue them.",
                noun="locks",
                place_mm=core.at_mm,
                figures={"area_mm2": locked},
                main="area_mm2",
                source="core-practice",
            )
        )
    elif tight > 0.0:
        found.append(
            note_of(
                f"box-tight-{index}",
                "{area_mm2} of the box stands without draft: varnish it, wax it, and rap before opening.",
                "without draft",
                core.at_mm,
                {"area_mm2": tight},
                "area_mm2",
                "core-practice",
            )
        )
    return [*found, *_box_made(core, index)]


def _box_made(core: Core, index: int) -> list[Finding]:
    """How the box is made and used."""
    found: list[Finding] = []
    if not core.boxes:  # none were cut: the core was only tried
        return found
    box = core.boxes[0]
    if core.draft_mm3 > 0.0:
        found.append(
            note_of(
                f"box-draft-{index}",
                "Its walls lean by {draft_deg} so that it leaves the box; the casting keeps {volume_mm3} of "
                "metal more.",
                "lean",
                core.at_mm,
                {"draft_deg": core.draft_deg, "volume_mm3": core.draft_mm3},
                "draft_deg",
                limits()["box_draft"].source,
                (Remedy("straight-core", "Keep the walls straight", SetBoxDraft(core.place_mm, 0.0)),),
            )
        )
    many = max(len(one.parts) for one in core.boxes)
    if many > 2 or (many == 2 and box.style == "half"):
        found.append(
            note_of(
                f"box-parts-{index}",
                f"{core.name} would lock in a plain box: a half parts sideways. Lift the other half off first, "
                "then draw "
                "its two parts apart.",
                "parts sideways",
                core.at_mm,
                {},
                None,
                "core-practice",
            )
        )
    if box.twice and box.style == "split" and len(core.boxes) == 1:
        found.append(
            note_of(
                f"box-twice-{index}",
                "Both halves of this core are alike: one half box does, used twice; turn one half over and glue them.",
                "alike",
                core.at_mm,
                {},
                None,
                "core-practice",
                (Remedy("half-box", "One half box", SetBox(core.place_mm, "half")),),
            )
        )
    if len(core.boxes) > 1:
        found.append(
            note_of(
                f"core-pieces-{index}",
                f"{core.name} is made in {len(core.boxes)} pieces, glued by cones, a box for each.",
                f"{len(core.boxes)} pieces",
                core.at_mm,
            )
        )
    return found


def note_of(
    code: str,
    text: str,
    noun: str,
    at: tuple[float, float, float] | None = None,
    figures: dict[str, float] | None = None,
    main: str | None = None,
    source: str | None = None,
    remedies: tuple[Remedy, ...] = (),
) -> Finding:
    """What is good to know, with what it speaks of and its figures."""
    return Finding(
        code,
        Severity.NOTE,
        text,
        noun=noun,
        place_mm=at,
        figures=figures or {},
        main=main,
        source=source,
        remedies=remedies,
    )
