"""What a place is called, and a mould that is stood on end."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.feeding.mould import STANDING, stood
from pounce.feeding.naming import name_at
from pounce.freeze.values import Mould
from pounce.solid.features.find import features_of
from tests.conftest import box, mesh_of

M = m3.Manifold
BRACKET = (
    box(120.0, 60.0, 10.0)
    + M.cylinder(30.0, 12.0, 12.0, 96).translate([25.0, 30.0, 0.0])
    - M.cylinder(12.0, 8.0, 8.0, 96).translate([95.0, 30.0, -1.0])
)


@pytest.fixture(scope="module")
def named() -> object:
    mesh = mesh_of(BRACKET)
    features = features_of(mesh)
    return lambda *point: name_at(np.array(point), features, mesh.bounds)


@pytest.mark.parametrize(
    ("point", "said"),
    [
        ((25.0, 30.0, 20.0), "the boss Ø 24"),
        ((30.0, 34.0, 12.0), "the boss Ø 24"),
        ((107.0, 30.0, 5.0), "the wall round the bore Ø 16"),
        ((60.0, 30.0, 15.0), "the middle"),
        ((60.0, 3.0, 15.0), "the near end"),
        ((60.0, 58.0, 15.0), "the far end"),
    ],
)
def test_a_place_is_called_by_what_it_lies_at(named: object, point: tuple[float, ...], said: str) -> None:
    assert named(*point).startswith(said)  # type: ignore[operator]


def test_a_plain_bars_ends_are_left_and_right() -> None:
    bounds = np.array([[0.0, 0.0, 0.0], [200.0, 20.0, 20.0]])
    for x, said in ((4.0, "the left end"), (196.0, "the right end"), (100.0, "the middle")):
        assert name_at(np.array([x, 10.0, 10.0]), (), bounds) == said


def test_on_end_the_flasks_end_is_up_and_nothing_changes_its_size() -> None:
    """+x becomes up: a bar along the pins stands, its cope's sand is beside it."""
    bar = mesh_of(box(80.0, 20.0, 10.0).translate([-40.0, -10.0, 0.0]))
    lying = Mould((bar,), bar, (bar,), (), (), 70.0, (150.0, 110.0), 60.0)
    up = stood(lying, 300.0, 70.0, 60.0)
    assert up.standing and not lying.standing
    for one in (*up.castings, up.gating, *up.cores):
        assert one is not None
        assert one.size == pytest.approx([10.0, 20.0, 80.0]) and one.volume == pytest.approx(bar.volume)
        assert one.bounds[0, 2] == pytest.approx(-40.0)
    assert up.top_mm == 150.0 and up.half_mm == (70.0, 110.0)
    assert float(np.linalg.det(STANDING)) == pytest.approx(1.0), "turned, not mirrored"
