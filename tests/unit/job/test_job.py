"""Jobs: round trip, atomic saving, versions, undo, edits."""

import json
import os
import zipfile
from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pounce.base.errors import UserFault
from pounce.base.finding import Remedy
from pounce.base.units import MM_PER, from_mm, length, to_mm
from pounce.draw.changes import SetDraw
from pounce.draw.values import DrawChoices
from pounce.job import edits, file
from pounce.job.changes import take_remedy
from pounce.job.history import History
from pounce.job.job import Job
from pounce.job.migrations import FORMAT, migrated
from pounce.metals import tables
from pounce.metals.changes import SetDraft
from pounce.metals.method import MethodChoices
from pounce.part.model import PartChoices
from pounce.parting.changes import SetHeight
from pounce.parting.values import PartingChoices
from pounce.pattern.values import PatternChoices
from pounce.route.keys import keys
from pounce.route.opening import open_any, with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import PART, PATTERN
from pounce.stock.values import Draft
from tests.conftest import box, model_of

numbers = st.floats(-1e4, 1e4, allow_nan=False)
jobs = st.builds(
    Job,
    name=st.text(min_size=1, max_size=40),
    part=st.builds(PartChoices, unit=st.sampled_from([None, *MM_PER]), bodies=st.sampled_from([None, (0,), (0, 1)])),
    method=st.builds(
        MethodChoices,
        metal=st.sampled_from(sorted(tables.metals())),
        mould=st.sampled_from(sorted(tables.moulds())),
        pattern=st.sampled_from(sorted(tables.pattern_kinds())),
        contraction_percent=st.none() | st.floats(0, 10),
        stated=st.sampled_from(["casting", "pattern"]),
        draft_deg=st.none() | st.floats(0, 15),
    ),
    draw=st.builds(DrawChoices, direction=st.none() | st.tuples(numbers, numbers, numbers)),
    parting=st.builds(PartingChoices, kind=st.sampled_from(["auto", "flat"]), height_mm=st.none() | numbers),
    pattern=st.builds(PatternChoices, dowels=st.sampled_from(["loose", "pins", "none"]), stl=st.booleans()),
)


@given(jobs)
def test_a_job_survives_its_json(job: Job) -> None:
    assert msgspec.json.decode(msgspec.json.encode(job), type=Job) == job


@given(st.floats(-1e6, 1e6), st.sampled_from(sorted(MM_PER)))
def test_unit_conversion_there_and_back(value: float, unit: str) -> None:
    assert from_mm(to_mm(value, unit), unit) == pytest.approx(value, rel=1e-12, abs=1e-12)


def test_lengths_in_words() -> None:
    assert length(25.4, "in") == "1\u00a0in"
    assert length(-0.0001) == "0\u00a0mm"
    assert length(12.345, digits=2) in ("12.35\u00a0mm", "12.34\u00a0mm")


def test_save_and_reopen_gives_the_same_job_and_part(tmp_path: Path) -> None:
    model = model_of(box(30, 20, 10), box(5, 5, 5).translate([50, 0, 0]), unit=None)
    job = edits.set_metal(with_model(Job(name="Two blocks"), model), "grey-iron").job
    job = edits.set_unit(job, "in").job
    job = edits.set_bodies(job, (0,)).job
    before = Pipeline().run(job, model, until=PART)
    file.save(tmp_path / "a.pounce", job, model, b"\x89PNG")
    kept_job, kept_model = open_any(tmp_path / "a.pounce")
    assert msgspec.structs.replace(kept_job, part=job.part) == job
    after = Pipeline().run(kept_job, kept_model, until=PART)
    assert after.need(PART).mesh.size == pytest.approx(before.need(PART).mesh.size, rel=1e-6)
    assert [line.name for line in after.need(PART).bodies] == ["Body 1", "Body 2"]
    back = edits.set_unit(kept_job, "mm").job
    assert Pipeline().run(back, kept_model, until=PART).need(PART).mesh.size == pytest.approx([30, 20, 10], rel=1e-6)


