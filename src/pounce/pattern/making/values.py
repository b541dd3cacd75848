"""What the ways of making come to: prints on a bed, layers of board or foam, what is cut from what, and a comparison."""

from dataclasses import dataclass, field

import numpy as np
from shapely.geometry.base import BaseGeometry

from pounce.solid.mesh import Floats, Mesh


@dataclass(frozen=True, eq=False)
class Layer:
    """One board or sheet of a stack, in its piece's laid frame: ``low_mm`` to ``high_mm`` over the joint.

    ``lower`` and ``upper`` are the piece's outlines just inside the two faces, ``saw`` the widest outline anywhere between (sawn
    outside of it); ``lean_deg`` how far its walls lean on the mean, positive when the upper face is the smaller; ``grain_deg`` the way
    of the grain from x; ``mesh`` the layer itself, where it is to be shown.
    """

    piece: int
    number: int
    low_mm: float
    high_mm: float
    lower: BaseGeometry
    upper: BaseGeometry
    saw: BaseGeometry
    lean_deg: float
    grain_deg: float = 0.0
    mesh: Mesh | None = None

    @property
    def thick_mm(self) -> float:
        """Its thickness."""
        return self.high_mm - self.low_mm


@dataclass(frozen=True)
class Blank:
    """A line of the cut list: ``name``, how many, along the grain, across it and thick (mm, planed), ``grain`` in a word; ``board`` and

    ``at_mm`` where it is nested (-1: on none), ``turned`` whether it lies crosswise there.
    """

    name: str
    count: int
    long_mm: float
    wide_mm: float
    thick_mm: float
    grain: str
    board: int = -1
    at_mm: tuple[float, float] = (0.0, 0.0)
    turned: bool = False


@dataclass(frozen=True)
class Segments:
    """A ring built of segments: outer and inner radius, how many, their long side, the board's width they want, mm, and the mitre."""

    outer_mm: float
    inner_mm: float
    count: int
    long_mm: float
    wide_mm: float
    mitre_deg: float


@dataclass(frozen=True, eq=False)
class HotCut:
    """A hot-wire cut through a sheet: the two end profiles in step, (k, 2) mm each, wire kerf allowed for; ``piece`` and ``layer`` it

    shapes, ``inside`` for an opening; ``straight`` when one straight wire path does.
    """

    piece: int
    layer: int
    inside: bool
    lower: Floats
    upper: Floats


@dataclass(frozen=True, eq=False)
class Printed:
    """A piece as it goes to the printer: laid on z = 0. ``of`` and ``part`` which pattern piece it is of and which share (0: whole);

    ``outline`` (k, 2) round it from above, ``turn_deg`` about z so that it fits the bed, ``at_mm`` its middle on the bed, ``plastic_mm3``, ``minutes``, ``overhang_mm2`` that would want support.
    """

    name: str
    role: str
    of: int
    part: int
    mesh: Mesh
    turn_deg: float
    plastic_mm3: float
    minutes: float
    overhang_mm2: float
    outline: Floats
    bed: int = 0
    at_mm: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True)
class Way:
    """One way beside the others: hours in all and by hand, what it takes, and what to mind."""

    kind: str
    hours: float
    hand_hours: float
    takes: str
    minds: str
    figures: dict[str, float] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class Making:
    """How the pattern's pieces are made in the chosen way (``kind`` printed, wood, foam, or "" where none applies)."""

    kind: str
    ways: tuple[Way, ...]
    prints: tuple[Printed, ...] = ()
    layers: tuple[Layer, ...] = ()
    blanks: tuple[Blank, ...] = ()
    boards: int = 0
    segments: tuple[Segments, ...] = ()
    cuts: tuple[HotCut, ...] = ()
    steps: tuple[str, ...] = ()
    figures: dict[str, float] = field(default_factory=dict)


def spread(layers: tuple[Layer, ...], apart: float) -> list[Floats]:
    """The shift (3,) of every layer for showing the stacks side by side, shows_own by ``apart`` (0 to 1)."""
    out: list[Floats] = []
    wide = [max((float(one.mesh.size[0]) for one in layers if one.piece == k and one.mesh is not None), default=0.0)
            for k in range(max((one.piece for one in layers), default=-1) + 1)]  # fmt: skip
    gap = 0.25 * max(wide, default=0.0)
    starts = np.concatenate([[0.0], np.cumsum([w + gap for w in wide])])
    tall = max((one.high_mm for one in layers), default=0.0)
    for one in layers:
        lift = apart * (one.number - 1) * max(0.55 * tall, 0.12 * max(wide, default=0.0))
        out.append(np.array([float(starts[one.piece]) + wide[one.piece] / 2.0, 0.0, lift]))
    return out


def shown_prints(prints: tuple[Printed, ...]) -> list[tuple[Mesh, Floats]]:
    """Every print with the shift (3,) that lays beds side by side, each print where it lies on its bed."""
    wide = max((one.at_mm[0] + float(one.mesh.size[0]) / 2.0 for one in prints), default=0.0)
    return [(one.mesh, np.array([one.at_mm[0] + one.bed * 1.1 * wide, one.at_mm[1], 0.0])) for one in prints]


def shows_own(making: Making) -> bool:
    """Whether the way of making has something of its own to show: layers, or parts cut for the bed."""
    return bool(making.layers) or any(one.part for one in making.prints)


def corners_shown(making: Making, apart: float) -> Floats:
    """(n, 3) corners of all that is shown, in the laid frame."""
    if making.layers:
        things = [
            (one.mesh, shift)
            for one, shift in zip(making.layers, spread(making.layers, apart), strict=True)
            if one.mesh is not None
        ]
    else:
        things = shown_prints(making.prints)
    out = []
    for mesh, shift in things:
        low, high = mesh.bounds[0] + shift, mesh.bounds[1] + shift
        out.append(np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]))
    return np.concatenate(out) if out else np.zeros((0, 3))
