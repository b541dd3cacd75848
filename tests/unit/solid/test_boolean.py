"""Solid operations: tags carried through them, broken shells refused, crumbs told apart."""

import manifold3d
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pounce.base.errors import UserFault
from pounce.draw.reachability import together, weights
from pounce.solid import boolean
from pounce.solid.mesh import Mesh, joined
from pounce.solid.tags import FaceTags
from tests.conftest import box, mesh_of

M = manifold3d.Manifold
CUBE = mesh_of(box(20, 20, 20))


def tagged(mesh: Mesh) -> Mesh:
    return mesh.tagged(FaceTags.own(len(mesh.faces)))


def test_what_is_open_empty_or_not_a_number_is_no_solid() -> None:
    assert boolean.closed_solid(CUBE) is not None
    assert boolean.closed_solid(Mesh.of(CUBE.vertices, CUBE.faces[1:])) is None
    assert boolean.closed_solid(Mesh.of(np.zeros((0, 3)), np.zeros((0, 3), int))) is None
    lost = np.array(CUBE.vertices)
    lost[0, 0] = np.nan
    assert boolean.closed_solid(Mesh.of(lost, CUBE.faces)) is None


def test_a_tool_that_is_open_is_refused() -> None:
    with pytest.raises(ValueError, match="not a solid"):
        boolean.tool_solid(CUBE.vertices, CUBE.faces[2:])


def test_tags_come_through_a_cut_and_what_the_tool_made_has_none() -> None:
    solid = boolean.closed_solid(CUBE)
    bored = boolean.without(solid, [boolean.rod(np.array([10.0, 10, -1]), np.array([0.0, 0, 1]), 22.0, 4.0)])
    mesh = boolean.as_mesh(bored, FaceTags.own(12))
    # a face's number says which plane of the cube it lies in; the bore's wall has none
    for triangle, number in zip(mesh.corners, mesh.tags.face, strict=True):
        if number >= 0:
            plane = CUBE.normals[number]
            assert (triangle @ plane) == pytest.approx(np.full(3, CUBE.corners[number, 0] @ plane), abs=1e-9)
        else:
            off = np.hypot(triangle[:, 0] - 10.0, triangle[:, 1] - 10.0)
            # on the facets of a prism: no further within the round than their middles
            assert off.max() <= 4.0 + 1e-9 and off.min() >= 4.0 * np.cos(np.pi / 48) - 1e-9
    assert set(mesh.tags.face[mesh.tags.face >= 0]) == set(range(12))
    # a regular prism of 48 sides
    section = 0.5 * 48 * 4.0**2 * np.sin(2 * np.pi / 48)
    assert mesh.volume == pytest.approx(20.0**3 - 20.0 * section)


def test_a_plane_cut_gives_both_parts_and_a_face_without_tags() -> None:
    above, below = boolean.split(boolean.closed_solid(CUBE), np.array([0.0, 0.0, 1.0]), 5.0)
    for part, high in ((above, 15.0), (below, 5.0)):
        mesh = boolean.as_mesh(part, FaceTags.own(12))
        assert mesh.volume == pytest.approx(400.0 * high)
        flat = np.isclose(mesh.corners[:, :, 2], 5.0).all(axis=1)
        assert flat.any() and (mesh.tags.face[flat] == -1).all()


@pytest.mark.parametrize("off", [-1e-10, 0.0, 1e-10])
@pytest.mark.parametrize("up", [1.0, -1.0])
def test_a_cut_in_a_face_leaves_no_film_on_a_print_that_stands_on_it(off: float, up: float) -> None:
    """A plate with a core print under its back, parted at the back: to within rounding the drag half is the print."""
    plate = box(112, 82, 40).translate([-56, -41, -24.2915 + off])
    whole = plate + M.cylinder(12.2, 13, 14, 48).translate([0, 0, -36.4])
    normal = np.array([0.0, 0.0, up])
    over, under = boolean.split(whole.mirror([0, 0, 1]) if up < 0.0 else whole, normal, -24.2915)
    across = np.ptp(np.reshape(under.bounding_box(), (2, 3)), axis=0)
    assert across[:2] == pytest.approx([28.0, 28.0], abs=0.2) and under.volume() > 0.0
    assert float(over.volume() + under.volume()) == pytest.approx(float(whole.volume()), abs=1e-3)
    assert np.ptp(np.reshape(over.bounding_box(), (2, 3)), axis=0)[0] == pytest.approx(112.0)


def test_two_bodies_with_their_own_shift_keep_apart() -> None:
    other = mesh_of(box(20, 20, 20).translate([10, 0, 0]))
    whole = boolean.united([boolean.closed_solid(CUBE), boolean.closed_solid(other, 12)])
    mesh = boolean.as_mesh(whole, FaceTags.own(24))
    assert mesh.volume == pytest.approx(30.0 * 400.0)
    for triangle, number in zip(mesh.corners, mesh.tags.face, strict=True):
        assert triangle[:, 0].max() <= (20.0 if number < 12 else 30.0) + 1e-9


