"""The edits of an unsaved job, beside the copy that is put aside: the job alone, a few kB, kept within milliseconds.

The copy (``x.pounce``) holds the part too and takes its time; until it is there, or where it is older, the edits
(``x.edits``) say what the job is, and the file they came from holds the part.
"""

from pathlib import Path

import msgspec

from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.base.version import VERSION
from pounce.job.job import Job
from pounce.job.migrations import FORMAT

SUFFIX = ".edits"
# The folder of copies put aside: beside any other job a file of this name is somebody else's.
FOLDER = "unsaved"


class Edits(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``format`` and ``made_by`` as in a job file; the job; ``source`` the file that its part was opened from (empty:
    it was built from measures).
    """

    format: int
    made_by: str
    job: Job
    source: str


def edits_file(copy: Path) -> Path:
    """Where the edits beside this copy stand."""
    return copy.with_suffix(SUFFIX)


def write_edits(copy: Path, job: Job, source: Path | None) -> None:
    """Keeps the edits, whole or not at all. OSError where the disk takes none."""
    kept = Edits(FORMAT, VERSION, job, "" if source is None else str(source.resolve()))
    write_whole(edits_file(copy), msgspec.json.encode(kept))


def read_edits(copy: Path) -> Edits | None:
    """The edits beside this copy, None where there are none. UserFault for some of another version, or broken."""
    path = edits_file(copy)
    if copy.absolute().parent.name != FOLDER or not path.exists():
        return None
    try:
        found = msgspec.json.decode(path.read_bytes(), type=Edits)
    except (OSError, msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise UserFault("The unsaved edits cannot be read.", "Open the last saved job instead.") from error
    if found.format != FORMAT:
        raise UserFault("The unsaved edits are another version's.", "Open them with that version.")
    return found
