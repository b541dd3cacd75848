"""The bench: headline, the 3D picture, tags on leaders, legend chips and the flask pictogram with the draw arrow."""

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QFontMetricsF,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)  # fmt: skip
from PyQt6.QtWidgets import QWidget

from pounce.bench.look.marks import DRAW_MARKS, draw_mark, ring
from pounce.bench.look.tokens import colour, font
from pounce.bench.sayings import Saying
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.view3d.camera import Camera, fitted
from pounce.bench.view3d.client import RenderClient
from pounce.solid.mesh import Floats

HEAD = 66
FOOT = 50
REST_MS = 140


@dataclass(frozen=True)
class Tag:
    """A label on a leader: ``mark`` or ring, text, the point it speaks of, and its region."""

    text: str
    at: tuple[float, float, float]
    mark: str = ""
    nth: int | None = None
    region: int = -1


@dataclass(frozen=True)
class Chip:
    """A legend chip: mark, words, bold figure."""

    mark: str
    text: str
    figure: str = ""


@dataclass(frozen=True)
class Measure:
    """A dimension line between two points with its figure."""

    start: tuple[float, float, float]
    end: tuple[float, float, float]
    text: str
    away: tuple[float, float, float]


class BenchView(QWidget):
    """Paints frames from the render server with everything drawn on top; turns, slides and picks."""

    hovered = pyqtSignal(int)
    dropped = pyqtSignal(object)

    def __init__(self, client: RenderClient) -> None:
        super().__init__()
        self.setMinimumSize(420, 300)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Bench: the part in three dimensions. Arrow keys turn it.")
        self._client = client
        self._client.framed.connect(self._framed)
        self._client.sorry.connect(self._sorry)
        self._image: QImage | None = None
        self._image_camera = Camera()
        self._image_scene = -1
        self._anchors: dict[int, tuple[float, float, float]] = {}
        self._camera = Camera()
        self._points: Floats | None = None
        self._scene: SceneAsked | None = None
        self._saying = Saying("", "")
        self._tags: tuple[Tag, ...] = ()
        self._chips: tuple[Chip, ...] = ()
        self._measures: tuple[Measure, ...] = ()
        self._flask = False
        self._remark = ""
        self._legend_end = 0.0
        self._lit = -1
        self._trouble = ""
        self._drag: QPoint | None = None
        self._sliding = False
        self._fit_next = True
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(lambda: self._ask(False))
        self._hover = QTimer(self)
        self._hover.setSingleShot(True)
        self._hover.setInterval(60)
        self._hover.timeout.connect(self._pick)
        self._pointer = QPointF()

    # --- what is shown -------------------------------------------------------------------------------------------

    def say(self, saying: Saying) -> None:
        """The headline."""
        self._saying = saying
        self.setAccessibleDescription(f"{saying.head} {saying.under}")
        self.update()

    def mark(
        self, tags: tuple[Tag, ...], chips: tuple[Chip, ...], measures: tuple[Measure, ...], flask: bool, remark: str = ""
    ) -> None:
        """Tags, legend, dimensions and whether the flask pictogram stands there."""
        self._tags, self._chips, self._measures, self._flask, self._remark = tags, chips, measures, flask, remark
        self.update()

    def show_scene(self, scene: SceneAsked, points: Floats | None, refit: bool) -> None:
        """Another scene; ``points`` (n, 3) are what must be in the picture."""
        if scene == self._scene:
            return
        turned = self._scene is None or scene.direction != self._scene.direction
        self._scene = scene
        self._points = points
        if turned:
            self._camera = Camera(up=scene.direction)
        if refit or turned:
            self._fit_next = True
        self._client.scene(scene)
        self._ask(False)

    def clear(self) -> None:
        """Nothing on the bench."""
        self._scene, self._image, self._points = None, None, None
        self.update()

    def light(self, region: int) -> None:
        """Lights a region, -1 for none."""
        if region != self._lit:
            self._lit = region
            self._ask(False)

    def look_at(self, normal: tuple[float, float, float]) -> None:
        """Turns the view so that a face with this normal is seen."""
        up = np.array(self._camera.up)
        n = np.array(normal)
        base = Camera(up=self._camera.up, round_deg=0.0, tip_deg=0.0).axes()
        side = float(np.degrees(np.arctan2(-float(n @ base[0]), float(n @ base[2]))))
        tip = float(np.degrees(np.arcsin(np.clip(n @ up, -1.0, 1.0))))
        lying = np.hypot(float(n @ base[0]), float(n @ base[2])) > 0.1
        self._camera = Camera(
            self._camera.up, side if lying else self._camera.round_deg, min(max(tip * 0.7, -60.0), 60.0) or 15.0,
            self._camera.middle, self._camera.half_mm,
        )  # fmt: skip
        self._fit_next = True
        self._ask(False)

    def home(self) -> None:
        """The usual view."""
        self._camera = Camera(up=self._camera.up)
        self._fit_next = True
        self._ask(False)

    # --- frames --------------------------------------------------------------------------------------------------

    def _area(self) -> QRectF:
        return QRectF(0, HEAD, self.width(), max(self.height() - HEAD, 40))

    def _ask(self, moving: bool) -> None:
        if self._scene is None or self._scene.part is None:
            return
        area, ratio = self._area(), self.devicePixelRatioF()
        if self._fit_next and self._points is not None and len(self._points):
            self._fit_next = False
            view = fitted(self._camera, self._points, area.width(), area.height() - FOOT)
            lower = FOOT / 2.0
            wide = view.half_mm * area.height() / max(area.height() - FOOT, 1.0)
            self._camera = Camera(view.up, view.round_deg, view.tip_deg, view.middle, wide).slid(0, -lower, area.height())
        self._client.frame(self._camera, round(area.width() * ratio), round(area.height() * ratio), moving, self._lit)
        if moving:
            self._rest.start()

    def _framed(self, image: QImage, camera: object, scene: int, anchors: object) -> None:
        self._image_scene = scene
        self._anchors = anchors if isinstance(anchors, dict) else {}
        image.setDevicePixelRatio(self.devicePixelRatioF())
        self._image = image
        self._image_camera = camera if isinstance(camera, Camera) else self._camera
        self._trouble = ""
        self.update()

    def _sorry(self, text: str) -> None:
        self._trouble = f"The 3D picture could not be drawn ({text}). Everything else works; start Pounce again for it."
        self.update()

    @property
    def shown(self) -> bool:
        """Whether the part is on screen at all."""
        return self._image is not None

    @property
    def drawn(self) -> bool:
        """Whether a frame of the current camera is on screen."""
        fresh = self._image_scene == self._client.scene_number
        return self._image is not None and fresh and self._image_camera == self._camera and not self._rest.isActive()

    # --- hands ---------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Middle or left button turns; with Shift it slides."""
        if event is None:
            return
        self._drag = event.position().toPoint()
        self._sliding = (
            bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier) or event.button() == Qt.MouseButton.RightButton
        )
        self.setFocus()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Turns, slides, or asks what is under the pointer."""
        if event is None:
            return
        if self._drag is None:
            self._pointer = event.position()
            self._hover.start()
            return
        now = event.position().toPoint()
        step = now - self._drag
        self._drag = now
        if self._sliding:
            self._camera = self._camera.slid(step.x(), step.y(), self._area().height())
        else:
            self._camera = self._camera.turned(-step.x() * 0.45, step.y() * 0.45)
        self._ask(True)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Lets go; the fine picture follows."""
        self._drag = None

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Back to the usual view."""
        self.home()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Nearer or farther."""
        if event is not None:
            self._camera = self._camera.nearer(1.0015 ** event.angleDelta().y())
            self._ask(True)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows turn, plus and minus enlarge, Home goes back."""
        if event is None:
            return
        turns = {Qt.Key.Key_Left: (-8, 0), Qt.Key.Key_Right: (8, 0), Qt.Key.Key_Up: (0, 8), Qt.Key.Key_Down: (0, -8)}
        if event.key() in turns:
            self._camera = self._camera.turned(*turns[Qt.Key(event.key())])
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self._camera = self._camera.nearer(1.15)
        elif event.key() == Qt.Key.Key_Minus:
            self._camera = self._camera.nearer(1 / 1.15)
        elif event.key() == Qt.Key.Key_Home:
            self.home()
            return
        else:
            super().keyPressEvent(event)
            return
        self._ask(True)

    def leaveEvent(self, event: QEvent | None) -> None:
        """The pointer left: nothing is lit."""
        self._hover.stop()
        self.hovered.emit(-1)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The picture keeps its fit."""
        self._fit_next = True
        self._ask(True)

    def _pick(self) -> None:
        area, ratio = self._area(), self.devicePixelRatioF()
        if self._scene is None or not area.contains(self._pointer) or self._scene.kind not in ("draw", "parting"):
            return
        x, y = (self._pointer.x() - area.x()) * ratio, (self._pointer.y() - area.y()) * ratio
        self._client.pick(
            self._camera, round(area.width() * ratio), round(area.height() * ratio), x, y,
            lambda region, _: self.hovered.emit(region),
        )  # fmt: skip

    # --- painting ------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paper, picture, dimensions, tags, legend, pictogram, headline."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour("paper"))
        area = self._area()
        if self._image is not None:
            painter.drawImage(QPointF(area.x(), area.y()), self._image)
            painter.save()
            painter.translate(area.x(), area.y())
            for measure in self._measures:
                self._measure(painter, measure, area)
            self._paint_tags(painter, area)
            painter.restore()
        elif self._trouble:
            painter.setPen(colour("muted"))
            painter.setFont(font("body"))
            flags = int(Qt.AlignmentFlag.AlignCenter) | int(Qt.TextFlag.TextWordWrap)
            painter.drawText(area.adjusted(60, 0, -60, 0), flags, self._trouble)
        self._headline(painter)
        self._legend(painter)
        if self._flask:
            self._pictogram(painter)
        if self.hasFocus():
            painter.setPen(QPen(colour("ink"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(2, 2, self.width() - 4, self.height() - 4), 3, 3)
        painter.end()

    def _headline(self, painter: QPainter) -> None:
        painter.setPen(colour("ink"))
        painter.setFont(font("headline"))
        width = self.width() - 40
        text = QFontMetricsF(painter.font()).elidedText(self._saying.head, Qt.TextElideMode.ElideRight, width)
        painter.drawText(QRectF(20, 14, width, 28), Qt.AlignmentFlag.AlignVCenter, text)
        painter.setPen(colour("muted"))
        painter.setFont(font("body"))
        text = QFontMetricsF(painter.font()).elidedText(self._saying.under, Qt.TextElideMode.ElideRight, width)
        painter.drawText(QRectF(20, 42, width, 22), Qt.AlignmentFlag.AlignVCenter, text)

    def _legend(self, painter: QPainter) -> None:
        x, y = 16.0, self.height() - 42.0
        for chip in self._chips:
            painter.setFont(font("secondary"))
            words = QFontMetricsF(painter.font()).horizontalAdvance(chip.text)
            painter.setFont(font("figure"))
            figure = QFontMetricsF(painter.font()).horizontalAdvance(chip.figure) if chip.figure else 0.0
            width = 34 + words + (8 + figure if chip.figure else 0) + 8
            box = QRectF(x, y, width, 30)
            painter.setPen(QPen(colour("hairline"), 1))
            painter.setBrush(colour("panel"))
            painter.drawRoundedRect(box, 3, 3)
            self._sign(painter, chip.mark, x + 8, y + 7.5)
            painter.setPen(colour("ink"))
            painter.setFont(font("secondary"))
            painter.drawText(QRectF(x + 32, y, words + 4, 30), Qt.AlignmentFlag.AlignVCenter, chip.text)
            if chip.figure:
                painter.setFont(font("figure"))
                painter.drawText(QRectF(x + 38 + words, y, figure + 4, 30), Qt.AlignmentFlag.AlignVCenter, chip.figure)
            x += width + 7
        self._legend_end = x
        if self._remark:
            painter.setFont(font("secondary", italic=True))
            painter.setPen(colour("muted"))
            painter.drawText(QRectF(x + 12, y, 300, 30), Qt.AlignmentFlag.AlignVCenter, self._remark)

    def _sign(self, painter: QPainter, mark: str, x: float, y: float) -> None:
        if mark in DRAW_MARKS:
            draw_mark(painter, mark, x, y)
        elif mark in ("open", "half", "filled"):
            ring(painter, mark, x, y)
        elif mark in ("steelFlat", "timber", "sandWash"):
            painter.setPen(QPen(colour("ink"), 1))
            painter.setBrush(colour(mark))
            painter.drawRect(QRectF(x, y + 1, 17, 12))
        elif mark == "dash":
            painter.setPen(QPen(colour("ink"), 2.2, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, y + 7), QPointF(x + 18, y + 7))

    def _measure(self, painter: QPainter, measure: Measure, area: QRectF) -> None:
        """A dimension line beside the part, with slash ticks."""
        points = np.array([measure.start, measure.end])
        k = 26.0 * 2.0 * self._image_camera.half_mm / area.height()
        moved = points + np.array(measure.away) * k
        a, b = self._image_camera.project(moved, area.width(), area.height())[:, :2]
        bare = self._image_camera.project(points, area.width(), area.height())[:, :2]
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(QPointF(*a), QPointF(*b))
        for end, foot in zip((a, b), bare, strict=True):
            painter.drawLine(QPointF(*(foot + (end - foot) * 0.25)), QPointF(*(end + (end - foot) * 0.2)))
            painter.drawLine(QPointF(end[0] - 4, end[1] + 4), QPointF(end[0] + 4, end[1] - 4))
        middle = (a + b) / 2.0
        painter.setFont(font("figure"))
        width = QFontMetricsF(painter.font()).horizontalAdvance(measure.text)
        box = QRectF(middle[0] - width / 2 - 4, middle[1] - 11, width + 8, 22)
        painter.fillRect(box, colour("paper"))
        painter.setPen(colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, measure.text)

    def _paint_tags(self, painter: QPainter, area: QRectF) -> None:
        """Labels in two columns beside the part, tied to their places by straight leaders that do not cross."""
        if not self._tags:
            return
        spots = self._image_camera.project(
            np.array([self._anchors.get(tag.region, tag.at) for tag in self._tags]), area.width(), area.height()
        )
        painter.setFont(font("secondary"))
        metrics = QFontMetricsF(painter.font())
        middle = float(np.median(spots[:, 0])) if len(spots) > 2 else area.width() / 2
        for left in (True, False):
            mine = [i for i in range(len(self._tags)) if (spots[i, 0] <= middle) == left]
            mine.sort(key=lambda i: float(spots[i, 1]))
            y = 8.0
            bottom = area.height() - FOOT - 34.0 * len(mine)
            for i in mine:
                tag = self._tags[i]
                text = f"{tag.nth}   {tag.text}" if tag.nth else tag.text
                width = metrics.horizontalAdvance(text) + (36 if tag.mark else 16)
                y = max(y, min(float(spots[i, 1]) - 13 - (18 if left else -18), bottom))
                bottom += 34.0
                x = 16.0 if left else area.width() - width - 16.0
                if not left and y > area.height() - 178 and self._flask:
                    x -= 92.0
                box = QRectF(x, y, width, 26)
                self._tag(painter, tag, text, box, QPointF(float(spots[i, 0]), float(spots[i, 1])), left)
                y += 34.0

    def _tag(self, painter: QPainter, tag: Tag, text: str, box: QRectF, spot: QPointF, left: bool) -> None:
        lit = tag.region >= 0 and tag.region == self._lit
        painter.setPen(QPen(colour("ink"), 1.6 if lit else 1))
        painter.drawLine(QPointF(box.right() if left else box.left(), box.center().y()), spot)
        painter.setBrush(colour("field"))
        painter.drawEllipse(spot, 2.8, 2.8)
        painter.setPen(QPen(colour("ink") if lit else colour("outline"), 2 if lit else 1))
        painter.setBrush(colour("panel"))
        painter.drawRoundedRect(box, 3, 3)
        inset = 8.0
        if tag.mark:
            self._sign(painter, tag.mark, box.x() + 8, box.y() + 5.5)
            inset = 30.0
        painter.setPen(colour("ink"))
        painter.drawText(box.adjusted(inset, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, text)

    def _pictogram(self, painter: QPainter) -> None:
        """A flask in section with an arrow along the draw."""
        # above the legend where the window is too narrow for both
        x, y = self.width() - 92.0, self.height() - (104.0 if self._legend_end < self.width() - 110 else 150.0)
        painter.save()
        painter.translate(x, y)
        painter.setPen(QPen(colour("verdigris"), 2.2))
        painter.drawLine(QPointF(33, 20), QPointF(33, 0))
        painter.drawPolyline(QPolygonF([QPointF(26, 8), QPointF(33, 0), QPointF(40, 8)]))
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.setBrush(colour("sandWash"))
        painter.drawRect(QRectF(6, 26, 54, 16))
        painter.drawRect(QRectF(6, 52, 54, 16))
        painter.setBrush(colour("steelFlat"))
        painter.drawPolygon(QPolygonF([QPointF(18, 42), QPointF(24, 32), QPointF(42, 32), QPointF(48, 42)]))
        painter.drawPolygon(QPolygonF([QPointF(18, 52), QPointF(24, 62), QPointF(42, 62), QPointF(48, 52)]))
        painter.setPen(QPen(colour("ink"), 1.4, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(0, 47), QPointF(66, 47))
        painter.setPen(colour("ink"))
        painter.setFont(font("secondary"))
        painter.drawText(QRectF(-14, 72, 94, 20), Qt.AlignmentFlag.AlignCenter, "draws up")
        painter.restore()
