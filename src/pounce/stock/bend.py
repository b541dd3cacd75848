"""Moves of the whole surface: a counter-bend for bow, and the allowance for paint, sanding and rapping."""

import numpy as np

from pounce.base.errors import UserFault
from pounce.metals.tables import limits
from pounce.solid import boolean
from pounce.solid.features.patches import bends_of
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.refine import refined
from pounce.stock.body import simplified
from pounce.stock.taper import folds, laid_anew, least_moves, turned_over
from pounce.stock.values import Camber, Finish

AXES = {"x": 0, "y": 1, "z": 2}


def slender(mesh: Mesh) -> tuple[int, int, float]:
    """The longest own axis, the shallowest, and length over depth."""
    size = mesh.size
    long, deep = int(np.argmax(size)), int(np.argmin(size))
    return long, deep, float(size[long] / max(float(size[deep]), 1e-9))


def bow_for(asked: Camber, mesh: Mesh) -> tuple[float, int, Floats, str]:
    """The bow (mm) over the length, along which axis, toward which way, and its source. UserFault for an impossible figure."""
    long, deep, _ = slender(mesh)
    along = AXES[asked.axis] if asked.axis else long
    toward = np.zeros(3)
    if asked.toward:
        toward[AXES[asked.toward[1]]] = 1.0 if asked.toward[0] == "+" else -1.0
    else:
        toward[deep if deep != along else (along + 1) % 3] = 1.0
    if abs(toward[along]) > 0.5:
        raise UserFault("A bow cannot run along the length itself.", "Choose another way for it.")
    size = float(mesh.size[along])
    figure = limits()["bow"]
    bow = figure.value * size / 1000.0 if asked.bow_mm is None else asked.bow_mm
    if not 0.0 <= bow <= 0.1 * size:
        raise UserFault(
            f"A bow of {bow:g} mm on {size:.0f} mm cannot be right.", "A millimetre or two in a metre is usual."
        )
    return bow, along, toward, "own figure" if asked.bow_mm is not None else figure.source


def cambered(body: Mesh, bow_mm: float, along: int, toward: Floats) -> Mesh:
    """The body bent so that its middle stands ``bow_mm`` off the line between its ends, by a parabola along its length.

    The volume stays to first order: each slice is only shifted.
    """
    low, high = float(body.bounds[0, along]), float(body.bounds[1, along])
    half = (high - low) / 2.0
    step = max(half / 24.0, 1e-3)

    def too_long(one: Floats, two: Floats) -> np.ndarray:
        return np.asarray(np.abs(one[:, along] - two[:, along]) > step)

    vertices, faces, source = refined(body.vertices, body.faces, too_long)
    share = (vertices[:, along] - (low + high) / 2.0) / half
    return Mesh.of(vertices + np.outer(bow_mm * (1.0 - share**2), toward), faces, body.origin[source])


def allowance(asked: Finish) -> tuple[float, float]:
    """How far the surface is moved: along every normal, and level besides (mm, under 0 inward).

    Paint makes the pattern larger, so it is made smaller; sanding the other way. Rapping widens the mould sideways only.
    """
    for value in (asked.paint_mm, asked.sanding_mm, asked.rap_mm, asked.coating_mm):
        if not 0.0 <= value <= 5.0:
            raise UserFault(f"An allowance of {value:g} mm is outside 0 to 5.", "0.1 to 0.5 mm a side is usual.")
    return asked.sanding_mm - asked.paint_mm, -asked.rap_mm


def allowed(body: Mesh, everywhere_mm: float, level_mm: float, direction: Floats) -> Mesh:
    """The body with every face moved along its normal by these. UserFault when thin places or corners would fold."""
    body = simplified(body)
    slope = body.normals @ direction
    aim = everywhere_mm + level_mm * np.sqrt(np.maximum(1.0 - slope**2, 0.0))
    vertices = body.vertices + least_moves(body, np.repeat(aim, 3), bends_of(body))
    moved = Mesh.of(vertices, body.faces, body.origin)
    turned = turned_over(body, moved)
    if len(turned):
        moved = laid_anew(body, moved, turned)
    if moved.volume <= 0.0 or folds(moved) or boolean.closed_solid(moved) is None:
        raise UserFault(
            "The finish cannot be allowed for: small corners would fold.", "Leave it to the hand, or allow less."
        )
    return moved
