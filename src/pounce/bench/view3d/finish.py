"""Finishing a frame: averaging down, the soft shadow's blur."""

import numpy as np


def blurred(picture: np.ndarray, sigma: float) -> np.ndarray:
    """The picture under a soft brush: three box means in each direction, close to a Gaussian of this sigma.

    (half the start of this process went into importing a library for this one thing)
    """
    half = max(round((np.sqrt(4.0 * sigma * sigma + 1.0) - 1.0) / 2.0), 1)
    out = picture.astype(np.float64)
    for axis in (0, 1, 0, 1, 0, 1):
        count = out.shape[axis]
        pad = [(half + 1, half) if k == axis else (0, 0) for k in (0, 1)]
        sums = np.cumsum(np.pad(out, pad), axis=axis)
        width = 2 * half + 1
        high = np.take(sums, np.arange(width, width + count), axis=axis)
        out = (high - np.take(sums, np.arange(count), axis=axis)) / width
    return out


def averaged(colour: np.ndarray, grain: int) -> np.ndarray:
    """Averaged down, colour weighted by alpha so that paper does not bleed in."""
    height, width = colour.shape[0] // grain, colour.shape[1] // grain
    blocks = colour.reshape(height, grain, width, grain, 4)
    alpha = blocks[..., 3:]
    total = alpha.sum(axis=(1, 3))
    rgb = (blocks[..., :3] * alpha).sum(axis=(1, 3)) / np.maximum(total, 1.0)
    return np.concatenate([rgb, total / (grain * grain)], axis=2)


def fitted_to(picture: np.ndarray, height: int, width: int) -> np.ndarray:
    """The picture (h, w[, n]) cut or padded with nothing to that size."""
    out = np.zeros((height, width), picture.dtype)
    h, w = min(height, picture.shape[0]), min(width, picture.shape[1])
    out[:h, :w] = picture[:h, :w]
    return out
