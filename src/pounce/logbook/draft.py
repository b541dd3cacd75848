"""An entry that is not kept yet: on the disk at every change, so that nothing typed is lost when the program closes."""

from pathlib import Path

import msgspec

from pounce.base.digest import digest
from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.logbook.keeping import book_file
from pounce.logbook.values import Pour

FOLDER, ASIDE = "drafts", ".unreadable"


def draft_file(job: str) -> Path:
    """Where the draft of a job lies."""
    return book_file().parent / FOLDER / f"{digest(job)[:16]}.json"


def load(job: str) -> Pour | None:
    """The draft of a job; None where there is none. UserFault for one that cannot be read: it is put aside, so that
    nothing is written over it.
    """
    path = draft_file(job)
    if not path.exists():
        return None
    try:
        return msgspec.json.decode(path.read_bytes(), type=Pour)
    except OSError as error:
        raise UserFault(f"The entry begun cannot be read ({error.strerror}).", "Check your data folder.") from error
    except msgspec.DecodeError as error:
        aside = path.with_suffix(ASIDE)
        path.replace(aside)
        what = f"The entry that was begun cannot be read ({error})."
        raise UserFault(what, f"It is kept as {aside.name}; begin it again.") from None


def save(job: str, pour: Pour | None) -> None:
    """Keeps the draft of a job, or takes it away. UserFault for a folder that takes none."""
    path = draft_file(job)
    try:
        if pour is None:
            path.unlink(missing_ok=True)
            return
        path.parent.mkdir(parents=True, exist_ok=True)
        write_whole(path, msgspec.json.encode(pour))
    except OSError as error:
        raise UserFault(f"The entry cannot be kept meanwhile ({error.strerror}).", "Check your data folder.") from error
