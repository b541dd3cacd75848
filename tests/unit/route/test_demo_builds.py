"""Every demo job gets its files: what a stranger presses first must not fail."""

from pathlib import Path

import pytest

from pounce.job import file
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.logbook.keeping import NAMED
from pounce.logbook.said import LogResult, Verdict
from pounce.route.build import build
from pounce.route.demo_jobs import DEMOS, lay_out
from pounce.route.log import log_of
from pounce.route.pipeline import Pipeline
from pounce.route.store import result_store

# The invented defects of the season by their invented causes; the finial's has two that stand alike.
CAUSES = {"vent-shaft-pedestal-bearing": "feeder-first", "gutter-elbow": "damp-core", "bench-end-frame": "two-goes"}
TIED = {"ridge-finial": {"metal-gas", "damp-sand"}}
# What the season's aluminium was made to contract, where the table says 1.2.
TRUE_PERCENT = 0.96


def the_season_teaches(stem: str, job: Job, told: LogResult) -> None:
    """The bench's aluminium contracts less than the table says, and the pattern takes that figure on one press; known
    causes are ranked first, and two that stand alike are called a tie.
    """
    if stem in CAUSES:
        (seen,) = told.seen
        assert seen.diagnosis.verdict is Verdict.CLEAR and seen.diagnosis.suspects[0].cause == CAUSES[stem]
    if stem in TIED:
        (seen,) = told.seen
        assert seen.diagnosis.verdict is Verdict.TIE
        assert {one.cause for one in seen.diagnosis.suspects[:2]} == TIED[stem]
    c = told.contraction
    takes = [one for finding in told.findings for one in finding.remedies if one.id == "use-contraction"]
    if (job.method.metal, job.method.mould) == ("aluminium-silicon", "green-sand"):
        assert c.free.low < TRUE_PERCENT < c.free.high < c.typical and c.apart and c.told and not c.odd
        (take,) = takes
        assert take_remedy(job, take).job.method.contraction_percent == round(c.free.value, 2)
    if job.method.mould == "loose-sand":  # nothing of it was cast before: what green sand did is no measure of it
        assert c.measures == 0 and c.free.value == c.typical and not c.told and not takes


@pytest.fixture(scope="module")
def jobs(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """The demo jobs in a folder of their own."""
    return {path.stem: path for path in lay_out(tmp_path_factory.mktemp("demo"))}


@pytest.mark.parametrize("number", range(len(DEMOS)))
def test_a_demo_job_is_built(
    jobs: dict[str, Path], number: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Each file is written, read back and closed; nothing stops half way. Its season teaches what it was made to."""
    path = sorted(jobs.values())[number]
    monkeypatch.setenv(NAMED, str(path.parent / "logbook.sqlite"))
    kept = file.load(path)
    results = Pipeline(store=result_store()).run(kept.job, kept.model)
    assert not results.faults
    assert kept.model is not None
    done = build(results, kept.model, tmp_path / "out")
    solids = [one for one in done["files"] if one["format"] == "3mf" and one["role"] != "assembly"]
    assert len(solids) >= 3 and all(one["closed"] for one in solids)
    told = log_of(results)
    assert told is not None
    the_season_teaches(path.stem, kept.job, told)
    assert {"former", "sheet"} <= {one["role"] for one in done["files"]}
