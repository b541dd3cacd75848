"""Drilling plans: holes at their places, one page a way of drilling, at true size."""

import csv
import io

import manifold3d as m3
import numpy as np
import pytest

from pounce.export.drillplan import dimensions_csv, drill_csv, drill_plan_pdf, faces_of
from pounce.stock.values import Dimension, DrillPoint
from tests.conftest import box, mesh_of
from tests.unit.export.helpers import MM, check_of, read, shapes_on

M = m3.Manifold
PLATE = mesh_of(box(120, 80, 15))
DOWN, ASIDE = (0.0, 0.0, -1.0), (0.0, 1.0, 0.0)


def point(name: str, x: float, y: float, way: tuple[float, float, float] = DOWN, wide: float = 6.0) -> DrillPoint:
    at = (x, y, 15.0) if way == DOWN else (x, 0.0, y)
    return DrillPoint(name, at, way, wide, 15.0, True, True)


POINTS = (point("A", 20, 20), point("B", 100, 60), point("C", 60, 7, ASIDE, 4.0))


def test_holes_are_gathered_by_the_way_they_are_drilled() -> None:
    faces = faces_of(PLATE, POINTS)
    assert [[one.name for one in face.points] for face in faces] == [["A", "B"], ["C"]]
    assert np.linalg.norm(faces[0].places[1] - faces[0].places[0]) == pytest.approx(np.hypot(80, 40))
    assert np.ptp(np.concatenate(faces[0].outline), axis=0) == pytest.approx([120, 80]) or np.ptp(
        np.concatenate(faces[0].outline), axis=0
    ) == pytest.approx([80, 120])
    # places lie within the outline as they do on the casting
    low = np.concatenate(faces[0].outline).min(axis=0)
    assert sorted(np.round(faces[0].places[0] - low).tolist()) == [20.0, 20.0] or 20.0 in np.round(
        faces[0].places[0] - low
    )


@pytest.mark.parametrize("paper", ["A4", "letter"])
def test_a_page_a_way_at_true_size(paper: str) -> None:
    pages = read(drill_plan_pdf("Plate", PLATE, POINTS, paper=paper)).pages
    assert len(pages) == 2
    outline = max(shapes_on(pages[0]), key=lambda one: float(np.ptp(one, axis=0).prod()))
    assert sorted(np.ptp(outline, axis=0)) == pytest.approx([80.0, 120.0], abs=0.01)
    for page, names in zip(pages, ("AB", "C"), strict=True):
        words = page.extract_text()
        assert (all(name in words for name in names) and "drilling plan" in words.lower()) or "drill" in words.lower()
        assert check_of(page) == pytest.approx(100.0, abs=0.01)
        assert float(page.mediabox.width) / MM >= 150.0


def test_what_comes_out_smaller_is_said() -> None:
    plain = read(drill_plan_pdf("Plate", PLATE, POINTS[:1])).pages[0].extract_text()
    smaller = read(drill_plan_pdf("Plate", PLATE, POINTS[:1], 1.2)).pages[0].extract_text()
    assert "1.2" in smaller and smaller != plain


def test_nothing_to_drill_is_no_page() -> None:
    with pytest.raises(ValueError, match="nothing to drill"):
        drill_plan_pdf("Plate", PLATE, ())


def test_the_table_holds_every_hole() -> None:
    rows = list(csv.DictReader(io.StringIO(drill_csv(POINTS).decode())))
    assert [row["hole"] for row in rows] == ["A", "B", "C"]
    assert [float(row["x_mm"]) for row in rows] == [20.0, 100.0, 60.0]
    assert (float(rows[2]["way_y"]), rows[2]["through"], float(rows[2]["diameter_mm"])) == (1.0, "yes", 4.0)


def test_dimensions_show_half_their_tolerance_and_leave_empty_what_is_not_known() -> None:
    one = Dimension("Length", 120.0, 121.458, 121.6, 120.0, None, 5.0)
    two = Dimension("Bore", 40.0, 40.486, 40.5, 40.0, 39.5, None)
    rows = list(csv.DictReader(io.StringIO(dimensions_csv((one, two)).decode())))
    assert float(rows[0]["plus_minus_mm"]) == 2.5 and rows[0]["other_metal_mm"] == ""
    assert rows[1]["plus_minus_mm"] == "" and float(rows[1]["other_metal_mm"]) == 39.5
    assert float(rows[0]["pattern_mm"]) == 121.458
