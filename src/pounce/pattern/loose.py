"""Loose pieces cut off the pattern, held by a pin that is drawn while ramming, or by a dovetail that slides."""

import numpy as np

from pounce.base.errors import UserFault
from pounce.metals.tables import limits
from pounce.parting.joint import Joint
from pounce.parting.loose import box_of
from pounce.parting.values import LoosePiece
from pounce.pattern.values import Hole, Piece, Role
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh

PIN_DEEP_MM = limits()["loose_pin_deep"].value
# A dovetail's width over the piece's own, and its most.
RAIL_SHARE, RAIL_MM = limits()["dovetail_share"].value, limits()["dovetail_most"].value


def cut_off(
    solid: Solid, mesh: Mesh, joint: Joint, asked: LoosePiece, factor: float, keyed: str
) -> tuple[Solid, Piece]:
    """The main pattern without the loose piece, and the piece. All at pattern size. UserFault when a cut leaves
    nothing.
    """
    box = box_of(asked, joint, factor)
    body = boolean.checked(boolean.common(solid, box), "Cutting the loose piece")
    main = boolean.without(solid, [box])
    way = np.array(asked.way)
    middle = boolean.as_mesh(body, mesh.tags).centre_of_mass
    low, high = _along(body, way)
    holes: list[Hole] = []
    if keyed == "pin":
        pin = limits()["loose_pin"].value
        slide = limits()["dowel_slide_clearance"].value
        start = middle + way * (low - float(middle @ way) - 1.0)
        into = high - low + 1.0
        body = boolean.without(body, [boolean.rod(start, way, into + 1.0, (pin + slide) / 2.0)])
        main = boolean.without(main, [boolean.rod(start, way, into + PIN_DEEP_MM, pin / 2.0)])
        holes.append(Hole("pin", start + way, way, (pin + slide) / 2.0, high - low))
    else:
        body, main = _dovetailed(body, main, joint, asked, way, middle, high, factor)
    made = boolean.as_mesh(boolean.checked(body, "Making the loose piece"), mesh.tags)
    # the cut face lies down
    turn = turn_to_z(-way)
    laid = made.moved(turn, np.zeros(3))
    least, most = laid.bounds
    shift = np.array([-(least[0] + most[0]) / 2.0, -(least[1] + most[1]) / 2.0, -least[2]])
    name = f"Loose piece, {asked.name.split(' {')[0]}"
    return main, Piece(
        Role.LOOSE_PIECE, name, made, laid.moved(np.eye(3), shift), made.volume, tuple(holes), (), turn, shift
    )


def _along(solid: Solid, way: Floats) -> tuple[float, float]:
    points = np.asarray(solid.to_mesh64().vert_properties)[:, :3] @ way
    if not len(points):
        raise UserFault("The loose piece came out empty.", "Choose another cure for that place.")
    return float(points.min()), float(points.max())


def _dovetailed(
    body: Solid, main: Solid, joint: Joint, asked: LoosePiece, way: Floats, middle: Floats, face: float, factor: float
) -> tuple[Solid, Solid]:
    """A rail on the piece that slides in the main pattern along the draw, a little narrower at its leading end."""
    side = np.cross(joint.direction, way)
    wide = np.ptp(np.asarray(body.to_mesh64().vert_properties)[:, :3] @ side)
    half = min(RAIL_SHARE * float(wide), RAIL_MM) / 2.0
    deep = half
    play = limits()["dowel_slide_clearance"].value / 2.0
    low, high = asked.from_mm * factor, asked.to_mm * factor
    reach = 4.0 * (high - low)

    def rail(extra: float, start: float, end: float) -> Solid:
        points = []
        for height, taper in ((start, 0.94), (end, 1.0)):
            for out, spread in ((-1.0, 1.0), (deep + extra, 1.35)):
                for sign in (-1.0, 1.0):
                    across = sign * (half * spread * (taper if asked.cope else 1.94 - taper) + extra)
                    points.append(
                        way * (face + out) + side * (float(middle @ side) + across) + joint.direction * height
                    )
        return boolean.hull_tool(np.array(points))

    slot = rail(play, low - play, high + reach) if asked.cope else rail(play, low - reach, high + play)
    return boolean.united([body, rail(0.0, low, high)]), boolean.without(main, [slot])
