"""The opened mould as a picture: the cope lifted with its near corner cut away, the pattern in the drag, cores beside
them.
"""

from dataclasses import dataclass

import numpy as np

from pounce.parting.joint import Joint
from pounce.parting.mould import blocks_of
from pounce.parting.values import PartingResult, State
from pounce.solid.frame import unit
from pounce.solid.mesh import Bools, Floats, Mesh, joined
from pounce.solid.picture import Pixels, View, render, standing_view

SAND = np.array([0xF0, 0xE2, 0xC2], np.float64)
PRESSED = np.array([0xD3, 0xB9, 0x85], np.float64)
CORE = np.array([0xDD, 0xB8, 0x6B], np.float64)
STATES = {State.CLEAN: (0xB9, 0xD3, 0xC9), State.TIGHT: (0xE2, 0xA6, 0x3C), State.LOCKED: (0x7A, 0x2E, 0x5D)}
STEEL = (0xB7, 0xC2, 0xC6)
# How far the cope is lifted, of the height of its block, and the room between drag and cores, of the drag's width.
LIFT, ROOM = 0.95, 0.10
MOST_CORES = 3


@dataclass(frozen=True, eq=False)
class Opened:
    """``pixels`` (h, w, 4) of the picture; ``labels`` (words, x, y) with places as shares from its upper left
    corner. Without a picture ``why`` says what stood in its way.
    """

    pixels: Pixels | None
    labels: tuple[tuple[str, float, float], ...]
    why: str = ""


def opened_mould(
    mesh: Mesh,
    parting: PartingResult,
    cores: tuple[Mesh, ...],
    width: int,
    height: int,
    draws: bool = True,
    background: tuple[int, int, int] | None = (255, 255, 255),
) -> Opened:
    """The mould of a closed body (``parting`` is its judgement) opened, ``width`` x ``height`` pixels. UserFault where
    the body is open.

    Where nothing ``draws`` the pattern has no state; ``background`` None leaves the paper transparent.
    """
    joint = parting.joint
    up = joint.up
    toward = standing_view(mesh, up, 100, 100).turn[2]
    blocks = blocks_of(mesh, joint, False, toward)
    upper, lower = (blocks.drag, blocks.cope) if joint.turned else (blocks.cope, blocks.drag)
    lift = LIFT * float(np.ptp(upper.vertices @ up))
    raised = upper.moved(np.eye(3), up * lift)
    pattern, tint = _pattern(mesh, parting, draws)
    beside = _beside(lower, cores[:MOST_CORES], up, toward)
    bodies = [raised, lower, pattern, *beside]
    colours = [_sand(raised), _sand(lower), tint, *(np.tile(CORE, (len(core.faces), 1)) for core in beside)]
    sandy = [np.full(len(body.faces), body is not pattern) for body in bodies]
    whole = joined(bodies)
    view = standing_view(whole, up, width, height, 0.03)
    pixels = render(whole, view, np.concatenate(colours), background=background, grains=np.concatenate(sandy))
    return Opened(pixels, _labels(view, raised, lower, mesh, beside, joint))


def _sand(block: Mesh) -> Floats:
    """(m, 3): what the pattern pressed is darker."""
    return np.where((block.tags.face >= 0)[:, None], PRESSED, SAND)


def _pattern(mesh: Mesh, parting: PartingResult, draws: bool) -> tuple[Mesh, Floats]:
    """The pattern as pieces of one state each, with their colours; prints have the core's."""
    judged = parting.judged
    if not draws or not len(judged.face):
        return mesh, np.tile(np.array(STEEL, np.float64), (len(mesh.faces), 1))
    corners = judged.corners.reshape(-1, 3)
    soup = Mesh.of(corners, np.arange(len(corners), dtype=np.int64).reshape(-1, 3))
    table = np.array([STATES[state] for state in State], np.float64)
    clean = parting.shown_state == State.CLEAN
    on_print: Bools = (mesh.tags.print[judged.face] >= 0) & clean
    return soup, np.where(on_print[:, None], CORE, table[parting.shown_state])


def _beside(lower: Mesh, cores: tuple[Mesh, ...], up: Floats, toward: Floats) -> list[Mesh]:
    """The cores in a row before the drag's near right side, standing on its ground."""
    right = unit(np.cross(up, toward))
    front = unit(np.cross(right, up))
    points = lower.vertices
    out, at = [], float((points @ right).max())
    near = points[np.argmax(points @ right)] @ front  # the front of the block at its right-hand corner
    room = ROOM * float(np.ptp(points @ right))
    for core in cores:
        own = core.vertices
        shift = right * (at - float((own @ right).max()))
        shift = shift + front * (float(near) + room - float((own @ front).min()))
        shift = shift + up * (float((points @ up).min()) - float((own @ up).min()))
        placed = core.moved(np.eye(3), shift)
        out.append(placed)
        at = float((placed.vertices @ right).min()) - room
    return out


def _labels(
    view: View, raised: Mesh, lower: Mesh, pattern: Mesh, beside: list[Mesh], joint: Joint
) -> tuple[tuple[str, float, float], ...]:
    """Where the halves, the pattern and the cores are named."""

    def share(point: Floats) -> tuple[float, float]:
        x, y, _ = view.project(point[None])[0]
        return float(x) / view.width, float(y) / view.height

    def leftmost(mesh: Mesh) -> Floats:
        return np.asarray(mesh.vertices[np.argmin(mesh.vertices @ view.turn[0])])

    upper_name, lower_name = ("cope", "drag")
    highest = pattern.vertices[np.argmax(pattern.vertices @ (joint.up + 0.6 * view.turn[0]))]
    out = [(upper_name, *share(leftmost(raised))), (lower_name, *share(leftmost(lower))), ("pattern", *share(highest))]
    if beside:
        last = beside[-1]
        out.append(("core" if len(beside) == 1 else "cores", *share(last.bounds.mean(axis=0))))
    return tuple(out)
