"""What a pattern with a shaped joint is moulded on: a follow board, or a half-thickness false pattern."""

import numpy as np

from pounce.base.errors import UserFault
from pounce.metals.tables import limits
from pounce.parting.joint import Joint
from pounce.parting.surface import below, split_along
from pounce.pattern.values import Piece, Role
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.tags import FaceTags

# Finer than this the part's own detail does not show on a board that only has to carry it.
COARSE_MM = 0.02
# Flat ground is flat within this; no more, or the board would touch the pattern at its line.
FLAT_MM = 0.005
MOST_FINE = 40_000


def follow_board(mesh: Mesh, joint: Joint) -> Piece:
    """The board that carries the pattern at its parting line, on the side where less of it lies.

    ``mesh`` and ``joint`` at pattern size. The board's face is the joint; the pattern lies in it up to its line, with a
    little clearance. UserFault when the pattern is not closed or the board comes out broken.
    """
    solid = _solid(mesh)
    heights = mesh.vertices @ joint.direction
    low, high = float(heights.min()), float(heights.max())
    level = joint.height_mm
    under = level - low <= high - level
    block = _block(joint, under, low, high)
    play = limits()["board_clearance"].value
    tool = boolean.simplified(solid, COARSE_MM) if len(mesh.faces) > MOST_FINE else solid
    # the pattern and three copies a little aside leave room all round; more of them cost much and gain nothing that
    # sand would show
    turns = 2.0 * np.pi * np.arange(3) / 3.0
    shifts = [np.zeros(3), *[1.5 * play * (np.cos(turn) * joint.u + np.sin(turn) * joint.v) for turn in turns]]
    board = boolean.without(block, [tool.translate(shift) for shift in shifts])
    # the plan's even grid is finer than flat ground needs
    board = boolean.simplified(boolean.unmarked(board), FLAT_MM)
    pieces = sorted(board.decompose(), key=lambda piece: -piece.volume())
    return laid_piece(Role.FOLLOW_BOARD, "Follow board", pieces[0], joint.direction if under else -joint.direction)


def false_pattern(mesh: Mesh, joint: Joint) -> Piece:
    """The part below its line as a solid of its own: the drag is rammed over it, then the pattern takes its place."""
    solid = _solid(mesh)
    if joint.level:
        _, under = boolean.split(solid, joint.direction, joint.height_mm)
    else:
        _, under = split_along(solid, joint, mesh.diagonal)
    piece = boolean.checked(under, "Cutting the false pattern")
    return laid_piece(Role.FALSE_PATTERN, "False pattern", piece, -joint.direction)


def _block(joint: Joint, under: bool, low: float, high: float) -> Solid:
    """The sand's place on one side of the joint as a block, with the board's border."""
    if joint.grid is None:
        raise UserFault("A flat joint needs no follow board.", "Choose another way of moulding.")
    border, material = limits()["sand_round_pattern"].value, limits()["board_stuff"].value
    field = joint.grid
    if under:
        return below(joint, min(low, float(field.min())) - material, None, border)
    ceiling = max(high, float(field.max())) + material
    whole = below(joint, float(field.min()) - 10.0, np.full_like(field, ceiling), border)
    return whole - below(joint, float(field.min()) - 20.0, None, 2.0 * border)


def _solid(mesh: Mesh) -> Solid:
    solid = boolean.closed_solid(mesh)
    if solid is None:
        raise UserFault(
            "The part's shell is open or doubled, so no board can be made for it.",
            "Close it where it is drawn and read it again.",
        )
    return solid


def laid_piece(role: Role, name: str, solid: Solid, up: Floats) -> Piece:
    """The solid as a piece, laid on z = 0 with ``up`` upward."""
    mesh = boolean.as_mesh(boolean.checked(solid, f"Making the {name.lower()}"), FaceTags.of(0))
    turn = turn_to_z(up)
    laid = mesh.moved(turn, np.zeros(3))
    low, high = laid.bounds
    shift = np.array([-(low[0] + high[0]) / 2.0, -(low[1] + high[1]) / 2.0, -low[2]])
    return Piece(role, name, mesh, laid.moved(np.eye(3), shift), mesh.volume, (), (), turn, shift)
