"""The command search: every action by name, with its key."""

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QAction, QKeyEvent
from PyQt6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget


class Palette(QDialog):
    """Type a few letters, press Enter."""

    def __init__(self, actions: list[QAction], parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("panel")
        self.setFixedSize(460, 380)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 10, 10, 10)
        self.field = QLineEdit()
        self.field.setPlaceholderText("Find a command")
        self.field.setAccessibleName("Find a command")
        self.list = QListWidget()
        self.list.setAccessibleName("Commands")
        layout.addWidget(self.field)
        layout.addWidget(self.list)
        self._actions = actions
        self.field.textChanged.connect(self._filter)
        self.field.returnPressed.connect(self._take)
        self.list.itemActivated.connect(lambda _: self._take())
        self.list.itemClicked.connect(lambda _: self._take())
        self.field.installEventFilter(self)
        self._filter("")

    def _filter(self, text: str) -> None:
        self.list.clear()
        words = text.lower().split()
        for action in self._actions:
            name = action.text().replace("&", "")
            if not action.isEnabled() or not all(word in name.lower() for word in words):
                continue
            key = action.shortcut().toString()
            item = QListWidgetItem(f"{name}    {key}" if key else name)
            item.setData(Qt.ItemDataRole.UserRole, action)
            self.list.addItem(item)
        self.list.setCurrentRow(0)

    def _take(self) -> None:
        item = self.list.currentItem()
        if item is None:
            return
        action: QAction = item.data(Qt.ItemDataRole.UserRole)
        self.close()
        action.trigger()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Up and down move in the list while typing."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if step is not None:
                row = min(max(self.list.currentRow() + step, 0), self.list.count() - 1)
                self.list.setCurrentRow(row)
                return True
        return super().eventFilter(watched, event)
