"""The choice of Draw."""

from typing import Final

from pounce.base.choice import Choice, Words

DRAW: Final = Words(
    key="draw",
    title="Draw along",
    help="The way the cope lifts",
    option=True,
    forms="auto, +x, -x, +y, -y, +z, -z or X,Y,Z",
)
TABLE: Final[tuple[Choice, ...]] = (DRAW,)
