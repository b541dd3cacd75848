"""The choices of Parting, each once."""

from typing import Final

from pounce.base.choice import Choice, FigureChoice, OneOf, Words
from pounce.metals.tables import limits

PARTING: Final = Words(
    key="parting",
    title="Joint",
    help="Where cope and drag come apart",
    option=True,
    forms="auto, flat, flat:HEIGHT (mm along the draw), natural or stepped",
)
KIND: Final = OneOf(
    key="joint",
    title="Joint",
    help="A plane, terraces, a joint that follows the part, or the best of them",
    field="kind",
    usual="auto",
    options=lambda: {"auto": "Best", "flat": "Flat", "stepped": "Stepped", "natural": "Follows"},
)
HEIGHT: Final = FigureChoice(
    key="height",
    title="Height",
    help="Along the draw, from the model's own zero",
    field="height_mm",
    unit="mm",
    low=-1e5,
    high=1e5,
    digits=2,
)
MOULDED: Final = OneOf(
    key="moulded",
    title="Moulded",
    help="How a joint that is no plane is made. A follow board is the default: it costs a print and saves cutting sand",
    field="moulded",
    option=True,
    options=lambda: {
        "follow-board": "on a follow board",
        "cut-down": "by cutting down",
        "false-pattern": "with a false pattern",
        "split": "split along it",
    },
)
RAMMED: Final = OneOf(
    key="rammed",
    title="Rammed in the",
    help="The half a flat back is rammed in. In the drag the sand that it forms stands; in the cope it hangs",
    field="rammed",
    option=True,
    options=lambda: {"drag": "Drag", "cope": "Cope"},
)
GROOVE: Final = OneOf(
    key="groove",
    title="Groove",
    field="groove",
    option=True,
    none="none",
    options=lambda: {"": "Undecided", "ring-core": "Ring core", "cheek": "Cheek"},
    help="What makes a groove round the outside. A ring core costs a core box; a cheek a third flask part and a "
    "joint more, and the pattern parts in the neck",
)
OPEN: Final = OneOf(
    key="open",
    title="Opened",
    help="How the mould is opened. Turned over before, the cope's sand stands and the drag's hangs",
    option=True,
    options=lambda: {"usual": "Usual", "upside-down": "Upside down"},
)
KEYED: Final = OneOf(
    key="keyed",
    title="Loose pieces",
    help="What holds loose pieces while ramming. A pin is drawn while ramming; a dovetail slides off by itself",
    field="keyed",
    option=True,
    options=lambda: {"pin": "Pin", "dovetail": "Dovetail"},
)
RAP: Final = FigureChoice(
    key="rap",
    title="Rap each way",
    help="How far rapping loosens the pattern before it is drawn",
    field="rap_mm",
    option=True,
    unit="mm",
    low=0.0,
    high=5.0,
    usual=limits()["rap_each_way"].value,
    digits=2,
    step=0.1,
    source=limits()["rap_each_way"].source,
)
TILT: Final = FigureChoice(
    key="askew",
    title="Hands askew",
    help="How far hands lift askew: nobody lifts straight",
    field="tilt_deg",
    option=True,
    unit="°",
    low=0.0,
    high=5.0,
    usual=limits()["lift_askew"].value,
    step=0.5,
    source=limits()["lift_askew"].source,
)
TABLE: Final[tuple[Choice, ...]] = (PARTING, KIND, HEIGHT, MOULDED, RAMMED, GROOVE, OPEN, KEYED, RAP, TILT)
