"""The mould's choices: counts, guests, flasks and places by hand."""

from pathlib import Path

import pytest

from pounce.base.errors import UserFault
from pounce.job import rig_edits as edits
from pounce.job.job import Job
from pounce.job.pattern_edits import set_making
from pounce.rig.setting import CARRIERS
from pounce.rig.values import KeptFlask, PlacedChoice


def by_hand() -> Job:
    placed = (PlacedChoice((1.234, -5.678), 725.04), PlacedChoice((0.0, 0.0), -10.0))
    return edits.place(Job(), placed, (3.14159, 2.71828), KeptFlask(), "Moved").job


def test_places_are_kept_to_a_hundredth_and_turns_within_a_round() -> None:
    rig = by_hand().rig
    assert rig.placed[0] == PlacedChoice((1.23, -5.68), 5.0) and rig.placed[1].turn_deg == 350.0
    assert rig.sprue_mm == (3.14, 2.72)


@pytest.mark.parametrize(
    "let_go",
    [
        lambda job: edits.set_count(job, 2),
        lambda job: edits.add_guest(job, "a.pounce", "A"),
        lambda job: edits.set_flask(job, ""),
        edits.arrange_anew,
    ],
)
def test_what_changes_the_castings_lets_places_go(let_go) -> None:  # type: ignore[no-untyped-def] # noqa: ANN001
    rig = let_go(by_hand()).job.rig
    assert rig.placed == () and rig.sprue_mm is None


def test_guests_come_go_and_are_counted() -> None:
    job = edits.add_guest(edits.add_guest(Job(), "a.pounce", "A").job, "b.pounce", "B", 2).job
    job = edits.add_guest(job, "a.pounce", "A").job
    assert [(one.name, one.count) for one in job.rig.guests] == [("A", 2), ("B", 2)]
    assert edits.count_guest(job, 1, 3).job.rig.guests[1].count == 3
    assert [one.name for one in edits.drop_guest(job, 0).job.rig.guests] == ["B"]
    with pytest.raises(UserFault):
        edits.count_guest(job, 0, 0)


def test_another_job_by_its_word(tmp_path: Path) -> None:
    job = edits.also(Job(), f"{tmp_path / 'gate-hinge.pounce'}=2").job
    assert (job.rig.guests[0].name, job.rig.guests[0].count) == ("Gate hinge", 2)
    for word in ("hinge.stl", "hinge.pounce=many", "hinge.pounce=0"):
        with pytest.raises(UserFault):
            edits.also(Job(), word)


def test_a_flask_and_its_sizes_are_one_or_the_other() -> None:
    sized = edits.set_inside(Job(), (300.0, 200.0)).job
    assert sized.rig.inside_mm == (300.0, 200.0)
    assert edits.set_flask(sized, "small").job.rig.inside_mm is None
    assert edits.set_inside(sized, None).job.rig.inside_mm is None


def test_what_boards_ask_counts_until_the_mould_says() -> None:
    job = set_making(Job(), mount=next(iter(CARRIERS)), copies=3, flask_mm=(400.0, 300.0)).job
    assert edits.asked_rig(job).count == 3 and edits.asked_rig(job).inside_mm == (400.0, 300.0)
    said = edits.set_count(job, 2).job
    assert edits.asked_rig(said).count == 2 and said.pattern.copies == 1
    assert edits.asked_rig(Job()) is Job().rig or edits.asked_rig(Job()) == Job().rig
