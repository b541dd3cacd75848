"""The bench's own things for melting as tables: crucibles, furnaces, ingot moulds; its flasks behind a button."""

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QTableWidget,
    QTableWidgetItem,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from pounce.base.errors import UserFault
from pounce.bench.widgets.flasks import FlasksDialog, id_of
from pounce.bench.widgets.parts import button, label
from pounce.metals.melt import melt
from pounce.pour.bundle import export_bench, import_bench
from pounce.pour.things import KINDS, Crucible, Furnace, Ingot, Printer, Sand, Things, checked, own_things, write_things

CRUCIBLES = ("Name", "Brim, l", "Filled to, %", "Of", "Empty, kg", "Inside Ø, mm")
FURNACES = ("Name", "Kind", "kW", "Takes, l", "Warm in, min", "To, °C")
INGOTS = ("Name", "cm³", "How many")
WEIGHTS = ("kg",)
PRINTERS = ("Name", "X, mm", "Y, mm", "Z, mm")
SANDS = ("Name", "Conducts, W/(m K)", "Holds, J/(kg K)")
FIRST_PX, OTHER_PX = 190, 104


class ThingsDialog(QDialog):
    """Lists, adds, changes and takes away; ``written`` when they were saved, ``taken`` with one for the job."""

    written = pyqtSignal()
    # a crucible, furnace, ingot, printer or sand is taken for the job on the bench
    taken = pyqtSignal(object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Your bench")
        self.resize(780, 460)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 14, 18, 14)
        layout.setSpacing(8)
        layout.addWidget(label("Your bench", "title"))
        materials = ", ".join(melt().crucible)
        hint = f"Crucibles are of {materials}; furnaces electric or burner. What is left empty goes by the table."
        layout.addWidget(label(hint, "muted", wrap=True))
        self.tabs = QTabWidget()
        self.crucibles, self.furnaces, self.ingots = (_table(one) for one in (CRUCIBLES, FURNACES, INGOTS))
        self.weights, self.printers, self.sands = (_table(one) for one in (WEIGHTS, PRINTERS, SANDS))
        for name, table in (
            ("Crucibles", self.crucibles),
            ("Furnaces", self.furnaces),
            ("Ingots", self.ingots),
            ("Weights", self.weights),
            ("Printers", self.printers),
            ("Sands", self.sands),
        ):
            table.setAccessibleName(f"Your {name.lower()}, one a row")
            self.tabs.addTab(table, name)
        layout.addWidget(self.tabs, 1)
        self.trouble = label("", "strong", wrap=True)
        layout.addWidget(self.trouble)
        foot = QHBoxLayout()
        foot.addWidget(button("Add one", "", self._add))
        foot.addWidget(button("Take it away", "", self._remove))
        foot.addWidget(button("Take for this job", "", self._use, "What is chosen is taken for the job on the bench"))
        foot.addWidget(button("Flasks", "", lambda: FlasksDialog(self).open(), "Yours stand in a table of their own"))
        foot.addWidget(button("Read a file", "", self._import))
        foot.addWidget(button("Write as JSON", "", self._export, "One file of all, flasks too; they are saved first"))
        foot.addStretch(1)
        foot.addWidget(button("Leave it", "", self.reject))
        foot.addWidget(button("Save", "primary", self._save))
        layout.addLayout(foot)
        self._own = Things()
        try:
            self.show_things(own_things())
        except UserFault as fault:
            self.trouble.setText(str(fault))

    def show_things(self, own: Things) -> None:
        """These in the tables."""
        self._own = own
        _filled(
            self.crucibles,
            [
                (one.name, _g(one.brim_l), _g(100.0 * one.fill_share), one.material, _g(one.kg), _g(one.wide_mm))
                for one in own.crucibles
            ],
        )
        _filled(
            self.furnaces,
            [
                (one.name, one.kind, _g(one.kw), _g(one.takes_l), _g(one.warm_min), _g(one.hottest_c))
                for one in own.furnaces
            ],
        )
        _filled(self.ingots, [(one.name, _g(one.cm3), str(one.many)) for one in own.ingots])
        _filled(self.weights, [(_g(one),) for one in own.weights_kg])
        _filled(self.printers, [(one.name, _g(one.x_mm), _g(one.y_mm), _g(one.z_mm)) for one in own.printers])
        _filled(self.sands, [(one.name, _g(one.conducts), _g(one.heat)) for one in own.sands])

    def things(self) -> Things:
        """As the tables say. UserFault for a figure that is none."""
        return Things(
            tuple(self._crucible(_texts(self.crucibles, row)) for row in range(self.crucibles.rowCount())),
            tuple(self._furnace(_texts(self.furnaces, row)) for row in range(self.furnaces.rowCount())),
            tuple(self._ingot(_texts(self.ingots, row)) for row in range(self.ingots.rowCount())),
            tuple(_number(_texts(self.weights, row)[0]) for row in range(self.weights.rowCount())),
            tuple(_printer(_texts(self.printers, row)) for row in range(self.printers.rowCount())),
            tuple(_sand(_texts(self.sands, row)) for row in range(self.sands.rowCount())),
        )

    def _crucible(self, cells: list[str]) -> Crucible:
        name, brim, fill, material, kg, wide = cells
        share = None if not fill else _number(fill) / 100.0
        return Crucible(id_of(name), name, _number(brim), material or "clay-graphite", share, _maybe(kg), _maybe(wide))

    def _furnace(self, cells: list[str]) -> Furnace:
        name, kind, kw, takes, warm, hottest = cells
        before = next((one for one in self._own.furnaces if one.id == id_of(name)), None)
        melts = () if before is None else before.melts
        hot = _number(hottest) if hottest else 1200.0
        if kind not in ("electric", "burner"):
            raise UserFault(f"'{kind}' is no kind of furnace.", "Give electric or burner.")
        return Furnace(
            id_of(name),
            name,
            "burner" if kind == "burner" else "electric",
            _number(kw),
            _number(takes),
            _maybe(warm),
            hot,
            melts,
        )

    def _ingot(self, cells: list[str]) -> Ingot:
        name, cm3, many = cells
        return Ingot(id_of(name), name, _number(cm3), int(_number(many or "1")))

    def _shown(self) -> QTableWidget:
        table = self.tabs.currentWidget()
        assert isinstance(table, QTableWidget)
        return table

    def _add(self) -> None:
        table = self._shown()
        rows = {
            id(self.crucibles): ("New crucible", "1", "", "clay-graphite", "", ""),
            id(self.furnaces): ("New furnace", "electric", "3", "2", "", "1150"),
            id(self.ingots): ("New ingot", "110", "1"),
            id(self.weights): ("5",),
            id(self.printers): ("New printer", "220", "220", "250"),
            id(self.sands): ("New sand", "", ""),
        }
        _put(table, rows[id(table)])
        table.selectRow(table.rowCount() - 1)

    def _remove(self) -> None:
        table = self._shown()
        if table.currentRow() >= 0:
            table.removeRow(table.currentRow())

    def _use(self) -> None:
        table = self._shown()
        row = table.currentRow()
        if table is self.weights or row < 0:
            self.trouble.setText("Choose a crucible, furnace, ingot, printer or sand first.")
            return
        lists = {id(getattr(self, kind)): kind for kind in KINDS}

        def use() -> None:
            own = checked(self.things())
            write_things(own)
            self.written.emit()
            self.taken.emit(getattr(own, lists[id(table)])[row])

        self._try(use, f"{_texts(table, row)[0]} is taken for this job.")

    def _import(self) -> None:
        source, _ = QFileDialog.getOpenFileName(self, "Read things", "", "JSON (*.json)")
        if source:
            self._try(lambda: self._take(Path(source)), f"Read from {Path(source).name}.")

    def _export(self) -> None:
        target, _ = QFileDialog.getSaveFileName(self, "Write the things", "bench.json", "JSON (*.json)")
        if target:
            self._try(lambda: self._give(Path(target)), f"Written to {Path(target).name}.")

    def _take(self, path: Path) -> None:
        import_bench(path)
        self.show_things(own_things())
        self.written.emit()

    def _give(self, path: Path) -> None:
        write_things(self.things())
        export_bench(path)
        self.written.emit()

    def _try(self, act: object, said: str) -> bool:
        try:
            act()  # type: ignore[operator]
        except UserFault as fault:
            self.trouble.setText(str(fault))
            return False
        self.trouble.setText(said)
        return True

    def _save(self) -> None:
        if self._try(lambda: write_things(self.things()), ""):
            self.written.emit()
            self.accept()


