"""F1: the craft behind a stop."""

from importlib import resources

from PyQt6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from pounce.bench.stops.view import title_of, view_of
from pounce.bench.widgets.parts import button


def craft_text(stop: str) -> str:
    """The page of a stop, as Markdown."""
    if view_of(stop).craft:
        return view_of(stop).craft
    return (resources.files("pounce.bench") / "craft" / f"{stop}.md").read_text(encoding="utf-8")


class CraftPage(QDialog):
    """Why, how by hand, the schools, the sources."""

    def __init__(self, stop: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"The craft behind {title_of(stop)}")
        self.resize(620, 560)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 14, 14, 14)
        page = QTextBrowser()
        page.setMarkdown(craft_text(stop))
        page.setAccessibleName(self.windowTitle())
        layout.addWidget(page)
        layout.addWidget(button("Back to the bench", "", self.close))
