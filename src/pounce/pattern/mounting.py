"""Mounting boards and match plates: the pattern's pieces in register with the pins of the flask.

The frame of a mounting: x along the line between the pins, y across it, z along the draw from the joint, all at
pattern size. A flask half that is turned over about the line of its pins takes a point (x, y, z) to (x, -y, -z).
"""

import itertools
from dataclasses import replace

import manifold3d
import numpy as np
import shapely
import shapely.affinity
from shapely.geometry.base import BaseGeometry

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy, Severity
from pounce.metals.tables import limits
from pounce.pattern.changes import SetFlask
from pounce.pattern.values import OVER, Carried, Mount, PatternChoices, Piece, Placed, Role, SetOut
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.evenodd import even_odd, outline_of
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh

# A part is alike about the line of the pins when no more of it than this share lies elsewhere after turning.
ALIKE = 2e-3
MOST_COPIES = 24
# A plan whose sides differ by less than this share is as long as wide.
SQUARE_SHARE = 0.01
# The section by which lines of symmetry are found is taken this far over the joint, mm; and so many lines are tried on
# the part.
JOINT_OFF_MM, MOST_LINES = 0.05, 4
# (board, piece, turn, shift, turned over, lift)
Setting = tuple[int, int, Floats, Floats, bool, float]
MOUNTED = (Role.COPE_HALF, Role.DRAG_HALF, Role.WHOLE)


def mounted(
    choices: PatternChoices,
    pieces: list[Piece],
    whole: Mesh,
    direction: Floats,
    height_mm: float,
    sand_mm: float,
    set_out: SetOut | None = None,
) -> Mount | None:
    """The pieces of a pattern with a flat joint on their boards; None where nothing is to be mounted. UserFault for
    impossible figures.

    ``sand_mm`` the sand wanted beside it, ``whole`` is the pattern before it was split and drilled, by which its
    likeness about the pins is judged. ``set_out`` the mould's layout, which boards and plates carry.
    """
    if choices.mount == "none":
        return None
    _checked(choices)
    own = [k for k, piece in enumerate(pieces) if piece.role in MOUNTED]
    if set_out is not None and choices.mount != "one-side":
        lying = set_out.lying
        castings = sum(len(one.castings) for one in (lying, *(other.lying for other in set_out.others)))
        alike = _unlike(whole, lying.turn, lying.shift)
        return _built(choices, pieces, own, lying.frames, alike, castings, sand_mm, set_out)
    points = np.concatenate([pieces[k].mesh.vertices for k in own])
    turn = _frame(points, direction)
    plan = (points @ turn.T)[:, :2]
    shift = -np.array([*(plan.min(axis=0) + plan.max(axis=0)) / 2.0, height_mm])
    halves = len(own) == 2
    one_side = choices.mount == "one-side"
    alike = _unlike(whole, turn, shift)
    if one_side and halves and alike > ALIKE:
        turn, shift, alike = _turned(whole, points, turn, shift, alike)
    castings = choices.copies
    places = _places(pieces, own, turn, shift, choices, one_side, alike <= ALIKE)
    if one_side and halves and alike > ALIKE:
        castings = 2 * choices.copies
    frames = [(turn, shift + np.array([x, y, 0.0])) for x, y in places]
    return _built(choices, pieces, own, frames, alike, castings, sand_mm, None)


def _checked(choices: PatternChoices) -> None:
    if not 1 <= choices.copies <= MOST_COPIES:
        raise UserFault(f"{choices.copies} patterns on a board cannot be set out.", f"Give 1 to {MOST_COPIES}.")
    if not 3.0 <= choices.pin_mm <= 40.0:
        raise UserFault(f"Flask pins of {choices.pin_mm:g} mm cannot be used.", "Give 3 to 40 mm.")
    if choices.flask_mm is not None and not all(60.0 <= side <= 3000.0 for side in choices.flask_mm):
        raise UserFault("That flask cannot be used.", "Give its inside along and across the pins, 60 to 3000 mm each.")


