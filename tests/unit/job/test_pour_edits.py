"""Choices of the pour by word and by what the bench has."""

from pathlib import Path

import pytest

from pounce.base.errors import UserFault
from pounce.job import pour_edits as edits
from pounce.job.job import Job
from pounce.pour.things import SAMPLE, Sand


def test_what_the_bench_has_is_taken_for_the_job() -> None:
    crucible = SAMPLE.crucibles[0]
    assert edits.take_thing(Job(), crucible).job.pour.crucible == crucible.id
    assert edits.take_thing(Job(), SAMPLE.furnaces[0]).job.pour.furnace == SAMPLE.furnaces[0].id
    printer, sand = SAMPLE.printers[0], Sand("mine", "Mine", 0.6, 1080.0)
    assert edits.take_thing(Job(), printer).job.pattern.bed_mm == (printer.x_mm, printer.y_mm, printer.z_mm)
    assert edits.take_thing(Job(), sand).job.freeze.sand_conducts == sand.conducts
    assert edits.thing_word("crucible", Job(), "auto").job.pour.crucible == ""


def test_weighed_pieces() -> None:
    assert edits.scrap_word(Job(), "0.8, 1.25 2").job.pour.scrap_kg == (0.8, 1.25, 2.0)
    assert edits.scrap_word(Job(), "none").job.pour.scrap_kg == ()
    for word in ("heavy", "0", "-1", "500", "nan", ",".join(["1"] * 61)):
        with pytest.raises(UserFault, match="no weighed pieces"):
            edits.scrap_word(Job(), word)


def test_two_readings_of_the_own_crucible() -> None:
    pour = edits.fall_word(Job(), "760:735:60").job.pour
    assert (pour.fall_from_c, pour.fall_to_c, pour.fall_s) == (760.0, 735.0, 60.0)
    assert edits.fall_word(Job(), "none").job.pour.fall_s is None
    for word in ("735:760:60", "760:735", "760:735:0", "hot:cold:60", "nan:1:1"):
        with pytest.raises(UserFault, match="no fall"):
            edits.fall_word(Job(), word)


@pytest.mark.parametrize(("word", "at"), [("15:30", "15:30"), ("7.05", "07:05"), ("soon", ""), ("23:59", "23:59")])
def test_times_of_day(word: str, at: str) -> None:
    assert edits.at_word(Job(), word).job.pour.at == at


@pytest.mark.parametrize("word", ["24:00", "7", "12:60", "noon", "-1:00"])
def test_what_is_no_time(word: str) -> None:
    with pytest.raises(UserFault, match="no time of day"):
        edits.at_word(Job(), word)


def test_another_job_from_the_same_melt(tmp_path: Path) -> None:
    path = tmp_path / "hinge.pounce"
    path.write_text("")
    job = edits.with_word(edits.with_word(Job(), str(path)).job, str(path)).job
    assert job.pour.jobs == (str(path),)
    assert edits.drop_job(job, 0).job.pour.jobs == () and edits.with_word(job, "none").job.pour.jobs == ()
    for word in (str(tmp_path / "none.pounce"), str(tmp_path / "hinge.stl")):
        with pytest.raises(UserFault, match="no job file"):
            edits.with_word(Job(), word)
