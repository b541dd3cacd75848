"""Whether the compiled kernels of this version, at this place, were made before: a stamp in the user's cache."""

import contextlib
from importlib import metadata
from pathlib import Path

import platformdirs

from pounce.base.version import VERSION


def stamp() -> Path:
    """The stamp's file: one for each version and for each version of the compiler."""
    return Path(platformdirs.user_cache_dir("pounce")) / f"ready-{VERSION}-{metadata.version('numba')}"


def ready() -> bool:
    """Whether the kernels of this version, at this place, were compiled before."""
    try:
        return stamp().read_text(encoding="utf-8") == str(Path(__file__))
    except (OSError, UnicodeDecodeError):
        return False


def mark_ready() -> None:
    """Notes that they are. A cache folder that takes nothing costs only the note."""
    with contextlib.suppress(OSError):
        stamp().parent.mkdir(parents=True, exist_ok=True)
        stamp().write_text(str(Path(__file__)), encoding="utf-8")