def test_inside_and_outside_of_a_tool_come_to_the_whole() -> None:
    solid, tool = boolean.closed_solid(CUBE), boolean.closed_solid(mesh_of(M.sphere(12, 40).translate([20, 20, 20])))
    inside, outside = boolean.split_by(solid, tool)
    assert inside.volume() + outside.volume() == pytest.approx(8000.0)
    assert boolean.common(solid, tool).volume() == pytest.approx(inside.volume())
    assert boolean.common(solid, boolean.closed_solid(mesh_of(box(1, 1, 1).translate([50, 0, 0])))).is_empty()


@given(
    way=st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: np.linalg.norm(v) > 0.1),
    long=st.floats(0.5, 40.0),
    wide=st.floats(0.2, 9.0),
    top=st.floats(0.2, 9.0),
)
def test_a_rod_stands_where_it_is_asked_for(way: tuple[float, ...], long: float, wide: float, top: float) -> None:
    along, start = np.array(way) / np.linalg.norm(way), np.array([3.0, -7.0, 11.0])
    mesh = boolean.bare_mesh(boolean.rod(start, along, long, wide, top))
    height = (mesh.vertices - start) @ along
    assert height.min() == pytest.approx(0.0, abs=1e-9) and height.max() == pytest.approx(long)
    away = np.linalg.norm(np.cross(mesh.vertices - start, along), axis=1)
    assert away[height < long / 2].max() == pytest.approx(wide)
    assert away[height > long / 2].max() == pytest.approx(top)
    base = 0.5 * 48 * np.sin(2 * np.pi / 48)
    assert mesh.volume == pytest.approx(base * long / 3 * (wide**2 + wide * top + top**2), rel=1e-6)


def test_crumbs_go_and_rooms_inside_stay() -> None:
    whole = joined([CUBE, mesh_of(box(0.5, 0.5, 0.5).translate([40, 0, 0]))])
    kept, lost, longest = boolean.less_crumbs(boolean.closed_solid(whole), 1e-3)
    assert kept.volume() == pytest.approx(8000.0)
    assert lost == pytest.approx(0.125) and longest == pytest.approx(0.5 * np.sqrt(3))
    hollow = box(20, 20, 20) - box(10, 10, 10).translate([5, 5, 5])
    kept, lost, _ = boolean.less_crumbs(hollow, 1e-3)
    assert kept.volume() == pytest.approx(7000.0) and lost == 0.0
    # where all is small there is nothing that it would be a crumb of
    twins = M.compose([box(1, 1, 1), box(1, 1, 1).translate([5, 0, 0])])
    assert boolean.less_crumbs(twins, 0.6)[1] == 0.0


def test_a_cut_that_leaves_nothing_is_said() -> None:
    with pytest.raises(UserFault, match="left nothing"):
        boolean.without(boolean.closed_solid(CUBE), [box(30, 30, 30).translate([-5, -5, -5])])
    solid = boolean.closed_solid(CUBE)
    assert boolean.without(solid, []) is solid


def test_without_marks_simplifying_merges_what_lies_in_one_plane() -> None:
    fine = boolean.closed_solid(mesh_of(box(20, 20, 20).refine(4)))
    assert len(boolean.bare_mesh(fine.simplify(1e-6)).faces) > 12
    assert len(boolean.bare_mesh(boolean.unmarked(fine).simplify(1e-6)).faces) == 12


def test_a_hull_holds_its_points() -> None:
    points = np.random.default_rng(3).normal(size=(40, 3)) * [3.0, 7.0, 1.0]
    mesh = boolean.bare_mesh(boolean.hull_tool(points))
    over = np.einsum("ij,kij->ki", mesh.normals, points[:, None] - mesh.corners[:, 0])
    assert over.max() < 1e-9
    assert len(mesh.faces) == 2 * len(mesh.vertices) - 4  # Euler, of a ball of triangles


@pytest.mark.parametrize("seed", [3, 11])
def test_prisms_that_meet_in_edges_alone_lose_nothing_when_they_are_simplified(seed: int) -> None:
    """A triangle in larger and smaller pieces, swept down: the volume by hand, and united with a plate that it stands
    through. (The second lost 116 mm3 on its way through a mesh.)
    """
    noise, side, high = np.random.default_rng(seed), 48, 30.0
    middles, (cut, lean) = weights(side).mean(axis=1), (noise.uniform(0.2, 0.6), noise.uniform(-0.5, 0.5))
    codes = ((middles[:, 0] + lean * middles[:, 1]) > cut).astype(np.int64)[None]
    triangle = np.array([[10.0, 0.0, high], [60.0, 0.0, high], [60.0, 40.0, high]])
    pieces = np.concatenate([shape @ triangle for _, shape, _ in together(codes, side)])
    solids = [M.hull_points(np.concatenate([one, one - [0.0, 0.0, high]])) for one in pieces]
    made = boolean.united(solids, 6e-5)
    area = 0.5 * 50.0 * 40.0
    assert len(solids) > 48 and made.volume() == pytest.approx(area * high, rel=1e-4)
    plate = M.cube([100.0, 100.0, 2.0]).translate([-10.0, -10.0, 10.0])
    assert (plate + made).volume() == pytest.approx(100.0 * 100.0 * 2.0 + area * (high - 2.0), rel=1e-4)
