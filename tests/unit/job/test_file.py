"""Saving a job: whole or not at all, and in a sentence when another library fails."""

from pathlib import Path

import pytest

from pounce.base.errors import UserFault
from pounce.job import file
from pounce.job.job import Job
from pounce.solid.mesh import Mesh
from pounce.solid.threemf import write_3mf
from tests.conftest import box, mesh_of, model_of


def test_a_model_that_the_library_cannot_write_is_said_and_the_older_file_stays(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "a.pounce"
    file.save(path, Job("first"), model_of(box(10, 20, 30)))

    def nowhere(target: Path, things: list[tuple[str, Mesh]]) -> None:
        write_3mf(target.parent / "no such folder" / "part.3mf", things)

    monkeypatch.setattr(file, "write_3mf", nowhere)
    with pytest.raises(UserFault, match=r"'a\.pounce' could not be saved \(.*could not be created.*\)"):
        file.save(path, Job("second"), model_of(box(10, 20, 30)))
    kept = file.load(path)
    assert kept.job.name == "first"
    assert kept.model is not None
    assert kept.model.bodies[0].mesh.volume == pytest.approx(mesh_of(box(10, 20, 30)).volume, rel=1e-6)
    assert [entry.name for entry in tmp_path.iterdir()] == ["a.pounce"]


def test_a_folder_that_is_not_there_is_said(tmp_path: Path) -> None:
    with pytest.raises(UserFault, match="No such file or directory"):
        file.save(tmp_path / "none" / "a.pounce", Job("one"), None)


@pytest.mark.parametrize("content", [b"", b"PK\x03\x04", b"not a zip at all" * 100])
def test_what_is_no_job_file_is_refused_in_a_sentence(content: bytes, tmp_path: Path) -> None:
    path = tmp_path / "a.pounce"
    path.write_bytes(content)
    with pytest.raises(UserFault, match="not a whole job file"):
        file.load(path)
