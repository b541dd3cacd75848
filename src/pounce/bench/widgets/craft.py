"""F1: the craft behind a stop."""

from importlib import resources

from PyQt6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from pounce.bench.stops.view import title_of, view_of
from pounce.bench.widgets.parts import button

# The page of plan and proof, which belong to no stop.
PLAN = "plan"


def craft_text(stop: str) -> str:
    """The page of a stop, or of plan and proof, as Markdown."""
    if stop != PLAN and view_of(stop).craft:
        return view_of(stop).craft
    return (resources.files("pounce.bench") / "craft" / f"{stop}.md").read_text(encoding="utf-8")


class CraftPage(QDialog):
    """Why, how by hand, the schools, the sources."""

    def __init__(self, stop: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"The craft behind {'plan and proof' if stop == PLAN else title_of(stop)}")
        self.resize(620, 560)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 14, 14, 14)
        page = QTextBrowser()
        page.setMarkdown(craft_text(stop))
        page.setAccessibleName(self.windowTitle())
        layout.addWidget(page)
        layout.addWidget(button("Back to the bench", "", self.close))
