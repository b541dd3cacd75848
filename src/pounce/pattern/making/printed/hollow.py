"""Hollow printed pieces: how thick, how far apart the ribs, and what it saves."""

from dataclasses import dataclass

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Severity
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.pattern.making.printed.cavity import Shape, hollowed, rib_pitch
from pounce.pattern.making.values import Printed
from pounce.pattern.values import PatternChoices, Piece, Role
from pounce.solid.mesh import Mesh

HOLLOWED = (Role.COPE_HALF, Role.DRAG_HALF, Role.WHOLE, Role.LOOSE_PIECE)
# Material left round a hole in a hollow piece, mm.
ROUND_MM = limits()["hollow_boss"].value


@dataclass(frozen=True)
class Hollow:
    """How pieces are hollowed. Filament: chambers open to the joint that roof over by themselves. ``resin``: a floor
    over the joint with two drain holes a chamber.
    """

    wall_mm: float
    resin: bool

    def pitch_mm(self, mesh: Mesh) -> float:
        """How far apart ribs may stand: by the plate between them, and no chamber roofs over by itself that is wider
        than it is high.
        """
        return min(
            rib_pitch(self.wall_mm, limits()["plastic_modulus"].value), max(float(mesh.size[2]), 4.0 * self.wall_mm)
        )

    def of(self, piece: Piece, mesh: Mesh) -> tuple[Mesh, int]:
        """A laid piece or a part of it hollowed, and its drain holes; as it was where it cannot be, or stands on
        pins.
        """
        if piece.role not in HOLLOWED or (piece.pins and not self.resin):
            return mesh, 0
        keep = [[*piece.on_laid(hole.at_mm)[:2], hole.radius_mm + ROUND_MM] for hole in piece.holes]
        keep += [[*piece.on_laid(pin.at_mm)[:2], pin.radius_mm + ROUND_MM] for pin in piece.pins]
        if piece.numbered is not None:
            keep.append([*piece.on_laid(piece.numbered[0])[:2], piece.numbered[1] + 1.0])
        shape = Shape(
            self.wall_mm,
            limits()["hollow_rib"].value,
            self.pitch_mm(mesh),
            self.wall_mm if self.resin else 0.0,
            0.0,
            True,
            np.array(keep).reshape(-1, 3),
        )
        return hollowed(mesh, shape, self.resin)


def hollow_for(choices: PatternChoices, method: Method) -> Hollow:
    """How the pieces of this method are hollowed. UserFault for a wall that cannot be."""
    wall = limits()["hollow_wall"].value if choices.wall_mm is None else choices.wall_mm
    if not 1.0 <= wall <= 30.0:
        raise UserFault(f"Walls of {wall:g} mm cannot be used.", "Give 1 to 30 mm.")
    return Hollow(wall, method.pattern_id == "printed-resin")


def no_flat_joint() -> Finding:
    """Why pieces of a shaped joint are not hollowed."""
    return Finding(
        "hollow-wants-a-flat-joint",
        Severity.NOTE,
        "A joint that follows the part leaves no flat side to hollow from: let the printer fill the inside.",
        noun="joint",
        source=limits()["hollow_wall"].source,
    )


def said(hollow: Hollow, prints: tuple[Printed, ...]) -> list[Finding]:
    """What there is to say of hollow prints."""
    room = sum(core_print.room_mm3 for core_print in prints)
    drains = sum(one.drains for one in prints)
    pitch = max((hollow.pitch_mm(one.mesh) for one in prints if one.room_mm3 > 0.0), default=0.0)
    figures = {
        "wall_mm": hollow.wall_mm,
        "rib_mm": limits()["hollow_rib"].value,
        "pitch_mm": pitch,
        "saved_mm3": room,
        "drains": float(drains),
    }
    if room <= 0.0:
        text = "There is no room to hollow the pieces with walls of {wall_mm}: they stay full."
        source = limits()["hollow_wall"].source
        return [
            Finding(
                "no-room-to-hollow", Severity.NOTE, text, noun="no room", figures=figures, main="wall_mm", source=source
            )
        ]
    text = (
        "Hollow with walls of {wall_mm} and ribs no further apart than {pitch_mm}, so that ramming bends no wall: "
        "{saved_mm3} of room inside."
    )
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
        found.append(
            Finding(
                "drains",
                Severity.NOTE,
                f"{drains} drain holes go through the joint, away from every face of the mould: rinse the "
                "inside, then stop them with wax.",
                noun="drain holes",
                figures=figures,
                source=limits()["drain_hole"].source,
            )
        )
    return found
