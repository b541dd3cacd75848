"""STEP models, read by cascadio in a process of its own: CAD readers can hang or die, the bench must not."""

import importlib
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import numpy as np

from pounce.base.dying import die_with_parent, own_folder
from pounce.base.errors import UserFault
from pounce.base.log import note
from pounce.base.progress import Progress, span
from pounce.part.formats import BROKEN, RawBody, RawModel
from pounce.solid.weld import near_vertices_merged

# Chord error of curved faces (mm) and angle between facets (rad): fine enough to measure right to the hundredth; and
# coarser, for a model that takes longer than that. How long each may take, s.
FINE, COARSE = (0.01, 0.2), (0.1, 0.4)
LIMIT_S = 45.0
# Of what the reader says when it fails so much is kept, characters.
MOST_SAID = 4000


def _convert(source: str, target: str, chord_mm: str, angle_rad: str) -> None:
    importlib.import_module("cascadio").step_to_glb(
        source, target, tol_linear=float(chord_mm), tol_angular=float(angle_rad), include_brep=True
    )


def read_step(path: Path, progress: Progress, limit_s: float = LIMIT_S) -> tuple[RawModel, tuple[str, ...]]:
    """The bodies of a STEP file in mm, each triangle with the id of its STEP face; and what is to be said of it.

    A model that takes longer than ``limit_s`` is read once more, coarser. UserFault when the reader fails or takes
    too long even so.
    """
    said: tuple[str, ...] = ()
    with own_folder("step") as folder:
        target = folder / "model.glb"
        if not _converted(path, target, FINE, limit_s, span(progress, 0.0, 0.5)):
            if not _converted(path, target, COARSE, limit_s, span(progress, 0.5, 1.0)):
                raise UserFault(
                    f"'{path.name}' took longer than {2.0 * limit_s:.0f} s to read, coarse as well as fine.",
                    "Export it as STL or 3MF instead.",
                )
            said = (f"curves read to {COARSE[0]:g} mm only: finer took longer than {limit_s:.0f} s",)
        return _from_scene(target, path), said


def _converted(path: Path, target: Path, fine: tuple[float, float], limit_s: float, progress: Progress) -> bool:
    """Whether the file was read in time. UserFault where the reader fails."""
    words = target.with_name("said.txt")
    with words.open("wb") as heard:
        worker = subprocess.Popen(
            [sys.executable, "-m", "pounce.part.step", str(path), str(target), *(str(one) for one in fine)],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=heard,
            preexec_fn=die_with_parent,
        )
        started = time.monotonic()
        try:
            while worker.poll() is None:
                time.sleep(0.05)
                elapsed = time.monotonic() - started
                progress(min(0.95, elapsed / limit_s), "Reading STEP")
                if elapsed > limit_s:
                    return False
        finally:
            if worker.poll() is None:
                worker.kill()
            worker.wait()
    if worker.returncode != 0 or not target.exists() or not target.stat().st_size:
        # the reader's own words are no sentence for the user, but they tell why
        note(f"STEP reader, {path.name}: {words.read_text(encoding='utf-8', errors='replace')[-MOST_SAID:]}")
        raise UserFault(f"'{path.name}' could not be read as STEP.", "Export it again, or as STL or 3MF.")
    return True


def _from_scene(target: Path, path: Path) -> RawModel:
    """The bodies that the reader wrote. UserFault where it wrote nothing that can be used."""
    try:
        scene = importlib.import_module("trimesh").load_scene(target, file_type="glb", merge_primitives=True)
        return _bodies(scene)
    except BROKEN as error:
        note(f"STEP reader, {path.name}: {type(error).__name__} in what it wrote: {error}")
        raise UserFault(f"'{path.name}' holds no solid that can be read.", "Export it again, or as STL.") from error


def _bodies(scene: Any) -> RawModel:
    bodies: list[RawBody] = []
    used = 0
    for node in scene.graph.nodes_geometry:
        matrix, key = scene.graph[node]
        shape = scene.geometry[key]
        if not len(getattr(shape, "faces", ())):
            continue
        vertices = (np.asarray(shape.vertices, np.float64) @ matrix[:3, :3].T + matrix[:3, 3]) * 1000.0
        vertices, faces = near_vertices_merged(vertices, np.asarray(shape.faces, np.int64), 1e-5)
        ids = np.asarray(shape.face_attributes.get("brep_index", np.zeros(len(faces))), np.int64) + used
        used = int(ids.max()) + 1
        bodies.append(RawBody(str(key), vertices, faces, ids))
    return RawModel("step", "mm", tuple(bodies))


if __name__ == "__main__":
    _convert(*sys.argv[1:5])
