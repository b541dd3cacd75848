"""The logbook carried from one bench to another: all of it as one JSON file, or as tables in CSV within one archive;
taken in again it is the same.
"""

import base64
import csv
import io
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any, Final

import msgspec

from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.logbook.book import Book
from pounce.logbook.values import Casting, Defect, Event, Everything, Line, Measure, Photo, Pour, Recipe

SCHEMA: Final = "pounce.logbook/1"
MOST: Final = 1 << 30
BROKEN: Final = "is no logbook that Pounce wrote"
# Cells that hold more than one value.
AS_JSON: Final = ("minutes", "chosen", "parts", "at_mm")
TABLES: Final = ("pours", "castings", "defects", "measures", "photos", "events", "recipes")


class Carried(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The JSON file: all entries, and photos by digest and suffix in base 64."""

    schema: str
    entries: Everything
    pictures: dict[str, str] = {}


def write(book: Book, path: Path) -> int:
    """Writes all of it; how many pours. UserFault for a name that is neither JSON nor an archive of tables, or a folder
    that takes none.
    """
    entries = book.everything()
    pictures = {file.name: file.read_bytes() for file in _photos(book, entries) if file.exists()}
    if path.suffix.lower() == ".json":
        packed = {name: base64.b64encode(data).decode() for name, data in pictures.items()}
        data = msgspec.json.format(msgspec.json.encode(Carried(SCHEMA, entries, packed)), indent=1)
    elif path.suffix.lower() == ".zip":
        data = _archive(entries, pictures)
    elif path.suffix.lower() == ".csv":
        data = list_csv(book.lines()).encode()
    else:
        raise UserFault(
            f"'{path.name}' says no kind of file.", "End it in .json, .zip (tables in CSV) or .csv (a list)."
        )
    try:
        write_whole(path, data)
    except OSError as error:
        raise UserFault(f"'{path.name}' cannot be written ({error.strerror}).", "Choose another folder.") from error
    return len(entries.pours)


def read(path: Path) -> tuple[Everything, dict[str, bytes]]:
    """What such a file holds, photos by file name. UserFault for one that is none."""
    broken = UserFault(f"'{path.name}' {BROKEN}.", "Take a .json or .zip that `pounce log export` wrote.")
    try:
        if path.stat().st_size > MOST:
            raise broken
        data = path.read_bytes()
    except OSError as error:
        raise UserFault(f"'{path.name}' cannot be read ({error.strerror}).", "Check the name and the folder.") from None
    try:
        if zipfile.is_zipfile(io.BytesIO(data)):
            return _from_archive(data)
        made = msgspec.json.decode(data, type=Carried)
        if made.schema != SCHEMA:
            raise broken
        return made.entries, {name: base64.b64decode(text) for name, text in made.pictures.items()}
    except (msgspec.DecodeError, msgspec.ValidationError, zipfile.BadZipFile, KeyError, ValueError, csv.Error):
        raise broken from None


def take_in(book: Book, path: Path) -> int:
    """Takes such a file into a logbook, in one piece; how many pours. UserFault for one that is none."""
    entries, pictures = read(path)
    names = {photo.digest: photo for pour in entries.pours for photo in pour.photos}
    for name, data in pictures.items():
        photo = names.get(Path(name).stem)
        if photo is not None:
            book.keep_photo(photo.name, data)
    book.take_in(entries)
    return len(entries.pours)


def list_csv(lines: tuple[Line, ...]) -> str:
    """Pours as a table to be read elsewhere."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(
        ["poured", "job", "metal", "planned_c", "poured_c", "castings", "sound", "scrap", "first_mm", "outcome", "note"]
    )
    for one in lines:
        state = "" if one.state is None else one.state.value
        figures = [one.planned_c, one.poured_c, one.castings, one.sound, one.scrap, one.first_mm]
        said = ["" if value is None else value for value in figures]
        rows.writerow([one.at.isoformat(timespec="minutes"), one.job, one.metal, *said, state, one.note])
    return out.getvalue()


def _photos(book: Book, entries: Everything) -> list[Path]:
    return sorted({book.photo_file(photo) for pour in entries.pours for photo in pour.photos})


