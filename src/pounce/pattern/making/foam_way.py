"""What there is to say of a pattern cut from foam: sheets and their joints, cuts, stiffeners, gas, the order of
work.
"""

import numpy as np

from pounce.base.finding import Finding, Severity
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.pattern.making import foam, wood
from pounce.pattern.making.layers import sizes_along
from pounce.pattern.making.values import Blank, Layer, Making, Way
from pounce.pattern.values import PatternChoices, Piece

# Foam left round an outline for the wire to run in, mm a side.
SPARE_MM = limits()["foam_spare"].value


def foam_way(
    choices: PatternChoices,
    pieces: list[Piece],
    method: Method,
    layers: tuple[Layer, ...],
    names: list[str],
    ways: tuple[Way, ...],
    near: foam.Near,
) -> tuple[Making, list[Finding]]:
    """What foam takes: sheets, layers, hot-wire cuts, what to mind when it is drawn, burned or dug out."""
    found: list[Finding] = []
    cuts = foam.hot_cuts(layers, choices.kerf_mm)
    density = method.pattern.stuff_density.value if method.pattern.stuff_density is not None else 20.0
    volume = sum(piece.volume_mm3 for piece in pieces)
    mass = volume * 1e-9 * density
    pour = method.metal.pouring.value
    burned = method.pattern_id == "foam-burned-out"
    figures = {"stuff_kg": mass, "stuff_litres": volume * 1e-6, "sheets": float(len(layers)), "cuts": float(len(cuts))}
    blanks: list[Blank] = []
    room = 2.0 * (choices.kerf_mm + SPARE_MM)
    detail = limits()["foam_detail"].value
    layers = foam.fitted(
        layers,
        (choices.sheet_long_mm, choices.sheet_wide_mm),
        room,
        [[(at, radius + detail) for at, radius in one] for one in near],
    )
    for one in layers:
        parts = one.parts
        for k, part in enumerate(parts, 1):
            long, wide = sizes_along(part, 0.0)
            more = f", part {k}" if len(parts) > 1 else ""
            blanks.append(
                Blank(
                    f"{names[one.piece]}, sheet {one.number}{more}",
                    1,
                    round(long + room, 1),
                    round(wide + room, 1),
                    round(one.thick_mm, 2),
                    "any",
                )
            )
    blanks, boards = wood.nested(blanks, choices.sheet_wide_mm, choices.sheet_long_mm, choices.kerf_mm, turns=True)
    figures["boards"] = float(boards)
    figures["glued_mm2"] = foam.glued_mm2(layers)
    jointed = [layer for layer in layers if layer.joints]
    if jointed:
        count = sum(len(one.joints) for one in jointed)
        found.append(
            Finding(
                "sheets-are-joined",
                Severity.NOTE,
                f"{count} straight {'joint' if count == 1 else 'joints'} where the outline is larger than a sheet of "
                "{long_mm}, laid where little is glued, away from detail, and not over one another.",
                noun="straight joint",
                figures={"long_mm": choices.sheet_long_mm, "joints": float(count)},
                main="joints",
                source=limits()["foam_detail"].source,
            )
        )
    if burned and figures["glued_mm2"] > 0.0:
        glue = figures["glued_mm2"] * 1e-6 * limits()["foam_sheet_glue"].value
        found.append(
            Finding(
                "glue-burns-slowly",
                Severity.NOTE,
                "{glued_mm2} is glued, some {glue_kg} of glue at most: it burns slower than foam, so keep it "
                "thin and short of "
                "every face by a finger.",
                noun="glued",
                figures={"glued_mm2": figures["glued_mm2"], "glue_kg": glue},
                main="glued_mm2",
                source=limits()["foam_sheet_glue"].source,
            )
        )
    if method.pattern.dug:
        found.append(
            Finding(
                "foam-dug-out",
                Severity.NOTE,
                "Leave the foam in place until the mould has hardened, open it along the joint, then dig and "
                "blow it out to the last crumb: what "
                "is left burns, smokes and blows at the pour. No solvents.",
                noun="Leave the foam in place",
                source="making-practice",
            )
        )
    elif burned:
        gas = foam.gas_litres(mass, pour)
        figures["gas_litres"] = gas
        found.append(
            Finding(
                "foam-gas",
                Severity.NOTE,
                "{stuff_kg} of foam burns to {gas_litres} of gas at least: coat it, vent the sand well, and "
                "keep the cup full until "
                "it is poured. Outdoors and upwind: the fumes harm.",
                noun="gas",
                figures=figures,
                main="gas_litres",
                source="making-practice",
            )
        )
    else:
        found.append(
            Finding(
                "foam-drawn",
                Severity.NOTE,
                "Drawn foam needs its draft: seal it with filler or paint until it rings, and handle it by a "
                "screwed-on board.",
                noun="draft",
                source="making-practice",
            )
        )
    size = np.max([piece.laid.size for piece in pieces], axis=0)
    bars = foam.stiffeners(size)
    if bars is not None:
        count, slender = bars
        found.append(
            Finding(
                "foam-bows",
                Severity.WARN,
                f"It is {{slender_ratio}} times as long as thick and bows under the sand: hold it with {count} "
                f"{'bar' if count == 1 else 'bars'} across until the sand bears it, or glue on "
                f"{'a strip' if count == 1 else 'strips'} that you cut off the casting.",
                noun="bows",
                figures={"slender_ratio": slender, "long_mm": float(size.max())},
                main="long_mm",
                source=limits()["foam_slender"].source,
            )
        )
    carved = sum(foam.bulges(one) for one in layers)
    if carved:
        found.append(
            Finding(
                "foam-carved",
                Severity.NOTE,
                f"{carved} of {len(layers)} sheets bulge between their faces: cut them to the saw line, then "
                "carve and sand to the "
                "inner lines.",
                noun="bulge",
                figures={"sheets": float(carved)},
                main="sheets",
                source="making-practice",
            )
        )
    straight = sum(foam.is_straight(cut) for cut in cuts)
    ruled = f"{straight} of {len(cuts)} outlines are cut with the wire upright"
    ruled += (
        "."
        if straight == len(cuts)
        else "; the others want both profiles, the wire at the same number on each at once."
    )
    found.append(
        Finding(
            "foam-cuts",
            Severity.NOTE,
            ruled,
            noun="outlines",
            figures={"cuts": float(len(cuts))},
            main="cuts",
            source="making-practice",
        )
    )
    steps = [
        "Cut the sheets to size by straight cuts.",
        "Pin profiles on both faces, marks in step.",
        "Wire the openings, then the outside.",
        "Glue thinly, away from fine detail." if burned else "Glue the sheets.",
        "Sand fine, fill gaps.",
        "Coat, and dry it through."
        if burned
        else "Seal it with paint, so that it lets go of the sand."
        if method.pattern.dug
        else "Seal, sand, wax.",
    ]
    return Making(
        "foam", ways, layers=layers, blanks=tuple(blanks), boards=boards, cuts=cuts, steps=tuple(steps), figures=figures
    ), found
