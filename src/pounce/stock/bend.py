"""Moves of the whole surface: a counter-bend for bow, and the allowance for paint, sanding and rapping."""

import numpy as np
from scipy import ndimage

from pounce.base.errors import UserFault
from pounce.metals.tables import Figure, limits
from pounce.solid import boolean
from pounce.solid.columns import columns_grid
from pounce.solid.features.patches import bends_of
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.once import once_a_mesh
from pounce.solid.refine import refined
from pounce.solid.section import cut
from pounce.stock.body import simplified
from pounce.stock.taper import folds, laid_anew, least_moves, turned_over
from pounce.stock.values import Camber, Finish

# Cells across the depth, and in all, on which the heavy side is told; nearer to the middle than this share of the depth
# is even.
HEAVY_CELLS, MOST_CELLS, EVEN_SHARE = 24, 2_000_000, 0.02
BORDER_CELLS, COARSER = 3.0, 1.25
AXES = {"x": 0, "y": 1, "z": 2}


def slender(mesh: Mesh) -> tuple[int, int, float]:
    """The longest own axis, the shallowest, and length over depth."""
    size = mesh.size
    long, deep = int(np.argmax(size)), int(np.argmin(size))
    return long, deep, float(size[long] / max(float(size[deep]), 1e-9))


def heavy_way(mesh: Mesh, along: int) -> tuple[int, float] | None:
    """Across which own axis and on which side (1 or -1) the metal lies that freezes last; None where no side is
    heavier.

    Each grain of metal counts by its depth under the skin (how late it freezes), and is weighed about the middle of
    the section. Of the two ways across the length the more one-sided is taken.
    """
    across = [axis for axis in range(3) if axis != along]
    finest = min(float(mesh.size[axis]) for axis in across) / HEAVY_CELLS
    step = max(finest, float(np.prod(mesh.size) / MOST_CELLS) ** (1.0 / 3.0))
    # a sheet has few cells in it and many round it
    while float(np.prod(np.ceil(mesh.size / step) + BORDER_CELLS)) > MOST_CELLS:
        step *= COARSER
    grid = columns_grid(mesh, step)
    depth = ndimage.distance_transform_edt(grid.held, sampling=grid.step)
    whole = float(depth.sum())
    if whole <= 0.0:
        return None
    shares = []
    for axis in across:
        late = depth.sum(axis=tuple(k for k in range(3) if k != 2 - axis))
        middle = float((late * (grid.low[axis] + grid.step * np.arange(len(late)))).sum()) / whole
        shares.append((middle - float(mesh.bounds[:, axis].mean())) / float(mesh.size[axis]))
    most = int(np.argmax(np.abs(shares)))
    return None if abs(shares[most]) < EVEN_SHARE else (across[most], float(np.sign(shares[most])))


def bow_for(asked: Camber, mesh: Mesh, contraction: Figure) -> tuple[float, int, Floats, str]:
    """The bow (mm) over the length, along which axis, toward which way, and its source. UserFault for an impossible
    figure.

    Legs of a U spread by what the sand between them keeps their web from contracting: the usual contraction less the
    least, over the way from leg to leg.
    """
    long, _, _ = slender(mesh)
    along = AXES[asked.axis] if asked.axis else long
    toward = np.zeros(3)
    if asked.legs and not (asked.axis and asked.toward):
        found = is_u(mesh)
        if found is None:
            raise UserFault(
                "No U was found whose legs could spread.", "Give the axis from leg to leg and the way of the tips."
            )
        along, toward = found
    elif asked.toward:
        toward[AXES[asked.toward[1]]] = 1.0 if asked.toward[0] == "+" else -1.0
    else:
        heavy = heavy_way(mesh, along)
        if heavy is None:
            raise UserFault(
                "Neither side of this part is heavier, so the way it bows cannot be told.",
                "Give the way, such as +z, or cast one and measure it.",
            )
        toward[heavy[0]] = heavy[1]
    if abs(toward[along]) > 0.5:
        raise UserFault("A bow cannot run along the length itself.", "Choose another way for it.")
    size = float(mesh.size[along])
    figure = contraction if asked.legs else limits()["bow"]
    rule = (contraction.value - contraction.low) / 100.0 if asked.legs else figure.value / 1000.0
    bow = rule * size if asked.bow_mm is None else asked.bow_mm
    if not 0.0 <= bow <= 0.1 * size:
        raise UserFault(
            f"A bow of {bow:g} mm on {size:.0f} mm cannot be right.", "A millimetre or two in a metre is usual."
        )
    return bow, along, toward, "own figure" if asked.bow_mm is not None else figure.source


def _sliced(body: Mesh, along: int) -> tuple[Floats, Ints, Ints, Floats]:
    """The body with no edge longer than a 48th of it along an axis: vertices, faces, source faces, and each vertex's
    place there, -1 to 1.
    """
    low, high = float(body.bounds[0, along]), float(body.bounds[1, along])
    half = (high - low) / 2.0
    step = max(half / 24.0, 1e-3)

    def too_long(one: Floats, two: Floats) -> np.ndarray:
        return np.asarray(np.abs(one[:, along] - two[:, along]) > step)

    vertices, faces, source = refined(body.vertices, body.faces, too_long)
    return vertices, faces, source, np.asarray((vertices[:, along] - (low + high) / 2.0) / half)


