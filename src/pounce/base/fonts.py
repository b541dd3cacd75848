"""Where the shipped typeface lies (Source Sans Pro, SIL OFL 1.1, files unmodified, from its own package)."""

from importlib import resources
from pathlib import Path


def font_file(style: str) -> Path:
    """The TrueType file of a style: "Regular", "Semibold", "Bold" or "It"; FileNotFoundError if missing."""
    path = Path(str(resources.files("font_source_sans_pro"))) / "files" / f"SourceSansPro-{style}.ttf"
    if not path.exists():
        raise FileNotFoundError(path)
    return path
