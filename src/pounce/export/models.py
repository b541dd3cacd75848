"""Writing a model and proving it: what was written is read back from disk, checked closed and measured."""

from dataclasses import dataclass
from pathlib import Path

import lib3mf
import numpy as np

from pounce.base.errors import UserFault
from pounce.part import formats
from pounce.solid import boolean
from pounce.solid.mesh import Mesh, merged_vertices
from pounce.solid.sound import readied, soundness
from pounce.solid.threemf import DECIMALS, DECIMALS_NEAR, write_3mf

# The two formats keep single precision; a piece of 1 m may come back off by this share of its size.
SINGLE = 2e-6
# Decimals of a 3MF, in this order.
TRIED = (DECIMALS, 7, 8, DECIMALS_NEAR)


class NotProven(UserFault):
    """A file that does not hold what was meant."""


@dataclass(frozen=True)
class Written:
    """A model file as it was read back."""

    file: str
    format: str
    size_mm: tuple[float, float, float]
    volume_mm3: float
    closed: bool


def write_model(path: Path, name: str, mesh: Mesh, bodies: int | None = None) -> Written:
    """Writes 3MF or STL by the suffix and reads it back.

    What is written has been made ready: ``bodies`` counted (None: as many as there are), two faces at each edge, no
    face without area. UserFault when it is not closed, cannot be made sound, or measures wrong.
    """
    try:
        ready = readied(mesh, bodies)
        # a sliver that is just wide enough in single precision may be none in a file's decimals: more of them, then
        # without the slivers
        tried = TRIED if path.suffix == ".3mf" else TRIED[:1]
        for decimals in tried:
            try:
                return _written(path, name, ready, decimals)
            except NotProven:
                continue
        return _written(path, name, readied(mesh, bodies, anew=True), tried[0])
    except UserFault as fault:
        raise type(fault)(f"{name}: {fault.what}", fault.try_this) from None


def _written(path: Path, name: str, mesh: Mesh, decimals: int) -> Written:
    try:
        if path.suffix == ".3mf":
            write_3mf(path, [(name, mesh)], decimals)
        else:
            _write_stl(path, name, mesh)
    except (OSError, lib3mf.ELib3MFException) as error:
        raise UserFault(f"'{path.name}' could not be written ({error}).", "Choose another folder.") from error
    return proven(path, mesh)


def _write_stl(path: Path, name: str, mesh: Mesh) -> None:
    record = np.zeros(len(mesh.faces), dtype=[("n", "<f4", 3), ("v", "<f4", (3, 3)), ("a", "<u2")])
    record["n"], record["v"] = mesh.normals, mesh.corners
    head = f"pounce {name}"[:80].encode("ascii", "replace").ljust(80)
    path.write_bytes(head + np.array([len(record)], "<u4").tobytes() + record.tobytes())


def proven(path: Path, meant: Mesh) -> Written:
    """The file read back from disk and held against what was meant. :class:`NotProven` on any difference."""
    if path.suffix == ".3mf":
        raw = formats.read_3mf(path)
        vertices, faces = raw.bodies[0].vertices, raw.bodies[0].faces
    else:
        raw = formats.read_binary_stl(path)
        vertices, faces = merged_vertices(raw.bodies[0].vertices, raw.bodies[0].faces, 0.0)
    back = Mesh.of(vertices, faces)
    closed = boolean.closed_solid(back) is not None and soundness(back).sound
    size_off = float(np.abs(back.size - meant.size).max())
    volume_off = abs(back.volume - meant.volume)
    if not closed or size_off > SINGLE * meant.diagonal or volume_off > 6.0 * SINGLE * meant.diagonal * meant.area:
        raise NotProven(
            f"'{path.name}' was written but does not read back as a closed solid of the right size.",
            "Nothing was kept. Try another parting height, and report this part if it stays so.",
        )
    size = back.size
    return Written(path.name, path.suffix[1:], (float(size[0]), float(size[1]), float(size[2])), back.volume, closed)