def _frame(points: Floats, direction: Floats) -> Floats:
    """(3, 3) the turn into the mounting's frame, x along the longest way of the plan of these points (n, 3)."""
    base = turn_to_z(direction)
    flat = points @ base.T[:, :2]
    corners = np.array(shapely.minimum_rotated_rectangle(shapely.MultiPoint(flat).convex_hull).exterior.coords)
    sides = np.diff(corners[:3], axis=0)
    along = sides[int(np.argmax(np.linalg.norm(sides, axis=1)))]
    # near an own axis of the plan the axis is meant; a round or square plan has no longest way, and takes its own axis
    angle = float(np.arctan2(along[1], along[0]))
    if float(np.ptp(np.linalg.norm(sides, axis=1))) < SQUARE_SHARE * float(np.linalg.norm(sides, axis=1).max()):
        angle = 0.0
    angle = round(angle / (np.pi / 2)) * np.pi / 2 if abs(np.sin(2 * angle)) < 0.02 else angle
    c, s = float(np.cos(angle)), float(np.sin(angle))
    return np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]]) @ base


def _turned(whole: Mesh, points: Floats, turn: Floats, shift: Floats, alike: float) -> tuple[Floats, Floats, float]:
    """The frame turned about the draw so that the part lies on itself when it is turned over, where its own symmetry
    allows it.

    Lines of symmetry are looked for on the section at the joint, which is quick; the best few are held against the
    whole part.
    """
    solid = boolean.closed_solid(whole.moved(turn, shift))
    if solid is None:
        return turn, shift, alike
    rings = [shapely.Polygon(np.asarray(one)) for one in solid.slice(JOINT_OFF_MM).to_polygons()]
    shape = even_odd(ring.buffer(0.0) for ring in rings)
    if shape.is_empty:
        return turn, shift, alike
    centre = shape.centroid

    def off(degrees: float) -> float:
        placed = shapely.affinity.rotate(shape, -degrees, origin=centre)
        over = shapely.affinity.scale(placed, 1.0, -1.0, origin=centre)
        return float(placed.symmetric_difference(over).area)

    rough = sorted(np.arange(0.0, 180.0, 1.0).tolist(), key=off)[:MOST_LINES]
    for degrees in rough:
        fine = min((degrees + k * 0.1 for k in range(-9, 10)), key=off)
        fine = round(fine) if abs(fine - round(fine)) < 0.15 else fine
        c, s = float(np.cos(np.radians(fine))), float(np.sin(np.radians(fine)))
        once = np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]]) @ turn
        plan = (points @ once.T)[:, :2]
        moved = -np.array([*(plan.min(axis=0) + plan.max(axis=0)) / 2.0, -float(shift[2])])
        # a line of symmetry runs through the middle of the section, which need not be that of the box
        middle = np.array([[c, s], [-s, c]]) @ (np.array(centre.coords[0]) - shift[:2])
        moved[1] = -float(middle[1])
        unlike = _unlike(whole, once, moved)
        if unlike <= ALIKE:
            return once, moved, unlike
    return turn, shift, alike


def _unlike(whole: Mesh, turn: Floats, shift: Floats) -> float:
    """The share of the part that lies elsewhere when it is turned over about the line of the pins."""
    solid = boolean.closed_solid(whole.moved(turn, shift))
    if solid is None:
        return 1.0
    over = solid.transform(np.column_stack([OVER, np.zeros(3)]))
    common = float((solid ^ over).volume())
    return max(1.0 - common / max(float(solid.volume()), 1e-9), 0.0)


def _places(
    pieces: list[Piece],
    own: list[int],
    turn: Floats,
    shift: Floats,
    choices: PatternChoices,
    one_side: bool,
    alike: bool,
) -> list[tuple[float, float]]:
    """Middles (x, y) of the copies. One-sided boards carry theirs on the line of the pins, or beside it in pairs."""
    boxes = np.concatenate([(pieces[k].mesh.vertices @ turn.T + shift)[:, :2] for k in own])
    size = boxes.max(axis=0) - boxes.min(axis=0)
    gap = limits()["parts_gap"].value
    if one_side and len(own) == 2 and not alike:
        across = float(size[1] + gap) / 2.0
        return [((k - (choices.copies - 1) / 2.0) * float(size[0] + gap), across) for k in range(choices.copies)]
    rows = 1
    if not (one_side and len(own) == 2):
        # as near to square as the count allows
        rows = min(range(1, choices.copies + 1), key=lambda r: _longer(size, gap, int(np.ceil(choices.copies / r)), r))
    columns = int(np.ceil(choices.copies / rows))
    grid = [(c, r) for r in range(rows) for c in range(columns)][: choices.copies]
    return [
        ((c - (columns - 1) / 2.0) * float(size[0] + gap), ((rows - 1) / 2.0 - r) * float(size[1] + gap))
        for c, r in grid
    ]


