"""Other jobs in one pour, worked from their files."""

import os
from collections.abc import Callable
from pathlib import Path

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.base.progress import silent
from pounce.job import edits, file, pattern_edits
from pounce.job.job import Job
from pounce.rig.values import GuestChoice
from pounce.route.guests import guest_of, pattern_of, written
from pounce.route.opening import with_model
from tests.conftest import box, model_of

Change = Callable[[Job], Job]


def saved(path: Path, solid: m3.Manifold, change: Change | None = None) -> GuestChoice:
    """A job on the shelf, asked for twice."""
    model = model_of(solid)
    job = edits.set_metal(with_model(Job(name="Plate"), model), "aluminium-silicon").job
    file.save(path, job if change is None else change(job), model)
    return GuestChoice(str(path), "Plate", 2)


def test_a_job_is_worked_once_for_as_long_as_its_file_is_the_same(tmp_path: Path) -> None:
    guest = saved(tmp_path / "plate.pounce", box(60.0, 40.0, 24.0))
    first = guest_of(guest, silent)
    assert (first.name, first.count) == ("Plate", 2)
    again = guest_of(GuestChoice(guest.file, "The same", 5), silent)
    assert (again.name, again.count) == ("The same", 5) and again.stock is first.stock
    saved(tmp_path / "plate.pounce", box(60.0, 40.0, 30.0))
    os.utime(guest.file, ns=(1, 1))  # a clock that stands still hides no other file
    other = guest_of(guest, silent)
    assert other.stock.mesh.size[2] == pytest.approx(30.0) and written(guest.file) == 1


def test_a_job_that_is_gone_or_cannot_be_worked_is_told_by_its_name(tmp_path: Path) -> None:
    gone = GuestChoice(str(tmp_path / "gone.pounce"), "Old plate")
    assert written(gone.file) == 0
    with pytest.raises(UserFault, match="Old plate, which is to go into the same mould, is not where it was"):
        guest_of(gone, silent)
    (tmp_path / "torn.pounce").write_bytes(b"no job")
    with pytest.raises(UserFault, match=r"^Torn: "):
        guest_of(GuestChoice(str(tmp_path / "torn.pounce"), "Torn"), silent)


def test_its_pattern_is_what_it_would_build_without_its_own_boards(tmp_path: Path) -> None:
    """Two halves that together are the part at the size of its pattern, whatever it is mounted on by itself."""
    size = np.array([60.0, 40.0, 24.0])

    def mounted(job: Job) -> Job:
        job = edits.set_height(job, 12.0).job
        return pattern_edits.set_making(job, mount="boards", copies=3, dowels="none", draw_screw=False).job

    made = pattern_of(saved(tmp_path / "plate.pounce", box(*size.tolist()), mounted), silent)
    assert [piece.role for piece in made.pieces] == ["cope-half", "drag-half"] and not made.why
    whole = sum(piece.volume_mm3 for piece in made.pieces)
    assert whole == pytest.approx(float(np.prod(size * made.factors)), rel=0.01)


@pytest.mark.parametrize(
    ("change", "why"),
    [
        (lambda job: edits.set_joint(edits.set_draw(job, (0.0, 0.0, 1.0)).job, "natural").job, "follows the part"),
        (lambda job: edits.set_pattern_kind(job, "metal-from-master").job, "cast in metal from its master"),
    ],
)
def test_a_pattern_that_no_board_carries_says_why(tmp_path: Path, change: Change, why: str) -> None:
    tilted = m3.Manifold.sphere(25.0, 48).scale([1.0, 1.0, 0.4]).rotate([25.0, 0.0, 0.0])
    made = pattern_of(saved(tmp_path / "plate.pounce", tilted, change), silent)
    assert made.pieces == () and why in made.why