def cambered(body: Mesh, bow_mm: float, along: int, toward: Floats) -> Mesh:
    """The body bent so that its middle stands ``bow_mm`` off the line between its ends, by a parabola along its length.

    Sections stay square to the bent line (Euler and Bernoulli), so what stands off it leans along: u = -w' h along
    the length, h the height over the middle of mass.
    """
    vertices, faces, source, share = _sliced(body, along)
    half = float(body.size[along]) / 2.0
    height = (vertices - body.centre_of_mass) @ toward
    slope = -2.0 * bow_mm * share / half
    moved = vertices + np.outer(bow_mm * (1.0 - share**2), toward)
    moved[:, along] -= slope * height
    return Mesh.of(moved, faces, body.tags.at(source))


def legs_drawn_in(body: Mesh, spread_mm: float, along: int, toward: Floats) -> Mesh:
    """The legs of a U leaned toward each other, by ``spread_mm`` between their tips, nothing at their feet.

    ``along`` runs from leg to leg, ``toward`` from the web to the tips. Each leg keeps its thickness: its part of
    the length moves as one, and the web between takes up the rest.
    """
    vertices, faces, source, share = _sliced(body, int(np.argmax(np.abs(toward))))
    middle = float(body.bounds[:, along].mean())
    half = float(body.size[along]) / 2.0
    way = float(toward[int(np.argmax(np.abs(toward)))])
    up = np.clip((share * way + 1.0) / 2.0, 0.0, 1.0)
    aside = np.clip((vertices[:, along] - middle) / (0.5 * half), -1.0, 1.0)
    moved = vertices.copy()
    moved[:, along] -= 0.5 * spread_mm * up * aside
    return Mesh.of(moved, faces, body.tags.at(source))


@once_a_mesh
def is_u(mesh: Mesh) -> tuple[int, Floats] | None:
    """Whether the part is a U lying or standing along its own axes: from leg to leg along which axis, and from the web
    to the tips.

    Read from level cuts: near the tips metal stands only in the outer thirds, near the web right across.
    """
    for tip in range(3):
        for sign in (1.0, -1.0):
            for along in range(3):
                if along == tip or float(mesh.size[tip]) < 0.3 * float(mesh.size[along]):
                    continue
                far = _shares(mesh, tip, sign, along, 0.85)
                if far is None or far[1] > 0.01 * min(far[0], far[2]):
                    continue
                # a ring closes over its hole before its end; the legs of a U go on
                end = _shares(mesh, tip, sign, along, 0.99)
                if end is None or end[1] > 0.01 * max(min(end[0], end[2]), 1e-9):
                    continue
                near = _shares(mesh, tip, sign, along, 0.05)
                if near is None:
                    continue
                whole = near.sum()
                if min(far[0], far[2]) > 0.01 * whole and near[1] > 0.1 * whole:
                    toward = np.zeros(3)
                    toward[tip] = sign
                    return along, toward
    return None


def _shares(mesh: Mesh, tip: int, sign: float, along: int, height: float) -> Floats | None:
    """Area of a level cut (at a share of the height from the web) in the three thirds of the length; None where nothing
    is cut.

    By Green's theorem: the area before s = c is the integral of min(s, c) dt round the outlines.
    """
    at = float(mesh.bounds[0, tip] + (height if sign > 0.0 else 1.0 - height) * mesh.size[tip])
    other = 3 - tip - along
    u, v = np.eye(3)[along], np.eye(3)[other]
    found = cut(mesh, u, v, at * float(np.cross(u, v)[tip]))
    if not len(found.points):
        return None
    s, t = found.points[:, :, 0], found.points[:, :, 1]

    def before(c: float) -> float:
        low, high = s.min(axis=1), s.max(axis=1)
        share = np.clip((c - low) / np.maximum(high - low, 1e-300), 0.0, 1.0)
        mean = np.where(high <= c, s.mean(axis=1), share * (low + c) / 2.0 + (1.0 - share) * c)
        return float((np.where(low >= c, c, mean) * (t[:, 1] - t[:, 0])).sum())

    ends = np.linspace(float(mesh.bounds[0, along]), float(mesh.bounds[1, along]), 4)
    return np.asarray(np.abs(np.diff([before(float(c)) for c in ends])))


def allowance(asked: Finish) -> tuple[float, float]:
    """How far the surface is moved: along every normal, and level besides (mm, under 0 inward).

    Paint makes the pattern larger, so it is made smaller; sanding the other way. Rapping widens the mould sideways
    only.
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
    moved = Mesh.of(vertices, body.faces, body.tags)
    turned = turned_over(body, moved)
    if len(turned):
        moved = laid_anew(body, moved, turned)
    if moved.volume <= 0.0 or folds(moved) or boolean.closed_solid(moved) is None:
        raise UserFault(
            "The finish cannot be allowed for: small corners would fold.", "Leave it to the hand, or allow less."
        )
    return moved