def _longer(size: Floats, gap: float, columns: int, rows: int) -> float:
    return max(columns * float(size[0] + gap), rows * float(size[1] + gap)) + 1e-6 * rows


def _built(
    choices: PatternChoices,
    pieces: list[Piece],
    own: list[int],
    frames: list[tuple[Floats, Floats]],
    alike: float,
    castings: int,
    sand_mm: float,
    set_out: SetOut | None,
) -> Mount:
    plate = choices.mount == "match-plate"
    thick = limits()["match_plate" if plate else "mount_board"].value
    gating = () if set_out is None else _gating(set_out)
    others, settings = _others(choices, () if set_out is None else set_out.others, len(pieces) + len(gating), thick)
    everything = [*pieces, *gating, *others]
    settings += _settings(choices, pieces, own, frames, alike, thick)
    settings += _gating_settings(choices, gating, len(pieces), thick)
    stood = [(b, k, *_stood(everything[k], turn, shift, over, lift)) for b, k, turn, shift, over, lift in settings]
    if set_out is None:
        flask, fits = _flask(choices, [mesh for *_, mesh in stood], sand_mm)
    else:  # the mould says what is short in it
        flask, fits = set_out.flask_mm, True
    found = [*_said(choices, flask, fits, alike, castings, len(own)), *_carried(choices, set_out)]
    pins = np.array([[-1.0, 0.0], [1.0, 0.0]]) * (flask[0] / 2.0 + limits()["flask_pin_out"].value)
    boards, outlines, holes, placed = [], [], [], []
    more = max(b for b, *_ in stood) + 1  # boards stand before the gating among the pieces
    for board in range(more):
        mine = [(k, turned, moved, mesh) for b, k, turned, moved, mesh in stood if b == board]
        bored = _bored(everything, [(k, turned, moved) for k, turned, moved, _ in mine])
        if set_out is not None and set_out.sprue_mm is not None and (plate or board == 0):
            bored.append(set_out.sprue_mm)
        low = -thick / 2.0 if plate else -thick
        solid = _board(flask, pins, choices.pin_mm, thick, low, bored)
        name = "Match plate" if plate else "Board" if more == 1 else ("Cope board", "Drag board")[board]
        mesh_of_board, lay = boolean.bare_mesh(solid), np.array([0.0, 0.0, -low])
        laid = mesh_of_board.moved(np.eye(3), lay)
        role = Role.MATCH_PLATE if plate else Role.BOARD
        boards.append(Piece(role, name, mesh_of_board, laid, laid.volume, (), (), np.eye(3), lay))
        placed += [
            Placed(board, k if k < len(pieces) else k + more, turned, moved + lay, mesh.moved(np.eye(3), lay))
            for k, turned, moved, mesh in mine
        ]
        outlines.append(shapely.unary_union([_foot(mesh) for *_, mesh in mine]))
        holes.append(tuple(bored))
    return Mount(
        choices.mount,
        tuple(boards),
        tuple(placed),
        flask,
        pins,
        choices.pin_mm,
        choices.pin_mm + limits()["flask_pin_slot"].value,
        alike,
        castings,
        tuple(outlines),
        tuple(holes),
        gating,
        others,
        tuple(found),
    )


def _gating(set_out: SetOut) -> tuple[Piece, ...]:
    """Gates and runner by half, as pieces that lie in the mould's frame."""
    out = []
    for half, name, mesh in set_out.gating:
        flip = OVER if half == "drag" else np.eye(3)
        turned = mesh.moved(flip, np.zeros(3))
        lay = np.array([0.0, 0.0, -float(turned.bounds[0, 2])])
        out.append(Piece(Role.GATING, name, mesh, turned.moved(np.eye(3), lay), mesh.volume, (), (), flip, lay))
    return tuple(out)


def _gating_settings(choices: PatternChoices, gating: tuple[Piece, ...], first: int, thick: float) -> list[Setting]:
    """Gates and runner on their side of the plate, or on the board of their half."""
    out: list[Setting] = []
    still, nowhere = np.eye(3), np.zeros(3)
    for k, piece in enumerate(gating, first):
        below = bool((piece.turn == OVER).all())
        if choices.mount == "match-plate":
            out.append((0, k, still, nowhere, False, -thick / 2.0 if below else thick / 2.0))
        else:
            out.append((1 if below else 0, k, still, nowhere, below, 0.0))
    return out


