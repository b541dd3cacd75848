"""What `pip install` gives: everything that the program needs is in the wheel, and it runs from there."""

import json
import os
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

from pounce.route.demo_jobs import DEMOS
from tests.builds import whole_tree
from tests.waits import slowness

ROOT = Path(__file__).parents[2]
# Files beside the modules that are no part of the program.
LEFT = (".pyc",)


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    out = tmp_path_factory.mktemp("wheel")
    words = [sys.executable, "-m", "pip", "wheel", "-q", "--no-deps", "--no-build-isolation", "-w", str(out), str(ROOT)]
    with whole_tree():
        subprocess.run(words, check=True, timeout=300 * slowness(), capture_output=True)
    (made,) = out.glob("*.whl")
    return made


def test_the_wheel_holds_every_file_of_the_program(wheel: Path) -> None:
    with zipfile.ZipFile(wheel) as archive:
        held = {name for name in archive.namelist() if name.startswith("pounce/")}
    source = ROOT / "src"
    with whole_tree():
        wanted = {
            path.relative_to(source).as_posix()
            for path in (source / "pounce").rglob("*")
            if path.is_file() and path.suffix not in LEFT and "__pycache__" not in path.parts
        }
    assert wanted - held == set()
    assert "pounce/handbook/index.html" in held and "pounce/handbook/handbook.css" in held
    assert any(name.endswith(".3mf") for name in held) and "pounce/route/demo/season.json" in held


def test_it_runs_from_where_pip_puts_it(wheel: Path, tmp_path: Path) -> None:
    """Installed beside its libraries, away from the tree: the demo's jobs, a check, and the logbook's migrations."""
    place = tmp_path / "place"
    subprocess.run(
        [sys.executable, "-m", "pip", "install", "-q", "--no-deps", "--target", str(place), str(wheel)],
        check=True,
        timeout=300 * slowness(),
        capture_output=True,
    )
    env = {**os.environ, "PYTHONPATH": str(place), "POUNCE_LOGBOOK": str(tmp_path / "log.sqlite")}

    def run(*words: str) -> str:
        done = subprocess.run(
            [sys.executable, *words], cwd=tmp_path, env=env, capture_output=True, text=True, timeout=300 * slowness()
        )
        assert done.returncode == 0, done.stderr
        return done.stdout

    where = "import pounce, pathlib; print(pathlib.Path(pounce.__file__).parent)"
    assert Path(run("-c", where).strip()) == place / "pounce"
    # no geometry here: a fresh place would compile its kernels for a minute
    there = "from pounce.route.demo_jobs import DEMOS, part_file; print(*(part_file(one).exists() for one in DEMOS))"
    assert run("-c", there).split() == ["True"] * len(DEMOS)
    assert json.loads(run("-m", "pounce", "metals", "--json"))["schema"] == "pounce.metals/1"
    season = str(place / "pounce" / "route" / "demo" / "season.json")
    assert "10 pours" in run("-m", "pounce", "log", "import", season)
    assert len(json.loads(run("-m", "pounce", "log", "list", "--json"))["pours"]) == 10


@pytest.mark.law
@pytest.mark.skipif(not os.environ.get("POUNCE_LAWS"), reason="compiles its kernels for a minute: by `make laws`")
def test_demo_check_and_build_from_an_empty_environment(wheel: Path, tmp_path: Path) -> None:
    """A virtual environment that has the locked libraries and Pounce's wheel, and nothing of this tree."""
    place = tmp_path / "place"
    words = [sys.executable, "-m", "pip", "install", "-q", "--no-deps", "--target", str(place), str(wheel)]
    subprocess.run(words, check=True, timeout=300 * slowness(), capture_output=True)
    for path in place.rglob("*"):  # as an administrator installs it: read only
        path.chmod(0o555 if path.is_dir() else 0o444)
    home = tmp_path / "home"
    env = {"PATH": os.environ["PATH"], "HOME": str(home), "PYTHONPATH": str(place), "POUNCE_CELLS": "20000"}

    def run(*words: str) -> str:
        done = subprocess.run(
            [sys.executable, *words], cwd=tmp_path, env=env, capture_output=True, text=True, timeout=400 * slowness()
        )
        assert done.returncode == 0, done.stderr
        return done.stdout

    lay = "from pathlib import Path; from pounce.route.demo_jobs import lay_out; print(lay_out(Path('demo'))[0])"
    job = run("-c", lay).strip()
    assert json.loads(run("-m", "pounce", "check", job, "--json"))["schema"].startswith("pounce.check/")
    run("-m", "pounce", "build", job, "--out", "out")
    assert (tmp_path / "out" / "manifest.json").exists()
    for path in place.rglob("*"):
        path.chmod(0o755 if path.is_dir() else 0o644)
