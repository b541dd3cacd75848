"""Hollow printed pieces: how thick, how far apart the ribs, and what it saves."""

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Severity
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.pattern.making.cavity import Shape, hollowed, rib_pitch
from pounce.pattern.values import PatternChoices, Piece

HOLLOWED = ("cope-half", "drag-half", "pattern", "loose-piece")
# Stuff left round a hole in a hollow piece, mm.
ROUND_MM = 3.0


def hollow_pieces(
    pieces: list[Piece], choices: PatternChoices, method: Method, flat: bool
) -> tuple[list[Piece], list[Finding]]:
    """The pieces hollowed behind their joint, and what there is to say. ``flat``: whether they lie on a flat joint.

    Filament: chambers open to the joint that roof over by themselves. Resin: a floor over the joint with two drain holes a chamber.
    """
    wall = limits()["hollow_wall"].value if choices.wall_mm is None else choices.wall_mm
    if not 1.0 <= wall <= 30.0:
        raise UserFault(f"Walls of {wall:g} mm cannot be used.", "Give 1 to 30 mm.")
    if not flat:
        return pieces, [Finding(
            "hollow-wants-a-flat-joint", Severity.NOTE, "A joint that follows the part leaves no flat side to hollow from: let the printer fill the inside.",
            noun="joint", source=limits()["hollow_wall"].source,
        )]  # fmt: skip
    resin = method.pattern_id == "printed-resin"
    out: list[Piece] = []
    saved, drains, pitch = 0.0, 0, 0.0
    for piece in pieces:
        if piece.role not in HOLLOWED:
            out.append(piece)
            continue
        # no chamber roofs over by itself that is wider than the piece is high
        pitch = min(rib_pitch(wall, limits()["plastic_modulus"].value), max(float(piece.laid.size[2]), 4.0 * wall))
        keep = [[*piece.on_laid(hole.at_mm)[:2], hole.radius_mm + ROUND_MM] for hole in piece.holes]
        keep += [[*piece.on_laid(pin.at_mm)[:2], pin.radius_mm + ROUND_MM] for pin in piece.pins]
        if piece.numbered is not None:
            keep.append([*piece.on_laid(piece.numbered[0])[:2], piece.numbered[1] + 1.0])
        shape = Shape(
            wall, limits()["hollow_rib"].value, pitch, wall if resin else 0.0, 0.0, True, np.array(keep).reshape(-1, 3)
        )
        laid, holes = (piece.laid, 0) if piece.pins and not resin else hollowed(piece.laid, shape, resin)
        drains += holes
        saved += piece.laid.volume - laid.volume
        out.append(piece.with_laid(laid) if laid is not piece.laid else piece)
    figures = {
        "wall_mm": wall,
        "rib_mm": limits()["hollow_rib"].value,
        "pitch_mm": pitch,
        "saved_mm3": saved,
        "drains": float(drains),
    }
    if saved <= 0.0:
        text = "There is no room to hollow the pieces with walls of {wall_mm}: they stay full."
        return out, [
            Finding(
                "no-room-to-hollow",
                Severity.NOTE,
                text,
                noun="no room",
                figures=figures,
                main="wall_mm",
                source=limits()["hollow_wall"].source,
            )
        ]
    text = "Hollow with walls of {wall_mm} and ribs no further apart than {pitch_mm}, so that ramming bends no wall: {saved_mm3} of room inside."
    found = [
        Finding(
            "hollow",
            Severity.NOTE,
            text,
            noun="ribs",
            figures=figures,
            main="saved_mm3",
            source=limits()["plate_flex"].source,
        )
    ]
    if drains:
        found.append(Finding(
            "drains", Severity.NOTE, f"{drains} drain holes go through the joint, away from every face of the mould: rinse the inside, then stop them with wax.",
            noun="drain holes", figures=figures, source=limits()["drain_hole"].source,
        ))  # fmt: skip
    return out, found
