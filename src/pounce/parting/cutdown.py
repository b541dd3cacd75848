"""How a joint that is no plane is made in the shed: cutting the rammed drag down to the line.

The pattern lies on a flat board, cope side down, and the drag is rammed over it and turned. The sand then stands
level with the pattern's highest point; it is cut away down to the parting line beside the pattern and sloped up to
the level again.
"""

import numpy as np
from scipy import ndimage

from pounce.draw.jointsurface import cones
from pounce.parting.joint import Joint
from pounce.parting.surface import relief_block
from pounce.parting.values import CutDown
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.section import cut

MOST_CELLS = 320


def contours(done: CutDown, every_mm: float) -> list[tuple[float, tuple[Floats, ...]]]:
    """Depth under the level (mm) and its lines (n, 2) in u, v, from the shallowest down."""
    out = []
    vertices, faces = relief_block(done.surface, done.low, done.step, float(done.surface.min()) - 10.0)
    block = Mesh.of(vertices, faces)
    x, y = np.eye(3)[0], np.eye(3)[1]
    depth = every_mm
    while depth < done.depth_mm:
        loops = cut(block, x, y, done.level_mm - depth).loops
        out.append((depth, tuple(loop for loop in loops if not _is_border(loop, done))))
        depth += every_mm
    return out


def _is_border(loop: Floats, done: CutDown) -> bool:
    """Whether a line is the block's own outer edge and not a level line of the sand."""
    ny, nx = done.surface.shape
    high = done.low + done.step * np.array([nx - 1, ny - 1])
    return bool(
        np.allclose(loop.min(axis=0), done.low, atol=1e-3 * done.step)
        and np.allclose(loop.max(axis=0), high, atol=1e-3 * done.step)
    )


def cut_down(joint: Joint, high_mm: float, slope_deg: float, border_mm: float) -> CutDown:
    """The cut for a shaped joint of a part that reaches up to ``high_mm``. ValueError for a flat joint."""
    if joint.free is None or joint.air is None:
        raise ValueError("a flat joint needs no cutting down")
    every = max(1, int(np.ceil((max(joint.free.shape) + 2.0 * border_mm / joint.step) / MOST_CELLS)))
    step = joint.step * every
    wide = int(np.ceil(border_mm / step))
    free = np.pad(joint.free[::every, ::every], wide, mode="edge")
    air = np.pad(joint.air[::every, ::every], wide, constant_values=True)
    rim = air & ndimage.binary_dilation(~air, np.ones((3, 3), bool))
    surface = np.where(rim, -np.minimum(free, high_mm), -np.inf)
    cones(surface, air, step * float(np.tan(np.radians(slope_deg))))
    surface = np.minimum(-surface, high_mm)
    cut_away = np.where(air, high_mm - surface, 0.0)
    # the pattern itself stands in the sand: its columns are level so that no line runs over it
    surface = np.where(air, surface, high_mm)
    dug = cut_away > 1e-3
    width = float(ndimage.distance_transform_edt(air)[dug].max() * step) if dug.any() else 0.0
    low = joint.low - wide * step
    return CutDown(
        float(cut_away.max(initial=0.0)), width, float(cut_away.sum()) * step**2, surface, low, step, high_mm
    )
