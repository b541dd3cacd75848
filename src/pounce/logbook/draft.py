"""An entry that is not kept yet: on the disk at every change, so that nothing typed is lost when the program closes."""

from pathlib import Path

import msgspec

from pounce.base.digest import digest
from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.logbook.keeping import book_file
from pounce.logbook.values import Pour

FOLDER = "drafts"


def draft_file(job: str) -> Path:
    """Where the draft of a job lies."""
    return book_file().parent / FOLDER / f"{digest(job)[:16]}.json"


def load(job: str) -> Pour | None:
    """The draft of a job; None where there is none, or it cannot be read."""
    try:
        return msgspec.json.decode(draft_file(job).read_bytes(), type=Pour)
    except (OSError, msgspec.DecodeError):
        return None  # it is begun anew from the card


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
