"""Where the logbook lies, that it is whole, its backups and its way to the newest version."""

import fcntl
import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Final

import platformdirs

from pounce.base.errors import UserFault

if TYPE_CHECKING:
    from sqlalchemy import Engine

# Another logbook than the user's own: a file's path. The demo has one.
NAMED: Final = "POUNCE_LOGBOOK"
FOLDER, FILE, BACKUPS, ASIDE = "logbook", "logbook.sqlite", "backups", ".damaged"
# Backups kept: the newest, and of each month before them the last.
NEWEST_KEPT, MONTHS_KEPT = 8, 12
BUSY_S: Final = 10.0
# What the library says of a file that is no whole book.
DAMAGED: Final = (sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB)
# What was read of a file that has not been written since: when it was written, and its stamp.
_stamps: dict[Path, tuple[tuple[tuple[int, int] | None, ...], str]] = {}


def book_file() -> Path:
    """Where the logbook lies."""
    named = os.environ.get(NAMED, "")
    return Path(named) if named else Path(platformdirs.user_data_dir("pounce")) / FOLDER / FILE


def stamp(path: Path | None = None) -> str:
    """What changes whenever the logbook does: its own number and how often it was written. Empty: there is none, or it
    cannot be read (opening it says why). Cheap: every key of a job hangs on it.
    """
    target = path or book_file()
    seen = tuple(_written(target.with_name(target.name + end)) for end in ("", "-wal"))
    if not seen[0]:
        return ""
    if target in _stamps and _stamps[target][0] == seen:
        return _stamps[target][1]
    now = _stamp(target)
    _stamps[target] = (seen, now)
    return now


def _written(path: Path) -> tuple[int, int] | None:
    """When a file was written and how long it is; None where it is not there."""
    try:
        stat = path.stat()
    except OSError:
        return None
    return stat.st_mtime_ns, stat.st_size


def _stamp(target: Path) -> str:
    """As it stands in the file."""
    try:
        with closing(sqlite3.connect(f"file:{target}?mode=ro", uri=True, timeout=BUSY_S)) as connection:
            found = connection.execute("SELECT value FROM state WHERE key IN ('book', 'revision') ORDER BY key")
            return ":".join(str(row[0]) for row in found)
    except sqlite3.Error:
        return ""


def whole(path: Path) -> bool:
    """Whether every page of it can be read and every row has what it refers to."""
    try:
        with closing(sqlite3.connect(path, timeout=BUSY_S)) as connection:
            sound = connection.execute("PRAGMA integrity_check").fetchone()
            return (
                sound is not None and sound[0] == "ok" and not connection.execute("PRAGMA foreign_key_check").fetchall()
            )
    except sqlite3.DatabaseError as error:
        # a file that is locked or may not be read is not damaged: whoever opens it says so
        if getattr(error, "sqlite_errorcode", None) in DAMAGED:
            return False
        raise


def backups(path: Path) -> list[Path]:
    """Its backups, the newest first."""
    return sorted((path.parent / BACKUPS).glob(f"{path.stem}-*{path.suffix}"), reverse=True)


def back_up(path: Path, now: datetime) -> Path:
    """A backup by now, and those that are too many taken away. OSError or sqlite3.Error where it cannot be written."""
    folder = path.parent / BACKUPS
    folder.mkdir(parents=True, exist_ok=True)
    target = folder / f"{path.stem}-{now.astimezone(UTC):%Y%m%dT%H%M%S}{path.suffix}"
    half = target.with_suffix(".part")
    half.unlink(missing_ok=True)
    with closing(sqlite3.connect(path, timeout=BUSY_S)) as source, closing(sqlite3.connect(half)) as copy:
        source.backup(copy)
    os.replace(half, target)
    months: set[str] = set()
    for k, one in enumerate(backups(path)):
        month = one.stem.rpartition("-")[2][:6]
        if k < NEWEST_KEPT:
            continue
        if month in months or len(months) >= MONTHS_KEPT:
            one.unlink(missing_ok=True)
        months.add(month)
    return target


@contextmanager
def alone(path: Path) -> Iterator[None]:
    """While a book is made, mended or brought up nobody else does so: window, worker, command may open it at once."""
    with open(path.with_name(f"{path.name}.lock"), "w", encoding="utf-8") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def due(path: Path, now: datetime) -> bool:
    """Whether the day has no backup yet."""
    newest = backups(path)[:1]
    return not newest or f"{now.astimezone(UTC):%Y%m%d}" not in newest[0].stem


def mended(path: Path) -> str:
    """Puts a damaged logbook aside and its newest whole backup in its place; what was done, in words. UserFault where
    the folder takes none.
    """
    try:
        aside = path.with_suffix(f"{path.suffix}{ASIDE}")
        # the log beside it may hold entries that are whole: it goes with the file
        for end in ("-wal", "-shm", ""):
            if path.with_name(path.name + end).exists():
                os.replace(path.with_name(path.name + end), aside.with_name(aside.name + end))
        for one in backups(path):
            if whole(one):
                with closing(sqlite3.connect(one)) as source, closing(sqlite3.connect(path)) as copy:
                    source.backup(copy)
                return (
                    f"The logbook was damaged. Its backup of {_day(one)} took its place; the damaged file is kept as "
                    f"{aside.name}."
                )
    except OSError as error:
        raise UserFault(
            f"The damaged logbook cannot be put aside ({error.strerror}).", "Check your data folder."
        ) from error
    return f"The logbook was damaged and has no backup: a new one is begun. The damaged file is kept as {aside.name}."


def _day(backup: Path) -> str:
    return datetime.strptime(backup.stem.rpartition("-")[2], "%Y%m%dT%H%M%S").strftime("%d %B %Y").lstrip("0")


def version_of(path: Path) -> str:
    """Its version; empty for a file that has none yet."""
    with closing(sqlite3.connect(path, timeout=BUSY_S)) as connection:
        try:
            found = connection.execute("SELECT version_num FROM alembic_version").fetchone()
        except sqlite3.OperationalError:
            return ""
        return "" if found is None else str(found[0])


def brought_up(engine: "Engine", target: str) -> None:
    """Brings a logbook to a version, from whichever it has."""
    # alembic takes a third of a second to load, and is wanted once in the life of a version
    from alembic import command  # noqa: PLC0415
    from alembic.config import Config  # noqa: PLC0415

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent))
    config.set_main_option("path_separator", "os")
    with engine.connect() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, target)
