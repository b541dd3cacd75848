"""The logbook on the disk: entries put in, taken out, looked for. Every change is one transaction: it is there whole,
or not at all, whatever happens to the program meanwhile.
"""

import hashlib
import sqlite3
from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import UTC, datetime
from pathlib import Path
from types import TracebackType
from typing import Any, Final

import msgspec
from sqlalchemy import Connection, Integer, Table, cast, create_engine, delete, event, func, insert, select, text
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.pool import NullPool

from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.logbook import keeping
from pounce.logbook.schema import CASTINGS, DEFECTS, EVENTS, MEASURES, NEWEST, PHOTOS, POURS, RECIPES
from pounce.logbook.values import Casting, Event, Everything, Line, Outcome, Photo, Pour, Recipe, new_id

PHOTO_FOLDER: Final = "photos"
MOST_PHOTO: Final = 40 << 20
# Files whose wholeness this process has looked at: once is enough.
_looked: set[Path] = set()


class Book:
    """An open logbook. ``said`` what happened while it was opened, in words; empty: nothing.

    UserFault where it cannot be opened, was written by a newer program, or cannot be kept.
    """

    def __init__(self, path: Path | None = None) -> None:
        self.path, self.said = path or keeping.book_file(), ""
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            self._engine = create_engine(f"sqlite:///{self.path}", poolclass=NullPool)
            event.listen(self._engine, "connect", _ready)
            event.listen(self._engine, "begin", _begin)
            version = keeping.version_of(self.path) if self.path in _looked and self.path.exists() else ""
            if version > NEWEST:
                raise _newer()
            if version != NEWEST:
                with keeping.alone(self.path):
                    self._look()
                _looked.add(self.path)
        except (OSError, sqlite3.Error, SQLAlchemyError) as error:
            raise _fault("opened", error) from error

    def _look(self) -> None:
        """That it is whole and of the newest version; it is mended and brought up where it is not."""
        if self.path.exists() and not keeping.whole(self.path):
            self.said = keeping.mended(self.path)
        version = keeping.version_of(self.path) if self.path.exists() else ""
        if version > NEWEST:
            raise _newer()
        if version != NEWEST:
            self._bring_up(version)

    def _bring_up(self, version: str) -> None:
        if version:
            keeping.back_up(self.path, datetime.now(UTC))
        keeping.brought_up(self._engine, NEWEST)
        with self._engine.begin() as connection:
            connection.execute(
                text("INSERT OR IGNORE INTO state (key, value) VALUES ('book', :book), ('revision', '0')"),
                {"book": new_id()},
            )

    def __enter__(self) -> "Book":
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def close(self) -> None:
        """Lets the file go."""
        self._engine.dispose()

    # --- writing -----------------------------------------------------------------------------------------------------

    def keep(self, *pours: Pour) -> None:
        """Puts entries in, in the place of those with the same id."""
        self._write(lambda connection: _put_pours(connection, pours))

    def drop(self, pour_id: str) -> None:
        """Takes an entry out, with all that hangs on it."""
        self._write(lambda connection: connection.execute(delete(POURS).where(POURS.c.id == pour_id)))

    def note(self, *events: Event) -> None:
        """Something done to a pattern."""
        self._write(lambda connection: _put(connection, EVENTS, [_row(one) for one in events]))

    def write_recipe(self, *recipes: Recipe) -> None:
        """A mix."""
        rows = [{**_row(one), "parts": msgspec.json.encode(one.parts).decode()} for one in recipes]
        self._write(lambda connection: _put(connection, RECIPES, rows))

    def take_in(self, all_of_it: Everything) -> None:
        """Everything of another logbook, in one piece; entries with the same id take the place of those here."""

        def put(connection: Connection) -> None:
            _put_pours(connection, all_of_it.pours)
            _put(connection, EVENTS, [_row(one) for one in all_of_it.events])
            _put(
                connection,
                RECIPES,
                [{**_row(one), "parts": msgspec.json.encode(one.parts).decode()} for one in all_of_it.recipes],
            )

        self._write(put)

    def attach(self, photo: Path) -> Photo:
        """Keeps a photo beside the logbook, under its digest. UserFault for one that cannot be read or is too large."""
        try:
            if photo.stat().st_size > MOST_PHOTO:
                raise UserFault(f"'{photo.name}' is larger than 40 MB.", "Attach a smaller picture.")
            data = photo.read_bytes()
            return self.keep_photo(photo.name, data)
        except OSError as error:
            raise UserFault(f"'{photo.name}' cannot be kept ({error.strerror}).", "Check the file.") from error

    def keep_photo(self, name: str, data: bytes) -> Photo:
        """Keeps the bytes of a photo. OSError where the folder takes none."""
        kept = Photo(name, hashlib.blake2b(data, digest_size=16).hexdigest())
        target = self.photo_file(kept)
        if not target.exists():
            target.parent.mkdir(parents=True, exist_ok=True)
            write_whole(target, data)
        return kept

    def photo_file(self, photo: Photo) -> Path:
        """Where a photo lies."""
        return self.path.parent / PHOTO_FOLDER / f"{photo.digest}{Path(photo.name).suffix.lower()}"

    def _write(self, work: Any) -> None:
        try:
            now = datetime.now(UTC)
            if keeping.due(self.path, now):
                keeping.back_up(self.path, now)
            with self._engine.begin() as connection:
                work(connection)
                connection.execute(
                    text("UPDATE state SET value = CAST(CAST(value AS INTEGER) + 1 AS TEXT) WHERE key = 'revision'")
                )
        except (OSError, sqlite3.Error, SQLAlchemyError) as error:
            raise _fault("kept", error) from error

    # --- reading -----------------------------------------------------------------------------------------------------

    def pour(self, pour_id: str) -> Pour | None:
        """The entry with this id."""
        found = self._pours(select(POURS).where(POURS.c.id == pour_id))
        return found[0] if found else None

    def pours(self, job_id: str = "", metal: str = "", most: int = 0) -> tuple[Pour, ...]:
        """Whole entries, the newest first: of a job by its id, of a metal, so many of them."""
        asked = select(POURS)
        if job_id:
            asked = asked.where(POURS.c.job_id == job_id)
        if metal:
            asked = asked.where(POURS.c.metal == metal)
        asked = asked.order_by(POURS.c.at.desc(), POURS.c.id)
        return self._pours(asked.limit(most) if most else asked)

    def lines(self, looked_for: str = "", metal: str = "", most: int = 0) -> tuple[Line, ...]:
        """Pours as lines of a list, the newest first; every word that is looked for stands somewhere in them."""
        made = func.count(CASTINGS.c.number)
        first = (
            select(MEASURES.c.casting_mm)
            .where(MEASURES.c.pour == POURS.c.id)
            .order_by(MEASURES.c.casting, MEASURES.c.number)
            .limit(1)
            .scalar_subquery()
        )
        asked = (
            select(
                *(POURS.c[name] for name in ("id", "at", "job", "job_id", "metal", "planned_c", "poured_c")),
                made,
                _how_many(Outcome.SOUND),
                _how_many(Outcome.SCRAP),
                first,
                POURS.c.note,
            )
            .outerjoin(CASTINGS, CASTINGS.c.pour == POURS.c.id)
            .group_by(POURS.c.id)
            .order_by(POURS.c.at.desc(), POURS.c.id)
        )
        for word in looked_for.casefold().split():
            asked = asked.where(POURS.c.search.contains(word, autoescape=True))
        if metal:
            asked = asked.where(POURS.c.metal == metal)
        if most:
            asked = asked.limit(most)
        return tuple(Line(row[0], _time(row[1]), *row[2:]) for row in self._read(asked))

    def events(self, pattern: str = "") -> tuple[Event, ...]:
        """What was done to a pattern, or to all, the oldest first."""
        asked = select(EVENTS).order_by(EVENTS.c.at, EVENTS.c.id)
        rows = self._read(asked.where(EVENTS.c.pattern == pattern) if pattern else asked)
        return tuple(_made(Event, _fields(row)) for row in rows)

    def recipes(self) -> tuple[Recipe, ...]:
        """Mixes, the newest first."""
        rows = self._read(select(RECIPES).order_by(RECIPES.c.at.desc(), RECIPES.c.id))
        return tuple(_made(Recipe, {**_fields(row), "parts": msgspec.json.decode(row.parts)}) for row in rows)

    def everything(self) -> Everything:
        """All of it."""
        return Everything(self.pours(), self.events(), self.recipes())

    def stands(self) -> dict[str, tuple[int, Line]]:
        """Of every job by its name: how often it was poured, and its last pour."""
        out: dict[str, tuple[int, Line]] = {}
        for line in self.lines():
            many, last = out.get(line.job, (0, line))
            out[line.job] = many + 1, last
        return out

    def _pours(self, asked: Any) -> tuple[Pour, ...]:
        heads = self._read(asked)
        ids = {row.id for row in heads}
        one = next(iter(ids)) if len(ids) == 1 else ""
        defects = self._under(DEFECTS, one, ids)
        measures = self._under(MEASURES, one, ids)
        castings: dict[str, list[Casting]] = defaultdict(list)
        for key, rows in self._under(CASTINGS, one, ids).items():
            for row in rows:
                mine = [each for each in defects.get(key, ()) if each["casting"] == row["number"]]
                sizes = [each for each in measures.get(key, ()) if each["casting"] == row["number"]]
                under = {"defects": [_defect(each) for each in mine], "measures": [_plain(each) for each in sizes]}
                castings[key].append(msgspec.convert({**_plain(row), **under}, Casting))
        photos = self._under(PHOTOS, one, ids)
        out = []
        for row in heads:
            fields = _fields(row, "search", "minutes", "chosen")
            fields |= {key: msgspec.json.decode(getattr(row, key)) for key in ("minutes", "chosen")}
            fields["castings"] = tuple(castings.get(row.id, ()))
            fields["photos"] = tuple(Photo(each["name"], each["digest"]) for each in photos.get(row.id, ()))
            out.append(_made(Pour, fields))
        return tuple(out)

    def _under(self, table: Table, one: str, ids: set[str]) -> dict[str, list[dict[str, Any]]]:
        """Rows that hang on these pours, by pour, in order."""
        asked = select(table).order_by(*table.primary_key.columns)
        out: dict[str, list[dict[str, Any]]] = defaultdict(list)
        for row in self._read(asked.where(table.c.pour == one) if one else asked) if ids else ():
            if row.pour in ids:
                out[row.pour].append(_fields(row))
        return out

    def _read(self, asked: Any) -> Sequence[Any]:
        try:
            with self._engine.connect() as connection:
                return connection.execute(asked).fetchall()
        except SQLAlchemyError as error:
            raise _fault("read", error) from error


