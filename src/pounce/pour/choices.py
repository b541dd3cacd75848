"""What is chosen of the pour."""

from typing import Final

from pounce.base.choice import FigureChoice, OneOf, Words
from pounce.metals.melt import Charge, melt, melt_group

MOULDS: Final = FigureChoice(
    key="moulds",
    title="Moulds like this",
    help="Moulds like this one that are poured from the same melt",
    field="moulds",
    unit="",
    low=1,
    high=24,
    usual=1,
    digits=0,
    whole=True,
    option=True,
)
CHARGE: Final = OneOf(
    key="charge",
    title="Melted from",
    help="Clean ingot, heavy scrap or turnings; ingot is usual because its loss and its metal are known",
    field="charge",
    usual="ingot",
    option=True,
    options=lambda: {"ingot": "Ingot", "scrap": "Scrap", "turnings": "Turnings"},
    source="melt-handbooks",
)
SCRAP: Final = Words(
    key="scrap",
    title="Weighed pieces",
    help="Pieces that were weighed and go in first, in kg; or none",
    option=True,
    forms="KG,KG,KG, none",
)
CRUCIBLE: Final = Words(
    key="crucible",
    title="Crucible",
    help="Which of your own; the smallest that does it in one fill unless you say",
    field="crucible",
    option=True,
    forms="ID, auto",
)
FURNACE: Final = Words(
    key="furnace",
    title="Furnace",
    help="Which of your own; the smallest that takes the crucible and is hot enough unless you say",
    field="furnace",
    option=True,
    forms="ID, auto",
)
INGOT: Final = Words(
    key="ingot",
    title="Ingot",
    help="Which of your ingot moulds the charge and what is left over are counted in; your first unless you say",
    field="ingot",
    option=True,
    forms="ID, auto",
)
SCHOOL: Final = OneOf(
    key="pour-school",
    title="Pour",
    help="Cool makes less gas and shrinkage, hot fills thin walls; by the thinnest wall is usual because it asks no "
    "more heat than that wall needs",
    field="school",
    usual="by-wall",
    option=True,
    options=lambda: {"by-wall": "By wall", "cool": "Cool", "hot": "Hot"},
    source="melt-practice",
)
LID: Final = OneOf(
    key="carried",
    title="Carried",
    help="The crucible is carried open or under a lid, which keeps its heat; open is usual because a small one is "
    "poured within the minute",
    field="carried",
    usual="open",
    option=True,
    options=lambda: {"open": "Open", "lid": "Under a lid"},
    source="melt-practice",
)
CARRY: Final = FigureChoice(
    key="carry",
    title="To the first mould",
    help="From lifting the crucible to the first mould",
    field="carry_s",
    unit="s",
    low=2.0,
    high=600.0,
    digits=0,
    step=5.0,
    option=True,
    source="melt-practice",
)
BETWEEN: Final = FigureChoice(
    key="between",
    title="From mould to mould",
    help="From one mould to the next",
    field="between_s",
    unit="s",
    low=1.0,
    high=300.0,
    digits=0,
    step=5.0,
    option=True,
    source="melt-practice",
)
FALL: Final = Words(
    key="fall",
    title="Your crucible falls",
    help="Two readings of your own, the hotter first, and the seconds between them, the crucible full; or none",
    option=True,
    forms="C:C:SECONDS, none",
)
RAM: Final = FigureChoice(
    key="ram-pace",
    title="You ram a litre in",
    help="Your own pace of ramming",
    field="ram_min_l",
    unit="min",
    low=0.1,
    high=10.0,
    digits=1,
    step=0.1,
    option=True,
    source="bench-practice",
)
LOSS: Final = FigureChoice(
    key="loss",
    title="Your melt loses",
    help="What your own melts of this charge lose, burned and skimmed off",
    field="loss_percent",
    unit="%",
    low=0.0,
    high=50.0,
    digits=1,
    step=0.5,
    option=True,
    source="melt-handbooks",
)
MELTS: Final = FigureChoice(
    key="melt-share",
    title="The metal takes",
    help="What of your furnace's heat reaches the metal",
    field="melt_percent",
    unit="%",
    low=1.0,
    high=95.0,
    digits=0,
    step=1.0,
    option=True,
    source="melt-practice",
)
AT: Final = Words(
    key="at",
    title="Pouring time",
    help="The time of day it is poured at; as soon as it can be unless you say",
    field="at",
    option=True,
    forms="HH:MM, soon",
)
WITH: Final = Words(
    key="same-melt",
    title="From the same melt",
    help="Another job of this metal whose mould is poured from the same melt; or none",
    option=True,
    many=True,
    forms="FILE, none",
)
TABLE: Final = (
    MOULDS,
    CHARGE,
    SCRAP,
    CRUCIBLE,
    FURNACE,
    INGOT,
    SCHOOL,
    LID,
    CARRY,
    BETWEEN,
    FALL,
    RAM,
    LOSS,
    MELTS,
    AT,
    WITH,
)


def usual_figure(choice: FigureChoice, metal_id: str, charge: Charge = "ingot") -> float:
    """The table's figure of a choice that nobody has made, for this metal."""
    table = melt()
    if choice.key == CARRY.key:
        return melt_group(metal_id).carry.value
    if choice.key == LOSS.key:
        return melt_group(metal_id).loss(charge).value
    if choice.key == MELTS.key:
        return 100.0 * table.common.efficiency.value
    return (table.common.between if choice.key == BETWEEN.key else table.work.ram_litre).value
