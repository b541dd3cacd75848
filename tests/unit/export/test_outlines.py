"""Outlines and cut lists read back by other libraries."""

import csv
import io
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pytest
import shapely
import trimesh
from lxml import etree

from pounce.export.drawing import Drawing, Line
from pounce.export.outlines import cut_list_csv, outlines_dxf, outlines_svg
from pounce.export.templates import drawings_of
from tests.conftest import box
from tests.unit.pattern.test_making import M, pattern_of


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


def test_the_cut_list_says_what_the_boards_hold() -> None:
    making = pattern_of(box(120, 70, 40), "wood").making
    rows = list(csv.DictReader(io.StringIO(cut_list_csv(making).decode())))
    assert [row["piece"] for row in rows] == [one.name for one in making.blanks]
    assert [float(row["thick_mm"]) for row in rows] == pytest.approx([one.thick_mm for one in making.blanks], abs=0.006)


def plate(*lines: Line, words: tuple[tuple[float, float, str], ...] = (), holes: tuple[Any, ...] = ()) -> Drawing:
    return Drawing("Plate", "A plate", lines, words, holes)


SQUARE = np.array([[0.0, 0], [40, 0], [40, 30], [0, 30]])


def test_holes_come_out_as_circles_of_their_size(tmp_path: Path) -> None:
    content = outlines_dxf((plate(Line(SQUARE), holes=((10.0, 12.0, 6.5),)),))
    (tmp_path / "a.dxf").write_bytes(content)
    document = ezdxf.readfile(tmp_path / "a.dxf")
    assert document.units == ezdxf.units.MM
    assert not document.audit().errors
    (circle,) = document.modelspace().query("CIRCLE")
    assert circle.dxf.radius == pytest.approx(3.25) and circle.dxf.layer == "HOLES"
    (outline,) = document.modelspace().query("LWPOLYLINE")
    corners = np.array([point[:2] for point in outline.get_points()])
    corner = corners.min(axis=0)
    assert (circle.dxf.center.x - corner[0], circle.dxf.center.y - corner[1]) == pytest.approx((10.0, 12.0))
    assert outline.closed


def test_several_drawings_lie_side_by_side_and_do_not_touch() -> None:
    one, two = plate(Line(SQUARE)), plate(Line(SQUARE * 2.0))
    root = etree.fromstring(outlines_svg((one, two)))
    found = [
        np.array([tuple(map(float, pair.split(","))) for pair in each.get("points").split()])
        for each in root.iter("{*}polygon")
    ]
    assert len(found) == 2
    a, b = (shapely.Polygon(points) for points in found)
    assert a.area == pytest.approx(1200.0) and b.area == pytest.approx(4800.0)
    assert a.distance(b) > 1.0
    wide, high = (float(root.get(side).removesuffix("mm")) for side in ("width", "height"))
    for points in found:
        assert points.min() >= -1e-6 and points[:, 0].max() <= wide + 1e-6 and points[:, 1].max() <= high + 1e-6


def test_what_is_carved_to_is_no_saw_line(tmp_path: Path) -> None:
    content = outlines_dxf((plate(Line(SQUARE), Line(SQUARE * 0.5, "dashed")),))
    (tmp_path / "a.dxf").write_bytes(content)
    layers = [one.dxf.layer for one in ezdxf.readfile(tmp_path / "a.dxf").modelspace().query("LWPOLYLINE")]
    assert layers.count("SAW") == 1 and len(set(layers)) == 2
