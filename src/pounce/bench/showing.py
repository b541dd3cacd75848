"""What of a pattern's making is shown on the bench: layers opened upward, parts cut for the bed apart, prints on their
beds, pieces on boards.

All in the laid frame, z along the draw; the bench only turns it and paints it.
"""

from dataclasses import dataclass, field

import numpy as np

from pounce.pattern.making.values import Layer
from pounce.pattern.values import OVER, Mount, PatternResult
from pounce.solid.frame import across
from pounce.solid.mesh import Floats, Mesh

# Between things that stand side by side, as a share of the wider.
GAP = 0.25
NONE = np.zeros((0, 2, 3))
# How far the cope half is turned open.
OPENED_DEG = 112.0
# An arrow of the grain over the longest way of its layer, its barbs over itself, and how far it lies over the wood, mm.
ARROW, BARB, OVER_MM = 0.22, 0.22, 0.4


@dataclass(frozen=True, eq=False)
class Shown:
    """A solid where it is shown: its ``tone`` (clay, timber, chalk), its ``name`` and a thickness that belongs to it
    (0: none), mm, and the point (3,) to tie its label to; ``strokes`` (k, 2, 3) of the arrow that shows the way of
    its grain.
    """

    mesh: Mesh
    tone: str
    name: str
    thick_mm: float
    at_mm: Floats
    strokes: Floats = field(default_factory=lambda: NONE)


def shows_own(pattern: PatternResult) -> bool:
    """Whether the making has something of its own to show, other than the pieces opened like a book."""
    made = pattern.making
    return (
        bool(made.layers)
        or pattern.mount is not None
        or made.hollow
        or any(core_print.part for core_print in made.prints)
    )


def shown(pattern: PatternResult, apart: float) -> tuple[Shown, ...]:
    """All that is shown, ``apart`` (0 to 1) moved out of one another."""
    made = pattern.making
    out: list[Shown] = []
    if made.layers:
        out += _stacks(made.layers, apart, "timber" if made.kind == "wood" else "chalk")
    elif pattern.mount is None:
        out += _parted(pattern, apart) if any(core_print.part for core_print in made.prints) else _printed(pattern)
    if pattern.mount is not None:
        edge = max((float(one.mesh.bounds[1, 0]) for one in out), default=0.0)
        boards = _mounted(pattern, pattern.mount, apart)
        low = min(float(one.mesh.bounds[0, 0]) for one in boards)
        shift = np.array([edge * (1.0 + GAP) - low if out else 0.0, 0.0, 0.0])
        out += [_moved(board, shift) for board in boards]
    return tuple(out)


def corners(things: tuple[Shown, ...]) -> Floats:
    """(n, 3) corners of the boxes of all that is shown."""
    out = [_box_of(thing.mesh) for thing in things]
    return np.concatenate(out) if out else np.zeros((0, 3))


def _moved(one: Shown, shift: Floats) -> Shown:
    return Shown(
        one.mesh.moved(np.eye(3), shift), one.tone, one.name, one.thick_mm, one.at_mm + shift, one.strokes + shift
    )


def _stacks(layers: tuple[Layer, ...], apart: float, tone: str) -> list[Shown]:
    """Stacks side by side, each opened upward."""
    count = max(one.piece for one in layers) + 1
    wide = [
        max((float(one.mesh.size[0]) for one in layers if one.piece == k and one.mesh is not None), default=0.0)
        for k in range(count)
    ]
    gap = GAP * max(wide)
    starts = np.concatenate([[0.0], np.cumsum([w + gap for w in wide])])
    tall = max(layer.high_mm for layer in layers)
    out = []
    for one in layers:
        if one.mesh is None:
            continue
        lift = apart * (one.number - 1) * max(0.55 * tall, 0.12 * max(wide))
        shift = np.array([float(starts[one.piece]) + wide[one.piece] / 2.0, 0.0, lift])
        mesh = one.mesh.moved(np.eye(3), shift)
        strokes = _grain(one) + shift if tone == "timber" else NONE
        out.append(
            Shown(
                mesh, tone, str(one.number), one.thick_mm, mesh.vertices[int(np.argmax(mesh.vertices[:, 0]))], strokes
            )
        )
    return out


def _grain(layer: Layer) -> Floats:
    """(k, 2, 3) a double arrow on a layer's upper face along its grain."""
    face = layer.upper if not layer.upper.is_empty else layer.saw
    spot = max(getattr(face, "geoms", [face]), key=lambda part: part.area).representative_point()
    x0, y0, x1, y1 = face.bounds
    turn = np.radians(layer.grain_deg)
    way = np.array([np.cos(turn), np.sin(turn), 0.0]) * ARROW * max(x1 - x0, y1 - y0) / 2.0
    side = np.array([-way[1], way[0], 0.0])
    middle = np.array([float(spot.x), float(spot.y), layer.high_mm + OVER_MM])
    strokes = [[middle - way, middle + way]]
    for sign in (1.0, -1.0):
        tip = middle + sign * way
        strokes += [[tip, tip - sign * BARB * way + hand * 0.6 * BARB * side] for hand in (1.0, -1.0)]
    return np.array(strokes)


