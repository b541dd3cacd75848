"""A pattern cut from foam: sheets and their joints, cuts, stiffeners, gas, the order of work."""

import numpy as np

from pounce.base.finding import Finding, Severity
from pounce.metals.tables import limits
from pounce.pattern.making.foam import sheets as foam
from pounce.pattern.making.layers import sizes_along, with_meshes
from pounce.pattern.making.values import Blank, Layer, Making, Way
from pounce.pattern.making.way import Shop
from pounce.pattern.making.wood.boards import nested

# Foam left round an outline for the wire to run in, mm a side.
SPARE_MM = limits()["foam_spare"].value


class FoamWay:
    """Sheets cut with a hot wire and glued; drawn, burned out or dug out."""

    kind = "foam"
    drawings: frozenset[str] = frozenset({"templates", "cut-list", "rule"})

    def beside(self, shop: Shop) -> Way:
        """Hours at the wire and by hand, and the foam."""
        every, hand = foam.hours(shop.sheets, shop.area_mm2)
        minds = "Dents easily." if shop.method.pattern.draws else "One casting each."
        held = sum(piece.volume_mm3 for piece in shop.pieces) * 1e-6
        figures = {"stuff_litres": held, "sheets": float(len(shop.sheets))}
        return Way("foam", every, hand, "{stuff_litres} of foam", minds, figures)

    def prepare(self, shop: Shop) -> Making:
        """The sheets, cut to those at hand, and the hot-wire cuts."""
        choices, method = shop.choices, shop.method
        layers = with_meshes(shop.sheets, shop.laid)
        cuts = foam.hot_cuts(layers, choices.kerf_mm)
        density = 0.0 if method.pattern.stuff_density is None else method.pattern.stuff_density.value
        volume = sum(piece.volume_mm3 for piece in shop.pieces)
        figures = {
            "stuff_kg": volume * 1e-9 * density,
            "stuff_litres": volume * 1e-6,
            "sheets": float(len(layers)),
            "cuts": float(len(cuts)),
        }
        layers = _fitted(shop, layers)
        room = 2.0 * (choices.kerf_mm + SPARE_MM)
        blanks, boards = nested(
            _blanks(shop, layers, room), choices.sheet_wide_mm, choices.sheet_long_mm, choices.kerf_mm, turns=True
        )
        figures["boards"] = float(boards)
        figures["glued_mm2"] = foam.glued_mm2(layers)
        if method.pattern_id == "foam-burned-out":
            figures["gas_litres"] = foam.gas_litres(figures["stuff_kg"], method.metal.pouring.value)
        return Making("foam", (), layers=layers, blanks=tuple(blanks), boards=boards, cuts=cuts, figures=figures)

    def findings(self, shop: Shop, made: Making) -> list[Finding]:
        """Joints and glue, how it leaves the mould, what bows, what is carved, the cuts, a camber."""
        found = [*_joints(shop, made), _leaving(shop, made), *_shaping(shop, made)]
        return found + ([] if shop.given.bent is None else [shop.given.bent.said()])

    def steps(self, shop: Shop, _made: Making) -> tuple[str, ...]:
        """The order of work."""
        burned, dug = shop.method.pattern_id == "foam-burned-out", shop.method.pattern.dug
        last = "Seal it with paint, so that it lets go of the sand." if dug else "Seal, sand, wax."
        return (
            "Cut the sheets to size by straight cuts.",
            "Pin profiles on both faces, marks in step.",
            "Wire the openings, then the outside.",
            "Glue thinly, away from fine detail." if burned else "Glue the sheets.",
            "Sand fine, fill gaps.",
            "Coat, and dry it through." if burned else last,
        )


def _fitted(shop: Shop, layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
    """The layers cut along straight lines where they are larger than a sheet, away from detail."""
    detail = limits()["foam_detail"].value
    sheet = (shop.choices.sheet_long_mm, shop.choices.sheet_wide_mm)
    near = [[(at, radius + detail) for at, radius in places] for places in shop.near]
    return foam.fitted(layers, sheet, 2.0 * (shop.choices.kerf_mm + SPARE_MM), near)


def _blanks(shop: Shop, layers: tuple[Layer, ...], room: float) -> list[Blank]:
    """What is cut from the sheets, each part of a layer with room for the wire."""
    blanks = []
    for layer in layers:
        for k, part in enumerate(layer.parts, 1):
            long, wide = sizes_along(part, 0.0)
            more = f", part {k}" if len(layer.parts) > 1 else ""
            name = f"{shop.names[layer.piece]}, sheet {layer.number}{more}"
            blanks.append(Blank(name, 1, round(long + room, 1), round(wide + room, 1), round(layer.thick_mm, 2), "any"))
    return blanks


def _joints(shop: Shop, made: Making) -> list[Finding]:
    found: list[Finding] = []
    choices, layers, figures = shop.choices, made.layers, made.figures
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
    if shop.method.pattern_id == "foam-burned-out" and figures["glued_mm2"] > 0.0:
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
    return found


def _leaving(shop: Shop, made: Making) -> Finding:
    """How the foam leaves the mould."""
    figures = made.figures
    if shop.method.pattern.dug:
        return Finding(
            "foam-dug-out",
            Severity.NOTE,
            "Leave the foam in place until the mould has hardened, open it along the joint, then dig and "
            "blow it out to the last crumb: what "
            "is left burns, smokes and blows at the pour. No solvents.",
            noun="Leave the foam in place",
            source="making-practice",
        )
    if shop.method.pattern_id == "foam-burned-out":
        return Finding(
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
    return Finding(
        "foam-drawn",
        Severity.NOTE,
        "Drawn foam needs its draft: seal it with filler or paint until it rings, and handle it by a screwed-on board.",
        noun="draft",
        source="making-practice",
    )


def _shaping(shop: Shop, made: Making) -> list[Finding]:
    """What bows, what is carved, and how the wire runs."""
    found: list[Finding] = []
    pieces, layers, cuts = shop.pieces, made.layers, made.cuts
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
    return found
