"""What the tests share: analytic solids, the demo parts, and settings folders of their own."""

import gc
import os
import tempfile
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import Any

import manifold3d
import numpy as np
import pytest
from hypothesis import settings

from pounce.part.model import Body, Model
from pounce.route.demo_jobs import DEMOS, part_file
from pounce.solid.mesh import Mesh

if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
    # `make test` brings a display; a bare pytest must not abort for want of one
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

# Open files of a process of the suite before it collects what windows left.
MOST_OPEN = 150

# What is tested is the way, not the grid; where the grid itself is tried a test says its own.
os.environ.setdefault("POUNCE_CELLS", "40000")

# No test writes into anybody's own logbook; each process has one, empty, in a folder that goes with it.
_BOOKS = tempfile.TemporaryDirectory(prefix="pounce-books-")
os.environ["POUNCE_LOGBOOK"] = str(Path(_BOOKS.name) / "logbook.sqlite")

# Commands and windows of the suite take up what others of it worked, as those of one user do; a test marked ``fresh``
# has a store of its own, empty: it watches how work goes on.
_RESULTS = None
if "POUNCE_RESULTS" not in os.environ:  # made by the first process; those that share the tests are told
    _RESULTS = tempfile.TemporaryDirectory(prefix="pounce-results-")
    os.environ["POUNCE_RESULTS"] = _RESULTS.name

settings.register_profile("pounce", deadline=None, max_examples=40, derandomize=True)
settings.load_profile("pounce")


def law(few: int, many: int) -> Callable[[Callable[..., None]], Callable[..., None]]:
    """A test of random shapes by ``seed``: on ``few`` of them in the suite, on ``many`` by `make laws`."""
    seeds = range(many if os.environ.get("POUNCE_LAWS") else few)
    return lambda test: pytest.mark.law(pytest.mark.parametrize("seed", seeds)(test))


def some(names: str, shapes: Iterable[Any], few: int) -> Callable[[Callable[..., None]], Callable[..., None]]:
    """A test of shapes that differ in kind: of the first ``few`` in the suite, of all of them by `make laws`."""
    chosen = list(shapes) if os.environ.get("POUNCE_LAWS") else list(shapes)[:few]
    return lambda test: pytest.mark.law(pytest.mark.parametrize(names, chosen)(test))


def examples(few: int, many: int) -> settings:
    """So many drawn examples in the suite, and so many by `make laws`."""
    return settings(max_examples=many if os.environ.get("POUNCE_LAWS") else few)


def mesh_of(solid: manifold3d.Manifold) -> Mesh:
    """A manifold3d solid as a mesh of ours."""
    raw = solid.to_mesh64()
    return Mesh.of(np.asarray(raw.vert_properties)[:, :3], np.asarray(raw.tri_verts, np.int64).reshape(-1, 3))


def model_of(*solids: manifold3d.Manifold, unit: str | None = "mm", name: str = "Thing") -> Model:
    """A model of closed bodies."""
    bodies = tuple(Body(f"Body {k}", mesh_of(s), True, np.zeros((0, 2, 3))) for k, s in enumerate(solids, 1))
    return Model(name, "thing.stl", "stl", unit, bodies, ())


def box(x: float, y: float, z: float) -> manifold3d.Manifold:
    """A box with one corner at the origin."""
    return manifold3d.Manifold.cube([x, y, z])


def write_stl(path: Path, mesh: Mesh) -> Path:
    """A binary STL written by the test itself."""
    record = np.zeros(len(mesh.faces), dtype=[("n", "<f4", 3), ("v", "<f4", (3, 3)), ("a", "<u2")])
    record["v"] = mesh.corners
    path.write_bytes(b"test".ljust(80, b"\0") + np.array([len(record)], "<u4").tobytes() + record.tobytes())
    return path


@pytest.fixture
def bearing() -> Path:
    """The demo bearing's STL."""
    return part_file(DEMOS[0])


@pytest.fixture
def arm() -> Path:
    """The demo quadrant arm's 3MF."""
    return part_file(DEMOS[1])


@pytest.fixture(autouse=True)
def few_maps() -> Iterator[None]:
    """Windows of tests before this one hold their mapped results until they are collected, which comes ever later in a
    process that grows: some hundred open maps are enough.
    """
    yield
    if len(os.listdir("/proc/self/fd")) > MOST_OPEN:
        gc.collect()


@pytest.fixture(autouse=True)
def own_folders(request: pytest.FixtureRequest, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """No test reads or writes the user's own settings."""
    if any(request.node.get_closest_marker(name) for name in ("fresh", "alone", "speed")):
        monkeypatch.setenv("POUNCE_RESULTS", str(tmp_path / "results"))
    for name in ("XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME", "XDG_STATE_HOME"):
        monkeypatch.setenv(name, str(tmp_path / name.lower()))