def test_the_container_holds_what_the_contract_says(tmp_path: Path, arm: Path) -> None:
    job, model = open_any(arm)
    file.save(tmp_path / "a.pounce", job, model, b"\x89PNG")
    with zipfile.ZipFile(tmp_path / "a.pounce") as archive:
        assert set(archive.namelist()) == {"job.json", "part.3mf", "preview.png"}
        content = json.loads(archive.read("job.json"))
    assert content["format"] == FORMAT
    assert content["job"]["method"]["metal"] == "aluminium-silicon"


def test_a_full_disk_leaves_the_old_file_whole(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, arm: Path) -> None:
    job, model = open_any(arm)
    path = tmp_path / "a.pounce"
    file.save(path, job, model)
    old = path.read_bytes()

    def full(_: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(UserFault, match="could not be saved"):
        file.save(path, edits.rename(job, "Other").job, model)
    assert path.read_bytes() == old
    assert [p.name for p in tmp_path.iterdir() if p.is_file()] == ["a.pounce"]


def test_every_format_ever_shipped_opens() -> None:
    kept = sorted((Path(__file__).parents[2] / "data" / "jobs").glob("v*/*.pounce"))
    assert len(kept) >= FORMAT
    for path in kept:
        job, model = open_any(path)
        assert Pipeline().run(job, model, until=PATTERN).need(PATTERN).pieces


def test_migrations_run_one_step_a_version() -> None:
    steps = {1: lambda c: {**c, "b": 1}, 2: lambda c: {**c, "c": c["b"] + 1}}
    assert migrated({"format": 1}, steps, 3) == {"format": 3, "b": 1, "c": 2}


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"not a zip", "not a whole job"),
        ({"job.json": b"{"}, "not a whole job"),
        ({"other": b""}, "not a whole job"),
        ({"job.json": b"[]"}, "not a job file"),
        ({"job.json": json.dumps({"format": 99}).encode()}, "newer Pounce"),
        (
            {"job.json": json.dumps({"format": 1, "program": "x", "job": {"colour": 1}, "model": None}).encode()},
            "does not know",
        ),
    ],
)
def test_bad_job_files_get_one_sentence(tmp_path: Path, content: bytes | dict[str, bytes], says: str) -> None:
    path = tmp_path / "a.pounce"
    if isinstance(content, bytes):
        path.write_bytes(content)
    else:
        with zipfile.ZipFile(path, "w") as archive:
            for name, data in content.items():
                archive.writestr(name, data)
    with pytest.raises(UserFault, match=says):
        file.load(path)


def test_undo_and_redo_walk_the_same_jobs() -> None:
    history = History(Job())
    seen = [history.job]
    for metal in ("grey-iron", "copper", "pewter"):
        assert history.push(edits.set_metal(history.job, metal))
        seen.append(history.job)
    assert not history.push(edits.set_metal(history.job, "pewter"))
    for job in reversed(seen[:-1]):
        history.undo()
        assert history.job == job
    assert history.undo() is None
    for job in seen[1:]:
        history.redo()
        assert history.job == job
    history.undo()
    history.push(edits.set_mould(history.job, "oil-sand"))
    assert history.redo() is None


@pytest.mark.parametrize(
    "make",
    [
        lambda j: edits.set_metal(j, "unobtainium"),
        lambda j: edits.set_unit(j, "cubit"),
        lambda j: edits.set_draft(j, 40.0),
        lambda j: edits.set_dowels(j, "glue"),
        lambda j: edits.set_dowel_size(j, 900.0),
        lambda j: edits.rename(j, "  "),
        lambda j: edits.set_bodies(j, ()),
        lambda j: edits.set_stated(j, "moon"),
        lambda j: edits.set_mould(j, "jam"),
        lambda j: edits.set_pattern_kind(j, "jam"),
        lambda j: edits.set_contraction(j, -3.0),
    ],
)
def test_edits_that_make_no_sense_are_refused(make: object) -> None:
    with pytest.raises(UserFault):
        make(Job())  # type: ignore[operator]


