"""The choices of Pattern, each once."""

from typing import Any, Final

from pounce.base.choice import Choice, FigureChoice, Flag, OneOf, Sides, Words
from pounce.metals.tables import limits, screws, timbers


def _figure(
    key: str, title: str, help: str, field: str, unit: str, low: float, high: float, **more: Any
) -> FigureChoice:
    return FigureChoice(
        key=key, title=title, help=help, field=field, unit=unit, low=low, high=high, word_of="make", **more
    )


MAKE: Final = Words(
    key="make",
    title="Made",
    help="How it is made",
    option=True,
    many=True,
    forms="bed=XxYxZ, hollow, mount=boards, copies=N, timber=NAME, board=MM, sheet=MM; see docs/command.md",
)
DOWELS: Final = OneOf(
    key="dowels",
    title="Dowels",
    field="dowels",
    option=True,
    usual="loose",
    options=lambda: {"loose": "Loose", "pins": "Short pins", "none": "None"},
    help="Loose: holes in both halves, so both print flat. Pins stand 3 mm proud of the cope half",
)
DOWEL: Final = _figure(
    "dowel",
    "Thicker dowel",
    "Diameter of the thicker dowel. The other is a size thinner, so the halves fit one way only",
    "dowel_mm",
    "mm",
    1.0,
    50.0,
)
DOWEL_COUNT: Final = _figure(
    "dowel-count",
    "How many",
    "How many dowels. Two place the halves; long joints want more",
    "dowel_count",
    "",
    2,
    6,
    usual=2,
    digits=0,
    whole=True,
    source="dowel-practice",
)
PROUD: Final = _figure(
    "proud",
    "Stand out",
    "How far dowels stand out of the joint. 3 mm clears when the cope is tilted in lifting; long ones lift the "
    "other half out of the sand",
    "proud_mm",
    "mm",
    0.5,
    50.0,
    step=0.5,
)
GUIDE: Final = Flag(
    key="guide",
    title="Holes through one half as a guide",
    help="The other half is bored through them",
    field="guide",
    word_of="make",
)
DRAW_SCREW: Final = Flag(
    key="draw-screw",
    title="Hole for a draw screw",
    help="A hole in each half to draw it by",
    field="draw_screw",
    usual=True,
)
SCREW: Final = OneOf(
    key="screw",
    title="Draw screw",
    help="What the draw screw is screwed into: cut its own thread, or set an insert in",
    field="screw",
    word_of="make",
    usual="M5",
    options=lambda: {key: one.name for key, one in screws().items()},
)
RAPPING: Final = Flag(
    key="rapping-plate",
    title="Rapping plate let into the joint",
    help="Iron to rap and lift by",
    field="rapping",
    word_of="make",
)
STL: Final = Flag(key="stl", title="Write STL beside the 3MF", help="STL files beside the 3MF", field="stl")
NUMBERS: Final = Flag(
    key="no-numbers",
    title="Pair numbers in the split faces",
    help="Tells the halves of a pair",
    field="numbers",
    word_of="make",
    usual=True,
    sets=False,
)
MOUNT: Final = OneOf(
    key="mount",
    title="Mounted on",
    help="What the pieces are mounted on. A board with holes for the flask's pins saves bedding the pattern for "
    "every mould",
    field="mount",
    word_of="make",
    options=lambda: {
        "none": "Nothing",
        "boards": "Boards, cope and drag",
        "one-side": "One board for both",
        "match-plate": "A match plate",
    },
)
COPIES: Final = _figure(
    "copies",
    "Patterns on it",
    "How many patterns on the board. Several at once, with sand for gates between them",
    "copies",
    "",
    1,
    24,
    usual=1,
    digits=0,
    whole=True,
)
FLASK: Final = Sides(
    key="flask",
    title="Flask inside",
    help="Inside of the flask along and across its pins; as large as the sand wants unless you say",
    field="flask_mm",
    word_of="make",
    names=("long", "wide"),
    low=60.0,
    high=3000.0,
)
PIN: Final = _figure(
    "pin",
    "Its pins",
    "Width of the flask's pins. One gets a round hole, the other a slot",
    "pin_mm",
    "mm",
    3.0,
    40.0,
    usual=limits()["flask_pin"].value,
    source=limits()["flask_pin"].source,
)
BED: Final = Sides(
    key="bed",
    title="Bed",
    help="Size of the printer's bed; larger pieces are cut for it",
    field="bed_mm",
    word_of="make",
    names=("x", "y", "z"),
    low=40.0,
    high=5000.0,
    may_lack=1,
)
LAYER: Final = _figure("layer", "Layer", "Height of a printed layer", "layer_mm", "mm", 0.02, 1.0, digits=2, step=0.04)
WALLS: Final = _figure(
    "walls",
    "Walls",
    "Lines of plastic round every layer",
    "walls",
    "",
    1,
    20,
    usual=limits()["print_walls"].value,
    digits=0,
    whole=True,
    source=limits()["print_walls"].source,
)
INSIDE: Final = _figure(
    "inside",
    "Inside",
    "How much is filled within the walls",
    "inside_percent",
    "%",
    0,
    100,
    usual=limits()["print_inside"].value,
    digits=0,
    step=5.0,
    source=limits()["print_inside"].source,
)
BED_JOINT: Final = OneOf(
    key="bed-joint",
    title="Cut pieces by",
    help="What joins the parts of a piece that is larger than the bed",
    field="bed_joint",
    word_of="make",
    options=lambda: {"dowels": "Dowels", "tongue": "Tongue"},
)
HOLLOW: Final = Flag(
    key="hollow",
    title="Hollow, with ribs",
    help="Printed pieces are hollowed and ribbed",
    field="hollow",
    word_of="make",
)
WALL: Final = _figure(
    "wall",
    "Wall when hollow",
    "Wall of a hollow piece; ribs stand as near as it needs to hold the ramming",
    "wall_mm",
    "mm",
    1.0,
    30.0,
    step=0.5,
)
TEST_PIECE: Final = Flag(
    key="test-piece",
    title="A test piece to try in the sand",
    help="Draft and text tried before the pattern is printed",
    field="test_piece",
    word_of="make",
)
TIMBER: Final = OneOf(
    key="timber",
    title="Timber",
    help="Of boards and blocks. Lime is the default: even, mild, and it carves in every direction",
    field="timber",
    word_of="make",
    usual="lime",
    options=lambda: {key: one.name for key, one in timbers().items()},
)
BOARD: Final = _figure(
    "board",
    "Boards at most",
    "The thickest planed board at hand",
    "board_mm",
    "mm",
    3.0,
    200.0,
    usual=limits()["planed_board"].value,
    source=limits()["planed_board"].source,
)
BOARD_WIDE: Final = FigureChoice(
    key="board-wide",
    title="Boards, wide",
    help="How wide the boards at hand are",
    field="board_wide_mm",
    unit="mm",
    low=20.0,
    high=3000.0,
    usual=limits()["planed_wide"].value,
    digits=0,
    step=10.0,
    source=limits()["planed_wide"].source,
)
BOARD_LONG: Final = FigureChoice(
    key="board-long",
    title="Boards, long",
    help="How long the boards at hand are",
    field="board_long_mm",
    unit="mm",
    low=100.0,
    high=6000.0,
    usual=limits()["planed_long"].value,
    digits=0,
    step=100.0,
    source=limits()["planed_long"].source,
)
BOARDS: Final = Sides(
    key="boards",
    title="Boards at hand",
    help="How wide and long the boards at hand are",
    word_of="make",
    names=("wide", "long"),
    low=20.0,
    high=6000.0,
    fields=("board_wide_mm", "board_long_mm"),
)
ROOM: Final = _figure(
    "room",
    "Room to plane",
    "Room left on every side of a board",
    "room_mm",
    "mm",
    0.0,
    20.0,
    usual=limits()["planing_room"].value,
    step=0.5,
    source=limits()["planing_room"].source,
)
SHEET: Final = _figure(
    "sheet",
    "Sheets at most",
    "The thickest sheet of foam at hand",
    "sheet_mm",
    "mm",
    5.0,
    1000.0,
    usual=limits()["foam_thick"].value,
    digits=0,
    step=10.0,
    source=limits()["foam_thick"].source,
)
SHEET_WIDE: Final = FigureChoice(
    key="sheet-wide",
    title="Sheets, wide",
    help="How wide the sheets of foam at hand are",
    field="sheet_wide_mm",
    unit="mm",
    low=100.0,
    high=3000.0,
    usual=limits()["foam_wide"].value,
    digits=0,
    step=50.0,
    source=limits()["foam_wide"].source,
)
SHEET_LONG: Final = FigureChoice(
    key="sheet-long",
    title="Sheets, long",
    help="How long the sheets of foam at hand are",
    field="sheet_long_mm",
    unit="mm",
    low=100.0,
    high=6000.0,
    usual=limits()["foam_long"].value,
    digits=0,
    step=50.0,
    source=limits()["foam_long"].source,
)
SHEETS: Final = Sides(
    key="sheets",
    title="Foam sheets at hand",
    help="How wide and long the sheets of foam at hand are",
    word_of="make",
    names=("wide", "long"),
    low=100.0,
    high=6000.0,
    fields=("sheet_wide_mm", "sheet_long_mm"),
)
KERF: Final = _figure(
    "kerf",
    "Kerf of the wire",
    "What the hot wire melts away, both sides together",
    "kerf_mm",
    "mm",
    0.0,
    10.0,
    usual=limits()["foam_kerf"].value,
    step=0.1,
    source=limits()["foam_kerf"].source,
)
LAP: Final = _figure(
    "lap",
    "Stock on the joint",
    "Stock to machine and lap the joint of the metal pattern; ISO 8062-3 unless you say",
    "lap_mm",
    "mm",
    0.0,
    20.0,
    digits=2,
    step=0.1,
)
BACK: Final = Flag(
    key="full-back",
    title="Hollow back on the metal pattern",
    help="A metal pattern is hollow behind",
    field="back",
    word_of="make",
    usual=True,
    sets=False,
)
FUNNEL: Final = _figure(
    "funnel",
    "Funnel looks",
    "Which way the funnel of a clay mould looks, from the first axis of the plan; at the heavier end unless you say",
    "funnel_deg",
    "°",
    -180.0,
    360.0,
    digits=0,
    step=15.0,
)
PAPER: Final = OneOf(
    key="paper",
    title="Templates on",
    help="Paper of templates and pages; they lap by 10 mm",
    field="paper",
    option=True,
    word_of="make",
    options=lambda: {"A4": "A4", "A3": "A3", "letter": "Letter"},
)
RULE: Final = Flag(
    key="no-rule",
    title="A contraction rule",
    help="A rule at the pattern's own millimetre",
    field="rule",
    word_of="make",
    usual=True,
    sets=False,
)
TABLE: Final[tuple[Choice, ...]] = (
    MAKE,
    DOWELS,
    DOWEL,
    DOWEL_COUNT,
    PROUD,
    GUIDE,
    DRAW_SCREW,
    SCREW,
    RAPPING,
    MOUNT,
    COPIES,
    FLASK,
    PIN,
    BED,
    LAYER,
    WALLS,
    INSIDE,
    BED_JOINT,
    HOLLOW,
    WALL,
    TIMBER,
    BOARD,
    BOARD_WIDE,
    BOARD_LONG,
    BOARDS,
    ROOM,
    SHEET,
    SHEET_WIDE,
    SHEET_LONG,
    SHEETS,
    KERF,
    LAP,
    BACK,
    FUNNEL,
    PAPER,
    TEST_PIECE,
    RULE,
    NUMBERS,
    STL,
)
