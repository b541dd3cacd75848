"""The small picture kept in a job file, for the shelf."""

import zipfile
import zlib
from pathlib import Path

MOST_BYTES = 4 << 20


def shelf_picture(path: Path) -> bytes | None:
    """The preview in a job file, or None for a model file or a file without one."""
    if path.suffix.lower() != ".pounce":
        return None
    try:
        with zipfile.ZipFile(path) as archive:
            if archive.getinfo("preview.png").file_size > MOST_BYTES:
                return None
            return archive.read("preview.png")
    except (zipfile.BadZipFile, KeyError, OSError, zlib.error):
        return None
