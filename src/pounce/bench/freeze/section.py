"""The mould cut along its pins in bands of time, with the moment that is looked at and the order of setting."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen, QPixmap, QTransform
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.units import quantity
from pounce.bench.freeze import ramp
from pounce.bench.freeze.scale import Shown, Telling, colours
from pounce.bench.look.tokens import SECTION, colour, font
from pounce.bench.mould import strokes
from pounce.bench.section.bands import loops_path
from pounce.bench.section.sketch import sand_picture
from pounce.bench.widgets.parts import BrassSlider, Panel, Segments, label
from pounce.feeding.values import FreezeResult
from pounce.freeze.bands import BANDS
from pounce.rig.values import Cut, RigResult
from pounce.route.results import Results
from pounce.route.stops import FREEZE, MOULD

LEFT, RIGHT, EDGE = 176, 220, 10.0
ROWS, ROW_PX = 7, 21.0


class FreezeCut(QWidget):
    """Paints one cut."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Section through the mould in bands of time")
        self._made: FreezeResult | None = None
        self._rig: RigResult | None = None
        self._cut: Cut | None = None
        self._telling = Telling("sets", 1.0)
        self._sand: QPixmap | None = None

    def show_cut(self, made: FreezeResult | None, rig: RigResult | None, cut: Cut | None, telling: Telling) -> None:
        """Another cut, or none."""
        self._made, self._rig, self._cut, self._telling = made, rig, cut, telling
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Sand, metal in bands, cores, joint."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        made, rig, cut = self._made, self._rig, self._cut
        if made is None or rig is None or cut is None:
            painter.setPen(colour("muted"))
            painter.setFont(font("secondary"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "The cut follows with the heat.")
            painter.end()
            return
        f = rig.flask
        x0, _, x1, _ = rig.seen_box()
        high = f.cope_mm + rig.extension_mm + f.drag_mm
        k = min((self.width() - 2.0 * EDGE) / (x1 - x0), (self.height() - 2.0 * EDGE) / high)
        frame = QTransform.fromTranslate(self.width() / 2.0, self.height() / 2.0).scale(k, -k)
        frame = frame.translate(-(x0 + x1) / 2.0, -(f.cope_mm + rig.extension_mm - f.drag_mm) / 2.0)
        box = QRectF(frame.map(QPointF(x0, f.cope_mm)), frame.map(QPointF(x1, -f.drag_mm)))
        if self._sand is None or self._sand.size() != self.size():
            self._sand = sand_picture(self.width(), self.height())
        painter.save()
        painter.setClipRect(box)
        painter.fillRect(box, colour("sandWash"))
        painter.drawPixmap(0, 0, self._sand)
        painter.restore()
        painter.setPen(QPen(colour("outline"), 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        self._bodies(painter, frame, made, cut)
        if not rig.loose:
            pen = QPen(colour("ink"), 1.8)
            pen.setDashPattern([6.0, 3.0])
            painter.setPen(pen)
            y = frame.map(QPointF(0.0, 0.0)).y()
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
        painter.end()

    def _bodies(self, painter: QPainter, frame: QTransform, made: FreezeResult, cut: Cut) -> None:
        for of, ring in cut.rings:
            if of == "core":
                strokes.body(painter, frame, (ring,), "core")
        metal = QPainterPath()
        for kind in ("gating", "casting"):
            own = tuple(ring for of, ring in cut.rings if of == kind)
            if kind == "casting":
                own += tuple(ring for of, ring in cut.rings if of == "hole")
            metal = metal.united(frame.map(loops_path(own)))
        c = made.picture.cells
        image = ramp.banded(ramp.along(made.picture, self._telling.shown, cut.y_mm), self._telling)
        painter.save()
        painter.setClipPath(metal)
        painter.fillPath(metal, colour("steelFlat"))
        ramp.paint(painter, frame, image, float(c.low[0]), float(c.low[2]), c.step)
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour("ink"), 1.3))
        painter.drawPath(metal)
        for of, ring in cut.rings:  # a core lies over the metal's own hole
            if of == "core":
                painter.drawPath(frame.map(loops_path((ring,))))


class OrderList(QWidget):
    """What sets in what order, each with its colour."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(RIGHT)
        self._rows: tuple[tuple[str, float], ...] = ()
        self._most = 1.0
        self._title = ""
        self.setAccessibleName("Order of setting")

    def show_rows(self, title: str, rows: tuple[tuple[str, float], ...], most_s: float) -> None:
        """Another order."""
        self._title, self._rows, self._most = title, rows, most_s
        self.setAccessibleDescription(". ".join(f"{name} {quantity('s_s', at)}" for name, at in rows))
        self.setToolTip("\n".join(f"{quantity('s_s', at)}  {name}" for name, at in rows))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Swatch, seconds, name."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font("button"))
        painter.setPen(colour("ink"))
        painter.drawText(QRectF(0, 4, RIGHT, 18), Qt.AlignmentFlag.AlignVCenter, self._title)
        tones = colours().astype(int).tolist()
        for k, (name, at) in enumerate(self._rows[-ROWS:]):
            top = 26.0 + ROW_PX * k
            band = min(max(int(at / max(self._most, 1e-9) * BANDS), 0), BANDS - 1)
            painter.setPen(QPen(colour("ink"), 1.0))
            painter.setBrush(QColor(*tones[band]))
            painter.drawRect(QRectF(1.0, top + 2.0, 13.0, 13.0))
            painter.setFont(font("button"))
            painter.drawText(
                QRectF(18.0, top, 44.0, 17.0),
                Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                quantity("s_s", at),
            )
            painter.setFont(font("secondary"))
            said = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, RIGHT - 72)
            painter.drawText(QRectF(70.0, top, RIGHT - 70.0, 17.0), Qt.AlignmentFlag.AlignVCenter, said)
        painter.end()


class FreezeSection(Panel):
    """Setting or filling, the moment, where it is cut; the cut; the order."""

    moved = pyqtSignal(float)
    told = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(SECTION)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(14, 6, 10, 4)
        layout.setSpacing(8)
        side = QWidget()
        side.setFixedWidth(LEFT)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(3)
        self.what = Segments((("sets", "Sets"), ("fills", "Fills")), "What the bands show")
        self.what.chosen.connect(self._shown_as)
        self.what.show_choice("sets")
        self._moment = label("", "muted", wrap=True)
        self.time = BrassSlider("The moment that is looked at")
        self.time.moved.connect(self._slid_time)
        self._where = label("", "muted", wrap=True)
        self.slider = BrassSlider("Where the mould is cut")
        self.slider.moved.connect(self._slid)
        for widget in (self.what, self._moment, self.time, self._where, self.slider):
            column.addWidget(widget)
        column.addStretch(1)
        layout.addWidget(side)
        self.sketch, self.order = FreezeCut(), OrderList()
        layout.addWidget(self.sketch, 1)
        layout.addWidget(self.order)
        self._made: FreezeResult | None = None
        self._rig: RigResult | None = None
        self._y = 0.0
        self._shown: Shown = "sets"
        self._at: float | None = None

    def show_results(self, results: Results) -> None:
        """What is known of the job."""
        self.show_made(results.get(FREEZE), results.get(MOULD))

    def show_made(self, made: FreezeResult | None, rig: RigResult | None) -> None:
        """Another result: cut through its last place until the hand moves the cut."""
        if made is not None and made is not self._made:
            self._y = made.cutaway.y_mm
            self._at = None
        self._made, self._rig = made, rig
        self._show()

    def _shown_as(self, key: str) -> None:
        self._shown = "fills" if key == "fills" else "sets"
        self._at = None
        self._show()

    def _slid(self, value: float) -> None:
        self._y = value
        self._show()

    def _slid_time(self, value: float) -> None:
        most = self.telling().most_s
        self._at = None if value >= 0.995 * most else value
        self._show()

    def telling(self) -> Telling:
        """What is painted."""
        if self._made is None:
            return Telling(self._shown, 1.0)
        return Telling(self._shown, ramp.last_s(self._made, self._shown), self._at)

    def _show(self) -> None:
        made, rig, telling = self._made, self._rig, self.telling()
        self.told.emit(telling)
        if made is None or rig is None or not rig.cuts:
            self.sketch.show_cut(None, None, None, telling)
            self.order.show_rows("", (), 1.0)
            return
        cut = min(rig.cuts, key=lambda one: abs(one.y_mm - self._y))
        half = rig.flask.wide_mm / 2.0
        self.slider.set_range(-half, half)
        self.slider.show_value(cut.y_mm)
        self.time.set_range(0.0, telling.most_s)
        self.time.show_value(telling.most_s if self._at is None else self._at)
        self._moment.setText(
            "All of it; slide for a moment" if self._at is None else f"{quantity('s_s', self._at)} after the pour"
        )
        off = quantity("off_mm", abs(cut.y_mm))
        self._where.setText(
            "Cut along the pins"
            if abs(cut.y_mm) < 0.5
            else f"Cut {off} {'behind' if cut.y_mm > 0 else 'before'} the pins"
        )
        self.sketch.show_cut(made, rig, cut, telling)
        if self._shown == "sets":
            self.order.show_rows("Order of setting", made.order, telling.most_s)
        else:
            rows = tuple(
                sorted(
                    ((f"end at {quantity('c_c', one.front_c)}", one.seconds) for one in made.fill.ends[:ROWS]),
                    key=lambda row: row[1],
                )
            )
            self.order.show_rows("Ends, as they fill", rows, telling.most_s)
        self.moved.emit(cut.y_mm)
