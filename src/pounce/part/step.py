"""STEP models, read by cascadio in a process of its own: CAD readers can hang or die, the bench must not."""

import importlib
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.log import note
from pounce.base.progress import Progress
from pounce.part.formats import RawBody, RawModel
from pounce.solid.mesh import merged_vertices

LIMIT_S = 120.0
# Chord error of curved faces and angle between facets: fine enough to measure right to the hundredth.
CHORD_MM = 0.01
ANGLE_RAD = 0.2
# Of what the reader says when it fails so much is kept, characters.
MOST_SAID = 4000


def _convert(source: str, target: str) -> None:
    importlib.import_module("cascadio").step_to_glb(
        source, target, tol_linear=CHORD_MM, tol_angular=ANGLE_RAD, include_brep=True
    )


def read_step(path: Path, progress: Progress, limit_s: float = LIMIT_S) -> RawModel:
    """The bodies of a STEP file in mm, each triangle with the id of its STEP face.

    UserFault when the reader fails or takes longer than ``limit_s``.
    """
    with tempfile.TemporaryDirectory(prefix="pounce-step-") as folder:
        target, said = Path(folder) / "model.glb", Path(folder) / "said.txt"
        heard = said.open("wb")
        worker = subprocess.Popen(
            [sys.executable, "-m", "pounce.part.step", str(path), str(target)],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=heard,
        )
        started = time.monotonic()
        try:
            while worker.poll() is None:
                time.sleep(0.05)
                elapsed = time.monotonic() - started
                progress(min(0.95, elapsed / limit_s), "Reading STEP")
                if elapsed > limit_s:
                    raise UserFault(
                        f"'{path.name}' took longer than {limit_s:.0f} s to read.", "Export it as STL or 3MF instead."
                    )
        finally:
            if worker.poll() is None:
                worker.kill()
            worker.wait()
            heard.close()
        if worker.returncode != 0 or not target.exists() or not target.stat().st_size:
            # the reader's own words are no sentence for the user, but they tell why
            note(f"STEP reader, {path.name}: {said.read_text(encoding='utf-8', errors='replace')[-MOST_SAID:]}")
            raise UserFault(f"'{path.name}' could not be read as STEP.", "Export it again, or as STL or 3MF.")
        scene = importlib.import_module("trimesh").load_scene(target, file_type="glb", merge_primitives=True)
    bodies: list[RawBody] = []
    used = 0
    for node in scene.graph.nodes_geometry:
        matrix, key = scene.graph[node]
        shape = scene.geometry[key]
        if not len(getattr(shape, "faces", ())):
            continue
        vertices = (np.asarray(shape.vertices, np.float64) @ matrix[:3, :3].T + matrix[:3, 3]) * 1000.0
        vertices, faces = merged_vertices(vertices, np.asarray(shape.faces, np.int64), 1e-5)
        ids = np.asarray(shape.face_attributes.get("brep_index", np.zeros(len(faces))), np.int64) + used
        used = int(ids.max()) + 1
        bodies.append(RawBody(str(key), vertices, faces, ids))
    return RawModel("step", "mm", tuple(bodies))


if __name__ == "__main__":
    _convert(sys.argv[1], sys.argv[2])
