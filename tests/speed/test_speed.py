"""The lines of `make bench`: a table of times and ratios, with no limits that fail on a busy machine.

The targets stand beside each line; `make bench` prints the ratio to them.
"""

import os
import subprocess
import sys
import time
from pathlib import Path

import manifold3d
import numpy as np
import pytest
from pytest_benchmark.fixture import BenchmarkFixture

from pounce.base.tick import silent
from pounce.draw.judge import judge
from pounce.draw.stop import draw_stop
from pounce.draw.values import DrawChoices
from pounce.job.job import Job
from pounce.metals.method import MethodChoices, resolve
from pounce.part.model import PartChoices
from pounce.part.stop import part_stop
from pounce.parting.stop import parting_stop
from pounce.parting.values import PartingChoices
from pounce.route.line import Line
from pounce.route.opening import with_model
from pounce.solid.mesh import Mesh
from tests.conftest import mesh_of, model_of

pytestmark = pytest.mark.speed
Z = np.array([0.0, 0.0, 1.0])


def bored_ball(triangles: int) -> manifold3d.Manifold:
    """A ball with two crossing bores, of about so many triangles."""
    sides = round(np.sqrt(triangles / 0.51))
    ball = manifold3d.Manifold.sphere(50, sides)
    ball -= manifold3d.Manifold.cylinder(200, 10, 10, sides // 2, True).rotate([90, 0, 0])
    return ball - manifold3d.Manifold.cylinder(200, 8, 8, sides // 2, True)


@pytest.mark.parametrize(("triangles", "target"), [(200_000, 0.5), (1_000_000, 2.5)])
def test_draw_states_with_reachability(benchmark: BenchmarkFixture, triangles: int, target: float) -> None:
    mesh = mesh_of(bored_ball(triangles))

    def run() -> None:
        fresh = Mesh.of(mesh.vertices, mesh.faces)
        judge(fresh, Z)

    benchmark.pedantic(run, rounds=5, warmup_rounds=1)
    _say(benchmark, target, f"{len(mesh.faces):,} triangles")


def test_parting_scan_and_states_on_200k(benchmark: BenchmarkFixture) -> None:
    part = part_stop(PartChoices(), model_of(bored_ball(200_000)), silent)
    draw, method = draw_stop(DrawChoices((0.0, 0.0, 1.0)), part, silent), resolve(MethodChoices())
    benchmark.pedantic(lambda: parting_stop(PartingChoices(), part, method, draw, silent), rounds=3, warmup_rounds=1)


def test_the_whole_line_on_200k(benchmark: BenchmarkFixture) -> None:
    model = model_of(bored_ball(200_000))
    benchmark.pedantic(lambda: Line().run(with_model(Job(), model), model), rounds=3, warmup_rounds=1)


def test_build_of_the_demo_bearing(benchmark: BenchmarkFixture, bearing: Path, tmp_path: Path) -> None:
    command = [sys.executable, "-m", "pounce", "build", str(bearing), "--out", str(tmp_path / "out")]
    benchmark.pedantic(lambda: subprocess.run(command, check=True, capture_output=True), rounds=3, warmup_rounds=1)
    _say(benchmark, 5.0, "pounce build, process and all")


def test_start_of_the_desktop_with_the_demo_job(benchmark: BenchmarkFixture) -> None:
    """From the process's start to the demo job's first picture; the window itself is there much earlier."""
    window: list[float] = []

    def run() -> float:
        env = {**os.environ, "POUNCE_TIME_START": str(time.time())}
        done = subprocess.run(
            [sys.executable, "-m", "pounce.bench", "--demo"], env=env, capture_output=True, text=True, timeout=120
        )
        told = dict(line.split() for line in done.stdout.splitlines() if line.startswith(("window", "demo")))
        window.append(float(told["window"]))
        return float(told["demo"])

    benchmark.pedantic(run, rounds=3, warmup_rounds=1)
    print(f"\n   window usable after {min(window[1:]):.2f} s")
    _say(benchmark, 2.5, "desktop with the demo job drawn, and closed again")


def _say(benchmark: BenchmarkFixture, target: float, what: str) -> None:
    best = benchmark.stats.stats.min if benchmark.stats else float("nan")
    print(f"\n   {what}: best {best:.2f} s, {best / target:.2f} of the {target:g} s target")
