"""The camera: a parallel view turned about the draw, as plain arithmetic shared by window and render server."""

from dataclasses import dataclass, replace

import numpy as np

from pounce.solid.frame import across, unit
from pounce.solid.mesh import Floats


@dataclass(frozen=True)
class Camera:
    """``up`` the draw; ``round_deg`` about it and ``tip_deg`` above the joint; ``middle`` looked at; ``half_mm`` half
    the height of the picture in mm.
    """

    up: tuple[float, float, float] = (0.0, 0.0, 1.0)
    round_deg: float = -30.0
    tip_deg: float = 32.0
    middle: tuple[float, float, float] = (0.0, 0.0, 0.0)
    half_mm: float = 100.0

    def axes(self) -> Floats:
        """(3, 3): rows right, up, toward the eye."""
        up = unit(self.up)
        right0, back0 = across(up)
        a, t = np.radians(self.round_deg), np.radians(self.tip_deg)
        level = -back0 * np.cos(a) - right0 * np.sin(a)
        toward = unit(level * np.cos(t) + up * np.sin(t))
        right = unit(np.cross(up, toward)) if abs(float(up @ toward)) < 0.9999 else right0
        return np.stack([right, np.cross(toward, right), toward])

    def project(self, points: Floats, width: float, height: float) -> Floats:
        """(n, 3): pixel x, pixel y (down), depth toward the eye in mm."""
        seen = (np.atleast_2d(points) - np.array(self.middle)) @ self.axes().T
        k = height / (2.0 * self.half_mm)
        return np.stack([width / 2 + seen[:, 0] * k, height / 2 - seen[:, 1] * k, seen[:, 2]], axis=1)

    def turned(self, right_deg: float, down_deg: float) -> "Camera":
        """Turned about the draw and tipped, the tip kept within 89 degrees."""
        tip = min(max(self.tip_deg + down_deg, -89.0), 89.0)
        return replace(self, round_deg=(self.round_deg + right_deg) % 360.0, tip_deg=tip)

    def slid(self, dx: float, dy: float, height: float) -> "Camera":
        """Slid by pixels of a picture this high."""
        k = 2.0 * self.half_mm / height
        axes = self.axes()
        moved = np.array(self.middle) - axes[0] * dx * k + axes[1] * dy * k
        return replace(self, middle=(float(moved[0]), float(moved[1]), float(moved[2])))

    def nearer(self, factor: float) -> "Camera":
        """Enlarged by the factor, within reason."""
        return replace(self, half_mm=min(max(self.half_mm / factor, 1e-2), 1e6))


def fitted(camera: Camera, points: Floats, width: float, height: float, margin: float = 0.09) -> Camera:
    """The camera moved so that the points fill the picture but for the margin."""
    seen = points @ camera.axes().T
    low, high = seen.min(axis=0), seen.max(axis=0)
    span = np.maximum(high - low, 1e-6)
    half = max(span[1], span[0] * height / max(width, 1.0)) / (2.0 * (1.0 - 2.0 * margin))
    middle = ((low + high) / 2.0) @ camera.axes()
    return replace(camera, middle=(float(middle[0]), float(middle[1]), float(middle[2])), half_mm=float(half))
