"""Layouts: nothing overlaps, margins hold as another library measures them, runners of a pair are alike."""

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st

from pounce.rig.flasks import Flask
from pounce.rig.item import placed
from pounce.rig.layout import Block, arranged, drawn_in
from pounce.rig.values import Margins
from tests.conftest import examples

MARGINS = Margins(20.0, 15.0, 40.0, 30.0, 10.0, 15.0, 15.0, 10.0)
SPRUE_R = 10.0


def block_of(shape: shapely.Polygon) -> Block:
    """A block of this silhouette with a short runner along its right side."""
    x1 = shape.bounds[2]
    foot = shapely.box(x1 - 2.0, -10.0, x1 + 15.0, 10.0)
    return Block(shape, shape, foot, ((np.array([x1 + 15.0, 0.0]), np.array([1.0, 0.0])),))


def flask_of(long: float, wide: float, shape: str = "box") -> Flask:
    return Flask("f", "Flask", "box" if shape == "box" else "round", long, wide, 80.0, 80.0, 3.0)


def test_a_pair_has_equal_runners() -> None:
    """Two of 60 by 40 in 300 by 220: about the sprue in the middle, both as far from it."""
    block = block_of(shapely.box(-30.0, -20.0, 30.0, 20.0))
    laid = arranged((block,) * 2, flask_of(300, 220), MARGINS, SPRUE_R, None)
    assert laid is not None and laid.sprue == (0.0, 0.0)
    (a, turn_a), (b, turn_b) = laid.castings
    assert np.hypot(*a) == pytest.approx(np.hypot(*b)) and (turn_a - turn_b) % 360.0 == pytest.approx(180.0)


def test_no_room_is_said_and_not_squeezed() -> None:
    """One of 60 by 40 in 110 by 90, and four where two fit."""
    block = block_of(shapely.box(-30.0, -20.0, 30.0, 20.0))
    assert arranged((block,) * 1, flask_of(110, 90), MARGINS, SPRUE_R, None) is None
    assert arranged((block,) * 12, flask_of(300, 220), MARGINS, SPRUE_R, None) is None


def test_the_same_question_has_the_same_answer() -> None:
    block = block_of(shapely.Point(0.0, 0.0).buffer(30.0))
    first = arranged((block,) * 3, flask_of(400, 300), MARGINS, SPRUE_R, None)
    assert first is not None and first == arranged((block,) * 3, flask_of(400, 300), MARGINS, SPRUE_R, None)


def held(laid: object, block: Block, flask: Flask, margins: Margins) -> None:
    """Distances as shapely measures them: to the walls, between castings, to the sprue."""
    castings = laid.castings  # type: ignore[attr-defined]
    sprue = shapely.Point(laid.sprue).buffer(SPRUE_R, 64)  # type: ignore[attr-defined]
    wall = (
        shapely.box(-flask.long_mm / 2, -flask.wide_mm / 2, flask.long_mm / 2, flask.wide_mm / 2)
        if flask.shape == "box"
        else shapely.Point(0, 0).buffer(flask.long_mm / 2, 256)
    )
    bodies = [placed(block.whole, at, turn) for at, turn in castings]
    for body in bodies:
        assert wall.contains(body)
        assert body.distance(wall.exterior) >= margins.wall - 0.05
        assert body.distance(sprue) >= margins.sprue_casting - 0.05
    assert sprue.distance(wall.exterior) >= margins.sprue_wall - 0.05
    for k, one in enumerate(bodies):
        for other in bodies[:k]:
            assert one.distance(other) >= margins.between - 0.05


corner = st.tuples(st.floats(0.0, 2.0 * np.pi), st.floats(12.0, 60.0))


@given(st.lists(corner, min_size=5, max_size=14), st.integers(1, 5), st.booleans())
@example([(2.0, 12.0), (2.0, 12.0), (2.0, 14.0), (1.75, 26.0), (4.3125, 21.0)], 3, False)
@examples(14, 400)
def test_random_silhouettes_never_overlap(corners: list[tuple[float, float]], count: int, round_one: bool) -> None:
    """Stars of any shape, one to five of them, in a box and in a round flask."""
    ring = sorted(corners)
    shape = shapely.Polygon([(r * np.cos(a), r * np.sin(a)) for a, r in ring]).buffer(2.0)
    if shape.geom_type != "Polygon":
        return
    block = block_of(shape)
    flask = flask_of(420.0, 420.0 if round_one else 320.0, "round" if round_one else "box")
    laid = arranged((block,) * count, flask, MARGINS, SPRUE_R, None)
    if laid is not None:
        assert len(laid.castings) == count
        held(laid, block, flask, MARGINS)


@given(st.lists(corner, min_size=5, max_size=9), st.lists(corner, min_size=5, max_size=9), st.integers(1, 3))
@examples(8, 200)
def test_silhouettes_of_two_kinds_never_overlap(
    one: list[tuple[float, float]], two: list[tuple[float, float]], count: int
) -> None:
    """Castings of two patterns in one flask keep the sand that each keeps from its like."""
    shapes = [
        shapely.Polygon([(r * np.cos(a), r * np.sin(a)) for a, r in sorted(ring)]).buffer(2.0) for ring in (one, two)
    ]
    if any(shape.geom_type != "Polygon" for shape in shapes):
        return
    a, b = (block_of(shape) for shape in shapes)
    blocks = (a,) * count + (b,) * 2
    flask = flask_of(460.0, 360.0)
    laid = arranged(blocks, flask, MARGINS, SPRUE_R, None)
    if laid is None:
        return
    bodies = [placed(block.whole, *where) for block, where in zip(blocks, laid.castings, strict=True)]
    wall = shapely.box(-230.0, -180.0, 230.0, 180.0)
    for k, body in enumerate(bodies):
        assert wall.contains(body) and body.distance(wall.exterior) >= MARGINS.wall - 0.05
        assert body.distance(shapely.Point(laid.sprue)) >= SPRUE_R + MARGINS.sprue_casting - 0.05
        for other in bodies[:k]:
            assert body.distance(other) >= MARGINS.between - 0.05


def test_drawn_in_leaves_the_margins_and_no_more_than_a_step() -> None:
    block = block_of(shapely.box(-30.0, -20.0, 30.0, 20.0))
    laid = arranged((block,) * 2, flask_of(600, 600), MARGINS, SPRUE_R, None)
    assert laid is not None
    small, (long, wide) = drawn_in(laid, (block, block), MARGINS, SPRUE_R)
    held(small, block, flask_of(long, wide), MARGINS)
    assert long % 10.0 == 0.0 and wide % 10.0 == 0.0 and max(long, wide) < 400.0
