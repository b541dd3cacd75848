"""Outlines of prints drawn up, against the 2D library's own offsets."""

import numpy as np
import pytest
import shapely

from pounce.cores.drawn import drawn_in, leaned, less, loft, prism, seen_whole, share, without_necks

NOTCHED = np.array([[0, 0], [30, 0], [30, 8], [18, 8], [18, 11], [30, 11], [30, 20], [0, 20]], float)


@pytest.mark.parametrize("by", [0.5, 1.4])
def test_sides_drawn_in_are_those_of_the_outline_moved_in(by: float) -> None:
    """Against the 2D library's own mitred offsets, at the end and half way, past sides that vanish on the way."""
    rounded = shapely.geometry.polygon.orient(shapely.Polygon(NOTCHED).buffer(-0.9).buffer(0.9, quad_segs=6))
    for shape in (shapely.Polygon(NOTCHED), rounded):
        points = np.array(shape.exterior.coords)[:-1]
        made = drawn_in(points, [(0.0, 0.0), (2.0, 0.0), (12.0, by)])
        assert made is not None and made.genus() == 0
        for height, moved in ((1.0, 0.0), (7.0, by / 2.0), (11.99, 0.999 * by)):
            offset = shape.buffer(-moved, join_style="mitre", mitre_limit=50.0)
            assert float(made.slice(height).area()) == pytest.approx(offset.area, rel=1e-6)


def test_an_outline_that_comes_apart_is_not_drawn_in() -> None:
    """Between the notch and the far side 18 mm are left, and 8 and 9 beside it: two lobes when drawn in by 4.2."""
    assert drawn_in(NOTCHED, [(0.0, 0.0), (10.0, 4.2)]) is None


def test_an_outline_that_comes_apart_is_hewn_to_the_same_sides() -> None:
    """In two lobes at the end, as the 2D library has them but for the round of the notch's corners."""
    shape = shapely.geometry.polygon.orient(shapely.Polygon(NOTCHED))
    made = leaned(shape, 0.0, [(2.0, 0.0), (12.0, 4.2)])
    sharp, soft = (shape.buffer(-4.2, join_style=style).area for style in ("mitre", "round"))
    assert sharp - 0.02 <= float(made.slice(11.999).area()) <= soft + 0.2


def test_what_would_come_off_is_taken_off_first_unless_it_is_much() -> None:
    """A tongue 2 mm wide on a plate goes, with what leans in by 1.5; half a plate does not."""
    plate = shapely.Polygon([(0, 0), (40, 0), (40, 30), (0, 30)])
    tongue = shapely.Polygon([(39, 10), (60, 10), (60, 12), (39, 12)])
    assert without_necks(plate.union(tongue), 1.5).symmetric_difference(plate).area < 1e-6
    comb = shapely.union_all([plate.buffer(-12), *[shapely.box(x, 0, x + 2, 30) for x in range(0, 40, 3)]])
    comb = max(getattr(comb, "geoms", [comb]), key=lambda part: part.area)
    assert without_necks(comb, 1.5) is comb


def test_lofts_prisms_and_shares() -> None:
    square = shapely.geometry.polygon.orient(shapely.box(0, 0, 20, 20))
    assert float(prism(square, 0.0, 5.0).volume()) == pytest.approx(2000.0)
    # a frustum by its formula: h / 3 (A + B + sqrt(A B))
    assert float(loft(square, [(0.0, 1.0), (9.0, 0.5)]).volume()) == pytest.approx(3.0 * (400.0 + 100.0 + 200.0))
    # sides 10 mm off the middle that lean by 45 degrees over 5 mm stand in by half
    assert share(square, 5.0, 45.0) == pytest.approx(0.5)
    assert less(square, 2.0).area == pytest.approx(256.0)
    assert seen_whole(square) and not seen_whole(shapely.geometry.polygon.orient(shapely.Polygon(NOTCHED)))
