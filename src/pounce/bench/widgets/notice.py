"""A sentence that needs the eye, where the eye is: a strip under the ticket with a way to put it away."""

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from pounce.bench.look.marks import Mark
from pounce.bench.look.tokens import colour
from pounce.bench.widgets.parts import button, emptied, label


class Notice(QWidget):
    """Hidden until there is something to say."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setStyleSheet(f"QWidget#notice {{ background: {colour('panel').name()}; }}")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(14, 7, 12, 7)
        self._good, self._bad = Mark("filled"), Mark("half")
        self.text = label("", "section", wrap=True)
        layout.addWidget(self._good)
        layout.addWidget(self._bad)
        layout.addWidget(self.text, 1)
        self._things = QHBoxLayout()
        layout.addLayout(self._things)
        layout.addWidget(button("Put away", "", self.hide))
        self.hide()

    def say(self, text: str, good: bool = False, things: Sequence[tuple[str, Path]] = ()) -> None:
        """Shows the sentence; ``things`` to open in the desktop's own program for their type, with the words of
        their buttons.
        """
        emptied(self._things)
        for words, path in things:
            self._things.addWidget(button(words, "", partial(self._open, path)))
        self.text.setText(text)
        self.setAccessibleName(text)
        self._good.setVisible(good)
        self._bad.setVisible(not good)
        self.show()

    def _open(self, path: Path) -> None:
        if not QDesktopServices.openUrl(QUrl.fromLocalFile(str(path))):
            self.say(f"This desktop has no program for {path.name}. It lies in {path.parent}.")
