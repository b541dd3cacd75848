"""Wood: the cut list of a stack of boards, nested on the boards at hand, rings of segments, movement across the
grain, hours.
"""

from dataclasses import replace

import numpy as np
import rectpack
import shapely

from pounce.metals.tables import Timber, limits
from pounce.pattern.making.layers import longest_way, sizes_along
from pounce.pattern.making.values import Blank, Layer, Segments

# A plan that fills so much of the ring between two circles is a ring, and wants a hole of this share of its width.
ROUND, HOLE = 0.93, 0.5
FEWEST_SEGMENTS, MOST_SEGMENTS = int(limits()["segments_count"].low), int(limits()["segments_count"].high)


def blanks_of(layers: tuple[Layer, ...], names: list[str], room_mm: float) -> list[Blank]:
    """The boards to cut, ``room_mm`` a side left for planing and carving; equal ones stand in one line. Sizes go
    along the grain first.
    """
    out: list[Blank] = []
    for layer in layers:
        long, wide = sizes_along(layer.saw, layer.grain_deg)
        way, _, _ = longest_way(layer.saw)
        crossed = min(abs(layer.grain_deg - way), 180.0 - abs(layer.grain_deg - way)) > 45.0
        sizes = (round(long + 2.0 * room_mm, 1), round(wide + 2.0 * room_mm, 1), round(layer.thick_mm, 2))
        grain = "across" if crossed else "along"
        name = f"{names[layer.piece]}, board {layer.number}"
        out.append(Blank(name, 1, *sizes, grain))
    return out


def nested(
    blanks: list[Blank], board_wide_mm: float, board_long_mm: float, saw_mm: float, turns: bool = False
) -> tuple[list[Blank], int]:
    """The same blanks with their places on boards, and how many boards it takes. The grain always runs along the board
    but where ``turns``, for material without grain. A blank wider or longer than the board is to be glued up of
    strips or lengths first: it stays on none (-1).
    """
    packer = rectpack.newPacker(rotation=turns)
    room = (board_long_mm, board_wide_mm)
    fits = [k for k, one in enumerate(blanks) if fits_on(one.long_mm + saw_mm, one.wide_mm + saw_mm, room, turns)]
    for k in fits:
        one = blanks[k]
        # whole tenths of a millimetre, as the packer counts in whole numbers
        packer.add_rect(int(np.ceil(10.0 * (one.long_mm + saw_mm))), int(np.ceil(10.0 * (one.wide_mm + saw_mm))), k)
    packer.add_bin(int(10.0 * board_long_mm), int(10.0 * board_wide_mm), count=float("inf"))
    packer.pack()
    out = list(blanks)
    boards = 0
    for board, x, y, wide, _, k in packer.rect_list():
        one = out[k]
        turned = abs(wide - 10.0 * (one.long_mm + saw_mm)) > 1.0
        out[k] = replace(one, board=int(board), at_mm=(x / 10.0, y / 10.0), turned=turned)
        boards = max(boards, int(board) + 1)
    return out, boards


def fits_on(long_mm: float, wide_mm: float, room: tuple[float, float], turns: bool) -> bool:
    """Whether a blank fits a board or sheet of ``room`` (long, wide), turned where it may be."""
    lies = long_mm <= room[0] and wide_mm <= room[1]
    return lies or (turns and wide_mm <= room[0] and long_mm <= room[1])


def scarf_mm(blank: Blank) -> float:
    """How long a scarf in a board of this thickness is, mm."""
    return limits()["scarf_slope"].value * blank.thick_mm


def scarfed(blank: Blank, board_long_mm: float, saw_mm: float) -> int:
    """Of how many lengths end to end, lapped by their scarfs, a blank too long for the board is made."""
    lap = scarf_mm(blank)
    return max(2, int(np.ceil((blank.long_mm + saw_mm - lap) / max(board_long_mm - saw_mm - lap, 1.0))))


def glued_up(blank: Blank, board_wide_mm: float, saw_mm: float) -> int:
    """Of how many strips side by side a blank too wide for the board is glued up."""
    return int(np.ceil((blank.wide_mm + saw_mm) / max(board_wide_mm - saw_mm, 1.0)))


def segments_of(layer: Layer, room_mm: float) -> Segments | None:
    """A layer that is a ring, as segments of a board no wider than usual; None for any other shape.

    Chords: the outer side of a segment is 2 R tan(pi / n), the board's width R - r cos(pi / n): its outer edge is
    the tangent side.
    """
    shape = layer.saw
    if shape.geom_type != "Polygon" or len(shape.interiors) != 1:
        return None
    outer = shapely.Polygon(shape.exterior)
    inner = shapely.Polygon(shape.interiors[0])
    big = float(shapely.minimum_bounding_radius(outer))
    small = float(np.sqrt(inner.area / np.pi))
    centres = np.array(outer.centroid.coords[0]) - np.array(inner.centroid.coords[0])
    if outer.area < ROUND * np.pi * big**2 or small < HOLE * big or float(np.linalg.norm(centres)) > 0.05 * big:
        return None
    if inner.area < ROUND * np.pi * float(shapely.minimum_bounding_radius(inner)) ** 2:
        return None
    big, small = big + room_mm, max(small - room_mm, 0.0)
    most = limits()["segments_width"].value
    for count in range(FEWEST_SEGMENTS, MOST_SEGMENTS + 1):
        half = np.pi / count
        wide = float(big - small * np.cos(half))
        if wide <= most or count == MOST_SEGMENTS:
            return Segments(big, small, count, float(2.0 * big * np.tan(half)), wide, 180.0 / count)
    return None


def movement_mm(wide_mm: float, timber: Timber, moisture_percent: float) -> float:
    """How much a board of this width moves across its grain for a change of moisture."""
    return wide_mm * timber.movement.value / 100.0 * moisture_percent


def hours(layers: tuple[Layer, ...], area_mm2: float) -> tuple[float, float]:
    """(all, by hand) hours: each board planed, marked and glued, sawn round, and the whole carved and finished."""
    figures = limits()
    saw = sum(float(layer.saw.length) for layer in layers) / figures["wood_saw"].value
    minutes = figures["wood_hand_layer"].value * len(layers) + saw + figures["wood_finish"].value * area_mm2 * 1e-4
    return minutes / 60.0, minutes / 60.0


def short_grain(layers: tuple[Layer, ...]) -> list[tuple[Layer, float]]:
    """Layers whose grain runs across a narrow place, with how narrow it is, mm: such material splits."""
    least = limits()["wood_short_grain"].value
    out: list[tuple[Layer, float]] = []
    for layer in layers:
        way, _, wide = longest_way(layer.saw)
        narrow = 2.0 * float(layer.saw.area) / max(float(layer.saw.length) / 2.0, 1e-9) / 2.0
        across = min(abs(layer.grain_deg - way), 180.0 - abs(layer.grain_deg - way)) > 45.0
        if (layer.thick_mm < least and wide < 2.5 * least) or (across and narrow < least):
            out.append((layer, min(layer.thick_mm, wide)))
    return out
