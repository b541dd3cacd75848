"""What is checked of each core."""

import numpy as np
import pytest

from pounce.base.finding import Severity
from pounce.job import core_edits, edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.metals.tables import metal
from pounce.route.pipeline import Pipeline
from pounce.route.stops import CORES
from tests.conftest import model_of
from tests.unit.cores.helpers import SIDES, M, block, cored


def test_a_long_core_sags_and_is_cured_by_standing_it_on_end() -> None:
    pipe = M.cylinder(400, 12, 12, SIDES, True).rotate([0, 90, 0]) - M.cylinder(420, 8, 8, SIDES, True).rotate(
        [0, 90, 0]
    )
    found = cored(pipe, height=0.0).need(CORES)
    said = next(f for f in found.findings if f.code.startswith("core-sag"))
    assert not said.informational
    remedy = next(r for r in said.remedies if r.id == "on-end")
    job = take_remedy(
        core_edits.set_cores(edits.set_height(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, 0.0).job, every=True).job,
        remedy,
    ).job
    stood = Pipeline().run(job, model_of(pipe), until=CORES).need(CORES)
    assert next(f for f in stood.findings if f.code.startswith("core-sag")).informational
    assert any(f.code == "on-end" for f in stood.findings)
    assert len(stood.cores[0].boxes) > 1  # and it is cut in pieces for the printer
    pieces = sum(one.core.volume for one in stood.cores[0].boxes)
    # the sockets' play is all that is missing
    assert 0.985 * stood.cores[0].mesh.volume < pieces <= stood.cores[0].mesh.volume * (1.0 + 1e-9)


def test_a_slender_core_is_told_by_length_over_thickness() -> None:
    long = M.cube([300, 50, 50], True) - M.cylinder(320, 8, 8, SIDES, True).rotate([0, 90, 0])
    results = cored(long, height=0.0)
    core = results.need(CORES).cores[0]
    assert core.loads.free_ratio == pytest.approx(300.0 / 16.0, rel=0.15)
    assert [one for one in results.need(CORES).findings if one.severity is not Severity.NOTE]


def test_a_short_stout_core_has_nothing_against_it() -> None:
    results = cored(block(26.0), height=0.0)
    assert not [one for one in results.need(CORES).findings if one.severity is Severity.STOP]


@pytest.mark.parametrize("deep", [30.0, 60.0])
def test_lift_grows_with_the_metal_over_it_by_archimedes(deep: float) -> None:
    """A core wholly in the metal is lifted by the metal it stands in, less its own weight."""
    solid = M.cube([80, 50, deep], True) - M.cylinder(100, 10, 10, SIDES, True).rotate([0, 90, 0])
    core = cored(solid, height=0.0).need(CORES).cores[0]
    inside = 0.5 * SIDES * np.sin(2.0 * np.pi / SIDES) * 100.0 * 80.0
    displaced = inside * (100.0 / 98.8) ** 3 * 1e-9 * 9.81
    held = core.loads.lift_n + core.loads.weight_n  # its prints weigh it down too
    assert held / displaced == pytest.approx(metal("aluminium-silicon").density.value, rel=0.05)


@pytest.mark.parametrize(("wall", "cures"), [(3.0, ["chaplet"]), (6.0, ["print-longer", "chaplet"]), (16.0, [])])
def test_the_play_of_a_core_held_at_one_end_is_cured_by_a_longer_print_or_a_chaplet(
    wall: float, cures: list[str]
) -> None:
    """What hangs out shifts with the play of its print, carried on by its length (lever); a print of the length that
    is asked for leaves no more than the table allows.
    """
    block = M.cylinder(62.0, 15.0 + wall, 15.0 + wall, SIDES) - M.cylinder(100.0, 15.0, 15.0, SIDES, True)
    results = cored(block, draw=(0.0, 1.0, 0.0), height=0.0)
    cores = results.need(CORES)
    said = next(f for f in cores.findings if f.code.startswith("core-shift"))
    assert [one.id for one in said.remedies] == cures and said.informational is (not cures)
    if "print-longer" in cures:
        longer = Pipeline().run(take_remedy(results.job, said.remedies[0]).job, model_of(block), until=CORES)
        after = next(f for f in longer.need(CORES).findings if f.code.startswith("core-shift"))
        assert after.informational and longer.need(CORES).cores[0].loads.tip_mm <= 0.15 * wall
