"""One reader a format: bytes of a file to raw bodies. No mending here."""

import importlib
import io
import re
import struct
import uuid
import zipfile
import zlib
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import lib3mf
import numpy as np

from pounce.base.errors import UserFault
from pounce.solid.mesh import Floats, Ints
from pounce.solid.threemf import library

# What the readers of several libraries raise on broken input; to the user it is all one thing.
BROKEN = (
    ValueError,
    LookupError,
    TypeError,
    AttributeError,
    ArithmeticError,
    AssertionError,
    RuntimeError,
    EOFError,
    OSError,
    struct.error,
    zipfile.BadZipFile,
    zlib.error,
    NotImplementedError,
    lib3mf.ELib3MFException,
)
MOST_TRIANGLES = 5_000_000
MOST_UNPACKED = 2 << 30
MOST_RATIO = 400
MOST_ENTRIES = 5000
# Components and build items of a 3MF, and how deep they are nested.
MOST_PLACED, MOST_DEPTH = 20_000, 32


@dataclass(frozen=True, eq=False)
class RawBody:
    """Vertices (n, 3), faces (m, 3) and the file's own face of each triangle (m,), where it tells them, of one body
    as it stands in the file.
    """

    name: str
    vertices: Floats
    faces: Ints
    imported: Ints | None


@dataclass(frozen=True, eq=False)
class RawModel:
    """The bodies of a file and the unit it states ("mm" ... "in", or None)."""

    format: str
    unit: str | None
    bodies: tuple[RawBody, ...]


def sniff(head: bytes, size: int) -> str | None:
    """The format by what stands in the file, whatever its name: stl, obj, ply, off, 3mf, step or None."""
    start = head.lstrip(b"\xef\xbb\xbf \t\r\n")
    lower = start[:512].lower()
    if len(head) >= 84 and size == 84 + 50 * int.from_bytes(head[80:84], "little"):
        return "stl"
    if start.startswith(b"PK\x03\x04"):
        return "3mf"
    if lower.startswith(b"iso-10303-21"):
        return "step"
    if lower.startswith(b"ply"):
        return "ply"
    if re.match(rb"(st)?c?n?4?off\b", lower):
        return "off"
    if lower.startswith(b"solid") and b"facet" in head[:4096].lower():
        return "ascii-stl"
    if b"\x00" not in head and re.search(rb"(?m)^\s*v\s+[-+.\d]", head):
        return "obj"
    return None


# Formats that numpy reads by itself: nothing in them can make it take more than the file holds.
PLAIN = ("stl",)
_LOADED = {"ascii-stl": "stl", "obj": "obj", "ply": "ply", "off": "off"}


def loaded(kind: str) -> None:
    """Loads the reader of this format, so that processes forked to read need not, each anew."""
    if kind in _LOADED:
        importlib.import_module(f"trimesh.exchange.{_LOADED[kind]}")


def _plain(kind: str, module: str, loader: str, **settings: Any) -> Callable[[Path], RawModel]:
    """A reader of trimesh's, loaded when first used: the package takes a second to import."""

    def read(path: Path) -> RawModel:
        load = getattr(importlib.import_module(f"trimesh.exchange.{module}"), loader)
        return RawModel(kind, None, tuple(_bodies(load(io.BytesIO(path.read_bytes()), **settings), path.stem)))

    return read


