"""Every demo job gets its files: what a stranger presses first must not fail."""

from pathlib import Path

import pytest

from pounce.job import file
from pounce.route.build import build
from pounce.route.demo_jobs import DEMOS, lay_out
from pounce.route.pipeline import Pipeline


@pytest.fixture(scope="module")
def jobs(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """The demo jobs in a folder of their own."""
    return {path.stem: path for path in lay_out(tmp_path_factory.mktemp("demo"))}


@pytest.mark.parametrize("number", range(len(DEMOS)))
def test_a_demo_job_is_built(jobs: dict[str, Path], number: int, tmp_path: Path) -> None:
    """Each file is written, read back and closed; nothing stops half way."""
    kept = file.load(sorted(jobs.values())[number])
    results = Pipeline().run(kept.job, kept.model)
    assert not results.faults
    assert kept.model is not None
    done = build(results, kept.model, tmp_path / "out")
    solids = [one for one in done["files"] if one["format"] == "3mf" and one["role"] != "assembly"]
    assert len(solids) >= 3 and all(one["closed"] for one in solids)
    assert {"former", "sheet"} <= {one["role"] for one in done["files"]}
