"""What the window teaches: the craft behind a stop, the words of the trade, and the search for both and for actions."""

from collections.abc import Callable
from importlib import resources
from pathlib import Path
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices

from pounce.bench.stops.view import title_of
from pounce.bench.widgets.craft import PLAN, CraftPage, pages
from pounce.bench.widgets.glossary import GlossaryPage
from pounce.bench.widgets.palette import Entry, Palette
from pounce.causes.values import Cause
from pounce.craft.glossary import words
from pounce.craft.why import on_this_part, place_of

if TYPE_CHECKING:
    from pounce.bench.window import Window

HANDBOOK: Final = Path(str(resources.files("pounce"))) / "handbook"


class Learning:
    """Opens what is to be read over a window."""

    def __init__(self, window: "Window") -> None:
        self._window = window
        self.page: CraftPage | None = None
        self.glossary: GlossaryPage | None = None
        self.palette: Palette | None = None

    def craft(self, page: str = "", at: str = "", said: str = "") -> None:
        """The craft page of a stop, or of the one that is visited; it may open at a paragraph."""
        window = self._window
        here = PLAN if window.planning.shown else window.stop
        self.page = CraftPage(page or here, window, window.document, at, said)
        self.page.show()

    def why(self, cause: object) -> None:
        """The craft behind a cause, with this part's figures."""
        if isinstance(cause, Cause):
            page, at = place_of(cause)
            self.craft(page, at, on_this_part(cause, self._window.document.unit))

    def word(self, word: str = "") -> None:
        """The glossary, at a word."""
        self.glossary = GlossaryPage(word, self._window)
        self.glossary.show()

    def handbook(self) -> None:
        """The handbook in the desktop's own browser, at the page on the stops while a job is on the bench."""
        window = self._window
        page = HANDBOOK / ("stops.html" if window.on_job else "index.html")
        if not page.exists():
            window.notice.say("The handbook is not built here. Run make handbook in the tree, or read docs/ there.")
        elif not QDesktopServices.openUrl(QUrl.fromLocalFile(str(page))):
            window.notice.say(f"This desktop has no browser. The handbook lies in {page.parent}.")

    def search(self) -> None:
        """Actions, craft pages and words by a few letters."""
        window = self._window
        entries = [Entry.of(action) for action in window.actions_by_name.values()]
        for page in pages():
            name = "Plan and proof" if page == PLAN else title_of(page)
            entries.append(Entry(f"The craft behind {name}", "F1" if page == window.stop else "", self._crafter(page)))
        entries += [Entry(f"What it means: {one.word}", "", self._worder(one.word), one.ways) for one in words()]
        self.palette = Palette(entries, window)
        corner = window.mapToGlobal(window.rect().topRight())
        self.palette.move(corner.x() - 474, corner.y() + 46)
        self.palette.show()
        self.palette.field.setFocus()

    def _crafter(self, page: str) -> Callable[[], None]:
        return lambda: self.craft(page)

    def _worder(self, word: str) -> Callable[[], None]:
        return lambda: self.word(word)
