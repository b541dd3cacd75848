"""Tags ride by name through every solid operation."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.solid import boolean
from pounce.solid.mesh import Mesh, joined
from pounce.solid.tags import FLUSH, FaceTags
from tests.conftest import box


def _mesh(solid: m3.Manifold) -> Mesh:
    raw = solid.to_mesh64()
    return Mesh.of(np.asarray(raw.vert_properties)[:, :3], np.asarray(raw.tri_verts, np.int64))


def test_all_tags_ride_through_a_cut_and_tools_have_none() -> None:
    """A block less a rod: each face that is left lies in the plane of the face it is tagged with; the hole's wall
    has no tags.
    """
    block = _mesh(box(40, 40, 40))
    count = len(block.faces)
    side = np.argmax(np.abs(block.normals), axis=1)
    tagged = block.tagged(FaceTags.of(count, face=np.arange(count), line=3, feature=side, print=FLUSH))
    solid = boolean.closed_solid(tagged)
    assert solid is not None
    made = boolean.as_mesh(
        boolean.without(solid, [boolean.rod(np.array([20.0, 20.0, -1.0]), np.array([0.0, 0.0, 1.0]), 42.0, 8.0)]),
        tagged.tags,
    )
    own = made.tags.face >= 0
    assert set(made.tags.face[own]) == set(range(count))
    np.testing.assert_allclose(made.normals[own], block.normals[made.tags.face[own]], atol=1e-12)
    assert (made.tags.feature[own] == side[made.tags.face[own]]).all()
    assert set(made.tags.line[own]) == {3}
    assert set(made.tags.print[own]) == {FLUSH}
    hole = made.tags.made_by_tools
    assert (hole == ~own).all()
    middles = made.corners[hole].mean(axis=1)
    assert np.hypot(middles[:, 0] - 20.0, middles[:, 1] - 20.0) == pytest.approx(8.0, abs=0.03)


def test_a_tag_that_is_the_same_all_over_takes_no_room_and_reads_like_any_other() -> None:
    tags = FaceTags.of(1_000_000, face=np.arange(1_000_000))
    assert tags.line.strides == (0,)
    part = tags.at(np.arange(0, 1_000_000, 2))
    assert part.line.strides == (0,)
    assert len(part) == 500_000
    assert part.line[7] == -1
    assert part.face[7] == 14


def test_changing_some_leaves_the_rest_and_the_tags_it_came_from() -> None:
    tags = FaceTags.own(4)
    changed = tags.changed(np.array([True, False, False, True]), line=5, face=-1)
    assert changed.line.tolist() == [5, -1, -1, 5]
    assert changed.face.tolist() == [-1, 1, 2, -1]
    assert tags.face.tolist() == [0, 1, 2, 3]
    assert changed.or_none(np.array([1, -1, 0])).face.tolist() == [1, -1, -1]
    assert changed.or_none(np.array([1, -1, 0])).line.tolist() == [-1, -1, 5]
    with pytest.raises(ValueError, match="3 tags for 4 faces"):
        FaceTags.of(4, face=np.arange(3))


def test_groups_are_equal_where_face_and_line_are() -> None:
    tags = FaceTags.of(5, face=np.array([0, 0, 1, -1, 0]), line=np.array([-1, 2, -1, 2, -1]))
    group = tags.group
    assert group[0] == group[4]
    assert len({int(group[k]) for k in (0, 1, 2, 3)}) == 4


def test_joined_meshes_keep_their_tags_in_order() -> None:
    one, two = _mesh(box(10, 10, 10)), _mesh(box(5, 5, 5))
    both = joined([one.tagged(one.tags.changed(line=1)), two])
    assert both.tags.line.tolist() == [1] * 12 + [-1] * 12
    assert both.tags.face.tolist() == [*range(12), *range(12)]
