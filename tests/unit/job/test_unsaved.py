"""Edits beside the copy of an unsaved job."""

from pathlib import Path

import manifold3d
import pytest

from pounce.base.errors import UserFault
from pounce.job import edits, file
from pounce.job.job import Job
from pounce.job.unsaved import FOLDER, edits_file, read_edits, write_edits
from pounce.route.opening import open_any, with_model
from tests.conftest import mesh_of, model_of, write_stl

CUBE = manifold3d.Manifold.cube([10, 8, 6])


@pytest.fixture
def copy(tmp_path: Path) -> Path:
    (tmp_path / FOLDER).mkdir()
    return tmp_path / FOLDER / "a.pounce"


def test_the_edits_stand_before_the_copy_and_the_part_comes_from_it(copy: Path) -> None:
    model = model_of(CUBE)
    old = with_model(Job(), model)
    new = edits.set_metal(old, "pewter").job
    file.save(copy, old, model)
    assert open_any(copy)[0].method.metal == old.method.metal
    kept = file.load(copy).job
    write_edits(copy, edits.set_metal(kept, "pewter").job, None)
    job, read = open_any(copy)
    assert job.method.metal == new.method.metal == "pewter" and read.triangles == 12


def test_without_a_copy_the_part_comes_from_where_it_was_opened(copy: Path, tmp_path: Path) -> None:
    part = write_stl(tmp_path / "a.stl", mesh_of(CUBE))
    job, _ = open_any(part)
    write_edits(copy, edits.set_metal(job, "pewter").job, part)
    assert open_any(copy)[0].method.metal == "pewter"
    write_stl(part, mesh_of(CUBE.scale((1, 1, 2))))
    with pytest.raises(UserFault, match="not what it was"):
        open_any(copy)
    write_edits(copy, job, None)
    with pytest.raises(UserFault, match="not what it was"):
        open_any(copy)


def test_edits_that_are_broken_are_a_sentence_and_other_peoples_files_are_none(copy: Path, tmp_path: Path) -> None:
    assert read_edits(copy) is None
    edits_file(copy).write_bytes(b"{")
    with pytest.raises(UserFault, match="cannot be read"):
        open_any(copy)
    edits_file(copy).write_bytes(b'{"format": 99, "made_by": "x", "job": {}, "source": ""}')
    with pytest.raises(UserFault, match="another version"):
        open_any(copy)
    file.save(copy, with_model(Job(), model_of(CUBE)), model_of(CUBE))
    assert open_any(copy)[1].triangles == 12, "the copy is older, and better than nothing"
    elsewhere, model = tmp_path / "a.pounce", model_of(CUBE)
    file.save(elsewhere, with_model(Job(), model), model)
    edits_file(elsewhere).write_bytes(b"notes of somebody")
    assert open_any(elsewhere)[1].triangles == 12
