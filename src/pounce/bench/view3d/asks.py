"""What the window asks of the render server."""

from dataclasses import dataclass

from pounce.bench.view3d.camera import Camera

# At Stock a lit number from here on is a feature of the part; below it is a line of the card.
FEATURE_FROM = 1000


@dataclass(frozen=True)
class SceneAsked:
    """What to show. Paths name packed results; None where there is none yet.

    ``core`` which core stands out beside the part at Cores, and ``apart`` (0 to 1) how far it and its box are moved
    out. ``mould`` the blocks of the trial draw. ``ghost`` over 1 draws the outline of the part enlarged by this
    factor round it.
    """

    kind: str
    part: str | None = None
    parting: str | None = None
    pattern: str | None = None
    direction: tuple[float, float, float] = (0.0, 0.0, 1.0)
    ghost: float = 1.0
    mould: str | None = None
    stock: str | None = None
    cores: str | None = None
    freeze: str | None = None
    core: int = 0
    apart: float = 1.0


@dataclass(frozen=True)
class Told:
    """What the heat is shown by: when metal ``fills`` or when it sets, and the moment that is looked at (None: all)."""

    fills: bool = False
    at_s: float | None = None


ALL_OF_IT = Told()


@dataclass(frozen=True)
class FrameAsked:
    """A frame of this size in device pixels. ``moving``: the view is being turned, so fast before fine.

    ``lift`` and ``drawn`` are how far the cope is lifted and the pattern drawn in the trial, mm; ``told`` what
    is told of the heat.
    """

    number: int
    camera: Camera
    width: int
    height: int
    moving: bool
    lit: int = -1
    scene: int = 0
    lift: float = 0.0
    drawn: float = 0.0
    told: Told = ALL_OF_IT


@dataclass(frozen=True)
class PickAsked:
    """What lies under this pixel."""

    number: int
    camera: Camera
    width: int
    height: int
    x: float
    y: float


@dataclass(frozen=True)
class Spot:
    """What a pick found: ``region`` or -1, the ``point``, ``normal`` there, ``state``, ``draft_deg``, and how thick the
    material is behind it (mm, inf where nothing is behind).
    """

    region: int
    point: tuple[float, float, float]
    normal: tuple[float, float, float]
    state: int
    draft_deg: float
    thick_mm: float


@dataclass(frozen=True)
class Tinted:
    """Live states: where the representatives lie packed, and their states as packed bytes; ``ready_only`` makes the
    stand-in without showing it, so that the hand that takes the arrow next does not wait.
    """

    among: str
    states: bytes
    ready_only: bool = False
