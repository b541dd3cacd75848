"""`pounce doctor`: what this machine lacks, in plain sentences with the line to run, and versions for a report.

It loads none of the rooms, so that it can speak where a library is broken.
"""

import ctypes
import json
import os
import platform
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from importlib import metadata, resources
from pathlib import Path

import platformdirs

from pounce.base.fonts import font_file
from pounce.base.log import log_file
from pounce.base.ready import ready
from pounce.base.version import VERSION

SCHEMA = "pounce.doctor/1"
# Libraries whose versions a report wants.
TOLD = (
    "PyQt6",
    "vtk",
    "numpy",
    "scipy",
    "numba",
    "manifold3d",
    "lib3mf",
    "trimesh",
    "shapely",
    "reportlab",
    "ezdxf",
    "SQLAlchemy",
    "msgspec",
)
PYTHONS = ((3, 11), (3, 13))
# Room that is wanted, bytes: for jobs and logbook, for results that the processes share.
LEAST_FREE, LEAST_SHARED = 500 << 20, 200 << 20
GL_S = 60.0
# Draws one picture off screen, as the bench does, and says with what.
GL = (
    "import os; os.environ.setdefault('VTK_DEFAULT_OPENGL_WINDOW', 'vtkEGLRenderWindow')\n"
    "from vtkmodules.vtkRenderingCore import vtkRenderWindow\n"
    "import vtkmodules.vtkRenderingOpenGL2\n"
    "w = vtkRenderWindow(); w.SetOffScreenRendering(1); w.SetSize(32, 32); w.Render()\n"
    "said = w.ReportCapabilities() or ''\n"
    "found = [l.split(':', 1)[1].strip() for l in said.splitlines() if 'renderer string' in l.lower()]\n"
    "print(found[0] if found else w.GetClassName())\n"
)


@dataclass(frozen=True)
class Look:
    """One thing looked at: ``id`` is stable; ``well`` or not, what was found, and what to do ("" for nothing)."""

    id: str
    well: bool
    says: str
    do: str = ""


def looks() -> Iterator[Look]:
    """Everything that is looked at, in turn."""
    yield _python()
    yield from _packages()
    yield _system()
    yield _display()
    yield _drawing()
    yield _fonts()
    yield _kernels()
    yield from _folders()
    yield _shared()


def _python() -> Look:
    own = sys.version_info[:2]
    well = PYTHONS[0] <= own <= PYTHONS[1]
    lowest, highest = (".".join(map(str, one)) for one in PYTHONS)
    do = "" if well else f"Install a Python from {lowest} to {highest}, and Pounce with it."
    return Look("python", well, f"Python {platform.python_version()} on {platform.platform()}.", do)


def _packages() -> Iterator[Look]:
    missing = []
    for name in TOLD:
        try:
            metadata.version(name)
        except metadata.PackageNotFoundError:
            missing.append(name)
    says = f"{', '.join(missing)} cannot be found." if missing else "Every library that Pounce is built on is there."
    run = f"Run: {sys.executable} -m pip install {' '.join(missing)}" if missing else ""
    yield Look("packages", not missing, says, run)


def libraries() -> list[tuple[str, str]]:
    """System libraries that the desktop needs, each with the Debian package that brings it."""
    text = resources.files("pounce.base").joinpath("libraries.txt").read_text(encoding="utf-8")
    rows = [line.split() for line in text.splitlines() if line and not line.startswith("#")]
    return [(library, package) for library, package in rows]


def _system() -> Look:
    missing = []
    for library, package in libraries():
        try:
            ctypes.CDLL(library)
        except OSError:
            missing.append(package)
    if not missing:
        return Look("system", True, "Every system library that the desktop needs is there.")
    run = f"Run: sudo apt-get install --no-install-recommends {' '.join(missing)}"
    return Look("system", False, f"The desktop needs system libraries that are not there: {', '.join(missing)}.", run)


def _display() -> Look:
    named = os.environ.get("WAYLAND_DISPLAY") or os.environ.get("DISPLAY")
    if named:
        return Look("display", True, f"There is a display ({named}).")
    return Look("display", False, "There is no display here.", "Start the desktop from a desktop; commands need none.")


