"""What is chosen of the logbook."""

from typing import Final

from pounce.base.choice import Words

PAIR: Final = Words(
    key="pair",
    title="Size",
    help="A size to measure, taken on the model by two places; or none",
    option=True,
    many=True,
    forms="NAME=faces:X,Y,Z:X,Y,Z, NAME=diameter:X,Y,Z, NAME=centres:X,Y,Z:X,Y,Z, none",
)
TABLE: Final = (PAIR,)
