"""What the ways of making come to: prints on a bed, layers of board or foam, what is cut from what, and a
comparison.
"""

from dataclasses import dataclass, field

from shapely.geometry.base import BaseGeometry

from pounce.solid.mesh import Floats, Mesh


@dataclass(frozen=True, eq=False)
class Layer:
    """One board or sheet of a stack, in its piece's laid frame: ``low_mm`` to ``high_mm`` over the joint.

    ``lower`` and ``upper`` are the piece's outlines just inside the two faces, ``saw`` the widest outline anywhere
    between (sawn outside of it); ``lean_deg`` how far its walls lean on the mean, positive when the upper face is
    the smaller; ``grain_deg`` the way of the grain from x; ``joints`` (k, 4) straight lines x, y to x, y along which
    it is cut to fit its sheet, and the ``parts`` it falls into; ``mesh`` the layer itself, where it is to be shown.
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
    joints: tuple[tuple[float, float, float, float], ...] = ()
    parts: tuple[BaseGeometry, ...] = ()
    mesh: Mesh | None = None

    @property
    def thick_mm(self) -> float:
        """Its thickness."""
        return self.high_mm - self.low_mm


@dataclass(frozen=True)
class Blank:
    """A line of the cut list: ``name``, how many, along the grain, across it and thick (mm, planed), ``grain`` in a
    word; ``board`` and ``at_mm`` where it is nested (-1: on none), ``turned`` whether it lies crosswise there.
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
    """A ring built of segments: outer and inner radius, how many, their long side, the board's width they want, mm,
    and the mitre.
    """

    outer_mm: float
    inner_mm: float
    count: int
    long_mm: float
    wide_mm: float
    mitre_deg: float


@dataclass(frozen=True, eq=False)
class HotCut:
    """A hot-wire cut through a sheet: the two end profiles in step, (k, 2) mm each, wire kerf allowed for; ``piece``
    and ``layer`` it shapes, ``inside`` for an opening; ``straight`` when one straight wire path does.
    """

    piece: int
    layer: int
    inside: bool
    lower: Floats
    upper: Floats


@dataclass(frozen=True, eq=False)
class Printed:
    """A piece as it goes to the printer: laid on z = 0. ``of`` and ``part`` which pattern piece it is of and which
    share (0: whole); ``outline`` (k, 2) round it from above, ``upright`` loops (k, 2) of the cut through its middle,
    along it and up, ``turn_deg`` about z so that it fits the bed, ``at_mm`` its middle on the bed, ``plastic_mm3``,
    ``minutes``, ``overhang_mm2`` that would want support; ``lies`` where it lies in its piece, before it is turned
    for the bed; ``room_mm3`` hollowed out of it and its ``drains``.
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
    upright: tuple[Floats, ...]
    lies: Mesh
    room_mm3: float = 0.0
    drains: int = 0
    bed: int = 0
    at_mm: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True, eq=False)
class Clay:
    """The plan of a piece pressed into clay, funnel along +y, the piece's middle at the origin, mm.

    ``way_deg`` where that lies in the plan across the draw; ``outline`` (k, 2); ``block_mm`` the clay's width and
    height and ``low_mm`` its lower edge; ``funnel`` where the throat meets the piece, its width ``throat_mm`` and
    its ``mouth_mm``; ``breathers`` ways (k, 2); ``keys`` middles; ``under_mm`` and ``over_mm`` how deep the piece
    lies in either half.
    """

    way_deg: float
    outline: Floats
    block_mm: tuple[float, float]
    low_mm: float
    funnel: tuple[float, float]
    throat_mm: float
    mouth_mm: float
    breathers: tuple[Floats, ...]
    keys: tuple[tuple[float, float], ...]
    under_mm: float
    over_mm: float


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
    """How the pattern's pieces are made in the chosen way: ``kind`` printed, wood, foam, metal (its master is printed)
    or original.

    ``boards`` how many boards or sheets of foam it is cut from; ``clay`` the plan where it is pressed into clay;
    ``hollow`` whether its prints are hollowed; ``drawings`` what is drawn for it: templates, a cut-list, a rule.
    """

    kind: str
    ways: tuple[Way, ...]
    prints: tuple[Printed, ...] = ()
    layers: tuple[Layer, ...] = ()
    blanks: tuple[Blank, ...] = ()
    boards: int = 0
    segments: tuple[Segments, ...] = ()
    cuts: tuple[HotCut, ...] = ()
    clay: Clay | None = None
    hollow: bool = False
    steps: tuple[str, ...] = ()
    drawings: frozenset[str] = frozenset()
    figures: dict[str, float] = field(default_factory=dict)
