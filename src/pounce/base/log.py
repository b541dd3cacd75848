"""Our own faults with their tracebacks, in a rotating file of the user's state folder. What is wrong with a job is
said on the bench and is no fault.
"""

import logging
import sys
from functools import cache
from logging.handlers import RotatingFileHandler
from pathlib import Path

import platformdirs

# Size of a log file, bytes, and how many older ones are kept.
MOST_BYTES, OLDER = 256_000, 3


def log_file() -> Path:
    """Where the log lies."""
    return platformdirs.user_state_path("pounce") / "pounce.log"


@cache
def _logger(path: Path) -> logging.Logger:
    made = logging.getLogger(f"pounce.{path}")
    made.setLevel(logging.INFO)
    made.propagate = False
    handler: logging.Handler
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handler = RotatingFileHandler(path, maxBytes=MOST_BYTES, backupCount=OLDER, encoding="utf-8", delay=True)
    except OSError:  # no folder to write into: at least the terminal tells
        handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(logging.Formatter("%(asctime)s %(process)d %(message)s"))
    made.addHandler(handler)
    return made


def note_fault(where: str, error: BaseException) -> None:
    """A fault of ours with its traceback; ``where`` the process it came from."""
    _logger(log_file()).error("%s: %s: %s", where, type(error).__name__, error, exc_info=error)


def note(text: str) -> None:
    """A line that helps to understand a fault later, such as what another library wrote to standard error."""
    _logger(log_file()).info("%s", text)
