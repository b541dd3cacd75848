"""What the desktop remembers between sessions: window, last folder, unit, recent jobs, hints put away."""

import json
from pathlib import Path

import msgspec
import platformdirs

from pounce.base.files import write_whole
from pounce.job.unsaved import FOLDER, edits_file

MOST_RECENT = 12
MOST_BEDS = 6


class Kept(msgspec.Struct, forbid_unknown_fields=False):
    """The remembered values as they stand in ``desktop.json``."""

    unit: str = "mm"
    last_folder: str = ""
    recent: list[tuple[str, str]] = []
    hints_away: bool = False
    geometry: str = ""
    contrast: bool = False
    section_folded: bool = False
    beds: list[tuple[float, float, float]] = []
    # the guided first pattern: "", under-way, left or done; its step, and where its job is
    guide: str = ""
    guide_step: int = 0
    guide_files: tuple[str, ...] = ()


class Settings:
    """Reads and writes the settings file; a broken one is set aside, never fatal."""

    def __init__(self, folder: Path | None = None) -> None:
        self._file = (folder or Path(platformdirs.user_config_dir("pounce"))) / "desktop.json"
        self._kept = Kept()
        try:
            self._kept = msgspec.json.decode(self._file.read_bytes(), type=Kept)
        except (FileNotFoundError, NotADirectoryError):
            pass
        except (msgspec.DecodeError, OSError):
            self._set_aside()

    def _set_aside(self) -> None:
        try:
            self._file.rename(self._file.with_suffix(".broken"))
        except OSError as error:
            print(json.dumps({"settings": "unreadable", "error": str(error)}))

    @property
    def unit(self) -> str:
        """mm or in."""
        return self._kept.unit if self._kept.unit in ("mm", "in") else "mm"

    @unit.setter
    def unit(self, value: str) -> None:
        self._kept.unit = value

    @property
    def last_folder(self) -> Path:
        """The folder of the last file."""
        kept = Path(self._kept.last_folder)
        return kept if self._kept.last_folder and kept.is_dir() else Path.home()

    @property
    def values(self) -> Kept:
        """All values."""
        return self._kept

    def saved(self, besides: Path | None) -> list[tuple[Path, str]]:
        """Saved jobs other than one; what is only put aside, unsaved, is none."""
        kept = [(path, name) for path, name in self.recent() if path.suffix == ".pounce"]
        return [(path, name) for path, name in kept if path.parent != self.aside_folder and path != besides]

    def recent(self) -> list[tuple[Path, str]]:
        """Recent jobs and models that are still there: file and name."""
        kept = [(Path(path), name) for path, name in self._kept.recent]
        return [(path, name) for path, name in kept if self.is_there(path)]

    def is_there(self, path: Path) -> bool:
        """Whether a file, or what was put aside of a job, can be opened."""
        return path.exists() or self._is_edited(path)

    def _is_edited(self, path: Path) -> bool:
        """Whether it is a copy put aside of which only the edits are kept so far."""
        return path.parent == self.aside_folder.resolve() and edits_file(path).exists()

    @property
    def aside_folder(self) -> Path:
        """Where unsaved jobs are kept."""
        return self._file.parent / FOLDER

    def aside_file(self, model: str) -> Path:
        """The copy of an unsaved job on this model."""
        self.aside_folder.mkdir(parents=True, exist_ok=True)
        return self.aside_folder / f"{model[:12]}.pounce"

    def remember(self, path: Path, name: str, folder: bool = True) -> None:
        """Puts a file on top of the recent ones, and its folder in mind."""
        own = str(path.resolve())
        rest = [entry for entry in self._kept.recent if entry[0] != own]
        self._kept.recent = [(own, name), *rest][:MOST_RECENT]
        if folder and path.resolve().parent != self.aside_folder.resolve():
            self._kept.last_folder = str(path.resolve().parent)
        self.save()

    def remember_bed(self, bed_mm: tuple[float, float, float]) -> None:
        """Puts a printer's bed on top of those used before."""
        self._kept.beds = [bed_mm, *[one for one in self._kept.beds if one != bed_mm]][:MOST_BEDS]
        self.save()

    def turn_contrast(self) -> str:
        """High contrast or usual colours from the next start; says which."""
        self.values.contrast = not self.values.contrast
        self.save()
        return "High contrast from the next start" if self.values.contrast else "Usual colours from the next start"

    def put_hints_away(self) -> None:
        """The first hints are not shown again."""
        self.values.hints_away = True
        self.save()

    def save(self) -> None:
        """Writes the settings; a full disk costs the memory, not the job."""
        try:
            self._file.parent.mkdir(parents=True, exist_ok=True)
            write_whole(self._file, msgspec.json.encode(self._kept))
        except OSError as error:
            print(json.dumps({"settings": "not saved", "error": str(error)}))