def _parted(pattern: PatternResult, apart: float) -> list[Shown]:
    """Pieces side by side, the parts they were cut in for the bed moved out of one another along their cuts; hollow
    ones turned over.
    """
    out: list[Shown] = []
    edge = 0.0
    flip = OVER if pattern.making.hollow else np.eye(3)
    for k in sorted({core_print.of for core_print in pattern.making.prints}):
        mine = [one for one in pattern.making.prints if one.of == k]
        low = np.min([one.lies.bounds[0] for one in mine], axis=0)
        high = np.max([one.lies.bounds[1] for one in mine], axis=0)
        middle, size = (low + high) / 2.0, high - low
        placed = []
        for one in mine:
            off = (one.lies.bounds.mean(axis=0) - middle) * [1.0, 1.0, 0.0]
            placed.append(one.lies.moved(np.eye(3), 0.3 * apart * off - [0.0, 0.0, middle[2]]).moved(flip, np.zeros(3)))
        least = min(float(mesh.bounds[0, 0]) for mesh in placed)
        for one, mesh in zip(mine, placed, strict=True):
            stood = mesh.moved(np.eye(3), np.array([edge - least, 0.0, size[2] / 2.0]))
            at = np.array([*stood.bounds.mean(axis=0)[:2], float(stood.bounds[1, 2])])
            out.append(Shown(stood, "clay", one.name, 0.0, at))
        edge = max(float(one.mesh.bounds[1, 0]) for one in out) + GAP * float(size[0])
    return out


def _printed(pattern: PatternResult) -> list[Shown]:
    """Beds side by side, each print where it lies; hollow ones turned over, so that their ribs are seen."""
    prints = pattern.making.prints
    wide = max((core_print.at_mm[0] + float(core_print.mesh.size[0]) / 2.0 for core_print in prints), default=0.0)
    out = []
    for one in prints:
        mesh = one.mesh
        if pattern.making.hollow:
            mesh = mesh.moved(OVER, np.array([0.0, 0.0, float(mesh.size[2])]))
        mesh = mesh.moved(np.eye(3), np.array([one.at_mm[0] + one.bed * 1.1 * wide, one.at_mm[1], 0.0]))
        at = np.array([*mesh.bounds.mean(axis=0)[:2], float(mesh.bounds[1, 2])])
        out.append(Shown(mesh, "clay", one.name, 0.0, at))
    return out


def _mounted(pattern: PatternResult, mount: Mount, apart: float) -> list[Shown]:
    """Boards one behind the other, their pieces lifted off them; on a match plate those under it drop."""
    out: list[Shown] = []
    deep = max(float(board.laid.size[1]) for board in mount.boards)
    rise = 0.0
    for k, board in enumerate(mount.boards):
        behind = np.array([0.0, -k * (1.0 + GAP) * deep, 0.0])
        laid = board.laid.moved(np.eye(3), behind)
        corner = np.array([laid.bounds[1, 0], laid.bounds[0, 1], laid.bounds[1, 2]])
        out.append(Shown(laid, "timber", board.name, float(board.laid.size[2]), corner))
        for one in mount.placed:
            if one.board != k:
                continue
            under = float(one.mesh.bounds.mean(axis=0)[2]) < 0.0
            lift = apart * (0.35 * float(one.mesh.size[2]) + 8.0) * (-1.0 if under else 1.0)
            rise = min(rise, lift) if under else rise
            mesh = one.mesh.moved(np.eye(3), behind + np.array([0.0, 0.0, lift]))
            out.append(
                Shown(
                    mesh,
                    "clay",
                    pattern.pieces[one.piece].name,
                    0.0,
                    np.array([*mesh.bounds.mean(axis=0)[:2], float(mesh.bounds[1, 2])]),
                )
            )
    return out


def opened(mesh: Mesh, direction: Floats, height_mm: float) -> Mesh:
    """The cope half turned open about the back edge of the joint, so that its split face is seen."""
    return mesh.moved(*_opening(mesh, direction, height_mm))


def opened_corners(mesh: Mesh, direction: Floats, height_mm: float) -> Floats:
    """(8, 3) corners of the box of the cope half, turned open with it."""
    turn, shift = _opening(mesh, direction, height_mm)
    return np.asarray(_box_of(mesh) @ turn.T + shift)


def _box_of(mesh: Mesh) -> Floats:
    """(8, 3) corners of the box round a mesh."""
    low, high = mesh.bounds
    return np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])


def _opening(mesh: Mesh, direction: Floats, height_mm: float) -> tuple[Floats, Floats]:
    """Turn (3, 3) and shift (3,) that open a cope half."""
    u, v = across(direction)
    hinge = v * float((mesh.vertices @ v).max()) + direction * height_mm
    angle = np.radians(OPENED_DEG)
    # turns +draw over to the back: direction -> v
    turn = np.eye(3) - np.sin(angle) * _cross(u) + (1.0 - np.cos(angle)) * (_cross(u) @ _cross(u))
    return turn, hinge - turn @ hinge + v * 0.12 * mesh.diagonal


def beside(laid: Mesh, main: Mesh, direction: Floats) -> Mesh:
    """A piece as it lies for making, set down to the right of the pattern."""
    u, v = across(direction)
    turn = np.stack([u, v, direction], axis=1)
    gap = 0.08 * main.diagonal
    right = float((main.vertices @ u).max()) + gap + float(laid.size[0]) / 2.0
    middle = float((main.vertices @ v).mean())
    foot = float((main.vertices @ direction).min())
    return laid.moved(turn, u * right + v * middle + direction * foot)


def _cross(axis: Floats) -> Floats:
    return np.array([[0.0, -axis[2], axis[1]], [axis[2], 0.0, -axis[0]], [-axis[1], axis[0], 0.0]])