def _drawing() -> Look:
    try:
        done = subprocess.run([sys.executable, "-c", GL], capture_output=True, text=True, timeout=GL_S, check=False)
    except subprocess.TimeoutExpired:
        done = None
    if done is not None and done.returncode == 0:
        return Look("drawing", True, f"Parts are drawn by {done.stdout.strip().splitlines()[-1]}.")
    why = "it did not end" if done is None else (done.stderr.strip().splitlines() or ["no reason given"])[-1][:120]
    run = "Run: sudo apt-get install --no-install-recommends libegl1 libegl-mesa0 libgl1-mesa-dri"
    return Look("drawing", False, f"Parts cannot be drawn here ({why}).", run)


def _fonts() -> Look:
    try:
        font_file("Regular")
    except (FileNotFoundError, ModuleNotFoundError):
        run = f"Run: {sys.executable} -m pip install --force-reinstall font-source-sans-pro"
        return Look("fonts", False, "The typeface is gone.", run)
    return Look("fonts", True, "The typeface is there.")


def _kernels() -> Look:
    if ready():
        return Look("kernels", True, "The geometry kernels are compiled.")
    return Look(
        "kernels",
        True,
        "The geometry kernels are not compiled yet: the first job takes a minute longer.",
        f"Or run now: {sys.executable} -m pounce.route.warm",
    )


def _folders() -> Iterator[Look]:
    for name, kept, where in (
        ("settings", "Settings are", platformdirs.user_config_dir("pounce")),
        ("data", "Demo jobs and logbook are", platformdirs.user_data_dir("pounce")),
        ("state", "The log of faults is", str(log_file().parent)),
        ("cache", "What can be made anew is", platformdirs.user_cache_dir("pounce")),
    ):
        folder = Path(where)
        try:
            folder.mkdir(parents=True, exist_ok=True)
            with tempfile.TemporaryFile(dir=folder):
                pass
        except OSError as error:
            says = f"Nothing can be written into {folder} ({error.strerror})."
            yield Look(name, False, says, f"Run: sudo chown -R {_user()} {folder}, or make room on the disk.")
            continue
        free = shutil.disk_usage(folder).free
        says = f"{kept} kept in {folder}, with {free / (1 << 30):.1f} GB free."
        if name == "cache":
            says += _results(folder / "results")
        yield Look(name, free >= LEAST_FREE, says, "" if free >= LEAST_FREE else "Make room on that disk.")


def _results(folder: Path) -> str:
    """How much is kept of jobs that were worked."""
    held = sum(one.stat().st_size for one in folder.rglob("*.bin")) if folder.is_dir() else 0
    return f" Results of jobs take {held / (1 << 20):.0f} MB of it; they may be deleted at any time." if held else ""


def _user() -> str:
    return os.environ.get("USER") or str(os.getuid())


def _shared() -> Look:
    folder = Path("/dev/shm")
    if not (folder.is_dir() and os.access(folder, os.W_OK)):
        says = f"There is no shared memory: results go through {tempfile.gettempdir()}, which is slower."
        return Look("shared", True, says)
    free = shutil.disk_usage(folder).free
    well = free >= LEAST_SHARED
    says = f"Shared memory has {free / (1 << 20):.0f} MB free."
    return Look("shared", well, says, "" if well else "Close other programs, or give /dev/shm more room.")


def versions() -> dict[str, str]:
    """Pounce's version and those of the libraries that are there."""
    out = {"pounce": VERSION}
    for name in TOLD:
        try:
            out[name] = metadata.version(name)
        except metadata.PackageNotFoundError:
            out[name] = ""
    return out


def doctor(as_json: bool) -> int:
    """Says how things stand; 0 where all is well, 1 otherwise."""
    found = list(looks())
    well = all(one.well for one in found)
    if as_json:
        told = {"schema": SCHEMA, "well": well, "looks": [asdict(one) for one in found], "versions": versions()}
        print(json.dumps(told, indent=2))
        return 0 if well else 1
    print("All is well." if well else "Something is missing:")
    for one in sorted(found, key=lambda one: one.well):
        print(f"  {'+' if one.well else '!'} {one.says}{' ' + one.do if one.do else ''}")
    print("For a report: " + ", ".join(f"{name} {version or '-'}" for name, version in versions().items()))
    print(f"Faults of the program itself are kept in {log_file()}.")
    return 0 if well else 1
