"""Drawings parted over sheets that are pasted together."""

import numpy as np
import pytest

from pounce.export.drawing import Drawing, Line
from pounce.export.sheets import pages_of, sheets_of
from pounce.export.templates import drawings_of
from pounce.solid.mesh import Floats
from tests.unit.export.helpers import lines_on, templates
from tests.unit.pattern.test_making import M, pattern_of


def test_sheets_pasted_cross_on_cross_give_the_whole_outline() -> None:
    found = pattern_of(M.cube([420, 520, 30], True), "wood", board_wide_mm=600.0)
    drawing = drawings_of(found.making, found.pieces)[0]
    columns, rows, room = sheets_of(drawing, "A4")
    assert columns * rows >= 4
    pages = templates(found).pages[: columns * rows]
    corners: list[Floats] = []
    for index, page in enumerate(pages):
        row, column = divmod(index, columns)
        # by what the sheet says of itself: sheets step by their room less the lap of 10 mm
        assert f"sheet {column + 1} of {columns} across, {row + 1} of {rows} down" in page.extract_text()
        shift = (room - 10.0) * np.array([column, rows - 1 - row])
        for line in lines_on(page, 0.9):
            assert (line >= np.array([10.0, 16.0]) - 1e-3).all() and (
                line <= np.array([10.0, 16.0]) + room + 1e-3
            ).all()
            corners.append(line + shift)
    points = np.concatenate(corners)
    assert np.ptp(points, axis=0).tolist() == pytest.approx([420 * (100 / 98.8), 520 * (100 / 98.8)], abs=0.1)


def test_fifty_sheets_are_not_one_empty() -> None:
    ring = M.cylinder(30, 480, 480, 256, True) - M.cylinder(40, 430, 430, 256, True)
    found = pattern_of(ring, "foam-burned-out")
    pages = templates(found).pages
    assert len(pages) >= 15
    assert all(any(lines_on(page, pen) for pen in (0.9, 0.6)) for page in pages)


def drawing(wide: float, high: float) -> Drawing:
    points = np.array([[0.0, 0], [wide, 0], [wide, high], [0, high]])
    return Drawing("Plate", "A plate", (Line(points),), ((wide / 2, high / 2, "middle"),), ((wide / 3, high / 3, 5.0),))


@pytest.mark.parametrize("paper", ["A4", "A3", "letter"])
@pytest.mark.parametrize("size", [(100.0, 60.0), (250.0, 180.0), (500.0, 90.0), (900.0, 700.0)])
def test_the_sheets_hold_all_of_it_with_their_lap(paper: str, size: tuple[float, float]) -> None:
    columns, rows, room = sheets_of(drawing(*size), paper)
    assert columns * (room[0] - 10.0) + 10.0 >= size[0] and rows * (room[1] - 10.0) + 10.0 >= size[1]
    # and no sheet more than that wants, either way up
    fewer = [(c, r) for c in range(1, columns + 1) for r in range(1, rows + 1) if c * r < columns * rows]
    for c, r in fewer:
        short = c * (room[0] - 10.0) + 10.0 < size[0] + 20.0 or r * (room[1] - 10.0) + 10.0 < size[1] + 20.0
        assert short


def test_words_and_holes_stand_on_the_sheet_they_fall_on() -> None:
    one = drawing(500.0, 400.0)
    pages = pages_of("Test", (one,), "A4")
    assert sum(len(page.words) for page in pages) >= 1
    assert 1 <= sum(len(page.holes) for page in pages) < len(pages)
    for page in pages:
        x0, y0, x1, y1 = page.room_mm
        for x, y, *_ in (*page.words, *page.holes):
            assert x0 - 10.0 <= x <= x1 + 10.0 and y0 - 10.0 <= y <= y1 + 10.0
        assert page.of_many == "" or " across, " in page.of_many


def test_one_sheet_says_nothing_of_many() -> None:
    (page,) = pages_of("Test", (drawing(100.0, 60.0),), "A4")
    assert page.of_many == "" and page.title == "Plate" and page.about.startswith("Test.")
