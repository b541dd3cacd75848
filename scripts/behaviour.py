"""Writes what `check` and `build` say of thirty varied parts and all demo jobs, so that a rebuilding of the house can
be held against it.

``python scripts/behaviour.py out.json`` before and after; ``python scripts/behaviour.py before.json after.json``
says what differs.
"""

import json
import sys
import tempfile
from pathlib import Path
from typing import Any

import manifold3d as m3
import numpy as np

from pounce.job.job import Job
from pounce.part.model import Body, Model
from pounce.route.build import build
from pounce.route.check import check
from pounce.route.demo_jobs import DEMOS, part_file
from pounce.route.opening import chosen, open_any, with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import stop_keys
from pounce.route.stops import CORES, PATTERN, STOCK
from pounce.solid.mesh import Mesh

M = m3.Manifold
CHOICES: list[dict[str, Any]] = [
    {},
    {"add": ("draft:2",)},
    {"add": ("fill", "fillets:3")},
    {"core": ("all",)},
    {"draw": "+x"},
    {"parting": "natural"},
    {"pattern": "wood"},
    {"pattern": "foam-burned-out", "metal": "grey-iron", "mould": "loose-sand"},
    {"pattern": "metal-from-master", "add": ("draft",)},
    {"metal": "carbon-steel", "mould": "resin-sand", "core": ("all",), "add": ("draft:1",)},
]


def part_of(seed: int) -> M:
    """A random part: a block or a disc with bosses, bores, pockets and ribs."""
    noise = np.random.default_rng(1000 + seed)
    size = noise.uniform(30, 120, 3)
    solid = M.cube(size.tolist(), True) if seed % 2 else M.cylinder(float(size[2]), float(size[0]) / 2, -1.0, 64, True)
    for _ in range(int(noise.integers(1, 5))):
        at, kind = noise.uniform(-0.4, 0.4, 3) * size, int(noise.integers(0, 4))
        radius = float(noise.uniform(0.06, 0.2) * size.min())
        turn = [[0, 0, 0], [90, 0, 0], [0, 90, 0]][int(noise.integers(0, 3))]
        rod = M.cylinder(float(size.max()) * 1.6, radius, -1.0, 48, True).rotate(turn).translate(at.tolist())
        boss = M.cylinder(float(size[2]) * 1.3, 1.5 * radius, -1.0, 48, True).translate([at[0], at[1], 0.0])
        pocket = M.cube((size * noise.uniform(0.2, 0.5)).tolist(), True).translate(
            (at + np.array([0.0, 0.0, 0.5 * size[2]])).tolist()
        )
        solid = [solid - rod, solid + boss, solid - pocket, solid - rod][kind]
    return max(solid.decompose(), key=lambda one: float(one.volume()))


def said_of(job: Job, model: Model) -> dict[str, Any]:
    """Everything that is said of a job, and the files that are written."""
    results = Pipeline().run(job, model)
    out: dict[str, Any] = {"faults": {name: str(fault) for name, fault in results.faults.items()}}
    for name, make in (
        ("check", lambda: check(results, model)),
        ("stock", lambda: stop_keys(STOCK, results)),
        ("cores", lambda: stop_keys(CORES, results)),
        ("make", lambda: stop_keys(PATTERN, results)),
    ):
        try:
            out[name] = make()
        except Exception as fault:  # noqa: BLE001  what it says is what is compared
            out[name] = f"{type(fault).__name__}: {fault}"
    try:
        with tempfile.TemporaryDirectory() as folder:
            out["build"] = build(results, model, Path(folder) / "out")
    except Exception as fault:  # noqa: BLE001
        out["build"] = f"{type(fault).__name__}: {fault}"
    return out


def everything() -> dict[str, Any]:
    """All parts and jobs by name."""
    out = {}
    for seed in range(30):
        raw = part_of(seed).to_mesh64()
        mesh = Mesh.of(np.asarray(raw.vert_properties)[:, :3], np.asarray(raw.tri_verts, np.int64).reshape(-1, 3))
        model = Model("Part", "part.stl", "stl", "mm", (Body("Body 1", mesh, True, np.zeros((0, 2, 3))),), ())
        out[f"part {seed}"] = said_of(chosen(with_model(Job(name="Part"), model), CHOICES[seed % len(CHOICES)]), model)
        print(".", end="", flush=True)
    for demo in DEMOS:
        job, model = open_any(part_file(demo))
        out[demo.name] = said_of(job, model)
        print("*", end="", flush=True)
    print()
    return out


def plain(value: Any) -> Any:
    """Plain values, floats to nine digits."""
    if isinstance(value, dict):
        return {str(key): plain(inner) for key, inner in value.items()}
    if isinstance(value, (list, tuple)):
        return [plain(inner) for inner in value]
    if isinstance(value, np.ndarray):
        return plain(value.tolist())
    if isinstance(value, (float, np.floating)):
        return float(f"{float(value):.9g}")
    return value if value is None or isinstance(value, (bool, int, str)) else str(value)


def differences(one: Any, two: Any, where: str = "") -> list[str]:
    """Where two such values differ."""
    if isinstance(one, dict) and isinstance(two, dict):
        return [line for key in {**one, **two} for line in differences(one.get(key), two.get(key), f"{where}/{key}")]
    if isinstance(one, list) and isinstance(two, list) and len(one) == len(two):
        return [
            line for k, pair in enumerate(zip(one, two, strict=True)) for line in differences(*pair, f"{where}[{k}]")
        ]
    return [] if one == two else [f"{where}: {str(one)[:120]} | {str(two)[:120]}"]


if __name__ == "__main__":
    if len(sys.argv) == 3:
        told = differences(*(json.loads(Path(name).read_text(encoding="utf-8")) for name in sys.argv[1:]))
        print("\n".join(told[:60]) or "the same")
        sys.exit(bool(told))
    Path(sys.argv[1]).write_text(json.dumps(plain(everything()), indent=1), encoding="utf-8")