def read_binary_stl(path: Path) -> RawModel:
    """A binary STL: 80 bytes of head, a count, and 50 bytes a triangle."""
    data = path.read_bytes()
    record = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("spare", "<u2")])
    corners = np.frombuffer(data, record, count=(len(data) - 84) // 50, offset=84)["corners"]
    faces = np.arange(3 * len(corners), dtype=np.int64).reshape(-1, 3)
    with np.errstate(invalid="ignore"):  # corners that are no numbers are refused later, in a sentence
        vertices = corners.reshape(-1, 3).astype(np.float64)
    return RawModel("stl", None, (RawBody(path.stem, vertices, faces, None),))


def _bodies(content: Any, name: str) -> list[RawBody]:
    """What a reader of trimesh's returned, as one body: it splits by material, which is not what a body is."""
    found = _pieces(content)
    if not found:
        return []
    shifts = np.cumsum([0, *[len(vertices) for vertices, _ in found]])
    vertices = np.concatenate([vertices for vertices, _ in found])
    faces = np.concatenate([faces + shift for (_, faces), shift in zip(found, shifts, strict=False)])
    return [RawBody(name, vertices, faces, None)]


def _pieces(content: Any) -> list[tuple[Floats, Ints]]:
    if not isinstance(content, dict):
        return [(np.asarray(content.vertices, np.float64), np.asarray(content.faces, np.int64))]
    if content.get("geometry"):
        return [piece for inner in content["geometry"].values() for piece in _pieces(inner)]
    vertices, faces = content.get("vertices"), content.get("faces")
    if vertices is None or faces is None or not len(faces):
        return []
    triangles = importlib.import_module("trimesh.geometry").triangulate_quads(faces)
    if not len(triangles):
        return []
    return [(np.asarray(vertices, np.float64).reshape(-1, 3), np.asarray(triangles, np.int64))]


def read_3mf(path: Path) -> RawModel:
    """A 3MF container by lib3mf, after a look at the archive itself."""
    guard_archive(path)
    model = library().CreateModel()
    try:
        _reader(model).ReadFromFile(str(path))
    except lib3mf.ELib3MFException as error:
        if "UUID" not in str(error):
            raise
        # files in which two things have one number, as the library itself once wrote them, are sound otherwise
        model = library().CreateModel()
        _reader(model).ReadFromBuffer(renumbered(path))
    units = {
        lib3mf.ModelUnit.MicroMeter: (None, 0.001),
        lib3mf.ModelUnit.MilliMeter: ("mm", 1.0),
        lib3mf.ModelUnit.CentiMeter: ("cm", 1.0),
        lib3mf.ModelUnit.Inch: ("in", 1.0),
        lib3mf.ModelUnit.Foot: ("in", 12.0),
        lib3mf.ModelUnit.Meter: ("m", 1.0),
    }
    unit, factor = units[model.GetUnit()]
    bodies: list[RawBody] = []
    items, visits = model.GetBuildItems(), [0]
    while items.MoveNext():
        item = items.GetCurrent()
        _gather(item.GetObjectResource(), _matrix(item.GetObjectTransform()), factor, bodies, visits)
    return RawModel("3mf", unit or "mm", tuple(bodies))


def _reader(model: Any) -> Any:
    reader = model.QueryReader("3mf")
    reader.SetStrictModeActive(False)
    return reader


def renumbered(path: Path) -> bytes:
    """The archive with a number of its own for each thing that has one."""
    packed = io.BytesIO()
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as new:
        for entry in old.infolist():
            content = old.read(entry)
            if entry.filename.endswith(".model"):
                content = re.sub(rb'UUID="[^"]*"', lambda _: b'UUID="%s"' % str(uuid.uuid4()).encode(), content)
            new.writestr(entry.filename, content)
    return packed.getvalue()


def _matrix(transform: Any) -> Floats:
    fields = np.array([[transform.Fields[row][column] for column in range(3)] for row in range(4)], np.float64)
    return np.vstack([fields.T, [0.0, 0.0, 0.0, 1.0]])


def _gather(
    thing: Any, matrix: Floats, factor: float, bodies: list[RawBody], visits: list[int], depth: int = 0
) -> None:
    visits[0] += 1
    # two components of two components, thirty deep, are a thousand million
    if depth > MOST_DEPTH or visits[0] > MOST_PLACED:
        raise ValueError("too many components, or nested too deep")
    if thing.IsMeshObject():
        # lib3mf hands out lists of small structures; packed together numpy reads them at once
        points, corners = thing.GetVertices(), thing.GetTriangleIndices()
        packed = (lib3mf.Position * len(points))(*points)
        indices = (lib3mf.Triangle * len(corners))(*corners)
        vertices = np.frombuffer(packed, np.float32).reshape(-1, 3).astype(np.float64)
        faces = np.frombuffer(indices, np.uint32).reshape(-1, 3).astype(np.int64)
        placed = (vertices @ matrix[:3, :3].T + matrix[:3, 3]) * factor
        if np.linalg.det(matrix[:3, :3]) < 0.0:
            faces = faces[:, ::-1]
        if len(faces):
            bodies.append(RawBody(thing.GetName() or f"Body {len(bodies) + 1}", placed, faces, None))
        return
    for index in range(thing.GetComponentCount()):
        component = thing.GetComponent(index)
        inner = matrix @ _matrix(component.GetTransform())
        _gather(component.GetObjectResource(), inner, factor, bodies, visits, depth + 1)


def guard_archive(path: Path) -> None:
    """UserFault for an archive that would unpack to too much, or whose XML declares entities."""
    hostile = UserFault(
        f"'{path.name}' is packed in a way that could hurt.", "Export the model again from its program."
    )
    with zipfile.ZipFile(path) as archive:
        entries = archive.infolist()
        unpacked = sum(entry.file_size for entry in entries)
        if len(entries) > MOST_ENTRIES or unpacked > MOST_UNPACKED:
            raise hostile
        for entry in entries:
            if entry.file_size > (1 << 20) and entry.file_size > MOST_RATIO * max(entry.compress_size, 1):
                raise hostile
            if entry.filename.endswith((".model", ".rels", ".xml")):
                with archive.open(entry) as stream:
                    head = stream.read(1 << 16)
                if b"<!DOCTYPE" in head.upper() or b"<!ENTITY" in head.upper():
                    raise hostile


READERS: dict[str, Callable[[Path], RawModel]] = {
    "stl": read_binary_stl,
    "ascii-stl": _plain("stl", "stl", "load_stl_ascii"),
    "obj": _plain("obj", "obj", "load_obj", skip_materials=True, group_material=False),
    "ply": _plain("ply", "ply", "load_ply"),
    "off": _plain("off", "off", "load_off"),
    "3mf": read_3mf,
}
