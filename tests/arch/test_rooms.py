"""The walls between rooms hold, and would be seen to fall."""

import shutil
import subprocess
import sys
from pathlib import Path

from tests.waits import slowness

ROOT = Path(__file__).parents[2]


def _contracts(folder: Path) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-c", "from importlinter.cli import lint_imports_command as c; c()", "--no-cache"],
        cwd=folder,
        capture_output=True,
        text=True,
        env={"PATH": "/usr/bin", "PYTHONPATH": str(folder / "src")},
        timeout=120 * slowness(),
    )


def test_a_planted_violation_is_seen(tmp_path: Path) -> None:
    shutil.copytree(ROOT / "src", tmp_path / "src")
    shutil.copy(ROOT / "pyproject.toml", tmp_path)
    assert _contracts(tmp_path).returncode == 0
    planted = tmp_path / "src/pounce/draw/stop.py"
    planted.write_text("import PyQt6.QtCore\nfrom pounce.parting import VERSION\n" + planted.read_text())
    done = _contracts(tmp_path)
    assert done.returncode != 0
    assert "pounce.draw.stop -> PyQt6" in done.stdout
    assert "pounce.draw.stop -> pounce.parting" in done.stdout


def test_the_core_works_with_qt_and_vtk_blocked(bearing: Path, tmp_path: Path) -> None:
    code = f"""
import sys
class Wall:
    def find_spec(self, name, path=None, target=None):
        if name.split(".")[0] in ("PyQt6", "vtkmodules", "vtk"):
            raise ImportError("blocked: " + name)
sys.meta_path.insert(0, Wall())
from pathlib import Path
from pounce.route.opening import open_any
from pounce.route.pipeline import Pipeline
from pounce.route.build import build
job, model = open_any(Path({str(bearing)!r}))
print(len(build(Pipeline().run(job, model), model, Path({str(tmp_path / "out")!r}))["files"]))
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=120 * slowness())
    assert done.stdout.strip() == "10", done.stderr


def test_the_window_loads_no_solid_library() -> None:
    """The desktop is there at once because its own process leaves geometry and rendering to the others."""
    code = (
        "import sys, pounce.bench.app; print([m for m in ('numba', 'manifold3d', 'trimesh', 'vtkmodules', 'scipy') "
        "if m in sys.modules])"
    )
    done = subprocess.run(
        [sys.executable, "-c", code],
        capture_output=True,
        text=True,
        timeout=60 * slowness(),
        env={"QT_QPA_PLATFORM": "offscreen", "PATH": "/usr/bin"},
    )
    assert done.stdout.strip() == "[]", done.stderr


def test_modules_say_what_they_are_for() -> None:
    bare = [
        str(path.relative_to(ROOT))
        for path in (ROOT / "src").rglob("*.py")
        if path.read_text().strip() and not path.read_text().lstrip().startswith('"""')
    ]
    assert bare == []
