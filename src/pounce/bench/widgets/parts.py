"""Small widgets of the house: lines, labels, segmented choices, figure fields, the brass slider."""

import math
from collections.abc import Callable, Sequence

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QDoubleSpinBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLayout,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from pounce.base.units import from_mm
from pounce.bench.look.focus import ringed
from pounce.bench.look.tokens import colour, font
from pounce.craft.glossary import explained

# A label narrower than this is not laid out yet, pixels.
LEAST_LINE = 60


def label(text: str = "", role: str = "", wrap: bool = False) -> QLabel:
    """A label in a role of the style sheet."""
    out = Wrapped(text) if wrap else QLabel(text)
    if role:
        out.setProperty("role", role)
    out.setTextFormat(Qt.TextFormat.PlainText)
    return out


class Wrapped(QLabel):
    """A label of several lines that is never squeezed: a scrolled card asks its rows for their least height, and Qt
    forgets there how many lines a text takes at its width.
    """

    def __init__(self, text: str = "") -> None:
        super().__init__(text)
        self.setWordWrap(True)

    def setText(self, text: str | None) -> None:
        """Another text, with the height it wants."""
        super().setText(text)
        self._fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another width."""
        super().resizeEvent(event)
        self._fit()

    def changeEvent(self, event: QEvent | None) -> None:
        """Another typeface or size of it."""
        super().changeEvent(event)
        if event is not None and event.type() in (QEvent.Type.FontChange, QEvent.Type.StyleChange):
            self._fit()

    def _fit(self) -> None:
        wanted = self.heightForWidth(self.width()) if self.text() and self.width() > LEAST_LINE else 0
        if self.minimumHeight() != wanted:
            self.setMinimumHeight(wanted)


def line() -> QFrame:
    """A hairline."""
    out = QFrame()
    out.setObjectName("line")
    out.setFixedHeight(1)
    return out


def button(text: str, kind: str = "", act: Callable[[], object] | None = None, tip: str = "") -> QPushButton:
    """A push button of a kind of the style sheet."""
    out = QPushButton(text)
    if kind:
        out.setProperty("kind", kind)
    if act is not None:
        out.clicked.connect(lambda _=False: act())
    if tip:
        out.setToolTip(tip)
    out.setCursor(Qt.CursorShape.PointingHandCursor)
    return out


class Panel(QWidget):
    """A region with a ground of its own: ``panel`` or ``paper`` of the style sheet."""

    def __init__(self, ground: str = "panel") -> None:
        super().__init__()
        self.setObjectName(ground)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)


def emptied(layout: QLayout) -> None:
    """Takes every widget out of the layout and lets it go."""
    while layout.count():
        item = layout.takeAt(0)
        old = None if item is None else item.widget()
        if old is not None:
            old.hide()
            old.deleteLater()


class Row(QWidget):
    """A name on the left and its control on the right."""

    def __init__(self, name: str, control: QWidget, tip: str = "") -> None:
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(8)
        self.title = title = label(name)
        title.setBuddy(control)
        told = "\n".join(one for one in (tip, explained(name)) if one)
        if told:
            title.setToolTip(told)
            control.setToolTip(told)
            control.setAccessibleDescription(told)
        if not control.accessibleName():
            control.setAccessibleName(name)
        layout.addWidget(title)
        layout.addStretch(1)
        layout.addWidget(control)


class Fold(QWidget):
    """A head that opens and shuts what stands under it; ``body`` takes it."""

    def __init__(self, title: str, shut: bool) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.title = title
        self.head = button("", "foldhead", self._toggle)
        self.inner = QWidget()
        self.body = QVBoxLayout(self.inner)
        self.body.setContentsMargins(0, 0, 0, 0)
        self.body.setSpacing(0)
        column.addWidget(self.head)
        column.addWidget(self.inner)
        self.inner.setVisible(not shut)
        self._say()

    def _toggle(self) -> None:
        self.inner.setVisible(self.inner.isHidden())
        self._say()

    def tell(self) -> None:
        """Its title, after it changed."""
        self._say()

    def _say(self) -> None:
        self.head.setText(("›" if self.inner.isHidden() else "⌄") + f"  {self.title}")


class Segments(QWidget):
    """A few choices side by side, one of them chosen."""

    chosen = pyqtSignal(str)

    def __init__(self, choices: Sequence[tuple[str, str]], name: str = "") -> None:
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        self._group = QButtonGroup(self)
        self._buttons: dict[str, QPushButton] = {}
        self.setAccessibleName(name)
        for key, text in choices:
            one = button(text, "segment")
            one.setCheckable(True)
            one.setAccessibleName(f"{name}: {text}" if name else text)
            one.clicked.connect(lambda _=False, key=key: self.chosen.emit(key))
            self._group.addButton(one)
            self._buttons[key] = one
            layout.addWidget(one)

    def show_choice(self, key: str) -> None:
        """Shows which one is chosen, without saying so."""
        if key in self._buttons:
            self._buttons[key].setChecked(True)
        else:
            self._group.setExclusive(False)
            for one in self._buttons.values():
                one.setChecked(False)
            self._group.setExclusive(True)

    def button(self, key: str) -> QPushButton:
        """The button of a choice."""
        return self._buttons[key]


# Decimals of a field in inches, and how far a press moves it there: the nearest of these to its step in mm.
INCH_DIGITS, INCH_STEPS = 3, (0.001, 0.005, 0.01, 0.05, 0.1, 0.25, 0.5, 1.0, 5.0)


class Figure(QDoubleSpinBox):
    """A figure with its unit; says ``given`` once the user has settled on a value."""

    given = pyqtSignal(float)

    def __init__(self, suffix: str, low: float, high: float, digits: int, step: float, name: str) -> None:
        super().__init__()
        self._low, self._high, self._digits, self._step = low, high, digits, step
        self.setDecimals(digits)
        self.setRange(low, high)
        self.setSingleStep(step)
        self.setSuffix(suffix)
        self.setKeyboardTracking(False)
        self.setAccessibleName(name)
        self.setFixedWidth(104)
        self.valueChanged.connect(self._tell)
        self._quiet = False

    def show_value(self, value: float) -> None:
        """Shows a value without saying so."""
        self._quiet = True
        self.setValue(value)
        self._quiet = False

    def show_length(self, value_mm: float, unit: str) -> None:
        """Shows a length without saying so, in a field that was made for mm: range, step and decimals follow the
        reader's unit, or what is within its range in mm is not within it in inches.
        """
        self._quiet = True
        if unit == "in":  # inside the range also as it is rounded
            share = 10.0**INCH_DIGITS
            self.setDecimals(INCH_DIGITS)
            self.setRange(
                math.ceil(from_mm(self._low, unit) * share) / share,
                math.floor(from_mm(self._high, unit) * share) / share,
            )
            self.setSingleStep(min(INCH_STEPS, key=lambda one: abs(math.log(one / from_mm(self._step, unit)))))
        else:
            self.setDecimals(self._digits)
            self.setRange(self._low, self._high)
            self.setSingleStep(self._step)
        self.setSuffix(f" {unit}")
        self.setValue(from_mm(value_mm, unit))
        self._quiet = False

    def _tell(self, value: float) -> None:
        if not self._quiet:
            self.given.emit(value)

    def wheelEvent(self, event: object) -> None:
        """The wheel scrolls the card; it does not change figures by accident."""
        event.ignore()  # type: ignore[attr-defined]


class Choice(QComboBox):
    """A list to choose from by id."""

    given = pyqtSignal(str)

    def __init__(self, name: str, choices: Sequence[tuple[str, str]] = ()) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setFixedWidth(170)
        for key, text in choices:
            self.addItem(text, key)
        self.activated.connect(lambda index: self.given.emit(str(self.itemData(index))))

    def show_choice(self, key: str) -> None:
        """Shows a choice without saying so."""
        self.setCurrentIndex(self.findData(key))

    def wheelEvent(self, event: object) -> None:
        """The wheel scrolls the card, not the choice."""
        event.ignore()  # type: ignore[attr-defined]


class BrassSlider(QWidget):
    """A brass tongue on a wooden rail: anything brass slides."""

    moved = pyqtSignal(float)
    settled = pyqtSignal(float)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setFixedHeight(30)
        self.setMinimumWidth(80)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)
        self._low, self._high, self._value = 0.0, 1.0, 0.5
        self._band: tuple[float, float] | None = None
        self._tick: float | None = None
        self._dragging = False

    def set_range(
        self, low: float, high: float, band: tuple[float, float] | None = None, tick: float | None = None
    ) -> None:
        """The rail's ends, a band to show on it and a dashed tick."""
        self._low, self._high, self._band, self._tick = low, max(high, low + 1e-9), band, tick
        self.update()

    def value(self) -> float:
        """Where the tongue stands."""
        return self._value

    def show_value(self, value: float) -> None:
        """Moves the tongue without saying so."""
        self._value = min(max(value, self._low), self._high)
        self.update()

    def _x(self, value: float) -> float:
        return 9 + (self.width() - 18) * (value - self._low) / (self._high - self._low)

    def _at(self, x: float) -> float:
        return self._low + (self._high - self._low) * min(max((x - 9) / max(self.width() - 18, 1), 0.0), 1.0)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Takes hold."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._dragging = True
            self._move(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Slides."""
        if event is not None and self._dragging:
            self._move(event.position().x())

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """Lets go."""
        if self._dragging:
            self._dragging = False
            self.settled.emit(self._value)

    def _move(self, x: float) -> None:
        self._value = self._at(x)
        self.update()
        self.moved.emit(self._value)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows slide by a fiftieth, Home and End to the ends."""
        if event is None:
            return
        step = (self._high - self._low) / 50.0
        keys = {Qt.Key.Key_Left: -step, Qt.Key.Key_Down: -step, Qt.Key.Key_Right: step, Qt.Key.Key_Up: step}
        if event.key() in keys:
            self._value = min(max(self._value + keys[Qt.Key(event.key())], self._low), self._high)
        elif event.key() == Qt.Key.Key_Home:
            self._value = self._low
        elif event.key() == Qt.Key.Key_End:
            self._value = self._high
        else:
            super().keyPressEvent(event)
            return
        self.update()
        self.moved.emit(self._value)
        self.settled.emit(self._value)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Rail, band, tick and tongue."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = 15.0
        painter.setPen(QPen(colour("outline"), 3, cap=Qt.PenCapStyle.RoundCap))
        painter.drawLine(QPointF(6, middle), QPointF(self.width() - 6, middle))
        if self._band is not None:
            painter.setPen(QPen(colour("brass"), 1))
            painter.setBrush(colour("sandWash"))
            left = self._x(self._band[0])
            painter.drawRect(QRectF(left, middle - 5, self._x(self._band[1]) - left, 10))
        if self._tick is not None:
            painter.setPen(QPen(colour("ink"), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(self._x(self._tick), middle - 9), QPointF(self._x(self._tick), middle + 9))
        x = self._x(self._value)
        tongue = QPolygonF(
            [QPointF(x - 6, 4), QPointF(x + 6, 4), QPointF(x + 6, 19), QPointF(x, 26), QPointF(x - 6, 19)]
        )
        painter.setPen(QPen(colour("brassInk"), 2 if ringed(self) else 1.2))
        painter.setBrush(colour("brass"))
        painter.drawPolygon(tongue)
        painter.drawLine(QPointF(x - 2, 9), QPointF(x - 2, 17))
        painter.drawLine(QPointF(x + 2, 9), QPointF(x + 2, 17))
        if ringed(self):
            painter.setPen(QPen(colour("ink"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(1, 1, self.width() - 2, self.height() - 2), 3, 3)
        painter.end()


def italic(text: str) -> QLabel:
    """A remark in italics."""
    out = label(text, "muted", wrap=True)
    out.setFont(font("secondary", italic=True))
    return out
