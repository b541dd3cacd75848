"""Whether a solid may be written, and the mending that makes it so."""

from pathlib import Path

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.export.models import write_model
from pounce.solid.mesh import Mesh, joined
from pounce.solid.sound import as_filed, flipped, readied, soundness, without_films
from tests.conftest import box, mesh_of

BLOCK = mesh_of(box(40, 30, 20))


def test_a_block_is_sound_and_comes_back_as_it_is() -> None:
    found = soundness(BLOCK)
    assert (found.bodies, found.odd_edges, found.flat_faces, found.sound) == (1, 0, 0, True)
    assert readied(BLOCK) is BLOCK and without_films(BLOCK) is BLOCK


def test_a_face_left_out_is_three_odd_edges_and_is_not_written() -> None:
    opened = BLOCK.part(np.arange(len(BLOCK.faces)) > 0)
    assert soundness(opened).odd_edges == 3 and not soundness(opened).sound
    with pytest.raises(UserFault, match="open"):
        readied(opened)


def test_two_bodies_where_one_is_meant_are_refused_and_two_where_two_are() -> None:
    both = joined([BLOCK, mesh_of(box(10, 10, 10).translate([80, 0, 0]))])
    assert soundness(both).bodies == 2
    with pytest.raises(UserFault, match="2 bodies where 1 is meant"):
        readied(both, 1)
    assert readied(both, 2) is both


def test_a_room_inside_is_no_body() -> None:
    hollow = mesh_of(box(40, 30, 20) - box(10, 10, 10).translate([10, 10, 5]))
    assert soundness(hollow).bodies == 1 and soundness(hollow).sound


def test_a_crumb_is_dropped() -> None:
    """A tenth of a millimetre of dust beside a block: under a ten thousandth of it."""
    dusty = joined([BLOCK, mesh_of(box(0.1, 0.1, 0.1).translate([60, 0, 0]))])
    made = readied(dusty, 1)
    assert soundness(made).bodies == 1 and made.volume == pytest.approx(BLOCK.volume, rel=1e-6)


def test_a_needle_that_single_precision_cannot_hold_is_welded_away() -> None:
    """A corner a millionth of a millimetre off another: in the file both are one, and a face between has no area."""
    solid = m3.Manifold.cube([40, 30, 20]) + m3.Manifold.cube([1e-6, 10, 10]).translate([40, 5, 5])
    mesh = mesh_of(solid)
    made = readied(mesh, 1)
    assert soundness(made).sound and made.volume == pytest.approx(40 * 30 * 20, rel=1e-6)


def test_a_face_whose_corner_lies_on_its_edge_turns_that_edge() -> None:
    """A corner put on an edge of a block on one side only, a face without area between: nothing moves, none is left."""
    start, end = BLOCK.faces[0][:2]
    inner = np.concatenate([BLOCK.vertices, [BLOCK.vertices[[start, end]].mean(axis=0)]])
    split = len(inner) - 1
    apex = BLOCK.faces[0][2]
    own = [[start, split, apex], [split, end, apex], [start, end, split]]
    mesh = Mesh.of(inner, np.concatenate([BLOCK.faces[1:], own]))
    assert soundness(mesh).flat_faces == 1 and soundness(mesh).odd_edges == 0
    made = flipped(mesh)
    assert soundness(made).sound and len(made.faces) == len(mesh.faces)
    assert made.volume == pytest.approx(BLOCK.volume, rel=1e-12) and np.array_equal(made.vertices, mesh.vertices)


def nearly_coinciding(seed: int) -> m3.Manifold:
    """Blocks that nearly lie in each other's faces, by thousandths of a millimetre and less."""
    rng = np.random.default_rng(seed)
    solid = m3.Manifold.cube([40, 30, 20])
    for _ in range(6):
        off = rng.choice([3e-6, 1e-5, 1e-4, 5e-4, 1e-3, 2e-3]) * rng.uniform(-1, 1, 3)
        place = rng.integers(-2, 3, 3) * 5.0
        rng.integers(0, 2, 3)
        solid += m3.Manifold.cube([40, 30, 20]).translate(list(place)).rotate(list(3 * off)).translate(list(off))
    return solid


@pytest.mark.parametrize("seed", [11, 32, 41, 85])
def test_blocks_that_nearly_coincide_are_written_as_they_are(seed: int, tmp_path: Path) -> None:
    """Simplified by a thousandth of a millimetre three of these lose a corner of 400 to 1,000 mm3 to manifold3d, and
    the other has corners that a 3MF's text brings together.
    """
    solid = nearly_coinciding(seed)
    mesh = mesh_of(solid)
    made = readied(mesh, None, anew=True)
    assert soundness(made).sound and abs(made.volume - float(solid.volume())) < 1e-3 * float(solid.surface_area())
    assert write_model(tmp_path / "a.3mf", "Blocks", made).volume_mm3 == pytest.approx(made.volume, rel=1e-6)


def test_positions_are_as_a_file_of_single_precision_keeps_them() -> None:
    kept = as_filed(np.array([[1e-9, 0.1, 1234.5678901]]))
    assert kept[0, 0] == 0.0 and kept[0, 1] == float(np.float32(0.1)) and kept[0, 2] == float(np.float32(1234.5678901))


def test_tags_ride_through_the_mending() -> None:
    tagged = BLOCK.tagged(BLOCK.tags.changed(line=4))
    assert set(without_films(tagged).tags.line) == {4}
    assert isinstance(without_films(tagged), Mesh)
