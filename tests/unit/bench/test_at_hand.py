"""What the window has at hand of a job."""

from pathlib import Path

import pytest

from pounce.base.errors import UserFault
from pounce.base.packing import pack
from pounce.bench import at_hand
from pounce.bench.at_hand import AtHand
from pounce.job.job import Job
from pounce.part.model import PartChoices
from pounce.route.keys import keys
from pounce.route.stops import steps


def job_of(digest: str) -> Job:
    return Job(part=PartChoices(model=digest))


def taken(hand: AtHand, folder: Path, job: Job, *ids: str) -> None:
    """The window is handed results of these steps, each its own file."""
    for stop in ids:
        key = keys(job)[stop]
        hand.take(key, str(pack(folder / f"{key}-{stop}", {"of": stop})), job)


def test_a_result_whose_needs_went_out_of_memory_is_not_shown_before_them(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    # a job that is come back to by undo: its oldest results went first, its last ones are still there
    hand, first, second = AtHand(), job_of("1" * 64), job_of("2" * 64)
    order = [step.id for step in steps() if step.id in ("part", "metal", "draw", "parting")]
    taken(hand, tmp_path, first, *order)
    assert set(hand.results(first).found) == set(order)
    monkeypatch.setattr(at_hand, "KEPT", 5)
    taken(hand, tmp_path, second, "part", "metal", "draw")
    found = hand.results(first).found
    # metal is never lost: it is a look into a table
    assert set(found) <= {"metal"}, "parting without the draw it hangs on"
    assert hand.results(second).draw is not None
    assert hand.lacks(first)
    taken(hand, tmp_path, first, "part", "draw")
    assert {"part", "draw", "metal"} <= set(hand.results(first).found)


def test_what_could_not_be_worked_is_said_until_another_job_comes() -> None:
    hand, job = AtHand(), job_of("1" * 64)
    key = keys(job)["draw"]
    hand.fault(key, "It is too thin.", "Take another part.")
    fault = hand.results(job).faults["draw"]
    assert isinstance(fault, UserFault) and "too thin" in str(fault)
    hand.forget_faults()
    assert not hand.results(job).faults


def test_a_rough_result_stands_in_until_its_own_comes_and_leaves_no_file(tmp_path: Path) -> None:
    hand, job = AtHand(), job_of("1" * 64)
    taken(hand, tmp_path, job, "part", "metal")
    key = keys(job)["draw"]
    rough = pack(tmp_path / "rough", {"of": "rough"})
    hand.take_early(key, str(rough))
    assert hand.results(job).found["draw"] == {"of": "rough"} and hand.paths(job)["draw"] == str(rough)
    taken(hand, tmp_path, job, "draw")
    assert hand.results(job).found["draw"] == {"of": "draw"} and not rough.exists()
