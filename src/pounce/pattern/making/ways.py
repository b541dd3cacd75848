"""All ways of making, and which of them a pattern of a kind takes."""

from typing import Final

from pounce.metals.method import Method
from pounce.pattern.making.foam.way import FoamWay
from pounce.pattern.making.metal.way import MetalWay
from pounce.pattern.making.original.way import OriginalWay
from pounce.pattern.making.printed.way import PrintedWay
from pounce.pattern.making.values import Way
from pounce.pattern.making.way import Shop, WayOfMaking, sized
from pounce.pattern.making.wood.way import WoodWay

PRINTED, WOOD, FOAM, METAL, ORIGINAL = PrintedWay(), WoodWay(), FoamWay(), MetalWay(), OriginalWay()
# By the kinds of pattern of the table.
WAYS: Final[dict[str, WayOfMaking]] = {
    "printed-filament": PRINTED,
    "printed-resin": PRINTED,
    "metal-from-master": METAL,
    "wood": WOOD,
    "foam-drawn": FOAM,
    "foam-burned-out": FOAM,
    "foam-dug-out": FOAM,
    "original-part": ORIGINAL,
}


def way_of(method: Method) -> WayOfMaking | None:
    """The way a pattern of this kind is made; None for a kind that has none."""
    return WAYS.get(method.pattern_id)


def kind_of(method: Method) -> str:
    """Which way of making a pattern of this kind takes: printed, wood, foam, metal or original."""
    way = way_of(method)
    return "" if way is None else way.kind


def side_by_side(shop: Shop) -> tuple[Way, ...]:
    """Printed, wood and foam; and the original or the metal pattern first where that is the way chosen."""
    out = [way.beside(shop) for way in (PRINTED, WOOD, FOAM)]
    if way_of(shop.method) is ORIGINAL:
        return (ORIGINAL.beside(shop), *(sized(way, shop.given.asked) for way in out))
    if shop.given.metal_kg is not None:
        return (METAL.beside(shop), *out)
    return tuple(out)
