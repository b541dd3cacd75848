"""What the window asks of the render server."""

from dataclasses import dataclass

from pounce.bench.view3d.camera import Camera


@dataclass(frozen=True)
class SceneAsked:
    """What to show. Paths name packed results; None where there is none yet.

    ``ghost`` over 1 draws the outline of the part enlarged by this factor round it.
    """

    kind: str
    part: str | None = None
    parting: str | None = None
    pattern: str | None = None
    direction: tuple[float, float, float] = (0.0, 0.0, 1.0)
    ghost: float = 1.0


@dataclass(frozen=True)
class FrameAsked:
    """A frame of this size in device pixels. ``moving``: the view is being turned, so fast before fine."""

    number: int
    camera: Camera
    width: int
    height: int
    moving: bool
    lit: int = -1
    scene: int = 0


@dataclass(frozen=True)
class PickAsked:
    """What lies under this pixel."""

    number: int
    camera: Camera
    width: int
    height: int
    x: float
    y: float
