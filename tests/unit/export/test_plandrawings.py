"""Drawings of boards, rings, clay and turning."""

import numpy as np
import pytest
import shapely

from pounce.export.plandrawings import segment_drawing, turning_drawing
from pounce.pattern.making.values import Segments
from tests.conftest import box
from tests.unit.pattern.test_making import M, pattern_of


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


@pytest.mark.parametrize("count", [6, 8, 12])
def test_a_segment_is_a_mitred_board_to_its_radii(count: int) -> None:
    """Its long side is 2 R tan(180 / n), its ends lean by the mitre, its arcs run from one to the other."""
    half = np.pi / count
    ring = Segments(100.0, 70.0, count, 2 * 100.0 * np.tan(half), 100.0 - 70.0 * np.cos(half), 180.0 / count)
    found = segment_drawing(ring)
    board = found.lines[0].points
    assert np.ptp(board[:, 0]) == pytest.approx(ring.long_mm)
    assert np.ptp(board[:, 1]) == pytest.approx(ring.wide_mm)
    edge = board[board[:, 0] > 0]
    lean = np.degrees(np.arctan2(np.ptp(edge[:, 0]), np.ptp(edge[:, 1])))
    assert lean == pytest.approx(180.0 / count)
    radii = [np.linalg.norm(line.points, axis=1) for line in found.lines[1:]]
    assert sorted(float(r.mean()) for r in radii) == pytest.approx([70.0, 100.0])


def test_a_turned_piece_gets_its_profile_and_diameters_and_another_none() -> None:
    turned = pattern_of(M.cylinder(60, 25, 25, 96) + M.cylinder(20, 40, 40, 96), "wood", 0.0)
    drawings = [turning_drawing(piece) for piece in turned.pieces]
    assert any(one is not None for one in drawings)
    words = " ".join(word for one in drawings if one is not None for _, _, word in one.words)
    assert f"{80 * 100 / 98.8:.1f}" in words and f"{50 * 100 / 98.8:.1f}" in words
    square = pattern_of(box(60, 40, 30), "wood", 15.0)
    assert all(turning_drawing(piece) is None for piece in square.pieces)
