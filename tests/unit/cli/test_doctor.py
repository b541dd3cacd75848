"""`pounce doctor`: says what is missing with the line to run, also where a library cannot be loaded at all."""

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from pounce.base.version import VERSION
from pounce.cli import doctor
from pounce.cli.doctor import TOLD, Look, libraries, looks, versions
from tests.waits import slowness

ROOT = Path(__file__).parents[3]


def by_id() -> dict[str, Look]:
    return {one.id: one for one in looks()}


def test_all_is_well_here_but_for_what_the_machine_lacks(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("DISPLAY", ":7")
    found = by_id()
    assert set(found) >= {
        "python",
        "packages",
        "system",
        "display",
        "drawing",
        "fonts",
        "kernels",
        "settings",
        "shared",
    }
    assert [one.id for one in found.values() if not one.well] == []
    assert "Or run now" in found["kernels"].do, "nothing was compiled in this test's own cache"


def test_what_is_missing_comes_with_its_line(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.delenv("DISPLAY", raising=False)
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    monkeypatch.setattr(doctor, "libraries", lambda: [("libnosuchthing.so.9", "libnosuchthing9")])
    monkeypatch.setattr(doctor, "GL", "import sys; sys.exit('no screen')")
    monkeypatch.setattr(doctor, "TOLD", (*TOLD, "no-such-package"))
    blocked = tmp_path / "blocked"
    blocked.write_text("a file in the way", encoding="utf-8")
    monkeypatch.setenv("XDG_DATA_HOME", str(blocked))
    found = by_id()
    bad = {one.id: one for one in found.values() if not one.well}
    assert set(bad) == {"display", "system", "drawing", "packages", "data"}
    assert "apt-get install --no-install-recommends libnosuchthing9" in bad["system"].do
    assert "no screen" in bad["drawing"].says and "libegl1" in bad["drawing"].do
    assert "pip install no-such-package" in bad["packages"].do
    assert all(one.do for one in bad.values())
    assert versions()["no-such-package"] == ""


def test_the_list_of_libraries_is_the_one_that_setting_up_reads() -> None:
    assert ("libGL.so.1", "libgl1") in libraries() and len(libraries()) >= 10
    assert "src/pounce/base/libraries.txt" in (ROOT / "scripts/setup.sh").read_text(encoding="utf-8")


def test_it_speaks_where_the_rooms_cannot_be_loaded(tmp_path: Path) -> None:
    """A broken numba or Qt is what it is for."""
    for name in ("numba", "scipy", "vtkmodules", "PyQt6"):
        (tmp_path / f"{name}.py").write_text("raise ImportError('broken')", encoding="utf-8")
    env = {**os.environ, "PYTHONPATH": str(tmp_path)}
    done = subprocess.run(
        [sys.executable, "-m", "pounce", "doctor", "--json"],
        capture_output=True,
        text=True,
        env=env,
        timeout=90 * slowness(),
        check=False,
    )
    told = json.loads(done.stdout)
    assert (told["schema"], told["well"], done.returncode) == ("pounce.doctor/1", False, 1)
    assert told["versions"]["pounce"] == VERSION
    assert {one["id"]: one["well"] for one in told["looks"]}["drawing"] is False
    plain = subprocess.run(
        [sys.executable, "-m", "pounce", "doctor"],
        capture_output=True,
        text=True,
        env=env,
        timeout=90 * slowness(),
        check=False,
    )
    assert plain.stdout.startswith("Something is missing:\n  ! ") and f"pounce {VERSION}" in plain.stdout


def test_it_says_what_is_kept_of_jobs(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.setattr(doctor.platformdirs, "user_cache_dir", lambda _name: str(tmp_path / "cache"))
    cache = next(one for one in doctor._folders() if one.id == "cache")
    assert "Results of jobs" not in cache.says
    kept = tmp_path / "cache" / "results" / "stamp-0"
    kept.mkdir(parents=True)
    (kept / "key.bin").write_bytes(bytes(3 << 20))
    cache = next(one for one in doctor._folders() if one.id == "cache")
    assert "Results of jobs take 3 MB" in cache.says and cache.well
