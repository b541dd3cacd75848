"""The drawings: sound SVG of what the window can draw, inside their sheet, the same each time."""

import xml.etree.ElementTree as ET

import pytest

from pounce.bench.look.tokens import COLOUR, CONTRAST
from pounce.craft.drawings import DRAWINGS, drawing
from pounce.craft.drawings.pen import HIGH, WIDE, Pen, bow, box

SVG = "{http://www.w3.org/2000/svg}"


@pytest.mark.parametrize("name", DRAWINGS)
def test_it_is_sound_and_lies_on_its_sheet(name: str) -> None:
    text = drawing(name, COLOUR)
    root = ET.fromstring(text)
    assert root.tag == f"{SVG}svg"
    assert {one.tag.removeprefix(SVG) for one in root} <= {"polygon", "polyline", "circle", "text"}
    assert len(root) >= 4
    for one in root:
        for pair in (one.get("points") or "").split():
            x, y = map(float, pair.split(","))
            assert -1.0 <= x <= WIDE + 1.0 and -1.0 <= y <= HIGH + 1.0, name
        assert one.get("fill") in {"none", *COLOUR.values()}
    assert drawing(name, COLOUR) == text, "the sand lies another way each time"
    assert drawing(name, CONTRAST) != text, "high contrast changes nothing"


def test_sand_lies_in_its_outline_and_in_no_hole() -> None:
    pen = Pen(COLOUR)
    pen.sand(box(10, 10, 110, 90), box(40, 30, 80, 70))
    dots = [
        (float(one.get("cx", 0)), float(one.get("cy", 0))) for one in ET.fromstring(pen.svg()) if "circle" in one.tag
    ]
    assert len(dots) > 100
    assert all(10 <= x <= 110 and 10 <= y <= 90 and not (40 < x < 80 and 30 < y < 70) for x, y in dots)


def test_a_bow_lies_on_its_circle() -> None:
    points = bow(50, 40, 20, 0, 90)
    assert points[0] == pytest.approx((70, 40)) and points[-1] == pytest.approx((50, 60))
    assert all((x - 50) ** 2 + (y - 40) ** 2 == pytest.approx(400) for x, y in points)