def test_remedies_become_edits() -> None:
    assert take_remedy(Job(), Remedy("r", "t", SetDraw((0.0, 1.0, 0.0)))).job.draw.direction == (0.0, 1.0, 0.0)
    assert take_remedy(Job(), Remedy("r", "t", SetHeight(3.5))).job.parting.height_mm == 3.5
    assert take_remedy(Job(), Remedy("r", "t", SetDraft(1.0))).job.method.draft_deg == 1.0
    with pytest.raises(ValueError, match="advice"):
        take_remedy(Job(), Remedy("r", "t"))


@pytest.mark.parametrize("text", ["", "up", "0,0,0", "1,2", "1,2,x"])
def test_words_that_are_no_draw(text: str) -> None:
    with pytest.raises(UserFault):
        edits.parse_draw(text)


def test_words_of_draw_and_parting() -> None:
    assert edits.parse_draw("auto") is None
    assert edits.parse_draw("-Y") == (0.0, -1.0, 0.0)
    assert edits.parse_draw("1, 2,3") == (1.0, 2.0, 3.0)
    assert edits.parse_parting("flat:-2.5") == ("flat", -2.5)
    assert edits.parse_parting("flat") == ("flat", None)
    assert edits.parse_parting("Natural") == ("natural", None)
    with pytest.raises(UserFault):
        edits.parse_parting("flat:nan")


def test_keys_change_only_downstream() -> None:
    """A change of metal leaves the draw judged; a change of dowels leaves the parting."""
    base = keys(Job())
    after = {
        "cores",
        "setting",
        "pattern",
        "rammed",
        "rammed-draw",
        "rammed-parting",
        "proof",
        "mould",
        "freeze",
        "pour",
        "logbook",
    }
    after |= {"causes"}
    metal = keys(edits.set_metal(Job(), "grey-iron").job)
    assert {stop for stop in base if base[stop] != metal[stop]} == {"metal", "hollows", "stock", *after}
    pins = keys(edits.set_dowels(Job(), "pins").job)
    assert {stop for stop in base if base[stop] != pins[stop]} == {"pattern", "logbook", "causes"}
    draw = keys(edits.set_draw(Job(), (0.0, 1.0, 0.0)).job)
    assert {stop for stop in base if base[stop] != draw[stop]} == {"draw", "parting", "hollows", "stock", *after}
    assert np.unique(list(base.values())).size == len(base)


def test_what_was_asked_at_draw_in_format_6_becomes_lines_and_cores() -> None:
    """The fill stands before the fillets as it was worked then; the taper is dropped where a line leans all walls
    already.
    """
    fillets = {"kind": "fillets"}
    asked = [{"kind": kind, "at_mm": [1.0, 2.0, 3.0]} for kind in ("taper", "fill", "core")]
    old = {
        "format": 6,
        "program": "0.6.0",
        "model": None,
        "job": {"parting": {"kind": "flat", "wishes": asked}, "stock": {"lines": [fillets]}},
    }
    job = msgspec.convert(migrated(old)["job"], Job)
    assert [type(line).__name__ for line in job.stock.lines] == ["Fill", "Draft", "Fillets"]
    assert isinstance(job.stock.lines[1], Draft) and job.stock.lines[1].only == ((1.0, 2.0, 3.0),)
    assert [(one.at_mm, one.make) for one in job.cores.hollows] == [((1.0, 2.0, 3.0), "core")]
    assert job.parting.kind == "flat"
    old["job"]["stock"]["lines"] = [{"kind": "draft"}, fillets]
    kept = msgspec.convert(migrated(old)["job"], Job)
    assert [type(line).__name__ for line in kept.stock.lines] == ["Fill", "Draft", "Fillets"]
    assert isinstance(kept.stock.lines[1], Draft) and kept.stock.lines[1].only == ()
