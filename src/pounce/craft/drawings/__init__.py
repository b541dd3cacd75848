"""The small drawings of the craft pages, by name."""

from collections.abc import Mapping

from pounce.craft.drawings import casting, making, moulding
from pounce.craft.drawings.pen import Pen

DRAWINGS = {**moulding.DRAWINGS, **making.DRAWINGS, **casting.DRAWINGS}


def drawing(name: str, colours: Mapping[str, str]) -> str:
    """The drawing as SVG in these colours, by the names of the house's tokens. KeyError where there is none."""
    pen = Pen(colours, seed=sum(map(ord, name)))
    DRAWINGS[name](pen)
    return pen.svg()
