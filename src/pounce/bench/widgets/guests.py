"""Other jobs in the same mould: each with its count, one more from the shelf, one less."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPoint, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QVBoxLayout, QWidget

from pounce.bench.widgets.parts import Figure, button, label
from pounce.rig.choices import COUNT
from pounce.rig.values import GuestChoice

COUNT_PX = 64


class GuestsList(QWidget):
    """A row a job, and a way to add one of those on the shelf."""

    added = pyqtSignal(str, str)
    counted = pyqtSignal(int, int)
    gone = pyqtSignal(int)

    def __init__(
        self,
        shelf: Callable[[], list[tuple[Path, str]]],
        tip: str = "Castings of another job in the same pour",
        counts: bool = True,
    ) -> None:
        super().__init__()
        self._counts = counts
        self._shelf = shelf
        self._shown: tuple[GuestChoice, ...] | None = None
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(0, 0, 0, 0)
        self._rows.setSpacing(4)
        self.more = button("Add a job from the shelf", "link", self.offer, tip)
        self._rows.addWidget(self.more)

    def show_guests(self, guests: tuple[GuestChoice, ...]) -> None:
        """The rows anew where they are other jobs."""
        if guests == self._shown:
            return
        self._shown = guests
        while self._rows.count() > 1:
            item = self._rows.takeAt(0)
            old = None if item is None else item.widget()
            if old is not None:
                old.deleteLater()
        for k, guest in enumerate(guests):
            self._rows.insertWidget(k, self._row(k, guest))

    def _row(self, index: int, guest: GuestChoice) -> QWidget:
        row = QWidget()
        side = QHBoxLayout(row)
        side.setContentsMargins(0, 0, 0, 0)
        side.setSpacing(6)
        name = label(guest.name)
        name.setToolTip(guest.file)
        count = Figure("", COUNT.low, COUNT.high, 0, 1.0, f"Castings of {guest.name}")
        count.setFixedWidth(COUNT_PX)
        count.show_value(guest.count)
        count.given.connect(lambda value: self.counted.emit(index, int(value)))
        out = button("Take out", "link", lambda: self.gone.emit(index), f"{guest.name} is moulded by itself")
        count.setVisible(self._counts)
        for part, stretch in ((name, 1), (count, 0), (out, 0)):
            side.addWidget(part, stretch)
        return row

    def choices(self) -> list[tuple[Path, str]]:
        """Jobs of the shelf that may be added."""
        taken = {guest.file for guest in self._shown or ()}
        return [(path, name) for path, name in self._shelf() if str(path) not in taken]

    def offer(self) -> None:
        """Asks which."""
        menu = QMenu(self)
        for path, name in self.choices():
            action = menu.addAction(name)
            assert action is not None
            action.triggered.connect(lambda _=False, path=path, name=name: self.added.emit(str(path), name))
        if menu.isEmpty():
            none = menu.addAction("No other saved job is on the shelf")
            assert none is not None
            none.setEnabled(False)
        menu.exec(self.more.mapToGlobal(QPoint(0, self.more.height())))
