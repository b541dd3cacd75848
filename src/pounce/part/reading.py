"""A file into a ``Model``, or one plain sentence why not."""

import stat
import struct
from pathlib import Path

import numpy as np

from pounce.base.errors import Cancelled, UserFault
from pounce.base.progress import Progress, silent, span
from pounce.part import formats
from pounce.part.apart import read_apart
from pounce.part.formats import RawModel
from pounce.part.mending import Notes, mend
from pounce.part.model import Body, Model
from pounce.part.step import read_step
from pounce.solid.mesh import Mesh

# Larger files are not looked at.
MOST_BYTES = 1_500_000_000
SUFFIXES = (".stl", ".obj", ".ply", ".off", ".3mf", ".step", ".stp")
_EXPECTED = {
    ".stl": ("stl", "ascii-stl"),
    ".obj": ("obj",),
    ".ply": ("ply",),
    ".off": ("off",),
    ".3mf": ("3mf",),
    ".step": ("step",),
    ".stp": ("step",),
}


def read_model(path: Path, progress: Progress = silent) -> Model:
    """The model in this file, mended. UserFault with one sentence when it cannot be used."""
    progress(0.0, "Reading the model")
    kind = _kind(path)
    notes = Notes()
    if kind == "step":
        raw, said = read_step(path, span(progress, 0.0, 0.5))
        notes.lines += said
    else:
        raw = _read(path, kind, span(progress, 0.0, 0.5))
    _check(path, raw)
    expected = _EXPECTED.get(path.suffix.lower(), ())
    if kind not in expected:
        notes.lines.append(f"read as {raw.format.upper()}, whatever its name says")
    bodies: list[Body] = []
    for index, body in enumerate(raw.bodies):
        progress(0.5 + 0.5 * index / len(raw.bodies), "Looking for cracks")
        bodies += mend(body, notes)
    if len(bodies) > 1 and len({body.name for body in bodies}) == 1:
        bodies = [Body(f"{b.name} {k}", b.mesh, b.closed, b.open_edges) for k, b in enumerate(bodies, 1)]
    progress(1.0, "Model read")
    name = path.stem.replace("_", " ").replace("-", " ").strip() or "Part"
    return Model(name[:1].upper() + name[1:], path.name, raw.format, raw.unit, tuple(bodies), notes.words())


def _kind(path: Path) -> str:
    name = path.name
    try:
        seen = path.stat()
        size = seen.st_size
        if stat.S_ISDIR(seen.st_mode):
            raise UserFault(f"'{name}' is a folder.", "Choose a model file: STL, OBJ, PLY, OFF, 3MF or STEP.")
        if not stat.S_ISREG(seen.st_mode):
            raise UserFault(f"'{name}' is no file but a pipe or a device.", "Choose a model file.")
        if size > MOST_BYTES:
            raise UserFault(
                f"'{name}' is {size / 1e9:.1f} GB large, over the {MOST_BYTES / 1e9:.1f} GB Pounce takes.",
                "Make a coarser export.",
            )
        with path.open("rb") as stream:
            head = stream.read(1 << 16)
    except FileNotFoundError:
        raise UserFault(f"There is no file '{name}'.", "Check the name and the folder.") from None
    except OSError as error:
        raise UserFault(f"'{name}' cannot be opened ({error.strerror}).", "Check that you may read it.") from None
    if not size:
        raise UserFault(f"'{name}' is empty.", "Export the model again.")
    kind = formats.sniff(head, size)
    suffix = path.suffix.lower()
    if (
        kind is None
        and suffix == ".stl"
        and len(head) >= 84
        and b"\0" in head
        and head.lstrip()[:5].lower() != b"solid"
    ):
        stated = struct.unpack("<I", head[80:84])[0]
        held = (size - 84) // 50
        if stated > held:
            raise UserFault(
                f"'{name}' is cut short: it promises {stated:,} triangles and holds {held:,}.",
                "Export or copy it again.",
            )
        return "stl"
    if kind is None:
        raise UserFault(f"'{name}' is not a model that Pounce reads.", "Export it as STL, OBJ, PLY, OFF, 3MF or STEP.")
    return kind


def _read(path: Path, kind: str, progress: Progress) -> RawModel:
    if kind not in formats.PLAIN:
        formats.loaded(kind)
        return read_apart(formats.READERS[kind], path, progress)
    try:
        return formats.READERS[kind](path)
    except (UserFault, Cancelled):
        raise
    except MemoryError:
        raise UserFault(f"'{path.name}' is too large for this machine.", "Make a coarser export.") from None
    except formats.BROKEN as error:
        raise UserFault(
            f"'{path.name}' is broken or cut short and cannot be read.", "Export the model again."
        ) from error


def _check(path: Path, raw: RawModel) -> None:
    count = sum(len(body.faces) for body in raw.bodies)
    if not count:
        raise UserFault(f"'{path.name}' holds no triangles.", "Export the solid, not a sketch or point cloud.")
    if count > formats.MOST_TRIANGLES:
        raise UserFault(
            f"'{path.name}' has {count:,} triangles, over the {formats.MOST_TRIANGLES:,} Pounce takes.",
            "Make a coarser export.",
        )
    for body in raw.bodies:
        if len(body.faces) and (body.faces.min() < 0 or body.faces.max() >= len(body.vertices)):
            raise UserFault(f"'{path.name}' speaks of corners that are not there.", "Export the model again.")
        if not np.isfinite(body.vertices).all():
            raise UserFault(f"'{path.name}' has corners that are not numbers.", "Export the model again.")
    extent = max(float(np.abs(body.vertices[body.faces]).max()) for body in raw.bodies if len(body.faces))
    if extent > 1e9:
        raise UserFault(f"'{path.name}' has corners too far out to be a part.", "Check the unit of the export.")
    flat = all(
        np.ptp(body.vertices[body.faces].reshape(-1, 3), axis=0).max() <= 0.0 for body in raw.bodies if len(body.faces)
    )
    if flat:
        raise UserFault(f"All corners of '{path.name}' lie in one point.", "Export the model again.")
    if not sum(Mesh.of(body.vertices, body.faces).area for body in raw.bodies) > 0.0:
        raise UserFault(f"The triangles of '{path.name}' have no area.", "Export the model again.")
