"""A small software renderer for paper: shaded clay with ink edges, orthographic.

Serves the shop sheet, the preview kept in a job file and the shelf's thumbnails, where no window exists.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pounce.solid.frame import unit
from pounce.solid.kernels import njit
from pounce.solid.mesh import Bools, Floats, Ints, Mesh

Pixels = NDArray[np.uint8]
INK = np.array([0x22, 0x30, 0x3C], np.float64)
# Grains of sand a pixel.
GRAINS = 0.006
CLAY = np.array([0xA9, 0xB7, 0xBD], np.float64)


@dataclass(frozen=True, eq=False)
class View:
    """An orthographic view: rows of ``turn`` are right, up, toward the eye; ``scale`` pixels a mm; ``middle`` on the
    part.
    """

    turn: Floats
    scale: float
    middle: Floats
    width: int
    height: int

    def project(self, points: Floats) -> Floats:
        """(n, 3): pixel x, pixel y (down), depth toward the eye in mm."""
        seen = (points - self.middle) @ self.turn.T
        return np.stack(
            [self.width / 2 + seen[:, 0] * self.scale, self.height / 2 - seen[:, 1] * self.scale, seen[:, 2]], axis=1
        )


def standing_view(mesh: Mesh, up: Floats, width: int, height: int, margin: float = 0.06) -> View:
    """The usual view: ``up`` upward, seen from the front right and a little above, fitted to the picture."""
    helper = np.eye(3)[0] if abs(up[0]) < 0.9 else np.eye(3)[1]
    right0 = unit(helper - up * float(helper @ up))
    back = np.cross(up, right0)
    turn_by, tip = np.radians(-30.0), np.radians(32.0)
    toward0 = -back * np.cos(turn_by) - right0 * np.sin(turn_by)
    toward = unit(toward0 * np.cos(tip) + up * np.sin(tip))
    right = unit(np.cross(up, toward))
    turn = np.stack([right, np.cross(toward, right), toward])
    seen = mesh.corners.reshape(-1, 3) @ turn.T
    low, high = seen.min(axis=0), seen.max(axis=0)
    span = np.maximum(high - low, 1e-9)
    scale = (1.0 - 2.0 * margin) * min(width / span[0], height / span[1])
    return View(turn, float(scale), ((low + high) / 2.0) @ turn, width, height)


@njit(cache=True)
def _fill(points: Floats, faces: Ints, depth: Floats, index: Ints) -> None:
    height, width = depth.shape
    for f in range(faces.shape[0]):
        a, b, c = faces[f, 0], faces[f, 1], faces[f, 2]
        ax, ay, bx, by, cx, cy = (points[a, 0], points[a, 1], points[b, 0], points[b, 1], points[c, 0], points[c, 1])
        det = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if det >= 0.0:
            continue  # y runs down, so a face turned to the eye has det < 0
        x0, x1 = int(max(np.floor(min(ax, bx, cx)), 0)), int(min(np.ceil(max(ax, bx, cx)), width - 1))
        y0, y1 = int(max(np.floor(min(ay, by, cy)), 0)), int(min(np.ceil(max(ay, by, cy)), height - 1))
        for y in range(y0, y1 + 1):
            for x in range(x0, x1 + 1):
                px, py = x + 0.5 - ax, y + 0.5 - ay
                s = (px * (cy - ay) - py * (cx - ax)) / det
                t = ((bx - ax) * py - (by - ay) * px) / det
                if s < 0.0 or t < 0.0 or s + t > 1.0:
                    continue
                z = points[a, 2] + s * (points[b, 2] - points[a, 2]) + t * (points[c, 2] - points[a, 2])
                if z > depth[y, x]:
                    depth[y, x] = z
                    index[y, x] = f


def render(
    mesh: Mesh,
    view: View,
    colours: Floats | None = None,
    lines: Floats | None = None,
    background: tuple[int, int, int] | None = (255, 255, 255),
    grains: Bools | None = None,
) -> Pixels:
    """(height, width, 4) RGBA picture of the mesh.

    ``colours`` (m, 3) 0-255 a face, clay by default; ``lines`` (k, 2, 3) segments in mm drawn bold and
    hidden behind the part; ``background`` None leaves the paper transparent; ``grains`` (m,) faces dotted as sand.
    Drawn at twice the size and averaged down.
    """
    fine = View(view.turn, view.scale * 2.0, view.middle, view.width * 2, view.height * 2)
    depth = np.full((fine.height, fine.width), -np.inf)
    index = np.full((fine.height, fine.width), -1, np.int64)
    _fill(fine.project(mesh.vertices), np.ascontiguousarray(mesh.faces), depth, index)
    covered = index >= 0
    light = unit(view.turn[0] * -0.45 + view.turn[1] * 0.75 + view.turn[2] * 0.6)
    shade = 0.62 + 0.38 * np.clip(mesh.normals @ light, -0.4, 1.0)
    base = np.broadcast_to(CLAY, (len(mesh.faces), 3)) if colours is None else colours
    tint = np.clip(base * shade[:, None] * 1.08, 0, 255)
    picture = np.zeros((fine.height, fine.width, 4))
    if background is not None:
        picture[:] = [*background, 255]
    picture[covered, :3] = tint[index[covered]]
    picture[covered, 3] = 255
    if grains is not None:
        _dot(picture, index, grains)
    _ink(picture, depth, index, mesh, 1.6 / fine.scale)
    if lines is not None and len(lines):
        _draw(picture, fine, depth, lines)
    return _halved(picture)


def _halved(picture: Floats) -> Pixels:
    """Each pixel from four, coloured by those that are covered."""
    four = [picture[row::2, column::2] for row in (0, 1) for column in (0, 1)]
    total, colour = sum(part[..., 3:] for part in four), sum(part[..., :3] * part[..., 3:] for part in four)
    return np.concatenate([colour / np.maximum(total, 1.0), total / 4.0], axis=2).round().astype(np.uint8)


def _dot(picture: Floats, index: Ints, grains: Bools) -> None:
    """Grains on the faces of sand, scattered over the picture: they have no size of their own."""
    high, wide = index.shape
    noise = np.random.default_rng(2)
    count = int(GRAINS * high * wide)
    y, x = noise.integers(0, high - 3, count), noise.integers(0, wide - 3, count)
    on = (index[y, x] >= 0) & grains[index[y, x]]
    for dy in range(3):
        for dx in range(3):
            picture[y[on] + dy, x[on] + dx, :3] *= 0.72


def _ink(picture: Floats, depth: Floats, index: Ints, mesh: Mesh, step_mm: float) -> None:
    """Ink where the outline, a step in depth or a crease of over 30 degrees lies."""
    edge = np.zeros(depth.shape, bool)
    normals = mesh.normals
    for axis in (0, 1):
        one = (slice(None, -1), slice(None)) if axis == 0 else (slice(None), slice(None, -1))
        two = (slice(1, None), slice(None)) if axis == 0 else (slice(None), slice(1, None))
        a, b = index[one], index[two]
        outline = (a >= 0) != (b >= 0)
        both = (a >= 0) & (b >= 0) & (a != b)
        bend = np.zeros(a.shape, bool)
        bend[both] = np.einsum("ij,ij->i", normals[a[both]], normals[b[both]]) < np.cos(np.radians(30.0))
        step = np.zeros(a.shape, bool)
        step[both] = np.abs(depth[one][both] - depth[two][both]) > 12.0 * step_mm
        mark = outline | bend | step
        edge[one] |= mark
        edge[two] |= outline
    picture[edge, :3] = INK
    picture[edge, 3] = 255


def _draw(picture: Floats, view: View, depth: Floats, lines: Floats) -> None:
    """Bold ink along the segments where nothing stands before them."""
    tolerance = 0.004 * max(view.width, view.height) / view.scale
    for start, end in lines:
        a, b = view.project(np.stack([start, end]))
        steps = int(max(abs(b[0] - a[0]), abs(b[1] - a[1]))) + 1
        along = np.linspace(0.0, 1.0, steps + 1)[:, None]
        points = a + (b - a) * along
        x, y = points[:, 0].astype(int), points[:, 1].astype(int)
        for dx in (-1, 0, 1):
            for dy in (-1, 0, 1):
                px, py = x + dx, y + dy
                inside = (px >= 0) & (px < view.width) & (py >= 0) & (py < view.height)
                px, py, z = px[inside], py[inside], points[inside, 2]
                clear = z >= depth[py, px] - tolerance
                picture[py[clear], px[clear], :3] = INK
                picture[py[clear], px[clear], 3] = 255
