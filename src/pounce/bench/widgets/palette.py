"""The search: every action by name with its key, craft pages, and the words of the trade."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Self

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QAction, QKeyEvent
from PyQt6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget


@dataclass(frozen=True)
class Entry:
    """Something that can be found: its name, its key, what it does, and other words it is found by."""

    name: str
    key: str
    act: Callable[[], object]
    ways: tuple[str, ...] = ()

    @classmethod
    def of(cls, action: QAction) -> Self:
        """An action of the window."""
        return cls(action.text().replace("&", ""), action.shortcut().toString(), action.trigger)

    def fits(self, words: Sequence[str]) -> bool:
        """Whether every one of these letters stands in its name or its other words."""
        among = " ".join((self.name, *self.ways)).lower()
        return all(word in among for word in words)


class Palette(QDialog):
    """Type a few letters, press Enter. With nothing typed the actions stand there alone."""

    def __init__(self, entries: Sequence[Entry], parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("panel")
        self.setFixedSize(460, 380)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 10, 10, 10)
        self.field = QLineEdit()
        self.field.setPlaceholderText("Find a command, a page or a word")
        self.field.setAccessibleName("Find a command, a page or a word")
        self.list = QListWidget()
        self.list.setAccessibleName("Commands, pages and words")
        layout.addWidget(self.field)
        layout.addWidget(self.list)
        self._entries = entries
        self.field.textChanged.connect(self._filter)
        self.field.returnPressed.connect(self._take)
        self.list.itemActivated.connect(lambda _: self._take())
        self.list.itemClicked.connect(lambda _: self._take())
        self.field.installEventFilter(self)
        self._filter("")

    def _filter(self, text: str) -> None:
        self.list.clear()
        words = text.lower().split()
        for entry in self._entries:
            if (entry.ways and not words) or not entry.fits(words):
                continue
            item = QListWidgetItem(f"{entry.name}    {entry.key}" if entry.key else entry.name)
            item.setData(Qt.ItemDataRole.UserRole, entry)
            self.list.addItem(item)
        self.list.setCurrentRow(0)

    def _take(self) -> None:
        item = self.list.currentItem()
        if item is None:
            return
        entry: Entry = item.data(Qt.ItemDataRole.UserRole)
        self.close()
        entry.act()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Up and down move in the list while typing."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if step is not None:
                row = min(max(self.list.currentRow() + step, 0), self.list.count() - 1)
                self.list.setCurrentRow(row)
                return True
        return super().eventFilter(watched, event)
