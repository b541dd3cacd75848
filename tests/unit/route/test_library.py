"""The library door: what the README shows works as it stands, and costs nothing to import."""

import subprocess
import sys
from pathlib import Path

import pytest
import trimesh

import pounce
from pounce.base.errors import UserFault
from tests.conftest import box, mesh_of, write_stl


@pytest.fixture
def block(tmp_path: Path) -> Path:
    return write_stl(tmp_path / "block.stl", mesh_of(box(80, 50, 30)))


def test_a_part_in_and_print_ready_files_out(block: Path, tmp_path: Path) -> None:
    """Block 80 x 50 x 30 in grey iron at 1 %, stated on the pattern: 100 / 99 of it, and draft 2 degrees over 30 mm
    widens its foot by 30 tan 2 a side.
    """
    part = pounce.read(block, unit="mm")
    job = pounce.Job.on(part, name="Block").cast("grey-iron").draw("+z").add("draft:2")
    result = pounce.run(job)
    assert result.part.volume_mm3 == pytest.approx(120_000.0)
    assert result.parting.locked_mm2 == pytest.approx(0.0, abs=1e-6)
    manifest = result.write(tmp_path / "out")
    sizes = [one["size_mm"] for one in manifest["files"] if one["role"] == "pattern"]  # type: ignore[index, union-attr, attr-defined]
    wide = (80.0 + 2.0 * 30.0 * 0.0349207695) * 100.0 / 99.0
    assert sizes[0][0] == pytest.approx(wide, abs=0.01)
    written = trimesh.load_mesh(tmp_path / "out" / "pattern.3mf", force="mesh")
    assert written.is_watertight and max(written.extents) == pytest.approx(wide, abs=0.01)
    assert result.check()["schema"] == "pounce.check/1" and result.findings
    # a job is a value: the first one still has no draft
    assert pounce.run(pounce.Job.on(part).cast("grey-iron").draw("+z")).stock.lines == ()


def test_what_makes_no_sense_is_said_in_a_sentence(block: Path, tmp_path: Path) -> None:
    part = pounce.read(block, unit="mm")
    with pytest.raises(UserFault, match="no metal"):
        pounce.Job.on(part).cast("unobtainium")
    with pytest.raises(UserFault):
        pounce.read(tmp_path / "nothing.stl")
    with pytest.raises(AttributeError, match="no attribute 'nothing'"):
        _ = pounce.nothing  # type: ignore[attr-defined]


def test_importing_alone_loads_nothing_and_takes_no_time() -> None:
    asked = (
        "import sys, time; t = time.perf_counter(); import pounce; "
        "print(time.perf_counter() - t, 'numpy' in sys.modules)"
    )
    took = []
    for _ in range(5):  # the best of five: what runs beside it is not what is measured
        said = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True).stdout.split()
        assert said[1] == "False"
        took.append(float(said[0]))
    assert min(took) < 0.05