# --- tables ----------------------------------------------------------------------------------------------------------


def _archive(entries: Everything, pictures: dict[str, bytes]) -> bytes:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("schema.txt", SCHEMA)
        for name, rows in _tables(entries).items():
            archive.writestr(f"{name}.csv", _csv(rows))
        for name, data in pictures.items():
            archive.writestr(f"photos/{name}", data)
    return packed.getvalue()


def _tables(entries: Everything) -> dict[str, list[dict[str, Any]]]:
    out: dict[str, list[dict[str, Any]]] = {name: [] for name in TABLES}
    for pour in entries.pours:
        out["pours"].append(_cells(pour, "castings", "photos"))
        for k, photo in enumerate(pour.photos):
            out["photos"].append({"pour": pour.id, "order": str(k), **_cells(photo)})
        for casting in pour.castings:
            own = {"pour": pour.id, "casting": str(casting.number)}
            out["castings"].append({"pour": pour.id, **_cells(casting, "defects", "measures")})
            out["defects"] += [{**own, **_cells(one)} for one in casting.defects]
            out["measures"] += [{**own, **_cells(one)} for one in casting.measures]
    out["events"] = [_cells(one) for one in entries.events]
    out["recipes"] = [_cells(one) for one in entries.recipes]
    return out


def _cells(thing: msgspec.Struct, *without: str) -> dict[str, str]:
    """Its fields as cells: text as it is, nothing as nothing, all else as JSON."""
    plain = msgspec.to_builtins(thing)
    return {key: _cell(value) for key, value in plain.items() if key not in without}


def _cell(value: Any) -> str:
    if value is None:
        return ""
    return value if isinstance(value, str) else msgspec.json.encode(value).decode()


def _csv(rows: list[dict[str, Any]]) -> str:
    out = io.StringIO()
    if rows:
        table = csv.DictWriter(out, list(rows[0]), lineterminator="\r\n")
        table.writeheader()
        table.writerows(rows)
    return out.getvalue()


def _from_archive(data: bytes) -> tuple[Everything, dict[str, bytes]]:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        if archive.read("schema.txt").decode() != SCHEMA or sum(one.file_size for one in archive.infolist()) > MOST:
            raise ValueError(SCHEMA)
        tables = {name: _rows(archive.read(f"{name}.csv").decode()) for name in TABLES}
        pictures = {Path(name).name: archive.read(name) for name in archive.namelist() if name.startswith("photos/")}
    castings: dict[str, list[Casting]] = {}
    for row in tables["castings"]:
        under = {
            "defects": tuple(_struct(one, Defect) for one in tables["defects"] if _of(one, row)),
            "measures": tuple(_struct(one, Measure) for one in tables["measures"] if _of(one, row)),
        }
        castings.setdefault(row["pour"], []).append(_struct(row, Casting, **under))
    pours = []
    for row in tables["pours"]:
        photos = sorted(
            (one for one in tables["photos"] if one["pour"] == row["id"]), key=lambda one: int(one["order"])
        )
        pours.append(
            _struct(
                row,
                Pour,
                castings=tuple(castings.get(row["id"], ())),
                photos=tuple(_struct(one, Photo) for one in photos),
            )
        )
    events = tuple(_struct(one, Event) for one in tables["events"])
    recipes = tuple(_struct(one, Recipe) for one in tables["recipes"])
    return Everything(tuple(pours), events, recipes), pictures


def _of(under: dict[str, str], casting: dict[str, str]) -> bool:
    return under["pour"] == casting["pour"] and under["casting"] == casting["number"]


def _rows(text: str) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(text, newline="")))


def _struct(row: dict[str, str], kind: Callable[..., Any], **given: Any) -> Any:
    """A struct of cells: each read as its field's kind. An empty one is nothing where nothing is usual, else text."""
    fields: dict[str, Any] = dict(given)
    for one in msgspec.structs.fields(kind):  # type: ignore[arg-type]
        if one.name in given:
            continue
        cell = row[one.name]
        if cell == "" and one.default is None:
            fields[one.name] = None
        else:
            fields[one.name] = msgspec.json.decode(cell) if one.name in AS_JSON else cell
    return msgspec.convert(fields, kind, strict=False)