def _others(
    choices: PatternChoices, others: tuple[Carried, ...], first: int, thick: float
) -> tuple[tuple[Piece, ...], list[Setting]]:
    """Other jobs' pieces, numbered from ``first`` on, and where they stand."""
    out: list[Piece] = []
    settings: list[Setting] = []
    for other in others:
        pieces = [piece for piece in other.pieces if piece.role in MOUNTED]
        mine = _settings(choices, pieces, list(range(len(pieces))), other.lying.frames, 1.0, thick)
        settings += [(one[0], first + len(out) + one[1], *one[2:]) for one in mine]
        out += [replace(piece, role=Role.OTHER, name=f"{other.name}: {piece.name.lower()}") for piece in pieces]
    return tuple(out), settings


def _carried(choices: PatternChoices, set_out: SetOut | None) -> list[Finding]:
    """Whose patterns stand on the boards as well, and whose do not."""
    others = () if set_out is None else set_out.others
    what = "match plate" if choices.mount == "match-plate" else "boards"
    found = [
        Finding(
            "other-not-carried",
            Severity.WARN,
            f"{one.name} does not stand on the {what}: {one.why} Bed it by hand where its gates end, or mould it by "
            "itself.",
            noun=one.name,
            source=limits()["mount_board"].source,
        )
        for one in others
        if not one.pieces
    ]
    named = [one.name for one in others if one.pieces]
    if named:
        whose = "its own job" if len(named) == 1 else "their own jobs"
        found.append(
            Finding(
                "others-carried",
                Severity.NOTE,
                f"The {what} {'carries' if what == 'match plate' else 'carry'} {' and '.join(named)} as well: build "
                f"that pattern from {whose}, and screw it on where its outline and its holes are drawn.",
                noun=" and ".join(named),
                source=limits()["mount_board"].source,
            )
        )
    return found


def _settings(
    choices: PatternChoices,
    pieces: list[Piece],
    own: list[int],
    frames: list[tuple[Floats, Floats]],
    alike: float,
    thick: float,
) -> list[Setting]:
    """Every piece as it stands in the mounting's frame."""
    plate = choices.mount == "match-plate"
    settings: list[Setting] = []
    for turn, shift in frames:
        for k in own:
            below = pieces[k].role == Role.DRAG_HALF or (
                pieces[k].role == Role.WHOLE and _lies_below(pieces[k], turn, shift)
            )
            if plate:
                settings.append((0, k, turn, shift, False, -thick / 2.0 if below else thick / 2.0))
            elif choices.mount == "one-side":
                if not (below and len(own) == 2 and alike <= ALIKE):
                    settings.append((0, k, turn, shift, below, 0.0))
            else:
                settings.append((1 if below and len(own) == 2 else 0, k, turn, shift, below, 0.0))
    return settings


def _lies_below(piece: Piece, turn: Floats, shift: Floats) -> bool:
    return float((piece.mesh.centre_of_mass @ turn.T + shift)[2]) < 0.0


def _stood(piece: Piece, turn: Floats, shift: Floats, over: bool, lift: float) -> tuple[Floats, Floats, Mesh]:
    """The move of a piece and the piece moved, on a board of its own that is turned over with it when ``over``."""
    flip = OVER if over else np.eye(3)
    all_turn, all_shift = flip @ turn, flip @ shift + np.array([0.0, 0.0, lift])
    return all_turn, all_shift, piece.mesh.moved(all_turn, all_shift)


def _flask(choices: PatternChoices, meshes: list[Mesh], sand_mm: float) -> tuple[tuple[float, float], bool]:
    """The inside of the flask and whether the sand round the patterns is as thick as it should be in it."""
    points = np.abs(np.concatenate([mesh.vertices[:, :2] for mesh in meshes])).max(axis=0)
    need = 2.0 * (points + sand_mm)
    if choices.flask_mm is not None:
        return choices.flask_mm, bool((np.array(choices.flask_mm) >= need - 1e-6).all())
    long, wide = (float(np.ceil(side / 10.0) * 10.0) for side in need)
    return (long, wide), True


