"""The words of the trade, to be looked up."""

import html

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QTextCursor
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QTextBrowser, QVBoxLayout, QWidget

from pounce.bench.widgets.parts import button, label
from pounce.craft.glossary import Word, words


class GlossaryPage(QDialog):
    """All words by the alphabet, fewer as letters are typed; opens at ``word``."""

    def __init__(self, word: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Words of the trade")
        self.setWindowModality(Qt.WindowModality.WindowModal)
        self.resize(min(620, parent.width() - 40), min(600, parent.height() - 60))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        top = QHBoxLayout()
        top.addWidget(label("Words of the trade", "title"))
        top.addStretch(1)
        top.addWidget(button("Back to the bench   Esc", "", self.close))
        layout.addLayout(top)
        self.field = QLineEdit()
        self.field.setPlaceholderText("Find a word")
        self.field.setAccessibleName("Find a word")
        self.field.textChanged.connect(self._show)
        layout.addWidget(self.field)
        self.page = QTextBrowser()
        self.page.setAccessibleName("Words of the trade")
        self.page.setTabChangesFocus(True)
        layout.addWidget(self.page, 1)
        self._show("")
        self._to(word)
        self.field.setFocus()

    def _show(self, text: str) -> None:
        wanted = text.strip().lower()
        found = [one for one in words() if any(wanted in way.lower() for way in (one.word, *one.ways))]
        found = found or [one for one in words() if wanted in one.says.lower()]
        self.page.setHtml(
            "".join(map(_entry, found)) or f"<p>No word like '{html.escape(text)}' is explained here.</p>"
        )

    def _to(self, word: str) -> None:
        """Shows a word first and marked."""
        if word and self.page.find(f"{_capital(word)}"):
            cursor = self.page.textCursor()
            cursor.movePosition(QTextCursor.MoveOperation.EndOfBlock)
            self.page.setTextCursor(cursor)
            self.page.scrollToAnchor(word)


def _capital(word: str) -> str:
    return word[:1].upper() + word[1:]


def _entry(one: Word) -> str:
    forms = [way for way in one.forms if way.rstrip("s") != one.word.rstrip("s")]
    also = f" <i>({html.escape(', '.join(forms[:3]))})</i>" if forms else ""
    return (
        f'<p style="margin: 0 0 7px 0"><a name="{html.escape(one.word)}"></a><b>{html.escape(_capital(one.word))}</b>'
        f"{also}<br>{html.escape(one.says)}</p>"
    )
