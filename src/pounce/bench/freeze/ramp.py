"""Figures on a grid as bands of colour with light lines between them."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QImage, QPainter, QTransform

from pounce.bench.freeze.scale import Shown, Telling, colours
from pounce.feeding.values import FreezeResult, Picture
from pounce.freeze.bands import BANDS, LIQUID, SET
from pounce.solid.mesh import Floats

FINE, SPREAD = 6, 4


def last_s(r: FreezeResult, shown: Shown) -> float:
    """Where the scale ends."""
    if shown == "fills":
        return max(r.fill.seconds, 1e-3)
    held = r.picture.sets_s[np.isfinite(r.picture.sets_s)]
    return float(held.max()) if held.size else 1.0


def over(picture: Picture, shown: Shown) -> Floats:
    """(ny, nx) from above: the last time in each column, NaN where no metal is."""
    field = _field(picture, shown)
    with np.errstate(invalid="ignore"):
        most = np.where(np.isfinite(field), field, -np.inf).max(axis=0)
    return np.where(np.isfinite(most), most, np.nan)


def along(picture: Picture, shown: Shown, y_mm: float) -> Floats:
    """(nz, nx) in the cut at ``y_mm``."""
    c = picture.cells
    j = int(np.clip((y_mm - c.low[1]) / c.step, 0, c.shape[1] - 1))
    return np.asarray(_field(picture, shown)[:, j, :], float)


def _field(picture: Picture, shown: Shown) -> Floats:
    field = picture.sets_s if shown == "sets" else picture.fills_s
    return np.where(np.isfinite(field), field, np.nan)


def spread(field: Floats) -> Floats:
    """Carried a few cells beyond the metal, so that it fills an outline that is finer than the grid."""
    out = np.array(field, float)
    for _ in range(SPREAD):
        empty = ~np.isfinite(out)
        if not empty.any():
            break
        near = np.full((4, *out.shape), np.nan)
        near[0, 1:], near[1, :-1], near[2, :, 1:], near[3, :, :-1] = out[:-1], out[1:], out[:, :-1], out[:, 1:]
        known = np.isfinite(near)
        many = known.sum(axis=0)
        mean = np.where(known, near, 0.0).sum(axis=0) / np.maximum(many, 1)
        out = np.where(empty & (many > 0), mean, out)
    return out


def finer(field: Floats, times: int = FINE) -> Floats:
    """The field between its cells, ``times`` as fine; NaN where a neighbour is."""
    out = field
    for axis in (0, 1):
        n = out.shape[axis]
        at = np.clip((np.arange(n * times) + 0.5) / times - 0.5, 0.0, n - 1.0)
        low = np.floor(at).astype(int)
        high = np.minimum(low + 1, n - 1)
        share = (at - low)[:, None] if axis == 0 else (at - low)[None, :]
        a, b = np.take(out, low, axis=axis), np.take(out, high, axis=axis)
        mixed = a + (b - a) * share
        nearest = np.where(share < 0.5, a, b)
        out = np.where(np.isfinite(mixed), mixed, nearest)
    return out


def banded(field: Floats, telling: Telling) -> QImage:
    """The picture of a field (rows from low to high, as the grid has them)."""
    fine = finer(spread(field))
    held = np.isfinite(fine)
    value = np.where(held, fine, 0.0)
    if telling.at_s is None:
        band = np.clip((value / telling.most_s * BANDS).astype(int), 0, BANDS - 1)
        rgb = colours()[band]
        rgb = np.where(_edges(band)[:, :, None], 0.45 * rgb + 0.55 * 255.0, rgb)
    else:
        liquid = value > telling.at_s
        if telling.shown == "fills":
            liquid = ~liquid
        rgb = np.where(liquid[:, :, None], np.array(LIQUID, float), np.array(SET, float))
        rgb = np.where(_edges(liquid.astype(int))[:, :, None], 255.0, rgb)
    out = np.zeros((*fine.shape, 4), np.uint8)
    out[:, :, :3] = rgb[:, :, ::-1].astype(np.uint8)
    out[:, :, 3] = np.where(held, 255, 0)
    out = np.ascontiguousarray(out[::-1])
    high, wide = fine.shape
    return QImage(out.tobytes(), wide, high, 4 * wide, QImage.Format.Format_ARGB32).copy()


def _edges(band: Floats) -> Floats:
    """Where one band ends."""
    out = np.zeros(band.shape, bool)
    out[1:] |= band[1:] != band[:-1]
    out[:, 1:] |= band[:, 1:] != band[:, :-1]
    return out


def paint(painter: QPainter, frame: QTransform, image: QImage, x0: float, y0: float, step: float) -> None:
    """A picture whose lowest left corner lies at (``x0``, ``y0``) mm, one cell ``step`` mm."""
    wide, high = image.width() / FINE * step, image.height() / FINE * step
    box = QRectF(frame.map(QPointF(x0, y0 + high)), frame.map(QPointF(x0 + wide, y0)))
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(box, image)
