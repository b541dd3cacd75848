"""The work at the moulding bench in six steps, by how the pattern parts, the sand, the cores and what is cut after."""

from dataclasses import dataclass

import numpy as np

from pounce.base.units import count_words, from_mm, length, plain
from pounce.cores.values import Core
from pounce.pattern.values import Role
from pounce.sheet.content import Content
from pounce.stock.values import Added, Dimension, LineKind

# What is drilled, bored and milled is said of so many before "and more".
MOST_CUTS = 3
# Diameters that are one, mm.
SAME_MM = 0.01


@dataclass(frozen=True)
class Step:
    """A step: what it is called and what is done."""

    title: str
    text: str


def steps_of(c: Content) -> tuple[Step, ...]:
    """The steps in their order, numbered from 1."""
    if c.method.mould.bond == "loose":
        return (_bed(c), _fill(c), _weigh(), _burn(), _shake(), _cut(c))
    halves = (*_halves(c), _vent(c))
    lift = _lift(c) if c.method.pattern.draws else _leave(c)
    return (*halves, lift, _close(c), _cut(c))


def _roles(c: Content) -> set[Role]:
    return set() if c.pattern is None else {piece.role for piece in c.pattern.pieces}


def _hard(c: Content) -> str:
    """What the sand wants before it is turned."""
    return "ram and let it set hard" if c.method.mould.bond == "set" else "ram and strike off"


def _halves(c: Content) -> tuple[Step, Step]:
    """Drag and cope in the order they are rammed: a board where the drag will be wants the cope first."""
    if _board_for_drag(c):
        fills, hard = " and into its open side" if c.parting.on_plain_board else "", _hard(c)
        cope = f"{_carried(c)}, cope over it. Dust, face, set sprue and riser, {hard}, turn it over."
        drag = f"Drag over the cope{fills}, parting dust on the joint. {hard[:1].upper()}{hard[1:]}, turn both over."
        return Step("Ram the cope", cope), Step("Ram the drag", _cheek(c) + drag)
    return _drag(c), _cope(c)


def _board_for_drag(c: Content) -> bool:
    """Whether a board takes the drag's place while the cope is rammed: the follow board as it was made, or a plain one
    under an open side.
    """
    pieces = () if c.pattern is None else c.pattern.pieces
    board = next((piece for piece in pieces if piece.role is Role.FOLLOW_BOARD), None)
    if board is None:
        return c.parting.on_plain_board and c.parting.board_for_drag
    joint = c.parting.joint
    return bool(board.turn[2] @ joint.direction > 0.0) != joint.turned


def _carried(c: Content) -> str:
    """What carries a pattern whose joint is no plane."""
    return "Pattern in its follow board" if Role.FOLLOW_BOARD in _roles(c) else "Pattern on the board, open side down"


def _cheek(c: Content) -> str:
    ringed = c.parting.ringed
    return "" if ringed is None or ringed.cheek_mm <= 0.0 else "The cheek first, to its own joint. "


def _drag(c: Content) -> Step:
    roles = _roles(c)
    after = f"Dust, face, {_hard(c)}, turn it over."
    if Role.BOARD in roles or Role.MATCH_PLATE in roles:
        laid = "Drag over the board's pins." if Role.BOARD in roles else "Drag over the plate's pins."
    elif Role.FOLLOW_BOARD in roles or c.parting.on_plain_board:
        laid = f"{_carried(c)}, drag over it."
    elif Role.FALSE_PATTERN in roles:
        laid = "Ram a false cope round the false pattern first, and the drag on that."
    elif Role.DRAG_HALF in roles:
        laid = "Drag half on the board, split face down."
    elif c.parting.kind == "flat-back":
        laid = "Pattern on the board, flat back down."
        if c.parting.drag_depth_mm <= c.parting.cope_depth_mm:
            return Step("Ram the drag", f"No pattern yet: a flat bed of sand. {after}")
    elif c.parting.moulded == "cut-down":
        laid = "Pattern on the board."
        after = f"Dust, {_hard(c)}, turn over, cut down to the line by the plan."
    else:
        laid = "Bed the pattern in to its parting line."
    return Step("Ram the drag", f"{laid} {after}")


def _cope(c: Content) -> Step:
    roles = _roles(c)
    fills = " and into its open side" if c.parting.on_plain_board and Role.FOLLOW_BOARD not in roles else ""
    laid = f"Cope over the drag{fills}, parting dust on the joint."
    if Role.COPE_HALF in roles:
        held = {"loose": "on its dowels", "pins": "on its pins", "none": "in its place"}[c.choices.dowels]
        laid = f"Cope half {held}, parting dust on the joint."
    elif c.parting.kind == "flat-back" and c.parting.drag_depth_mm <= c.parting.cope_depth_mm:
        laid = "Pattern on the drag, flat back down, parting dust."
    return Step("Ram the cope", f"{_cheek(c)}{laid} Set sprue and riser, {_hard(c)}.")


def _vent(c: Content) -> Step:
    prints = " and over the prints for the core's gas" if c.cores.cores else ""
    return Step("Vent", f"Prick to a finger's breadth of the pattern, over its highest places{prints}.")