def _ready(connection: Any, _record: Any) -> None:
    """Each connection: a write-ahead log, so that nothing committed is lost and readers never wait, and references that
    hold.
    """
    # the driver begins no transaction by itself, or tables made by a migration would not be undone with it
    connection.isolation_level = None
    busy = f"busy_timeout={int(1000 * keeping.BUSY_S)}"
    for line in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", busy):
        connection.execute(f"PRAGMA {line}")


def _begin(connection: Connection) -> None:
    connection.exec_driver_sql("BEGIN")


def _newer() -> UserFault:
    return UserFault("The logbook was written by a newer Pounce.", "Open it with that version.")


def _fault(what: str, error: Exception) -> UserFault:
    why = getattr(error, "orig", None) or getattr(error, "strerror", None) or error
    return UserFault(f"The logbook cannot be {what} ({why}).", "Check your data folder, and whether the disk is full.")


def _put_pours(connection: Connection, pours: Iterable[Pour]) -> None:
    for pour in pours:
        connection.execute(delete(POURS).where(POURS.c.id == pour.id))
        row = {key: value for key, value in _row(pour).items() if key not in ("castings", "photos")}
        connection.execute(
            insert(POURS), {**row, "minutes": _json(pour.minutes), "chosen": _json(pour.chosen), "search": _words(pour)}
        )
        under: dict[Table, list[dict[str, Any]]] = {CASTINGS: [], DEFECTS: [], MEASURES: []}
        for casting in pour.castings:
            own = {"pour": pour.id, "casting": casting.number}
            fields = {key: value for key, value in _row(casting).items() if key not in ("defects", "measures")}
            under[CASTINGS].append({"pour": pour.id, **fields})
            for k, defect in enumerate(casting.defects):
                x, y, z = defect.at_mm or (None, None, None)
                fields = {key: value for key, value in _row(defect).items() if key != "at_mm"}
                under[DEFECTS].append({**own, "number": k, **fields, "x_mm": x, "y_mm": y, "z_mm": z})
            under[MEASURES] += [{**own, "number": k, **_row(one)} for k, one in enumerate(casting.measures)]
        under[PHOTOS] = [{"pour": pour.id, "number": k, **_row(one)} for k, one in enumerate(pour.photos)]
        for table, rows in under.items():
            _put(connection, table, rows)


