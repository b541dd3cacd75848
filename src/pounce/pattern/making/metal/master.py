"""A metal production pattern cast from a master: stock on its joint to machine and lap, a hollow back, and where its
pins go.

The master is made like any pattern, at both contractions; what is worked here is what the master carries beyond
that.
"""

from dataclasses import replace

import manifold3d
import numpy as np

from pounce.base.finding import Finding, Severity
from pounce.metals import tables
from pounce.metals.grades import machining_for
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.pattern.making.printed.cavity import WELD_MM, Shape, chambers, rib_pitch
from pounce.pattern.values import BESIDE, PatternChoices, Piece, Role
from pounce.solid import boolean
from pounce.solid.mesh import Mesh
from pounce.solid.weld import welded

MM3_PER_LITRE = 1e6


def wall_for(long_mm: float) -> float:
    """Wall of a hollow-backed metal pattern, mm: the table's, and more by the same share for a longer one."""
    figures = limits()
    return float(figures["metal_pattern_wall"].value * max(1.0, long_mm / figures["metal_pattern_long"].value))


def lap_stock(long_mm: float, choices: PatternChoices, metal_id: str) -> float:
    """Stock on the joint of the metal pattern, mm: own figure, or ISO 8062-3 by its largest dimension and its metal's
    usual grade.

    A joint is faced until it cleans up, wherever that is: no tolerance is laid on top.
    """
    return (
        tables.grades()["machining"].at(long_mm, machining_for(metal_id).grade)
        if choices.lap_mm is None
        else choices.lap_mm
    )


def master_pieces(
    pieces: list[Piece], choices: PatternChoices, method: Method, scale: float
) -> tuple[list[Piece], dict[str, float], list[Finding]]:
    """The master's pieces with stock on their joint and a hollow back; figures; findings.

    A master's joint lies the stock's thickness over the bed. Figures are of the metal pattern; ``scale`` is the
    master as it is made over the metal pattern: its metal's contraction, and a printer's own errors.
    """
    metal = tables.metal(method.master_id)
    own = [piece for piece in pieces if piece.role not in BESIDE]
    long = max((float(piece.laid.size.max()) for piece in own), default=0.0) / scale
    lap, wall = lap_stock(long, choices, method.master_id), wall_for(long)
    out: list[Piece] = []
    back = 0.0
    volume = 0.0
    for piece in pieces:
        if piece.role in BESIDE or piece.role == Role.LOOSE_PIECE:
            out.append(piece)
            continue
        laid, room = _backed(piece, wall * scale, lap * scale, choices.back)
        back += room
        volume += laid.volume
        made = replace(piece, shift=piece.shift + np.array([0.0, 0.0, lap * scale]))
        out.append(made.with_laid(laid))
    figures = {
        "lap_mm": lap,
        "metal_wall_mm": wall,
        "back_litres": back / scale**3 / MM3_PER_LITRE,
        "metal_kg": volume / scale**3 * 1e-9 * metal.density.value,
    }
    return out, figures, _said(pieces, figures, choices.back and back > 0.0)


def _said(pieces: list[Piece], figures: dict[str, float], hollow: bool) -> list[Finding]:
    """Of its joint, its back and its pins."""
    found = [
        Finding(
            "joint-is-lapped",
            Severity.NOTE,
            "{lap_mm} is left on the joint: machine it, then lap both halves on a plate until they meet all over.",
            noun="joint",
            figures=figures,
            main="lap_mm",
            source=tables.grades()["machining"].source,
        )
    ]
    if hollow:
        found.append(
            Finding(
                "hollow-back",
                Severity.NOTE,
                "The back is hollow, {metal_wall_mm} of wall with ribs, and draws from its own sand. "
                "Back-filling it takes "
                "{back_litres}; the metal weighs {metal_kg}.",
                noun="back is hollow",
                figures=figures,
                main="back_litres",
                source=limits()["metal_pattern_wall"].source,
            )
        )
    if any(hole.purpose == "pin-mark" for piece in pieces for hole in piece.holes):
        found.append(
            Finding(
                "pins-after-lapping",
                Severity.NOTE,
                "Dimples mark the pins. Clamp the lapped halves together and bore and ream both at once.",
                noun="pins",
                source=limits()["pin_mark"].source,
            )
        )
    return found


def _backed(piece: Piece, wall: float, lap: float, hollow: bool) -> tuple[Mesh, float]:
    """A laid piece on its lap stock, hollowed from behind, and the room inside, mm3."""
    laid = piece.laid
    solid = boolean.closed_solid(laid)
    if solid is None:
        return laid, 0.0
    keep = np.array([[*piece.on_laid(hole.at_mm)[:2], hole.radius_mm + wall] for hole in piece.holes]).reshape(-1, 3)
    lean = float(np.tan(np.radians(limits()["inside_lean"].value)))
    rooms = []
    if hollow:
        rooms = chambers(
            laid, Shape(wall, wall, rib_pitch(wall, limits()["metal_modulus"].value), 0.0, lean, False, keep)
        )
    foot = solid.slice(1e-3).extrude(lap + 1e-3)
    made = boolean.united([solid.translate([0.0, 0.0, lap]), foot])
    if rooms:
        through = [
            manifold3d.Manifold.batch_boolean(
                [room.translate([0.0, 0.0, lap]), *_down(room, lap)], manifold3d.OpType.Add
            )
            for room in rooms
        ]
        before = made.volume()
        made = boolean.without(made, through)
        return welded(boolean.as_mesh(made, laid.tags), WELD_MM), float(before - made.volume())
    return boolean.as_mesh(made, laid.tags), 0.0


def _down(room: boolean.Solid, lap: float) -> list[boolean.Solid]:
    """The mouth of a room carried on through the lap stock."""
    return [room.slice(1e-3).extrude(lap + 2.0).translate([0.0, 0.0, -1.0])]
