"""A pattern built of boards: the cut list, movement, short grain, rings, the order of work."""

from pounce.base.finding import Finding, Remedy, Severity
from pounce.metals.tables import limits, timber
from pounce.pattern.changes import SetTimber
from pounce.pattern.making.layers import with_meshes
from pounce.pattern.making.values import Making, Way
from pounce.pattern.making.way import Shop
from pounce.pattern.making.wood import boards as wood


class WoodWay:
    """Boards sawn outside the line, glued up and carved."""

    kind = "wood"
    drawings: frozenset[str] = frozenset({"templates", "cut-list", "rule"})

    def beside(self, shop: Shop) -> Way:
        """Hours at the bench and the timber."""
        every, hand = wood.hours(shop.boards, shop.area_mm2)
        held = sum(float(board.saw.area) * board.thick_mm for board in shop.boards) * 1e-6
        figures = {"stuff_litres": held, "boards": float(len(shop.boards))}
        return Way("wood", every, hand, "{stuff_litres} of timber", "Moves with damp.", figures)

    def prepare(self, shop: Shop) -> Making:
        """The layers, their blanks nested on the boards at hand, and rings built of segments."""
        choices, layers = shop.choices, with_meshes(shop.boards, shop.laid)
        saw = limits()["saw_cut"].value
        every = wood.blanks_of(layers, shop.names, choices.room_mm)
        blanks, boards = wood.nested(every, choices.board_wide_mm, choices.board_long_mm, saw)
        rings = tuple(
            {
                (s.outer_mm, s.inner_mm): s
                for s in (wood.segments_of(one, choices.room_mm) for one in layers)
                if s is not None
            }.values()
        )
        moisture = limits()["wood_moisture"].value
        across = max((blank.wide_mm for blank in blanks), default=0.0)
        figures = {
            "move_mm": wood.movement_mm(across, timber(choices.timber), moisture),
            "across_mm": across,
            "boards": float(boards),
            "moisture_percent": moisture,
            "stuff_litres": sum(float(layer.saw.area) * layer.thick_mm for layer in layers) * 1e-6,
        }
        return Making("wood", (), layers=layers, blanks=tuple(blanks), boards=boards, segments=rings, figures=figures)

    def findings(self, shop: Shop, made: Making) -> list[Finding]:
        """Boards longer or wider than those at hand, movement, short grain, rings."""
        found = [*_too_large(shop, made), _moves(shop, made)]
        if shop.choices.timber != "plywood":
            found += _short_grain(shop, made)
        rings = made.segments
        if rings:
            best = max(rings, key=lambda one: one.outer_mm)
            found.append(
                Finding(
                    "ring-of-segments",
                    Severity.NOTE,
                    f"A ring: build it of {best.count} segments a course, {{long_mm}} long and {{wide_mm}} wide, "
                    "mitred {mitre_deg}, joints staggered from course to course.",
                    noun="ring",
                    figures={"long_mm": best.long_mm, "wide_mm": best.wide_mm, "mitre_deg": best.mitre_deg},
                    main="wide_mm",
                    source="making-practice",
                )
            )
        return found

    def steps(self, shop: Shop, made: Making) -> tuple[str, ...]:
        """The order of work."""
        pieces, layers, rings = shop.pieces, made.layers, made.segments
        count = len(layers)
        steps = [f"Plane {count} {'board' if count == 1 else 'boards'}, stick the templates on."]
        if rings:
            steps.append("Mitre and glue the rings, joints staggered.")
        steps.append("Saw outside the line.")
        if any(hole.purpose == "dowel" for piece in pieces for hole in piece.holes):
            steps.append("Clamp the joint's boards, bore the dowels.")
            steps.append("Stamp the pair's number in both faces.")
        steps += [
            "Glue up from the joint, grain crossed.",
            "Carve to the lines, offer up profiles.",
            "Fillet in wax, sand, lacquer, wax.",
        ]
        return tuple(steps)


def _too_large(shop: Shop, made: Making) -> list[Finding]:
    found: list[Finding] = []
    choices, blanks, saw = shop.choices, made.blanks, limits()["saw_cut"].value
    short = [blank for blank in blanks if blank.long_mm + saw > choices.board_long_mm]
    if short:
        longest = max(short, key=lambda one: one.long_mm)
        found.append(
            Finding(
                "scarfed",
                Severity.NOTE,
                f"{len(short)} {'board is' if len(short) == 1 else 'boards are'} longer than those at hand: "
                "scarf each of lengths first, the longest, "
                "{long_mm}, of {lengths}, every scarf {scarf_mm} long and staggered from board to board.",
                noun="scarf each",
                figures={
                    "long_mm": longest.long_mm,
                    "lengths": float(wood.scarfed(longest, choices.board_long_mm, saw)),
                    "scarf_mm": wood.scarf_mm(longest),
                },
                main="long_mm",
                source=limits()["scarf_slope"].source,
            )
        )
    wide = [one for one in blanks if one.wide_mm + saw > choices.board_wide_mm]
    if wide:
        widest = max(wide, key=lambda one: one.wide_mm)
        found.append(
            Finding(
                "glued-up",
                Severity.NOTE,
                f"{len(wide)} {'board is' if len(wide) == 1 else 'boards are'} wider than those at hand: glue "
                "each up of strips first, the "
                "widest, {wide_mm}, of {strips}.",
                noun="glue each up",
                figures={"wide_mm": widest.wide_mm, "strips": float(wood.glued_up(widest, choices.board_wide_mm, saw))},
                main="wide_mm",
                source="making-practice",
            )
        )
    return found


def _moves(shop: Shop, made: Making) -> Finding:
    choices, figures, timber_ = shop.choices, made.figures, timber(shop.choices.timber)
    worth = figures["move_mm"] > limits()["wood_moves"].value
    return Finding(
        "wood-moves",
        Severity.WARN if worth else Severity.NOTE,
        f"{timber_.name} moves {{move_mm}} over {{across_mm}} across its grain between a dry winter and a "
        "damp shed." + (" Cross the boards, seal them all round, or take plywood." if worth else ""),
        noun="moves",
        figures=figures,
        main="move_mm",
        remedies=(Remedy("plywood", "Birch plywood", SetTimber("plywood")),)
        if worth and choices.timber != "plywood"
        else (),
        source=timber_.movement.source,
    )


def _short_grain(shop: Shop, made: Making) -> list[Finding]:
    found: list[Finding] = []
    layers, names = made.layers, shop.names
    weak = wood.short_grain(layers)
    if weak:
        one, thin = min(weak, key=lambda pair: pair[1])
        found.append(
            Finding(
                "short-grain",
                Severity.WARN,
                f"{names[one.piece]}, board {one.number} is thin and short-grained. It may split: turn its "
                "grain, or let it in.",
                noun="short-grained",
                figures={"thin_mm": thin},
                main="thin_mm",
                source=limits()["wood_short_grain"].source,
            )
        )
    return found
