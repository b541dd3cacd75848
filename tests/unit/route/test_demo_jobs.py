"""The demo's jobs and logbook ship as saved: they are what their records say, and laying them out keeps what is
there.
"""

import shutil
from pathlib import Path

import msgspec
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.job.file import load
from pounce.logbook.book import Book
from pounce.logbook.carry import SCHEMA, Carried
from pounce.route.demo_jobs import job_file, lay_out, part_file
from pounce.route.demo_making import made, save_book, save_shipped
from pounce.route.demos import BOOK, DEMOS, SEASON, Demo


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.log_id)
def test_what_ships_is_what_the_record_says(demo: Demo) -> None:
    """`make demo-data` was run after the last change of the demo's records, or of the job file's format."""
    kept, (job, model) = load(job_file(demo)), made(demo)
    assert kept.model is not None
    for body, was in zip(kept.model.bodies, model.bodies, strict=True):
        assert len(body.mesh.faces) == len(was.mesh.faces)
        assert np.abs(body.mesh.size - was.mesh.size).max() < 1e-4  # the job file holds the mended part in mm
    named = msgspec.structs.replace(job, part=msgspec.structs.replace(job.part, model=kept.job.part.model))
    assert kept.job == named


def test_the_book_that_ships_holds_the_season(tmp_path: Path) -> None:
    season = msgspec.json.decode(SEASON.read_bytes(), type=Carried)
    assert season.schema == SCHEMA
    shutil.copyfile(BOOK, tmp_path / BOOK.name)
    with Book(tmp_path / BOOK.name) as book:
        held = book.everything()
    assert {pour.id for pour in held.pours} == {pour.id for pour in season.entries.pours}
    assert len(held.events) == len(season.entries.events)
    assert held.recipes == season.entries.recipes
    assert {path.name for path in BOOK.parent.iterdir() if path.suffix not in (".3mf", ".stl", ".pounce")} == {
        "season.json",
        "season.sqlite",
    }


def test_laying_out_keeps_what_the_user_changed(tmp_path: Path) -> None:
    jobs = lay_out(tmp_path)
    assert [path.stem for path in jobs] == [Path(demo.part).stem for demo in DEMOS]
    jobs[0].write_bytes(b"the user's own")
    jobs[1].unlink()
    assert lay_out(tmp_path) == jobs
    assert jobs[0].read_bytes() == b"the user's own"
    assert jobs[1].read_bytes() == job_file(DEMOS[1]).read_bytes()
    assert (tmp_path / part_file(DEMOS[2]).name).read_bytes() == part_file(DEMOS[2]).read_bytes()


def test_a_folder_that_cannot_be_made_is_one_sentence(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("in the way")
    with pytest.raises(UserFault, match="The demo folder cannot be made"):
        lay_out(tmp_path / "file" / "demo")


def test_a_demo_job_is_saved_with_its_picture(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("pounce.route.demo_making.job_file", lambda demo: tmp_path / f"{demo.log_id}.pounce")
    demo = next(one for one in DEMOS if one.part.startswith("vent-quadrant"))
    save_shipped(demo)
    saved = tmp_path / f"{demo.log_id}.pounce"
    assert load(saved).job == load(job_file(demo)).job
    save_book(tmp_path / "book.sqlite")
    assert sorted(path.name for path in tmp_path.iterdir()) == ["book.sqlite", saved.name]
