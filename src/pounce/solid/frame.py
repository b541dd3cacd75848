"""Directions and frames."""

import numpy as np

from pounce.solid.mesh import Floats


def unit(direction: Floats | tuple[float, float, float] | list[float]) -> Floats:
    """The direction at length 1; ValueError for a zero or not finite one."""
    vector = np.asarray(direction, dtype=np.float64)
    size = float(np.linalg.norm(vector))
    if not np.isfinite(size) or size < 1e-12:
        raise ValueError("a direction needs a length")
    return np.asarray(vector / size + 0.0, dtype=np.float64)


def across(direction: Floats) -> tuple[Floats, Floats]:
    """Two unit vectors u, v with u x v = direction; for +z they are x and y."""
    helper = np.eye(3)[0] if abs(direction[0]) < 0.9 else np.eye(3)[1]
    u = unit(helper - direction * float(helper @ direction))
    (a, b, c), (x, y, z) = direction.tolist(), u.tolist()  # np.cross costs twenty times this on single vectors
    return u, np.array([b * z - c * y, c * x - a * z, a * y - b * x])


def turn_to_z(direction: Floats) -> Floats:
    """(3, 3) rotation that takes ``direction`` to +z; rows are u, v, direction."""
    u, v = across(direction)
    return np.stack([u, v, direction])


def axis_name(direction: Floats) -> str | None:
    """``+x`` ... ``-z`` when the direction is one of the own axes, else None."""
    index = int(np.argmax(np.abs(direction)))
    if abs(abs(float(direction[index])) - 1.0) > 1e-9:
        return None
    return ("+" if direction[index] > 0 else "-") + "xyz"[index]


def half_sphere(count: int) -> Floats:
    """(count, 3) directions spread evenly over the upper half sphere (golden-angle spiral)."""
    index = np.arange(count) + 0.5
    z = 1.0 - index / count
    turn = np.pi * (1.0 + 5.0**0.5) * index
    flat = np.sqrt(1.0 - z * z)
    return np.stack([flat * np.cos(turn), flat * np.sin(turn), z], axis=1)


def three(point: Floats) -> tuple[float, float, float]:
    """A point (3,) as plain figures, as values keep it."""
    return float(point[0]), float(point[1]), float(point[2])
