"""Drawings at 1:1 of what is no layer: mounting boards with their pins, the plan of a clay mould, profiles to turn
to.
"""

import numpy as np
import shapely

from pounce.export.drawing import Drawing, Line, rings_of
from pounce.metals.tables import limits
from pounce.pattern.making.values import Clay, Segments
from pounce.pattern.making.wood.turning import Turned, turned
from pounce.pattern.values import Mount, Piece
from pounce.solid.mesh import Floats

# How far apart words of a profile stand from its line, mm.
GAP_MM = 4.0


def board_drawings(mount: Mount) -> tuple[Drawing, ...]:
    """Every board from its pattern's side: its rim, the inside of the flask, the pieces' feet, holes to bore, the
    pins' holes.
    """
    out = []
    for k, board in enumerate(mount.boards):
        low, high = board.laid.bounds[:, :2]
        lines = [
            Line(_rect(low, high)),
            Line(_rect(-np.array(mount.flask_mm) / 2.0, np.array(mount.flask_mm) / 2.0), "dashed"),
        ]
        lines += [Line(ring) for ring in rings_of(mount.outlines[k])]
        play = limits()["flask_pin_play"].value
        (x0, y0), (x1, y1) = mount.pins_mm.tolist()
        lines.append(Line(_slot(np.array([x1, y1]), mount.slot_mm - mount.pin_mm, (mount.pin_mm + play) / 2.0)))
        holes = (*mount.holes[k], (x0, y0, mount.pin_mm + play))
        words = ((x0 - 8.0, y0 - 12.0, "round pin"), (x1 - 8.0, y1 - 12.0, "slot"))
        about = (
            f"{float(board.laid.size[2]):.0f} mm thick. Dashed: the inside of the flask. Bore every hole "
            "through; the pins lie on one line, "
            f"{x1 - x0:.1f} mm apart."
        )
        out.append(Drawing(board.name, about, tuple(lines), words, holes))
    return tuple(out)


def _rect(low: Floats, high: Floats) -> Floats:
    return np.array([[low[0], low[1]], [high[0], low[1]], [high[0], high[1]], [low[0], high[1]]])


def _slot(at: Floats, longer: float, radius: float) -> Floats:
    end = np.array([longer / 2.0, 0.0])
    half = shapely.LineString([at - end, at + end]).buffer(radius, 24)
    return np.array(half.exterior.coords)[:-1]


def clay_drawing(clay: Clay) -> Drawing:
    """The clay mould's plan, funnel up."""
    wide, deep = clay.block_mm
    block = _rect(np.array([-wide / 2.0, clay.low_mm]), np.array([wide / 2.0, clay.low_mm + deep]))
    x, y = clay.funnel
    top = clay.low_mm + deep
    funnel = np.array(
        [
            [x - clay.mouth_mm / 2.0, top],
            [x - clay.throat_mm / 2.0, y],
            [x + clay.throat_mm / 2.0, y],
            [x + clay.mouth_mm / 2.0, top],
        ]
    )
    lines = [Line(clay.outline), Line(block, "dashed"), Line(funnel, "solid", False)]
    lines += [Line(way, "fine", False) for way in clay.breathers]
    key = limits()["clay_key"].value
    holes = tuple((kx, ky, key) for kx, ky in clay.keys)
    words = (
        (x - clay.mouth_mm / 2.0, top + 2.0, f"funnel, throat {clay.throat_mm:.1f}"),
        *((kx + key, ky, "key") for kx, ky in clay.keys[:1]),
    )
    words += tuple(
        (float(way[-1, 0]), float(way[-1, 1]) + 2.0 + 5.0 * (k % 2), "breather") for k, way in enumerate(clay.breathers)
    )
    about = (
        f"Joint of the clay. Press {clay.under_mm:.1f} mm deep below it, {clay.over_mm:.1f} mm above. Fine lines: "
        "breathers. Circles: keys."
    )
    return Drawing("Plan of the clay mould", about, tuple(lines), words, holes)


def segment_drawing(ring: Segments) -> Drawing:
    """One segment of a ring to mark from: its mitred ends, and dashed the arcs it is turned to."""
    half = np.radians(ring.mitre_deg)
    # the tangent side is the outer one
    top, low = ring.outer_mm, ring.outer_mm - ring.wide_mm
    t = float(np.tan(half))
    board = np.array([[-low * t, low], [low * t, low], [top * t, top], [-top * t, top]])
    turn = np.linspace(-half, half, 33)
    arcs = [
        Line(np.stack([r * np.sin(turn), r * np.cos(turn)], axis=1), "dashed", False)
        for r in (ring.outer_mm, ring.inner_mm)
    ]
    about = (
        f"Cut {ring.count} a course, both ends mitred {ring.mitre_deg:.2f}°; joints staggered from course to "
        "course. Dashed: the ring."
    )
    return Drawing(f"Segment of the ring, {2 * ring.outer_mm:.1f} mm across", about, (Line(board), *arcs))


def turning_drawing(piece: Piece) -> Drawing | None:
    """The profile of a turned piece with its diameters; None for one that is not turned."""
    found = turned(piece.laid, piece.bored)
    return None if found is None else _profile(found, piece.name)


def _profile(found: Turned, name: str) -> Drawing:
    long = float(found.profile[:, 0].max())
    axis = Line(np.array([[-8.0, 0.0], [long + 8.0, 0.0]]), "dashed", False)
    tall = float(found.profile[:, 1].max())
    words = tuple((at, tall + GAP_MM + 4.0 * (k % 3), f"{wide:.1f}") for k, (at, wide) in enumerate(found.sizes))
    marks = tuple(Line(np.array([[at, wide / 2.0], [at, tall + GAP_MM]]), "fine", False) for at, wide in found.sizes)
    how = "Turn it whole on a paper joint and split it" if found.half else "Turn it on a faceplate"
    return Drawing(
        f"{name}, profile to turn",
        f"{how}; diameters in mm over the line. Dashed: the axis.",
        (Line(found.profile), axis, *marks),
        words,
    )
