"""The choices of Cores, each once: of all cores, and of each."""

from typing import Final

from pounce.base.choice import Choice, FigureChoice, Flag, OneOf, Words
from pounce.cores.values import HOWS, STEEPEST_DEG, WIDEST
from pounce.metals.tables import limits, mixes

CORE: Final = Words(
    key="core",
    title="Core",
    help="A core",
    option=True,
    many=True,
    forms="all, X,Y,Z[:side=MM][:box=half], mix=NAME, longest=MM, on-end",
)
EVERY: Final = Flag(
    key="all",
    title="Every hollow that locks",
    help="A core for every hollow that locks and of which nothing else was said",
    field="every",
    word_of="core",
)
ON_END: Final = Flag(
    key="on-end",
    title="Poured on end",
    help="The mould is stood on end before pouring. On end a long core stands and cannot sag; the flask must be "
    "clamped",
    field="on_end",
    word_of="core",
)
MIX: Final = OneOf(
    key="mix",
    title="Mix",
    help="Sand of the cores. Gassed silicate is the default: no oven, and it sets in its box",
    field="mix",
    word_of="core",
    usual="silicate-gassed",
    options=lambda: {key: one.name for key, one in mixes().items()},
)
LONGEST: Final = FigureChoice(
    key="longest",
    title="Longest piece",
    help="Longer cores are parted: the longest piece the box maker's printer takes",
    field="longest_mm",
    word_of="core",
    unit="mm",
    low=40.0,
    high=2000.0,
    usual=limits()["core_longest"].value,
    step=10.0,
    source=limits()["core_longest"].source,
)
TABLE: Final[tuple[Choice, ...]] = (CORE, EVERY, ON_END, MIX, LONGEST)

# Of each core; words behind its place.
MAKE: Final = OneOf(
    key="make",
    title="Made by",
    help="A core; the green sand itself; solid metal drilled later; a loose piece",
    field="make",
    options=lambda: HOWS,
)
DRAG: Final = FigureChoice(
    key="drag",
    title="Drag print",
    help="Height of the print that stands in the drag",
    field="drag_mm",
    unit="mm",
    low=0.0,
    high=500.0,
)
COPE: Final = FigureChoice(
    key="cope",
    title="Cope print",
    help="Height of the print that reaches into the cope",
    field="cope_mm",
    unit="mm",
    low=0.0,
    high=500.0,
)
SIDE: Final = FigureChoice(
    key="side",
    title="Side prints",
    help="Length of the prints that lie in the joint",
    field="side_mm",
    unit="mm",
    low=0.0,
    high=1000.0,
)
CLEARANCE: Final = FigureChoice(
    key="clearance",
    title="Clearance",
    help="Between core print and mould, all round",
    field="clearance_mm",
    unit="mm",
    low=0.0,
    high=5.0,
    digits=2,
    step=0.05,
)
VENT: Final = FigureChoice(
    key="vent",
    title="Vent",
    help="Diameter of the vent through the core",
    field="vent_mm",
    unit="mm",
    low=0.0,
    high=50.0,
    step=0.5,
)
DRAG_TAPER: Final = FigureChoice(
    key="drag-taper",
    title="Taper in the drag",
    help="How far a drag print leans",
    field="drag_taper_deg",
    unit="°",
    low=0.0,
    high=STEEPEST_DEG,
    step=0.5,
)
COPE_TAPER: Final = FigureChoice(
    key="cope-taper",
    title="Taper in the cope",
    help="How far a cope print leans",
    field="cope_taper_deg",
    unit="°",
    low=0.0,
    high=STEEPEST_DEG,
    step=0.5,
)
DRAFT: Final = FigureChoice(
    key="draft",
    title="Draft in the box",
    help="Draft of the hollow's own walls in the box, taken from the core",
    field="draft_deg",
    unit="°",
    low=0.0,
    high=10.0,
    step=0.5,
)
WIDE: Final = FigureChoice(
    key="wide",
    title="Wider print",
    help="How many times as wide as its opening a lying print is, so that a short one balances",
    field="wide",
    unit="",
    low=1.0,
    high=WIDEST,
    step=0.1,
)
BOX: Final = OneOf(
    key="box",
    title="Box",
    help="Two halves; one half used twice where the core is alike both ways; a tube to push out of",
    field="box",
    usual="split",
    options=lambda: {"split": "Split", "half": "One half", "tube": "Tube"},
)
EACH: Final[tuple[Choice, ...]] = (MAKE, SIDE, DRAG, COPE, CLEARANCE, VENT, DRAG_TAPER, COPE_TAPER, DRAFT, WIDE, BOX)