def _foot(mesh: Mesh) -> BaseGeometry:
    """The outline of a piece on its board."""
    solid = boolean.closed_solid(mesh)
    if solid is None:
        return shapely.MultiPoint(mesh.vertices[:, :2]).convex_hull
    loops = [np.asarray(loop) for loop in solid.project().to_polygons()]
    return outline_of(loops, 3)


def _bored(pieces: list[Piece], stood: list[tuple[int, Floats, Floats]]) -> list[tuple[float, float, float]]:
    """Holes through a board: under every dowel, pin and draw screw of the pieces on it."""
    out: dict[tuple[float, float], float] = {}
    for k, turn, shift in stood:
        things = [(hole.at_mm, hole.radius_mm) for hole in pieces[k].holes if hole.purpose in ("dowel", "draw-screw")]
        things += [(pin.at_mm, pin.radius_mm + limits()["dowel_slide_clearance"].value / 2.0) for pin in pieces[k].pins]
        for at, radius in things:
            x, y, _ = turn @ at + shift
            place = (round(float(x), 6), round(float(y), 6))
            out[place] = max(out.get(place, 0.0), 2.0 * radius)
    return [(x, y, thick) for (x, y), thick in out.items()]


def _board(
    flask: tuple[float, float],
    pins: Floats,
    pin_mm: float,
    thick: float,
    low: float,
    bored: list[tuple[float, float, float]],
) -> Solid:
    play, slot = limits()["flask_pin_play"].value, limits()["flask_pin_slot"].value
    size = (
        2.0 * float(pins[1, 0]) + 2.0 * limits()["board_rim"].value,
        flask[1] + 2.0 * limits()["board_rim"].value,
        thick,
    )
    solid = manifold3d.Manifold.cube(size, True).translate([0.0, 0.0, low + thick / 2.0])
    up = np.array([0.0, 0.0, 1.0])
    tools = [boolean.rod(np.array([x, y, low - 1.0]), up, thick + 2.0, wide / 2.0) for x, y, wide in bored]
    radius = (pin_mm + play) / 2.0
    tools.append(boolean.rod(np.array([*pins[0], low - 1.0]), up, thick + 2.0, radius))
    ends = [
        boolean.rod(np.array([pins[1, 0] + way * slot / 2.0, 0.0, low - 1.0]), up, thick + 2.0, radius)
        for way in (-1.0, 1.0)
    ]
    corners = np.array(
        list(itertools.product((-slot / 2.0, slot / 2.0), (-radius, radius), (low - 1.0, low + thick + 1.0)))
    )
    tools += [*ends, boolean.hull_tool(corners + np.array([pins[1, 0], 0.0, 0.0]))]
    return boolean.without(solid, tools)


def _said(
    choices: PatternChoices, flask: tuple[float, float], fits: bool, alike: float, castings: int, halves: int
) -> list[Finding]:
    found: list[Finding] = []
    source = limits()["mount_board"].source
    figures = {"long_mm": flask[0], "wide_mm": flask[1], "share_percent": 100.0 * alike}
    if not fits:
        found.append(
            Finding(
                "flask-too-small",
                Severity.WARN,
                "The flask leaves less sand round the patterns than it should: {long_mm} by {wide_mm} inside is too "
                "small.",
                noun="flask",
                figures=figures,
                main="long_mm",
                remedies=(Remedy("flask-by-pattern", "As large as needed", SetFlask(None)),),
                source=limits()["sand_round_pattern"].source,
            )
        )
    if choices.mount == "one-side" and halves == 2:
        text = (
            "Turned over about the line of its pins the part lies on itself but for {share_percent}: one board serves "
            "for both halves."
            if alike <= ALIKE
            else "The part is not alike about the line of the pins ({share_percent} lies elsewhere), so both halves "
            f"stand on the one board, and every mould gives {castings} castings."
        )
        found.append(
            Finding(
                "one-board",
                Severity.NOTE,
                text,
                noun="line of its pins" if alike <= ALIKE else "line of the pins",
                figures=figures,
                main="share_percent",
                source=source,
            )
        )
    what = {"boards": "boards", "one-side": "board", "match-plate": "match plate"}[choices.mount]
    found.append(
        Finding(
            "mounted",
            Severity.NOTE,
            f"A flask of {{long_mm}} by {{wide_mm}} inside goes over the {what}; one pin has a round hole, the other a "
            "slot, so that wood may swell.",
            noun="flask",
            figures=figures,
            main="long_mm",
            source=source,
        )
    )
    return found