def _lift(c: Content) -> Step:
    rap = f"Rap {length(c.parting.rap_mm, c.unit)} each way."
    loose = len(c.parting.loose)
    pieces_made = () if c.pattern is None else c.pattern.pieces
    screwed = any(hole.purpose == "draw-screw" for piece in pieces_made for hole in piece.holes)
    by = "by its screws" if screwed else "level, with both hands"
    pieces = f" Then draw the loose {'piece' if loose == 1 else 'pieces'} sideways." if loose else ""
    return Step("Lift and draw", f"{rap} Lift the cope straight on its pins, draw the pattern {by}.{pieces}")


def _leave(c: Content) -> Step:
    if c.method.pattern.dug:
        return Step(
            "Dig out", "Open at the joint when it has set, dig the pattern out in pieces, blow the mould clean."
        )
    return Step("Leave it in", "The pattern stays: the metal takes its place. Leave a way for the smoke.")


def _close(c: Content) -> Step:
    if not c.cores.cores:
        return Step("Close", "Blow out loose sand, mend what broke, close on the pins, clamp or weight the cope.")
    one = len(c.cores.cores) == 1
    what = "the core" if one else f"the {count_words(len(c.cores.cores))} cores"
    return Step(f"Set {what}", f"{_seat(c, c.cores.cores[0])} Blow out, close on the pins, clamp or weight the cope.")


def _seat(c: Content, core: Core) -> str:
    kinds = {one.kind: one for one in core.prints}
    if "drag" in kinds:
        deep = length(kinds["drag"].length_mm * c.factor, c.unit)
        top = " The cope's taper finds its seat." if "cope" in kinds else ""
        return f"{deep} into the drag print, vent up.{top}"
    if "ring" in kinds:
        return "Lay it into its belt half by half, joint to joint."
    return "Lay it into its prints in the joint, vent led out."


def _cut(c: Content) -> Step:
    done = cuts_after(c)
    shown = ", ".join(done[:MOST_CUTS]) + (" and more, see further on" if len(done) > MOST_CUTS else "")
    words = f"{shown[:1].upper()}{shown[1:]}." if done else "Nothing is machined: it stays as cast."
    return Step("Pour, then cut", f"When cold: cut gates and riser off. {words}")


def cuts_after(c: Content) -> list[str]:
    """What is drilled, bored and milled when it is cold, the drilling first, each once."""
    out = []
    if c.stock.drill:
        count = len(c.stock.drill)
        out.append("drill the hole" if count == 1 else f"drill {count_words(count)} holes")
        keyed = sum(point.keyed for point in c.stock.drill)
        if keyed:
            out.append("cut the keyway" if keyed == 1 else f"cut {count_words(keyed)} keyways")
    for line in c.stock.lines:
        if line.on and line.kind is LineKind.MACHINING and not line.trouble:
            out.append(_machined(line, c.unit))
    return list(dict.fromkeys(out))


def machined_words(c: Content, number: int) -> str:
    """What a line of stock is cut away by, in the section."""
    line = c.stock.lines[number]
    wide = line.figures["diameter_mm"]
    return (
        f"{_rounding(line)} to Ø {length(wide, c.unit)}"
        if wide > 0.0
        else f"mill {length(line.figures['stock_mm'], c.unit)}"
    )


def _machined(line: Added, unit: str) -> str:
    wide = line.figures["diameter_mm"]
    if wide <= 0.0:
        return f"mill {length(line.figures['stock_mm'], unit)} off the {line.words(unit).lower()}"
    return f"{_rounding(line)} to Ø {length(wide, unit)}"


def _rounding(line: Added) -> str:
    return "bore" if line.figures["left_mm"] < line.figures["diameter_mm"] else "turn"


def then_words(row: Dimension, c: Content) -> str:
    """What is done to a dimension of the casting: bored, turned, milled, or nothing."""
    lines = [line for line in c.stock.lines if line.on and line.kind is LineKind.MACHINING and not line.trouble]
    if row.axis is None:
        same = [line for line in lines if abs(line.figures["diameter_mm"] - row.wanted_mm) < SAME_MM]
        return f"{_rounding(same[0])} to {plain(from_mm(row.wanted_mm, c.unit), 3)}" if same else "as cast"
    ends = c.part.mesh.bounds[:, row.axis]
    near = 1e-3 * c.part.mesh.diagonal
    off = [
        line.figures["stock_mm"]
        for line in lines
        if line.figures["diameter_mm"] <= 0.0
        and line.at_mm is not None
        and float(np.abs(ends - line.at_mm[row.axis]).min()) < near
    ]
    # alike ends are milled once each; several faces of one end count once
    return f"mill {plain(from_mm(max(off), c.unit), 3)}" if off else "as cast"


def _bed(c: Content) -> Step:
    under = length(c.sand.under_mm, c.unit, 0)
    return Step("Bed it", f"{under} of dry sand under it; coat is dry; the foam sprue stands above the sand.")


def _fill(c: Content) -> Step:
    beside = length(c.sand.beside_mm, c.unit, 0)
    return Step("Fill and shake", f"Pour sand in layers, {beside} round it, and shake it into every hollow.")


def _weigh() -> Step:
    return Step("Weight it", "Weight the top so that nothing floats, and leave the sprue's mouth clear.")


def _burn() -> Step:
    return Step("Pour", "Outdoors, upwind. In one go, as fast as the sprue takes it: the foam must give way steadily.")


def _shake() -> Step:
    return Step("Shake out", "When it is dark and stiff all through. The sand is hot and smells: leave it to cool.")
