"""The job file ``.pounce``: a zip of ``job.json``, ``part.3mf`` (the mended part, mm) and ``preview.png``.

Saving is atomic: a temporary file beside the target is written, flushed to disk and moved over it.
"""

import io
import lzma
import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import lib3mf
import msgspec

from pounce.base.dying import own_folder
from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.base.progress import silent
from pounce.base.units import MM_PER
from pounce.base.version import VERSION
from pounce.job.job import Job
from pounce.job.migrations import FORMAT, migrated
from pounce.part import formats
from pounce.part.apart import read_apart
from pounce.part.mending import as_body
from pounce.part.model import Model
from pounce.part.words import guess_unit
from pounce.solid.mesh import Mesh
from pounce.solid.threemf import write_3mf

MOST_JOB_JSON = 16 << 20


class ModelNote(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What ``job.json`` keeps of the model beside its meshes."""

    name: str
    file: str
    format: str
    unit: str | None
    applied: str
    mended: tuple[str, ...]
    bodies: tuple[str, ...]


class Content(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``job.json``."""

    format: int
    program: str
    job: Job
    model: ModelNote | None


@dataclass(frozen=True, eq=False)
class Kept:
    """A job with its model, as saved and reopened."""

    job: Job
    model: Model | None


def save(path: Path, job: Job, model: Model | None, preview_png: bytes | None = None) -> None:
    """Writes the job file. UserFault when it cannot be written; an older file then stays whole."""
    note = None
    packed = io.BytesIO()
    try:
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
            if model is not None:
                unit = job.part.unit or model.unit or guess_unit(model.largest / MM_PER[model.applied])
                factor = MM_PER[unit] / MM_PER[model.applied]
                names = tuple(body.name for body in model.bodies)
                note = ModelNote(model.name, model.file, model.format, model.unit, unit, model.mended, names)
                archive.writestr("part.3mf", _part_bytes([(b.name, b.mesh.scaled(factor)) for b in model.bodies]))
            content = Content(FORMAT, VERSION, job, note)
            archive.writestr("job.json", msgspec.json.format(msgspec.json.encode(content), indent=1))
            if preview_png:
                archive.writestr("preview.png", preview_png)
        write_whole(path, packed.getvalue())
    except (OSError, zipfile.LargeZipFile, lib3mf.ELib3MFException) as error:
        why = error.strerror if isinstance(error, OSError) and error.strerror else error
        raise UserFault(
            f"'{path.name}' could not be saved ({why}).", "Choose another folder, or make room on the disk."
        ) from error


def _part_bytes(things: list[tuple[str, Mesh]]) -> bytes:
    with own_folder("save") as folder:
        target = folder / "part.3mf"
        write_3mf(target, things)
        return target.read_bytes()


def load(path: Path) -> Kept:
    """The job in this file. UserFault in one sentence for anything that is not a job file this program can open."""
    broken = UserFault(
        f"'{path.name}' is not a whole job file.", "Open an earlier copy, or start from the model again."
    )
    try:
        with zipfile.ZipFile(path) as archive:
            info = archive.getinfo("job.json")
            if info.file_size > MOST_JOB_JSON:
                raise broken
            raw = msgspec.json.decode(archive.read("job.json"))
            content = _content(path, raw)
            if content.model is None:
                return Kept(content.job, None)
            part = archive.getinfo("part.3mf")
            # what is packed twice over gives no more than that
            if part.file_size > min(formats.MOST_UNPACKED, (1 << 20) + formats.MOST_RATIO * part.compress_size):
                raise broken
            packed = archive.read("part.3mf")
    except FileNotFoundError:
        raise UserFault(f"There is no file '{path.name}'.", "Check the name and the folder.") from None
    except OSError as error:
        raise UserFault(f"'{path.name}' cannot be opened ({error.strerror}).", "Check that you may read it.") from None
    except (*formats.BROKEN, lzma.LZMAError, MemoryError):
        raise broken from None
    model = _model(content.model, packed, broken)
    job = msgspec.structs.replace(
        content.job, part=msgspec.structs.replace(content.job.part, model=model.fingerprint())
    )
    return Kept(job, model)


def _content(path: Path, raw: Any) -> Content:
    if not isinstance(raw, dict) or not isinstance(raw.get("format"), int):
        raise UserFault(f"'{path.name}' is not a job file.", "Choose a file that Pounce saved.")
    if raw["format"] > FORMAT:
        raise UserFault(
            f"'{path.name}' was saved by a newer Pounce (format {raw['format']}).", "Open it with that version."
        )
    try:
        return msgspec.convert(migrated(raw), Content)
    except msgspec.ValidationError as error:
        raise UserFault(
            f"'{path.name}' holds a choice this version does not know ({error}).", "Save it again."
        ) from None


def _model(note: ModelNote, packed: bytes, broken: UserFault) -> Model:
    with own_folder("open") as folder:
        target = folder / "part.3mf"
        target.write_bytes(packed)
        try:
            raw = read_apart(formats.read_3mf, target, silent)
        except UserFault as fault:
            raise broken from fault
    if len(raw.bodies) != len(note.bodies) or note.applied not in MM_PER:
        raise broken
    bodies = tuple(as_body(body, name) for body, name in zip(raw.bodies, note.bodies, strict=True))
    return Model(note.name, note.file, note.format, note.unit, bodies, note.mended, note.applied)
