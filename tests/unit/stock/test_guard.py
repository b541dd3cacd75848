"""Guards on leaned bodies: each kind of phantom is told by what it is, and honest draft passes."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.route.stops import STOCK
from pounce.solid.boolean import bare_mesh
from pounce.solid.mesh import Mesh
from pounce.stock.guard import phantom
from pounce.stock.values import Draft
from tests.unit.stock.helpers import stocked


def box(x: float, y: float, z: float, at: tuple[float, float, float]) -> m3.Manifold:
    """A block with its middle at ``at``."""
    return m3.Manifold.cube((x, y, z), True).translate(at)


SOLID = box(60.0, 40.0, 20.0, (0.0, 0.0, 10.0))
BLOCK = bare_mesh(SOLID)
WIDEST_MM = 1.5


def leaned(more_mm: float) -> m3.Manifold:
    """The block, its foot wider by so much all round."""
    half = np.array([30.0, 20.0])
    foot = m3.CrossSection.square((2 * (half[0] + more_mm), 2 * (half[1] + more_mm)), True)
    scale = (half[0] / (half[0] + more_mm), half[1] / (half[1] + more_mm))
    return m3.Manifold.extrude(foot, 20.0, 0, 0.0, scale)


def with_fin(thick_mm: float) -> m3.Manifold:
    """The block with a fin 3 mm high on its top."""
    return SOLID + box(30.0, thick_mm, 4.0, (0.0, 0.0, 21.0))


@pytest.mark.parametrize("more_mm", [0.05, 0.7, WIDEST_MM])
def test_walls_that_lean_as_asked_pass(more_mm: float) -> None:
    assert phantom(BLOCK, bare_mesh(leaned(more_mm)), WIDEST_MM, True) is None


def test_a_body_beside_it_is_told() -> None:
    beside = bare_mesh(SOLID + box(2.0, 2.0, 2.0, (33.0, 0.0, 10.0)))
    assert phantom(BLOCK, beside, WIDEST_MM, True) == "a body stands alone that was not there"


def test_a_tunnel_is_told_whether_it_opens_or_closes() -> None:
    holed = bare_mesh(SOLID - box(5.0, 5.0, 40.0, (0.0, 0.0, 10.0)))
    for before, after in ((BLOCK, holed), (holed, BLOCK)):
        assert phantom(before, after, WIDEST_MM, False) == "a tunnel opened or closed"


def test_two_shells_are_counted_each_by_itself() -> None:
    def two(more_mm: float) -> Mesh:
        return bare_mesh(leaned(more_mm) + box(10.0, 10.0, 10.0, (60.0, 0.0, 5.0)))

    assert phantom(two(0.0), two(0.5), WIDEST_MM, True) is None


def test_metal_farther_than_three_leans_is_told() -> None:
    post = bare_mesh(SOLID + box(20.0, 20.0, 12.0, (0.0, 0.0, 26.0)))
    assert phantom(BLOCK, post, WIDEST_MM, True) == "metal was laid where no wall stands"


def test_a_new_thin_wall_is_a_phantom_only_where_metal_was_but_added() -> None:
    finned = bare_mesh(with_fin(0.4))
    assert phantom(BLOCK, finned, WIDEST_MM, True) == "a wall stands that was not there"
    assert phantom(BLOCK, finned, WIDEST_MM, False) is None


def test_a_wall_as_thick_as_one_that_stood_before_is_none() -> None:
    before = with_fin(0.4)
    after = before + box(30.0, 0.4, 4.0, (0.0, 10.0, 21.0))
    assert phantom(bare_mesh(before), bare_mesh(after), WIDEST_MM, True) is None


def test_a_body_that_is_open_is_told() -> None:
    torn = BLOCK.part(np.arange(1, len(BLOCK.faces)))
    assert phantom(BLOCK, torn, WIDEST_MM, True) == "it came out open"


def test_the_tip_of_an_ear_is_no_new_wall_wherever_points_fall() -> None:
    """An owl on a slab, its ears cones down to 0.3 mm: more of the points over it fell on their tips after its slab was
    leaned than before, and no wall of it got draft.
    """
    owl = m3.Manifold.sphere(22, 48).translate([0, 0, 30]) + box(60, 50, 10, (0, 0, 3))
    owl += m3.Manifold.cylinder(26, 8, 8, 32).translate([0, 0, 4])
    for x in (-10, 10):
        owl += m3.Manifold.cylinder(16, 5, 0.3, 24).translate([x, -2, 46])
    line = stocked(owl, Draft(), draw=(0.0, 1.0, 0.0)).need(STOCK).lines[0]
    assert line.trouble == "" and line.added_mm3 > 2000.0
