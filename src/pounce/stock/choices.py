"""The choices of Stock beside its lines, each once."""

from typing import Final

from pounce.base.choice import Choice, FigureChoice, OneOf, Words
from pounce.metals.tables import grades, limits, metals

ADD: Final = Words(
    key="add",
    title="Line",
    help="An addition",
    option=True,
    many=True,
    forms="draft[:DEG], fill, fillets[:R], machine@X,Y,Z[:F], text@X,Y,Z:WORDS",
)
PRINT_SHRINK: Final = FigureChoice(
    key="print-shrinks",
    title="Print shrinks",
    help="What your printing stuff loses as it cools, measured on a test piece",
    field="print_shrink_percent",
    option=True,
    unit="%",
    low=-5.0,
    high=5.0,
    usual=0.0,
    digits=2,
    step=0.1,
)
TOLERANCE: Final = OneOf(
    key="tolerance",
    title="Tolerance",
    field="tolerance",
    option=True,
    none="usual",
    see="",
    options=lambda: {"": "the sand's usual"} | {grade: f"{grade}, ISO 8062" for grade in grades()["tolerance"].grades},
    help="The grade of the table of sizes. Hand-moulded clay-bonded sand: CT11 to CT14, light and copper alloys "
    "CT10 to CT13; one finer in sand set by a binder. Shown as ± half of it",
)
OTHER_METAL: Final = OneOf(
    key="other-metal",
    title="First tried in",
    help="The sizes to expect when this pattern is first cast in another metal",
    field="other_metal",
    option=True,
    none="none",
    options=lambda: {"": "none"} | {key: one.name for key, one in metals().items()},
    see="pounce metals",
)
SPIN: Final = OneOf(
    key="spin",
    title="Inertia about",
    help="The axis of the moment of inertia, through the middle of mass: a flywheel's worth is its rim",
    field="spin_axis",
    option=True,
    usual="z",
    options=lambda: {axis: axis for axis in "xyz"},
)
LEFT: Final = FigureChoice(
    key="stock-left",
    title="Stock left",
    help="What must be left to cut where the casting comes out least",
    field="stock_left_mm",
    option=True,
    unit="mm",
    low=0.0,
    high=20.0,
    usual=limits()["stock_left"].value,
    digits=2,
    step=0.1,
    source=limits()["stock_left"].source,
)
TABLE: Final[tuple[Choice, ...]] = (ADD, PRINT_SHRINK, TOLERANCE, OTHER_METAL, SPIN, LEFT)
