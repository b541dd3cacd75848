"""Templates, outlines and rules read back by other libraries: everything measures 1:1."""

import csv
import io
from pathlib import Path

import numpy as np
import pypdf
import pytest
import shapely
import trimesh
from lxml import etree
from pypdf.generic import ContentStream

from pounce.export.outlines import cut_list_csv, outlines_dxf, outlines_svg
from pounce.export.plandrawings import segment_drawing
from pounce.export.rulepage import Rule, rules_pdf
from pounce.export.sheets import sheets_of
from pounce.export.templates import drawings_of, templates_pdf
from pounce.pattern.values import PatternResult
from pounce.solid.mesh import Floats
from tests.conftest import box
from tests.unit.pattern.test_making import M, pattern_of

MM = 72.0 / 25.4


def lines_on(page: pypdf.PageObject, width: float) -> list[Floats]:
    """Every straight path of a page drawn with this pen, as (k, 2) points in mm from the sheet's corner."""
    out: list[Floats] = []
    points: list[list[float]] = []
    pen = 0.0
    for words, operator in ContentStream(page.get_contents(), page.pdf).operations:
        name = operator.decode()
        if name == "w":
            pen = float(words[0])
        elif name == "m":
            points = [[float(words[0]), float(words[1])]]
        elif name == "l":
            points.append([float(words[0]), float(words[1])])
        elif name in ("S", "s", "n", "b", "B"):
            if name in ("S", "s") and abs(pen - width) < 1e-6 and len(points) > 1:
                out.append(np.array(points) / MM)
            points = []
    return out


def templates(found: PatternResult, paper: str = "A4") -> pypdf.PdfReader:
    """The templates as another library reads them."""
    content, count = templates_pdf("Test", drawings_of(found.making, found.pieces), paper)
    read = pypdf.PdfReader(io.BytesIO(content))
    assert len(read.pages) == count
    return read


def test_a_template_measures_one_to_one() -> None:
    found = pattern_of(box(120, 70, 30), "wood", 15.0)
    page = templates(found).pages[0]
    outline = max(lines_on(page, 0.9), key=len)
    assert np.ptp(outline, axis=0).tolist() == pytest.approx([120 * (100 / 98.8), 70 * (100 / 98.8)], abs=0.1)
    check = [line for line in lines_on(page, 0.8) if abs(float(np.ptp(line[:, 1]))) < 1e-6]
    assert max(float(np.ptp(line[:, 0])) for line in check) == pytest.approx(100.0, abs=0.01)
    words = page.extract_text()
    assert "Cope half, board 1 of 1" in words and "100 mm" in words


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


def test_outlines_read_back_from_dxf_and_svg(tmp_path: Path) -> None:
    found = pattern_of(M.cube([120, 70, 30], True) - M.cylinder(60, 12, 12, 96, True), "wood")
    drawings = drawings_of(found.making, found.pieces)[:1]
    (tmp_path / "a.dxf").write_bytes(outlines_dxf(drawings))
    with (tmp_path / "a.dxf").open("rb") as file:
        path = trimesh.load_path(file, file_type="dxf")
    assert path.units in ("mm", "millimeter", "millimeters")
    sawn = [e for e in path.entities if e.layer == "SAW"]
    points = np.concatenate([path.vertices[e.points] for e in sawn])
    assert np.ptp(points, axis=0).tolist() == pytest.approx([120 * (100 / 98.8), 70 * (100 / 98.8)], abs=0.1)
    tree = etree.fromstring(outlines_svg(drawings))
    shapes = [
        [tuple(map(float, pair.split(","))) for pair in each.get("points").split()] for each in tree.iter("{*}polygon")
    ]
    largest = np.array(max(shapes, key=lambda shape: float(np.ptp(np.array(shape)[:, 0]))))
    assert np.ptp(largest, axis=0).tolist() == pytest.approx([120 * (100 / 98.8), 70 * (100 / 98.8)], abs=0.01)
    # one unit is a millimetre: the sheet's width says so
    assert float(tree.get("width").removesuffix("mm")) == pytest.approx(float(tree.get("viewBox").split()[2]))


def test_segments_laid_round_cover_the_ring() -> None:
    """The drawn segment, laid round as often as it says, leaves nothing of the ring bare."""
    found = pattern_of(M.cylinder(30, 200, 200, 256) - M.cylinder(60, 150, 150, 256, True), "wood")
    assert found.making.segments
    for ring in found.making.segments:
        drawing = segment_drawing(ring)
        board = shapely.Polygon(drawing.lines[0].points)
        round_ = [shapely.affinity.rotate(board, 360.0 * k / ring.count, (0, 0)) for k in range(ring.count)]
        bare = shapely.Point(0, 0).buffer(ring.outer_mm, 256).difference(shapely.Point(0, 0).buffer(ring.inner_mm, 256))
        assert bare.difference(shapely.unary_union(round_).buffer(1e-6)).area < 1e-3


def test_the_cut_list_says_what_the_boards_hold() -> None:
    making = pattern_of(box(120, 70, 40), "wood").making
    rows = list(csv.DictReader(io.StringIO(cut_list_csv(making).decode())))
    assert [row["piece"] for row in rows] == [one.name for one in making.blanks]
    assert [float(row["thick_mm"]) for row in rows] == pytest.approx([one.thick_mm for one in making.blanks], abs=0.006)


@pytest.mark.parametrize("factor", [1.0104166667, 1.0208333333, 1.013 * 1.0156])
def test_rule_marks_stand_at_the_contraction(factor: float) -> None:
    """The old rules of 1/8 and 1/4 inch in a foot, and a pair of metals; every mark to 0.02 mm."""
    page = pypdf.PdfReader(io.BytesIO(rules_pdf((Rule("Test", factor),)))).pages[0]
    marks = [line for line in lines_on(page, 0.25) if abs(float(np.ptp(line[:, 0]))) < 1e-6]
    top = max(float(line[:, 1].max()) for line in marks)
    found = np.sort([float(line[0, 0]) for line in marks if float(line[:, 1].max()) > top - 1e-6])
    assert len(found) == 251
    assert found - found[0] == pytest.approx(np.arange(251) * factor, abs=0.02)
    assert f"{100 * (factor - 1):.2f} % over" in page.extract_text()
