"""The choices of Part, each once."""

from typing import Final

from pounce.base.choice import Choice, FigureChoice, OneOf
from pounce.metals.tables import metals

UNIT: Final = OneOf(
    key="unit",
    title="Unit of the file",
    help="The unit that the model's figures are in",
    field="unit",
    option=True,
    options=lambda: {"mm": "Millimetres", "cm": "Centimetres", "m": "Metres", "in": "Inches"},
)
WEIGHT: Final = FigureChoice(
    key="weight",
    title="On the scale",
    help="What the part weighs, the best check of a model; 0 for not weighed",
    field="scale_kg",
    option=True,
    unit="kg",
    low=0.0,
    high=1e4,
    digits=3,
    step=0.1,
)
WEIGHED: Final = OneOf(
    key="weighed-metal",
    title="It is of",
    help="The metal of the part that was weighed",
    field="scale_metal",
    option=True,
    see="pounce metals",
    options=lambda: {key: one.name for key, one in metals().items()},
)
TABLE: Final[tuple[Choice, ...]] = (UNIT, WEIGHT, WEIGHED)
