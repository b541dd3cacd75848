"""Saving and building killed at any moment: the old file or the new one, whole, and nothing lying about."""

import os
import random
import signal
import time
from collections.abc import Callable
from pathlib import Path

import manifold3d

from pounce.job import edits, file
from pounce.job.job import Job
from pounce.part.model import Model
from pounce.route.build import build
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from tests.conftest import model_of

METALS = ("pewter", "grey-iron")


def killed(work: Callable[[], object], after_s: float) -> None:
    """Forks, lets it work so long and kills it without a word."""
    child = os.fork()
    if not child:
        try:
            work()
        finally:
            os._exit(0)
    time.sleep(after_s)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)


def part() -> Model:
    """A block with a bore."""
    return model_of(
        manifold3d.Manifold.cube([40, 30, 20]) - manifold3d.Manifold.cylinder(50, 6, 6, 64).translate([20, 15, -5])
    )


def saves(folder: Path, model: Model, seed: int) -> str:
    """One kill of a save over an older one: "" where the file is whole and the next save leaves nothing beside it."""
    dice, path = random.Random(seed), folder / "a.pounce"
    old, new = (edits.set_metal(with_model(Job(), model), metal).job for metal in METALS)
    began = time.perf_counter()
    file.save(path, old, model)
    killed(lambda: file.save(path, new, model), dice.uniform(0.0, 1.3 * (time.perf_counter() - began)))
    found = file.load(path)
    if found.job.method.metal not in METALS or found.model is None:
        return "neither the old job nor the new"
    file.save(path, new, model)
    left = [one.name for one in folder.iterdir() if one != path]
    return f"leaves {left}" if left else ""


def builds(folder: Path, results: Results, model: Model, took_s: float, seed: int) -> str:
    """One kill of a build over an older one: "" where every file is whole and the next build leaves nothing beside."""
    out = folder / "out"
    killed(lambda: build(results, model, out), random.Random(seed).uniform(0.0, 1.1 * took_s))
    for path in out.iterdir() if out.exists() else ():
        if path.name.startswith("."):
            continue
        data = path.read_bytes()
        whole = {".3mf": data.startswith(b"PK"), ".pdf": data.rstrip().endswith(b"%%EOF"), ".json": data.endswith(b"}")}
        if not whole.get(path.suffix, bool(data)):
            return f"half of {path.name}"
    build(results, model, out)
    left = [one.name for one in [*folder.iterdir(), *out.iterdir()] if one.name.startswith(".")]
    return f"leaves {left}" if left else ""


def campaign(folder: Path, saved: int, built: int, say: Callable[[str], None]) -> int:
    """So many kills of each; how many broke something."""
    model, broken = part(), 0
    job = with_model(Job(), model)
    results = Pipeline(light=True).run(job, model)
    home, place = folder / "save", folder / "build"
    home.mkdir()
    place.mkdir()
    began = time.perf_counter()
    build(results, model, place / "out")
    took = time.perf_counter() - began
    for kind, count, case in (
        ("save", saved, lambda seed: saves(home, model, seed)),
        ("build", built, lambda seed: builds(place, results, model, took, seed)),
    ):
        for seed in range(count):
            words = case(seed)
            broken += bool(words)
            if words:
                say(f"  {kind} {seed}: {words}")
        say(f"kill: {count} times a {kind}, {broken} broken so far")
    return broken
