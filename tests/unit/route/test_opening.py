"""What can be opened, and what the words of the command make of a job."""

from pathlib import Path

import msgspec
import pytest

from pounce.base.errors import UserFault
from pounce.job import edits, file
from pounce.job.job import Job
from pounce.metals.method import MethodChoices
from pounce.part.measures import Measures
from pounce.route.opening import chosen, measured_job, new_job, open_any, options, with_model
from pounce.route.stops import stops
from tests.conftest import box, mesh_of, model_of, write_stl


def test_a_model_is_a_new_job_of_its_name(tmp_path: Path) -> None:
    path = write_stl(tmp_path / "gate-hinge.stl", mesh_of(box(30, 20, 10)))
    job, model = open_any(path)
    assert job.name == model.name == "Gate hinge" and job.part.model == model.fingerprint()
    assert job.part.unit is None  # an STL does not say


def test_a_job_brings_its_part_along(tmp_path: Path) -> None:
    model = model_of(box(30, 20, 10))
    job = edits.set_metal(with_model(Job(name="Hinge"), model), "grey-iron").job
    file.save(tmp_path / "hinge.pounce", job, model, None)
    again, part = open_any(tmp_path / "hinge.pounce")
    assert again == job and part.fingerprint() == model.fingerprint()


def test_a_job_without_a_part_and_what_is_neither_are_said(tmp_path: Path) -> None:
    file.save(tmp_path / "empty.pounce", Job(name="Nothing"), None, None)
    with pytest.raises(UserFault):
        open_any(tmp_path / "empty.pounce")
    for name in ("notes.txt", "picture.png", "none"):
        (tmp_path / name).write_text("hello")
        with pytest.raises(UserFault):
            open_any(tmp_path / name)
    with pytest.raises(UserFault, match=r"nowhere\.stl"):
        open_any(tmp_path / "nowhere.stl")


def test_a_new_job_may_be_like_another() -> None:
    like = edits.set_metal(Job(), "silicon-bronze").job
    job, _ = new_job(model_of(box(30, 20, 10)), like)
    assert job.method == like.method and job.pattern == like.pattern and job.part.unit is None


def test_answers_about_another_model_do_not_stay() -> None:
    model = model_of(box(30, 20, 10))
    old = edits.set_unit(with_model(Job(), model_of(box(5, 5, 5))), "mm").job
    assert with_model(old, model).part.unit is None


def test_a_part_from_measures_is_a_job_in_millimetres() -> None:
    asked = Measures(shape="box", long_mm=100.0, wide_mm=50.0, high_mm=20.0)
    job, model = measured_job(asked, MethodChoices())
    assert job.part.unit == "mm" and model.bodies[0].mesh.size == pytest.approx([100.0, 50.0, 20.0])


def test_options_are_each_once_and_of_a_stop() -> None:
    found = options()
    ids = {stop.id for stop in stops()}
    assert {stop for stop, _ in found.values()} <= ids
    for name, (_, choice) in found.items():
        assert choice.option or choice.key == name


def test_words_become_choices() -> None:
    job = chosen(Job(), {"metal": "grey-iron", "contraction": 1.1, "draft": None, "add": ("draft:2", "fillets")})
    assert job.method.metal == "grey-iron" and job.method.contraction_percent == 1.1 and len(job.stock.lines) == 2
    assert chosen(Job(), {}) == Job()


@pytest.mark.parametrize(
    "words", [{"metal": "cheese"}, {"contraction": 99.0}, {"add": ("glitter",)}, {"draft": -4.0}, {"mould": ""}]
)
def test_what_makes_no_sense_is_a_sentence(words: dict[str, object]) -> None:
    with pytest.raises(UserFault) as told:
        chosen(Job(), words)  # type: ignore[arg-type]
    assert len(str(told.value)) <= 300 and told.value.try_this


def test_progress_reaches_the_reader(tmp_path: Path) -> None:
    path = write_stl(tmp_path / "a.stl", mesh_of(box(30, 20, 10)))
    told: list[float] = []
    open_any(path, lambda fraction, _text: told.append(fraction))
    assert told == sorted(told)


def test_jobs_are_values() -> None:
    job, _ = new_job(model_of(box(30, 20, 10)))
    with pytest.raises(AttributeError):
        job.name = "Other"  # type: ignore[misc]
    assert msgspec.structs.replace(job, name="Other").name == "Other"