def _put(connection: Connection, table: Table, rows: list[dict[str, Any]]) -> None:
    if rows:
        connection.execute(insert(table).prefix_with("OR REPLACE"), rows)


def _json(value: object) -> str:
    return msgspec.json.encode(value, order="sorted").decode()


def _row(thing: msgspec.Struct) -> dict[str, Any]:
    """Its fields as a row holds them."""
    out: dict[str, Any] = {}
    for name in thing.__struct_fields__:
        value = getattr(thing, name)
        out[name] = _text(value) if isinstance(value, datetime) else getattr(value, "value", value)
    return out


def _words(pour: Pour) -> str:
    """What is looked through."""
    day = pour.at.astimezone(UTC)
    seen = [defect.seen for casting in pour.castings for defect in casting.defects]
    outcomes = sorted({casting.outcome.value for casting in pour.castings})
    said = [pour.job, pour.metal, pour.mould, pour.batch, pour.charge, pour.charge_from, pour.coat, pour.weather]
    return " ".join([*said, pour.note, f"{day:%Y-%m-%d %d %B}", *outcomes, *seen]).casefold()


def _fields(row: Any, *without: str) -> dict[str, Any]:
    """A row by the names of its columns."""
    return {str(key): value for key, value in row._mapping.items() if key not in without}


def _how_many(outcome: Outcome) -> Any:
    """How many castings of a pour came out so."""
    return func.coalesce(func.sum(cast(CASTINGS.c.outcome == outcome.value, Integer)), 0)


def _text(moment: datetime) -> str:
    return moment.astimezone(UTC).isoformat(timespec="microseconds")


def _time(said: str) -> datetime:
    return datetime.fromisoformat(said)


def _made(kind: Any, fields: Any) -> Any:
    """A struct of a row."""
    given = dict(fields)
    given["at"] = _time(given["at"])
    return msgspec.convert(given, kind)


def _plain(row: dict[str, Any]) -> dict[str, Any]:
    """A row without its place."""
    left = {key: value for key, value in row.items() if key not in ("pour", "casting")}
    if "pattern_mm" in left:
        left.pop("number")
    return left


def _defect(row: dict[str, Any]) -> dict[str, Any]:
    own = ("pour", "casting", "number", "x_mm", "y_mm", "z_mm")
    left = {key: value for key, value in row.items() if key not in own}
    place = None if row["x_mm"] is None else (row["x_mm"], row["y_mm"], row["z_mm"])
    return {**left, "at_mm": place}
