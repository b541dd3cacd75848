"""Files of every format that are read, broken in every way that a disk, a mail or a foe may break them."""

import io
import random
import re
import zipfile
from collections.abc import Callable
from functools import cache
from pathlib import Path

import manifold3d
import numpy as np
import trimesh

from pounce.base.errors import MOST_SAID, UserFault, shown
from pounce.job import file
from pounce.job.job import Job
from pounce.part.model import Body, Model
from pounce.part.reading import read_model
from pounce.route.opening import open_any, with_model
from pounce.solid.mesh import Mesh
from tests.conftest import mesh_of

WORDS = (b"nan", b"inf", b"-1", b"1e309", b"99999999999999999999", b"4294967295", b"-0", b"", b"\xff\xfe", b"1e-320")


@cache
def bases(folder: Path) -> dict[str, bytes]:
    """A sound file of every kind by its suffix, with a part that has a bore and one of two bodies."""
    m = manifold3d.Manifold
    bored = mesh_of(m.cube([20, 14, 6]) - m.cylinder(20, 3, 3, 12).translate([8, 7, -5]))
    two = [bored, Mesh.of(bored.vertices + np.array([40.0, 0.0, 0.0]), bored.faces)]
    out: dict[str, bytes] = {}
    solid = trimesh.Trimesh(bored.vertices, bored.faces, process=False)
    for name, kind, more in (
        ("a.stl", "stl", {}),
        ("b.stl", "stl_ascii", {}),
        ("a.obj", "obj", {}),
        ("a.off", "off", {}),
        ("a.ply", "ply", {"encoding": "ascii"}),
        ("b.ply", "ply", {}),
    ):
        data = solid.export(file_type=kind, **more)
        out[name] = data if isinstance(data, bytes) else data.encode()
    bodies = tuple(Body(f"Body {k}", one, True, np.zeros((0, 2, 3))) for k, one in enumerate(two))
    model = Model("Two", "two.3mf", "3mf", "mm", bodies, ())
    path = folder / "base.pounce"
    file.save(path, with_model(Job(), model), model)
    out["a.pounce"] = path.read_bytes()
    with zipfile.ZipFile(path) as archive:
        out["a.3mf"] = archive.read("part.3mf")
    return out


def flipped(data: bytearray, dice: random.Random) -> None:
    for _ in range(dice.choice((1, 1, 3, 20))):
        data[dice.randrange(len(data))] = dice.randrange(256)


def cut(data: bytearray, dice: random.Random) -> None:
    del data[dice.randrange(len(data)) :]


def lost(data: bytearray, dice: random.Random) -> None:
    at = dice.randrange(len(data))
    del data[at : at + dice.choice((1, 4, 50, 400))]


def doubled(data: bytearray, dice: random.Random) -> None:
    at = dice.randrange(len(data))
    data[at:at] = data[at : at + dice.choice((4, 50, 400, 4000))]


def stuffed(data: bytearray, dice: random.Random) -> None:
    at = dice.randrange(len(data))
    data[at:at] = bytes(dice.randrange(256) for _ in range(dice.choice((1, 8, 200))))


def reworded(data: bytearray, dice: random.Random) -> None:
    found = list(re.finditer(rb"[-+\d.eE]+|[a-zA-Z_]+", bytes(data)))
    for one in sorted(dice.sample(found, min(len(found), dice.choice((1, 2, 8)))), key=lambda one: -one.start()):
        data[one.start() : one.end()] = dice.choice(WORDS) if dice.random() < 0.7 else dice.choice(found).group()


def shuffled(data: bytearray, dice: random.Random) -> None:
    lines = bytes(data).split(b"\n")
    for _ in range(dice.choice((1, 5))):
        i, j = dice.randrange(len(lines)), dice.randrange(len(lines))
        lines[i], lines[j] = lines[j], lines[i]
    data[:] = b"\n".join(lines)


WAYS: tuple[Callable[[bytearray, random.Random], None], ...] = (
    flipped,
    cut,
    lost,
    doubled,
    stuffed,
    reworded,
    reworded,
    shuffled,
)


def mutated(data: bytes, dice: random.Random) -> bytes:
    """The file broken in one to three ways; archives as often inside as outside."""
    if data[:2] == b"PK" and dice.random() < 0.7:
        return _inside(data, dice)
    out = bytearray(data)
    for _ in range(dice.choice((1, 1, 2, 3))):
        if out:
            dice.choice(WAYS)(out, dice)
    return bytes(out)


def _inside(data: bytes, dice: random.Random) -> bytes:
    packed = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as new:
        names = old.namelist()
        chosen = dice.choice(names)
        for name in names:
            content = old.read(name)
            if name == chosen:
                content = mutated(content, dice)
            new.writestr(name, content, dice.choice((zipfile.ZIP_DEFLATED, zipfile.ZIP_STORED, zipfile.ZIP_LZMA)))
    return packed.getvalue()


def case_in(folder: Path, seed: int) -> str:
    """Reads one mutated file: "" where it is read or refused in a sentence."""
    dice = random.Random(seed)
    sound = bases(folder)
    name = dice.choice(sorted(sound))
    path = folder / f"{seed}-{name}"
    path.write_bytes(mutated(sound[name], dice))
    try:
        return case_of(path)
    finally:
        path.unlink()


def case_of(path: Path) -> str:
    """Reads a file: "" where it is read, and what is closed holds something, or is refused in a sentence."""
    try:
        model = open_any(path)[1] if path.suffix == ".pounce" else read_model(path)
    except UserFault as fault:
        return "" if shown(fault.what) and len(fault.what) <= MOST_SAID else f"says {fault.what!r}"
    return next((f"{one.name} is closed and holds nothing" for one in model.bodies if _hollow(one)), "")


def _hollow(body: Body) -> bool:
    return body.closed and not body.mesh.volume > 0.0
