"""What is chosen of the mould."""

from typing import Final

from pounce.base.choice import FigureChoice, OneOf, Sides, Words
from pounce.base.errors import UserFault
from pounce.rig.flasks import LEAST_MM, MOST_MM, SAMPLE, own_flasks


def _names() -> dict[str, str]:
    """What the own flasks are called, by their ids; the sample's where their file cannot be read, which the stop
    itself says.
    """
    try:
        own = own_flasks()
    except UserFault:
        own = SAMPLE
    return {"": "The smallest that fits"} | {one.id: one.name for one in own}


COUNT: Final = FigureChoice(
    key="count",
    title="Castings",
    help="How many castings of this pattern in one mould; two where one in two fails",
    field="count",
    unit="",
    low=1,
    high=12,
    usual=1,
    digits=0,
    whole=True,
    option=True,
)
TIERS: Final = FigureChoice(
    key="tiers",
    title="Tiers",
    help="Castings one over another about one sprue, a tree, where foam stays in loose sand; 1 lays all at one height",
    field="tiers",
    unit="",
    low=1,
    high=6,
    usual=1,
    digits=0,
    whole=True,
    option=True,
    source="pouring-practice",
)
ALSO: Final = Words(
    key="also",
    title="Also in it",
    help="Castings of another job in the same mould, of the same metal and sand",
    option=True,
    many=True,
    forms="JOB.pounce, JOB.pounce=2",
)
FLASK: Final = OneOf(
    key="flask",
    title="Flask",
    help="One of your own flasks by its id, the smallest that fits unless you say",
    field="flask",
    none="fits",
    option=True,
    options=_names,
    see="pounce flasks",
)
INSIDE: Final = Sides(
    key="inside",
    title="Flask inside",
    help="Inside of the flask along and across its pins, where it is none of yours",
    field="inside_mm",
    names=("long", "wide"),
    low=LEAST_MM,
    high=MOST_MM,
    option=True,
)
COPE: Final = FigureChoice(
    key="cope",
    title="Cope high",
    help="Height of the cope; of the flask, or as the sand over the casting asks, unless you say",
    field="cope_mm",
    unit="mm",
    low=LEAST_MM,
    high=MOST_MM,
    digits=0,
    step=5.0,
    option=True,
)
DRAG: Final = FigureChoice(
    key="drag",
    title="Drag high",
    help="Height of the drag; of the flask, or as the sand under the casting asks, unless you say",
    field="drag_mm",
    unit="mm",
    low=LEAST_MM,
    high=MOST_MM,
    digits=0,
    step=5.0,
    option=True,
)
GATES: Final = FigureChoice(
    key="gates",
    title="Gates to a casting",
    help="How many gates a casting is filled through; as many as keep the metal calm unless you say",
    field="gates",
    unit="",
    low=1,
    high=6,
    digits=0,
    whole=True,
    option=True,
)
GATE_AT: Final = Words(
    key="gate-at",
    title="Gate put",
    help="A gate where you want it: the place on the part, in mm, that its outline at the joint is nearest to; or none",
    option=True,
    many=True,
    forms="X,Y,Z, none",
)
SCHOOL: Final = OneOf(
    key="school",
    title="Gates",
    help="Thin ribbons that snap off clean, off the thickest metal, or thick gates there, that feed and are sawn off; "
    "ribbons are usual because they leave the least to dress",
    field="school",
    usual="snap-off",
    option=True,
    options=lambda: {"snap-off": "Snap off", "feeding": "Feed"},
    source="pouring-practice",
)
CUP: Final = OneOf(
    key="cup",
    title="Pouring cup",
    help="Set on the cope, which gives the metal more height, or cut in it, where nothing can be knocked over",
    field="cup",
    usual="set-on",
    option=True,
    options=lambda: {"set-on": "Set on top", "cut": "In the cope"},
    source="pouring-practice",
)
HEAD: Final = FigureChoice(
    key="head",
    title="Metal over joint",
    help="How high the metal is to stand over the joint: the sprue is extended over the cope in sand that is rammed "
    "round it, and the cup set on; as high as the cope and its cup give unless you say",
    field="head_mm",
    unit="mm",
    low=40.0,
    high=1500.0,
    digits=0,
    step=5.0,
    option=True,
)
BASIN: Final = OneOf(
    key="basin",
    title="Basin",
    help="A cone over the sprue, or a basin beside it that keeps dross and the force of the pour out; a cone is usual "
    "because it takes little metal",
    field="basin",
    usual="cone",
    option=True,
    options=lambda: {"cone": "Cone", "offset": "Offset"},
    source="pouring-practice",
)
RUNNER_END: Final = OneOf(
    key="runner-end",
    title="Runner's end",
    help="Run past the last gate, or into a round trap where the first cold and dirty metal whirls and stays; an "
    "overrun is usual because it is cut with the runner's own tool",
    field="runner_end",
    usual="overrun",
    option=True,
    options=lambda: {"overrun": "Overrun", "whirl": "Whirl trap"},
    source="pouring-practice",
)
CLOSING: Final = OneOf(
    key="closing",
    title="Closed",
    help="In its flask, or as a block without one, for sands that set hard",
    field="closing",
    usual="flask",
    option=True,
    options=lambda: {"flask": "In its flask", "boxless": "No flask"},
    source="pouring-practice",
)
TABLE: Final = (
    COUNT,
    TIERS,
    ALSO,
    FLASK,
    INSIDE,
    COPE,
    DRAG,
    GATES,
    GATE_AT,
    SCHOOL,
    CUP,
    HEAD,
    BASIN,
    RUNNER_END,
    CLOSING,
)
