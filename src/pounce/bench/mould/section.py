"""The mould cut along the pins: cope over drag, castings, gating and cores, what pushes up and what lies on it."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QPixmap, QTransform
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.units import length, mass
from pounce.bench.look.tokens import SECTION, colour, font
from pounce.bench.mould import strokes
from pounce.bench.section.sketch import sand_picture
from pounce.bench.widgets.parts import BrassSlider, Panel, label
from pounce.rig.flow import G
from pounce.rig.values import Cut, RigResult, Sprue

LEFT, EDGE, BOTTOM, WORDS = 150, 86.0, 12.0, 210.0
WALL = 0.045
# A tin about a sprue that is higher than the cope is so many times as wide as half the sprue.
EXTENSION = 1.8


class MouldCut(QWidget):
    """Paints one cut."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Section through the mould along its pins")
        self._rig: RigResult | None = None
        self._cut: Cut | None = None
        self._unit = "mm"
        self._sand: QPixmap | None = None
        self._frame = QTransform()

    def show_cut(self, rig: RigResult | None, cut: Cut | None, unit: str) -> None:
        """Another cut of a mould, or none."""
        self._rig, self._cut, self._unit = rig, cut, unit
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Walls, sand, metal, joint, figures."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rig, cut = self._rig, self._cut
        if rig is None or cut is None:
            painter.setPen(colour("muted"))
            painter.setFont(font("secondary"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "The cut follows with the mould.")
            painter.end()
            return
        self._place(rig)
        self._box(painter, rig, cut)
        self._bodies(painter, cut)
        if not rig.loose:
            self._joint(painter, rig)
        self._words(painter, rig)
        painter.end()

    def _place(self, rig: RigResult) -> None:
        f = rig.flask
        wide, high = f.long_mm * (1.0 + 2.0 * WALL), f.cope_mm + rig.extension_mm + f.drag_mm
        k = min((self.width() - WORDS - EDGE) / wide, (self.height() - 2.0 * BOTTOM) / high)
        middle = (f.cope_mm + rig.extension_mm - f.drag_mm) / 2.0
        centre = QTransform.fromTranslate((self.width() + WORDS - EDGE) / 2.0, self.height() / 2.0)
        self._frame = centre.scale(k, -k).translate(0.0, -middle)

    def _rect(self, x0: float, z0: float, x1: float, z1: float) -> QRectF:
        return QRectF(self._frame.map(QPointF(x0, z1)), self._frame.map(QPointF(x1, z0)))

    def _box(self, painter: QPainter, rig: RigResult, cut: Cut) -> None:
        f = rig.flask
        half = f.long_mm / 2.0
        if f.shape != "box":  # a round flask is narrower away from its middle
            half = max(half * half - cut.y_mm * cut.y_mm, 1.0) ** 0.5
        wall = WALL * f.long_mm
        inside = self._rect(-half, -f.drag_mm, half, f.cope_mm)
        if self._sand is None or self._sand.size() != self.size():
            self._sand = sand_picture(self.width(), self.height())
        painter.save()
        painter.setClipRect(inside)
        painter.fillRect(inside, colour("sandWash"))
        painter.drawPixmap(0, 0, self._sand)
        painter.restore()
        if rig.extension_mm > 0.0 and rig.sprue is not None:
            self._extension(painter, rig, rig.sprue, cut)
        if f.shape == "can":
            self._can(painter, half, -f.drag_mm, f.cope_mm)
            return
        for side in (-1.0, 1.0):
            for low, high in ((-f.drag_mm, 0.0), (0.0, f.cope_mm)):
                path = QPainterPath()
                path.addRect(
                    self._rect(
                        min(side * half, side * (half + wall)), low, max(side * half, side * (half + wall)), high
                    )
                )
                strokes.timber(painter, path)
        under = QPainterPath()
        under.addRect(
            self._rect(-half - 1.5 * wall, -f.drag_mm - 5.0 / self._frame.m11(), half + 1.5 * wall, -f.drag_mm)
        )
        strokes.timber(painter, under)

    def _extension(self, painter: QPainter, rig: RigResult, sprue: Sprue, cut: Cut) -> None:
        """The tin of sand about a sprue that is higher than the cope, where the cut goes through it."""
        half = EXTENSION * sprue.top_mm
        off = abs(cut.y_mm - sprue.at_mm[1])
        if off >= half:
            return
        half = (half * half - off * off) ** 0.5
        x, low, high = sprue.at_mm[0], rig.flask.cope_mm, rig.flask.cope_mm + rig.extension_mm
        box = self._rect(x - half, low, x + half, high)
        painter.fillRect(box, colour("sandWash"))
        thick = strokes.CAN_PX / self._frame.m11()
        path = QPainterPath()
        for side in (-1.0, 1.0):
            near, far = sorted((x + side * half, x + side * (half + thick)))
            path.addRect(self._rect(near, low, far, high))
        strokes.sheet(painter, path)

    def _can(self, painter: QPainter, half: float, low: float, high: float) -> None:
        """A pail is one vessel of sheet, with a bottom and no joint."""
        thick = strokes.CAN_PX / self._frame.m11()
        path = QPainterPath()
        for box in (
            (-half - thick, low - thick, -half, high),
            (half, low - thick, half + thick, high),
            (-half - thick, low - thick, half + thick, low),
        ):
            path.addRect(self._rect(*box))
        strokes.sheet(painter, path.simplified())

    def _bodies(self, painter: QPainter, cut: Cut) -> None:
        for kind in ("gating", "casting", "core"):
            own = [ring for of, ring in cut.rings if of == kind]
            for ring in own:
                strokes.body(painter, self._frame, (ring,), kind)
            if kind != "casting":
                continue
            for of, ring in cut.rings:
                if of == "hole":
                    strokes.body(painter, self._frame, (ring,), "hole")

    def _joint(self, painter: QPainter, rig: RigResult) -> None:
        pen = QPen(colour("ink"), 2.4)
        pen.setDashPattern([10 / 2.4, 5 / 2.4])
        painter.setPen(pen)
        half = rig.flask.long_mm / 2.0 * (1.0 + 3.0 * WALL)
        painter.drawLine(self._frame.map(QPointF(-half, 0.0)), self._frame.map(QPointF(half, 0.0)))

    def _words(self, painter: QPainter, rig: RigResult) -> None:
        f, w = rig.flask, rig.weights
        left = self._frame.map(QPointF(-f.long_mm / 2.0, 0.0))
        right = self._frame.map(QPointF(f.long_mm / 2.0 * (1.0 + 2.0 * WALL), 0.0))
        top, bottom = (self._frame.map(QPointF(0.0, z)).y() for z in (f.cope_mm, -f.drag_mm))
        painter.setFont(font("button"))
        painter.setPen(colour("ink"))
        for words, y in () if rig.loose else (("COPE", top + 4), ("DRAG", bottom - 22)):
            painter.drawText(QRectF(left.x() + 8, y, 80, 18), Qt.AlignmentFlag.AlignVCenter, words)
        x = right.x() + 34.0
        for one, two, value in ((top, right.y(), f.cope_mm), (right.y(), bottom, f.drag_mm)):
            strokes.outside(painter, QPointF(x, one), QPointF(x, two), length(value, self._unit), "panel")
        edge = self._frame.map(QPointF(-f.long_mm / 2.0 * (1.0 + 3.0 * WALL), 0.0)).x() - 10.0
        top = self._frame.map(QPointF(0.0, f.cope_mm + rig.extension_mm)).y()
        rows = [("sand", mass(w.cope_sand_kg + w.drag_sand_kg), "ink")]
        if not rig.loose:
            rows = [("the cope weighs", mass(w.cope_kg), "ink")]
        if w.lift_n > 0.0:
            pushes = "halves driven apart with" if rig.on_end else "metal pushes up with"
            rows.insert(0, (pushes, mass(w.lift_n / G), "ember"))
        if w.add_kg > 0.05:
            rows.append(("clamp with" if rig.on_end else "put on it", mass(w.add_kg), "ember"))
        for k, (words, figure, tone) in enumerate(rows):
            painter.setPen(colour(tone))
            painter.setFont(font("secondary"))
            box = QRectF(0.0, top + 2 + 22.0 * k, edge, 20)
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, f"{words} {figure}")


