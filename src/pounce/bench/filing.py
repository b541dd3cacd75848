"""Files as the window asks for them: opening, saving, writing what the bench made, and what is dropped on it."""

from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QFileDialog, QWidget

from pounce.bench.cards.pattern import usual_folder
from pounce.bench.document import Document
from pounce.bench.widgets.notice import Notice

MODELS = "Models and jobs (*.stl *.3mf *.obj *.ply *.off *.step *.stp *.pounce);;All files (*)"


class Filing(QObject):
    """Asks for files and folders and hands them to the desk."""

    def __init__(self, document: Document, notice: Notice, parent: QWidget) -> None:
        super().__init__(parent)
        self.document, self.notice, self._over = document, notice, parent

    def open(self, path: Path) -> None:
        """Opens a model or a job."""
        self.notice.hide()
        self.document.open(Path(path))

    def ask_open(self) -> bool:
        """Asks which file to open; whether one was chosen."""
        name, _ = QFileDialog.getOpenFileName(self._over, "Open a model or a job", str(self.document.folder), MODELS)
        if name:
            self.open(Path(name))
        return bool(name)

    def save(self) -> None:
        """Saves the job where it came from."""
        if self.document.path is None:
            self.ask_save()
        else:
            self.document.save(self.document.path)

    def ask_save(self) -> None:
        """Asks where to save the job."""
        if self.document.job is None:
            return
        start = self.document.folder / f"{self.document.job.name}.pounce"
        name, _ = QFileDialog.getSaveFileName(self._over, "Save the job", str(start), "Jobs (*.pounce)")
        if name:
            path = Path(name)
            self.document.save(path if path.suffix == ".pounce" else path.with_name(path.name + ".pounce"))

    def ask_build(self) -> None:
        """Asks for the folder of the build."""
        results = self.document.results()
        if self.document.job is None or results is None or results.pattern is None:
            self.notice.say("There is no pattern to write yet. Open a closed part first.")
            return
        start = usual_folder(self.document.job.name, self.document.folder)
        name, _ = QFileDialog.getSaveFileName(self._over, "Folder to write into (made if it is not there)", str(start))
        if name:
            self.document.build(Path(name))

    def ask_sheet(self) -> None:
        """Asks where the shop sheet goes."""
        if self.document.job is None:
            return
        start = self.document.folder / f"{self.document.job.name} shop sheet.pdf"
        name, _ = QFileDialog.getSaveFileName(self._over, "Write the shop sheet", str(start), "PDF (*.pdf)")
        if name:
            self.document.sheet(Path(name) if name.endswith(".pdf") else Path(name + ".pdf"))

    def built(self, manifest: dict[str, object], out: str) -> None:
        """Says what was written, with ways to open it."""
        files = manifest["files"]
        count = len(files) + 1 if isinstance(files, list) else 1
        things = [("Open the folder", Path(out))]
        names = [str(file["file"]) for file in files if isinstance(file, dict)] if isinstance(files, list) else []
        for suffix, text in (
            ("3mf", "Open the model"),
            ("templates.pdf", "Open the templates"),
            ("shop-sheet.pdf", "Open the sheet"),
        ):
            found = next((name for name in names if name.endswith(suffix)), None)
            things += [] if found is None else [(text, Path(out) / found)]
        self.notice.say(
            f"{count} files written to {out}. Every model was read back and is closed.", good=True, things=things
        )

    def entered(self, event: QDragEnterEvent | None) -> None:
        """Takes files."""
        data = None if event is None else event.mimeData()
        if event is not None and data is not None and any(url.isLocalFile() for url in data.urls()):
            event.acceptProposedAction()

    def dropped(self, event: QDropEvent | None) -> None:
        """Opens the first file dropped."""
        data = None if event is None else event.mimeData()
        for url in [] if data is None else data.urls():
            if url.isLocalFile():
                self.open(Path(url.toLocalFile()))
                return
