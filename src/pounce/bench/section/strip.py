"""The sand section strip: plan with the cut, brass slider, and the sketch of the cut."""

from dataclasses import replace

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QTransform
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from pounce.base.units import length, plain
from pounce.bench.look.tokens import SECTION, colour
from pounce.bench.section.bands import loops_path
from pounce.bench.section.sketch import Lifted, Sketch
from pounce.bench.widgets.parts import BrassSlider, Panel, button, label
from pounce.parting.insection import Cut2D, CutAsked

LEFT = 150


class Plan(QWidget):
    """The part from above with the line where it is cut. Dragging up and down moves the cut, sideways turns it."""

    moved = pyqtSignal(float)
    turned = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Plan with the cut. Up and down arrows move it, left and right turn it.")
        self.setToolTip("Drag up or down to move the cut, sideways to turn it")
        self.setCursor(Qt.CursorShape.SizeAllCursor)
        self._held: QPointF | None = None
        self.setFixedHeight(74)
        self._cut: Cut2D | None = None

    def show_cut(self, cut: Cut2D | None) -> None:
        """Another cut."""
        self._cut = cut
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Outline from above, brass cut line."""
        cut = self._cut
        if cut is None or not cut.plan:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide, deep = cut.high[0] - cut.low[0], cut.across_high - cut.across_low
        k = min((self.width() - 16) / max(wide, 1e-9), (self.height() - 16) / max(deep, 1e-9))
        middle_x, middle_y = (cut.low[0] + cut.high[0]) / 2, (cut.across_low + cut.across_high) / 2
        frame = (
            QTransform.fromTranslate(self.width() / 2, self.height() / 2).scale(k, k).translate(-middle_x, -middle_y)
        )
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.setBrush(colour("steelFlat"))
        painter.drawPath(frame.map(loops_path(cut.plan)))
        y = self.height() / 2 + (cut.offset - middle_y) * k
        painter.setPen(QPen(colour("brassInk"), 1.8, Qt.PenStyle.DashDotLine))
        painter.drawLine(QPointF(4, y), QPointF(self.width() - 4, y))
        painter.setPen(QPen(colour("brassInk"), 1.6))
        for x in (5.0, self.width() - 5.0):
            painter.drawPolyline(QPolygonF([QPointF(x - 3, y - 6), QPointF(x, y - 11), QPointF(x + 3, y - 6)]))
        painter.end()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Takes hold of the cut."""
        if event is not None:
            self._held = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Moves or turns the cut with the hand."""
        if event is None or self._held is None or self._cut is None:
            return
        step = event.position() - self._held
        self._held = event.position()
        if abs(step.x()) > abs(step.y()):
            self.turned.emit(step.x() * 1.0)
        else:
            self.moved.emit(min(max(self._cut.asked.share + step.y() / max(self.height() - 16, 1), 0.0), 1.0))

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """Lets go."""
        self._held = None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move and turn the cut."""
        if event is None or self._cut is None:
            return
        share = self._cut.asked.share
        moves = {Qt.Key.Key_Up: -0.02, Qt.Key.Key_Down: 0.02}
        turns = {Qt.Key.Key_Left: -5.0, Qt.Key.Key_Right: 5.0}
        if event.key() in moves:
            self.moved.emit(min(max(share + moves[Qt.Key(event.key())], 0.0), 1.0))
        elif event.key() in turns:
            self.turned.emit(turns[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)


class SectionStrip(Panel):
    """Title, plan and slider on the left, the sketch on the right; asks for cuts, never makes them."""

    asked = pyqtSignal(object)
    hovered = pyqtSignal(int)

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
        column.setSpacing(0)
        self._title = label("Sand section", "section")
        self._where = label("", "muted")
        self._turn = button("Turn the cut", "link", self._turned, "Turns the cut by 15 degrees about the draw")
        self.plan = Plan()
        self.plan.moved.connect(self._slid)
        self.plan.turned.connect(self._turned_by)
        self.slider = BrassSlider("Where the section is cut")
        self.slider.moved.connect(self._slid)
        for widget in (self._title, self._where, self.plan, self.slider):
            column.addWidget(widget)
        column.addWidget(self._turn, alignment=Qt.AlignmentFlag.AlignHCenter)
        column.addStretch(1)
        layout.addWidget(side)
        self.sketch = Sketch()
        self.sketch.hovered.connect(self.hovered)
        layout.addWidget(self.sketch, 1)
        self._asked = CutAsked()

    def show_cut(self, cut: Cut2D | None, unit: str, mould: bool) -> None:
        """Another cut, or None while there is none."""
        self._title.setText("Sand section" if mould else "Section")
        if cut is None:
            self._where.setText("")
        elif mould:
            turned = "" if cut.asked.angle_deg % 90.0 == 0.0 else f", turned {plain(cut.asked.angle_deg, 0)}°"
            off = cut.offset - (cut.across_low + cut.across_high) / 2.0
            near = abs(off) < 0.002 * (cut.across_high - cut.across_low)
            self._where.setText(
                f"Through the middle{turned}"
                if near and not (cut.asked.stock or cut.asked.cores)
                else "With the cores set"
                if near and cut.asked.cores
                else "Before and after"
                if near
                else f"{length(abs(off), unit)} {'behind' if off > 0 else 'before'} the middle"
            )
        else:
            self._where.setText("Of the pattern, at its size" if cut.asked.pattern else "Plain cut, no sand yet")
        self.plan.show_cut(cut)
        self.sketch.show_cut(cut, unit, mould)
        if cut is not None:
            self._asked = replace(cut.asked, unit=unit)
            if not self.slider.hasFocus():
                self.slider.show_value(cut.asked.share)

    def light(self, region: int) -> None:
        """Marks one region in the sketch."""
        self.sketch.light(region)

    def _slid(self, share: float) -> None:
        self._asked = replace(self._asked, share=share)
        self.asked.emit(self._asked)

    def show_lift(self, lifted: Lifted) -> None:
        """The trial at another height."""
        self.sketch.show_lift(lifted)

    def _turned(self) -> None:
        self._turned_by(15.0)

    def _turned_by(self, degrees: float) -> None:
        self._asked = replace(self._asked, angle_deg=(max(self._asked.angle_deg, 0.0) + degrees) % 180.0)
        self.asked.emit(self._asked)