def _telling(rig: RigResult) -> float:
    """Where a first cut says most: through the sprue where it meets a casting too, else through the first casting."""
    if rig.sprue is not None:
        y = rig.sprue.at_mm[1]
        cut = min(rig.cuts, key=lambda one: abs(one.y_mm - y))
        if any(of == "casting" for of, _ in cut.rings):
            return cut.y_mm
    return rig.castings[0].at_mm[1]


class MouldSection(Panel):
    """Title and slider on the left, the cut on the right."""

    moved = pyqtSignal(float)

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
        column.setSpacing(4)
        self._where = label("", "muted", wrap=True)
        self.slider = BrassSlider("Where the mould is cut")
        self.slider.moved.connect(self._slid)
        for widget in (label("Sand section", "section"), self._where, self.slider):
            column.addWidget(widget)
        column.addStretch(1)
        layout.addWidget(side)
        self.sketch = MouldCut()
        layout.addWidget(self.sketch, 1)
        self._rig: RigResult | None = None
        self._unit, self._y = "mm", 0.0

    def show_rig(self, rig: RigResult | None, unit: str) -> None:
        """Another mould: cut through its first casting until the hand moves the cut."""
        if rig is not None and (
            self._rig is None or rig.flask != self._rig.flask or rig.castings != self._rig.castings
        ):
            self._y = _telling(rig)
        self._rig, self._unit = rig, unit
        self._show()

    def _slid(self, value: float) -> None:
        self._y = value
        self._show()

    def _show(self) -> None:
        rig = self._rig
        if rig is None or not rig.cuts:
            self._where.setText("")
            self.sketch.show_cut(None, None, self._unit)
            return
        cut = min(rig.cuts, key=lambda one: abs(one.y_mm - self._y))
        half = rig.flask.wide_mm / 2.0
        self.slider.set_range(-half, half)
        if not self.slider.hasFocus():
            self.slider.show_value(cut.y_mm)
        off = length(abs(cut.y_mm), self._unit)
        self._where.setText(
            "Along the pins"
            if abs(cut.y_mm) < 0.5
            else f"{off} {'behind' if cut.y_mm > 0 else 'before'} the line of the pins"
        )
        self.sketch.show_cut(rig, cut, self._unit)
        self.moved.emit(cut.y_mm)
