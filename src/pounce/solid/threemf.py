"""3MF by lib3mf, in mm, with named objects."""

import locale
import uuid
from functools import cache
from pathlib import Path
from typing import Any

import lib3mf
import numpy as np
from numpy.typing import NDArray

from pounce.solid.mesh import Mesh

# Positions are written as text. Six decimals keep round figures round: the library multiplies in single precision, and
# at nine decimals 30 becomes 30.000001. Nine are for meshes with corners nearer to each other than six tell apart.
DECIMALS = 6
DECIMALS_NEAR = 9


@cache
def library() -> Any:
    """lib3mf, its functions looked up once a process: for a small file that took longer than the file itself."""
    return lib3mf.Wrapper()


def write_3mf(path: Path, things: list[tuple[str, Mesh]], least: int = DECIMALS) -> None:
    """The named meshes (mm) as one 3MF, with ``least`` decimals or as many as keep their corners apart. lib3mf's own
    error when the file cannot be written.

    3MF keeps single precision: 0.00001 mm at 100 mm.
    """
    model = library().CreateModel()
    model.SetUnit(lib3mf.ModelUnit.MilliMeter)
    # the library's own numbers for these now and then come twice in a file, which it then refuses to read
    model.SetBuildUUID(_number(0))
    for index, (name, mesh) in enumerate(things):
        item = model.AddMeshObject()
        item.SetName(name)
        item.SetUUID(_number(2 * index + 1))
        # SetGeometry wants ctypes arrays; filling them through numpy is a hundred times faster than one by one.
        points = (lib3mf.Position * len(mesh.vertices))()
        _bytes(points)[:] = np.ascontiguousarray(mesh.vertices, np.float32).view(np.uint8).reshape(-1)
        faces = (lib3mf.Triangle * len(mesh.faces))()
        _bytes(faces)[:] = np.ascontiguousarray(mesh.faces, np.uint32).view(np.uint8).reshape(-1)
        item.SetGeometry(points, faces)
        model.AddBuildItem(item, library().GetIdentityTransform()).SetUUID(_number(2 * index + 2))
    # The writer sets the whole process to the C locale and leaves it so; files and processes after it would be ASCII.
    before = locale.setlocale(locale.LC_ALL)
    try:
        writer = model.QueryWriter("3mf")
        writer.SetDecimalPrecision(max([least, *(_decimals(mesh) for _, mesh in things)]))
        writer.WriteToFile(str(path))
    finally:
        locale.setlocale(locale.LC_ALL, before)


def _number(index: int) -> str:
    """A number of its own for each thing in a file, the same whenever it is written."""
    return str(uuid.uuid5(uuid.NAMESPACE_URL, f"pounce:{index}"))


def _decimals(mesh: Mesh) -> int:
    """How many decimals keep every two corners apart that single precision keeps apart."""
    single = np.ascontiguousarray(mesh.vertices, np.float32)
    # The library cuts what rounding would keep: both are tried.
    steps = single.astype(np.float64) * 10**DECIMALS
    apart = len(np.unique(single, axis=0))
    told = min(len(np.unique(np.floor(steps + begin), axis=0)) for begin in (0.0, 0.5))
    return DECIMALS if told == apart else DECIMALS_NEAR


def _bytes(array: Any) -> NDArray[np.uint8]:
    return np.frombuffer(memoryview(array).cast("B"), np.uint8)
