"""Drawings at 1:1 laid over as many sheets of paper as they take, before they are printed or previewed.

Sheets overlap by 10 mm and carry a cross in the middle of every overlap, so that they are pasted by laying cross on
cross.
"""

from dataclasses import dataclass

import numpy as np
import shapely

from pounce.base.paper import PAPERS
from pounce.export.drawing import Drawing
from pounce.solid.mesh import Floats

EDGE_MM, HEAD_MM, FOOT_MM, LAP_MM = 10.0, 16.0, 16.0, 10.0
# Least room between a drawing and the edge of its sheets.
CLEAR_MM = 2.0
MOST_SHEETS = 400


@dataclass(frozen=True, eq=False)
class SheetPage:
    """One sheet, mm from its lower left corner: ``size_mm``; ``room_mm`` low and high corner of the drawn part; runs of
    line with their style; words, holes (x, y, diameter; 0: a mark), arrows and crosses; ``place`` column, row and
    how many of each (counted from 0).
    """

    title: str
    about: str
    size_mm: tuple[float, float]
    room_mm: tuple[float, float, float, float]
    place: tuple[int, int, int, int]
    runs: tuple[tuple[Floats, str, bool], ...]
    words: tuple[tuple[float, float, str], ...]
    holes: tuple[tuple[float, float, float], ...]
    arrows: tuple[tuple[float, float, float, float], ...]
    crosses: tuple[tuple[float, float], ...]

    @property
    def of_many(self) -> str:
        """Where the sheet lies among those of its drawing; nothing for a drawing of one."""
        column, row, columns, rows = self.place
        return "" if columns * rows == 1 else f"sheet {column + 1} of {columns} across, {row + 1} of {rows} down"


def sheets_of(drawing: Drawing, paper: str) -> tuple[int, int, Floats]:
    """Columns and rows of sheets a drawing takes, and (2,) the room on each, mm. The sheet is turned when that takes
    fewer.
    """
    page = np.array(PAPERS[paper])
    span = drawing.box[1] - drawing.box[0]
    found: list[tuple[int, int, Floats]] = []
    for size in (page, page[::-1]):
        room = size - np.array([2.0 * EDGE_MM, HEAD_MM + FOOT_MM])
        columns, rows = np.maximum(np.ceil((span + 2.0 * CLEAR_MM - LAP_MM) / (room - LAP_MM) - 1e-9), 1.0)
        found.append((int(columns), int(rows), room))
    return min(found, key=lambda one: one[0] * one[1])


def pages_of(name: str, drawings: tuple[Drawing, ...], paper: str) -> tuple[SheetPage, ...]:
    """The sheets of all drawings in order; sheets that no line runs over are left out."""
    out: list[SheetPage] = []
    for drawing in drawings:
        columns, rows, room = sheets_of(drawing, paper)
        for row in range(rows):
            for column in range(columns):
                page = _page(name, drawing, room, (column, row, columns, rows))
                if page is not None and len(out) < MOST_SHEETS:
                    out.append(page)
    return tuple(out)


def _page(name: str, drawing: Drawing, room: Floats, place: tuple[int, int, int, int]) -> SheetPage | None:
    column, row, columns, rows = place
    step = room - LAP_MM
    # a drawing stands in the middle of its sheets, so that no line runs along the edge of one
    span = drawing.box[1] - drawing.box[0]
    spare = (room + step * np.array([columns - 1, rows - 1]) - span) / 2.0
    start = drawing.box[0] - spare + step * np.array([column, rows - 1 - row])
    shift = np.array([EDGE_MM, FOOT_MM]) - start
    inside = (*start.tolist(), *(start + room).tolist())
    runs: list[tuple[Floats, str, bool]] = []
    for line in drawing.lines:
        if columns * rows == 1:
            runs.append((line.points + shift, line.style, line.closed))
            continue
        points = np.vstack([line.points, line.points[:1]]) if line.closed else line.points
        part = shapely.clip_by_rect(shapely.LineString(points), *inside)
        for run in getattr(part, "geoms", [part]):
            if run.geom_type == "LineString" and not run.is_empty:
                runs.append((np.array(run.coords) + shift, line.style, False))
    if not runs:
        return None
    dx, dy = shift.tolist()

    def on(x: float, y: float) -> bool:
        return bool(inside[0] <= x <= inside[2] and inside[1] <= y <= inside[3])

    def touches(x: float, y: float, wide: float) -> bool:
        return on(min(max(x, inside[0]), x + wide / 2.0), min(max(y, inside[1]), y + wide / 2.0)) and on(
            max(min(x, inside[2]), x - wide / 2.0), max(min(y, inside[3]), y - wide / 2.0)
        )

    size = room + np.array([2.0 * EDGE_MM, HEAD_MM + FOOT_MM])
    return SheetPage(
        drawing.title,
        f"{name}. {drawing.about}",
        (float(size[0]), float(size[1])),
        (EDGE_MM, FOOT_MM, EDGE_MM + float(room[0]), FOOT_MM + float(room[1])),
        place,
        tuple(runs),
        tuple((x + dx, y + dy, word) for x, y, word in drawing.words if on(x, y)),
        tuple((x + dx, y + dy, wide) for x, y, wide in drawing.holes if touches(x, y, wide)),
        tuple((x0 + dx, y0 + dy, x1 + dx, y1 + dy) for x0, y0, x1, y1 in drawing.arrows),
        tuple(_crosses(room, place)),
    )


def _crosses(room: Floats, place: tuple[int, int, int, int]) -> list[tuple[float, float]]:
    """A cross in the middle of every overlap, where the neighbour carries it too."""
    column, row, columns, rows = place
    x_ends = [LAP_MM / 2.0] * (column > 0) + [float(room[0]) - LAP_MM / 2.0] * (column + 1 < columns)
    y_ends = [float(room[1]) - LAP_MM / 2.0] * (row > 0) + [LAP_MM / 2.0] * (row + 1 < rows)
    places = [(x, y) for x in x_ends for y in (float(room[1]) * 0.25, float(room[1]) * 0.75)]
    places += [(x, y) for y in y_ends for x in (float(room[0]) * 0.25, float(room[0]) * 0.75)]
    return [(EDGE_MM + x, FOOT_MM + y) for x, y in places]