def _printer(cells: list[str]) -> Printer:
    name, x, y, z = cells
    return Printer(id_of(name), name, _number(x), _number(y), _number(z))


def _sand(cells: list[str]) -> Sand:
    name, conducts, holds = cells
    return Sand(id_of(name), name, _number(conducts), _number(holds))


def _table(columns: tuple[str, ...]) -> QTableWidget:
    out = QTableWidget(0, len(columns))
    out.setHorizontalHeaderLabels(columns)
    out.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    side = out.verticalHeader()
    assert side is not None
    side.hide()
    for column in range(len(columns)):
        out.setColumnWidth(column, FIRST_PX if column == 0 else OTHER_PX)
    return out


def _filled(table: QTableWidget, rows: list[tuple[str, ...]]) -> None:
    table.setRowCount(0)
    for one in rows:
        _put(table, one)


def _put(table: QTableWidget, cells: tuple[str, ...]) -> None:
    row = table.rowCount()
    table.insertRow(row)
    for column, text in enumerate(cells):
        table.setItem(row, column, QTableWidgetItem(text))


def _texts(table: QTableWidget, row: int) -> list[str]:
    items = [table.item(row, column) for column in range(table.columnCount())]
    return ["" if item is None else item.text().strip() for item in items]


def _g(value: float | None) -> str:
    return "" if value is None else f"{value:g}"


def _number(text: str) -> float:
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise UserFault(f"'{text}' is no figure.", "Give litres, kg, mm, kW or minutes as the column says.") from None


def _maybe(text: str) -> float | None:
    return _number(text) if text else None
