"""The bench: headline, the 3D picture, tags on leaders, legend chips and the flask pictogram with the draw arrow."""

from collections.abc import Callable

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
    QResizeEvent,
    QWheelEvent,
)  # fmt: skip
from PyQt6.QtWidgets import QWidget

from pounce.base.units import degrees, length
from pounce.bench.look.tokens import colour, font
from pounce.bench.section.sketch import Lifted
from pounce.bench.stops.view import Saying
from pounce.bench.view3d.asks import SceneAsked, Spot, Tinted
from pounce.bench.view3d.camera import Camera, fitted
from pounce.bench.view3d.client import RenderClient
from pounce.bench.widgets.labels import FOOT, HEAD, Chip, Labels, Measure, Tag
from pounce.solid.frame import unit as of_length_one
from pounce.solid.mesh import Floats

TILT_PX = 120.0
GRIP_PX = 22
REST_MS = 140


def spot_words(spot: Spot, unit: str, marking: bool) -> str:
    """What lies under the pointer in words."""
    said = []
    if marking:
        said.append(f"{('draws clean', 'tight', 'locks')[spot.state]}, draft {degrees(spot.draft_deg)}")
    if np.isfinite(spot.thick_mm):
        said.append(f"{length(spot.thick_mm, unit)} thick")
    return ", ".join(said)


def measured_words(spots: list[Spot], unit: str) -> str:
    """One point: how thick the stuff is there; two: the distance; three: also the angle at the second."""
    points = [np.array(spot.point) for spot in spots]
    if len(points) == 1:
        thick = f"{length(spots[0].thick_mm, unit, 2)} thick here. " if np.isfinite(spots[0].thick_mm) else ""
        return f"{thick}Click a second point"
    gap = float(np.linalg.norm(points[1] - points[0]))
    if len(points) == 2:
        faces = float(np.degrees(np.arccos(np.clip(np.dot(spots[0].normal, spots[1].normal), -1.0, 1.0))))
        return f"{length(gap, unit, 2)} apart, faces {degrees(faces)} to each other"
    one, two = points[0] - points[1], points[2] - points[1]
    size = float(np.linalg.norm(one) * np.linalg.norm(two))
    angle = float(np.degrees(np.arccos(np.clip(one @ two / max(size, 1e-12), -1.0, 1.0))))
    return f"{degrees(angle)} at the second point"


class BenchView(QWidget):
    """Paints frames from the render server with everything drawn on top; turns, slides and picks."""

    hovered = pyqtSignal(int)
    tilted = pyqtSignal(object)
    tilt_done = pyqtSignal(object)
    tilt_near = pyqtSignal(object)
    heightened = pyqtSignal(float)
    dropped = pyqtSignal(object)
    clicked = pyqtSignal(object)

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
        self._camera = Camera()
        self._points: Floats | None = None
        self._scene: SceneAsked | None = None
        self._saying = Saying("", "")
        self.labels = Labels()
        self.can_tilt = False
        self._tilting: tuple[QPointF, Floats] | None = None
        self._tilt: tuple[float, float, float] | None = None
        self._live = False
        self.measuring = False
        self.name_of: Callable[[int], str] | None = None
        self._spots: list[Spot] = []
        self._moved = False
        self._lift = Lifted()
        self._unit = "mm"
        self.beside: QWidget | None = None
        self._grip: float | None = None
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
        labels = self.labels
        labels.tags, labels.measures, labels.remark = tags, measures, remark
        if not self._live:
            labels.chips, labels.flask = chips, flask
        self.update()

    def live_chips(self, chips: tuple[Chip, ...]) -> None:
        """The areas counting along while the draw is tilted; tags of the old draw are taken away."""
        self.labels.chips, self.labels.tags = chips, ()
        self.update()

    def live_legend(self, chips: tuple[Chip, ...]) -> None:
        """Another legend, the tags stay."""
        self.labels.chips = chips
        self.update()

    def lift(self, lifted: Lifted) -> None:
        """The trial at another height."""
        if lifted != self._lift:
            self._lift = lifted
            self._ask(True)

    def set_unit(self, unit: str) -> None:
        """Lengths in mm or inches."""
        self._unit = unit

    def measure(self, on: bool) -> None:
        """Starts or ends measuring: two clicks give a distance, a third the angle between."""
        self.measuring = on
        self._spots = []
        self.labels.marks, self.labels.said = (), ""
        self.setCursor(Qt.CursorShape.CrossCursor if on else Qt.CursorShape.ArrowCursor)
        self.update()

    def toward(self) -> tuple[float, float, float]:
        """The way from the part to the eye."""
        x, y, z = (float(value) for value in self._camera.axes()[2])
        return x, y, z

    def ready_live(self, tinted: Tinted) -> None:
        """Makes what live turning needs before the hand takes the arrow."""
        self._client.tint(tinted)

    def show_live(self, tinted: Tinted | None) -> None:
        """Live states on the part while its draw is tilted, or the judged ones again."""
        self._live = tinted is not None
        self._client.tint(tinted)
        self._ask(tinted is not None)

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
        self._client.frame(
            self._camera, round(area.width() * ratio), round(area.height() * ratio), moving, self._lit,
            self._lift.lift_mm, self._lift.drawn_mm,
        )  # fmt: skip
        if moving:
            self._rest.start()

    def _framed(self, image: QImage, camera: object, scene: int, anchors: object) -> None:
        self._image_scene = scene
        self.labels.anchors = anchors if isinstance(anchors, dict) else {}
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
        """Middle or left button turns; with Shift it slides. The arrow of the flask tilts the draw."""
        if event is None:
            return
        self.setFocus()
        if self.can_tilt and self._scene is not None and self.labels.pictogram_box().contains(event.position()):
            self._tilting = (event.position(), np.array(self._scene.direction))
            return
        if self.labels.handle is not None and self._handle_spot() is not None:
            spot = self._handle_spot()
            if spot is not None and (event.position() - spot).manhattanLength() < GRIP_PX:
                self._grip = event.position().y()
                return
        self._moved = False
        self._drag = event.position().toPoint()
        self._sliding = (
            bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier) or event.button() == Qt.MouseButton.RightButton
        )

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Turns, slides, tilts the draw, or asks what is under the pointer."""
        if event is None:
            return
        if self._tilting is not None:
            self._tilt_to(event.position())
            return
        if self._grip is not None:
            self.labels.handle_px = event.position().y() - self._grip
            self.update()
            return
        if self._drag is None:
            self._pointer = event.position()
            over = self.can_tilt and self.labels.pictogram_box().contains(self._pointer)
            self.setToolTip("Drag the arrow to tilt the draw" if over else "")
            if over and self._scene is not None:
                self.tilt_near.emit(self._scene.direction)
            self._hover.start()
            return
        now = event.position().toPoint()
        step = now - self._drag
        self._moved = self._moved or step.manhattanLength() > 2
        if not self._moved:
            return
        self._drag = now
        if self._sliding:
            self._camera = self._camera.slid(step.x(), step.y(), self._area().height())
        else:
            self._camera = self._camera.turned(-step.x() * 0.45, step.y() * 0.45)
        self._ask(True)

    def _tilt_to(self, at: QPointF) -> None:
        """The draw leaned the way the arrow's tip was dragged: sideways on the screen, down toward the eye."""
        if self._tilting is None:
            return
        start, direction = self._tilting
        step = at - start
        self.tilt_by(direction, step.x() / TILT_PX, step.y() / TILT_PX)

    def tilt_by(self, direction: Floats, right: float, nearer: float) -> None:
        """Leans ``direction`` by these shares to the right and toward the eye, and says so."""
        self._tilt = self.leaned(direction, right, nearer)
        self.labels.lean_deg = float(np.degrees(np.arctan(right)))
        self.tilted.emit(self._tilt)
        self.update()

    def _handle_spot(self) -> QPointF | None:
        """Where the joint's handle stands in this widget."""
        if self.labels.handle is None:
            return None
        area = self._area()
        x, y, _ = self._camera.project(np.array([self.labels.handle]), area.width(), area.height())[0]
        return QPointF(float(x) + area.x(), float(y) + area.y())

    def _handle_mm(self) -> float:
        """How far along the draw the handle was dragged."""
        axes, up = self._camera.axes(), np.array(self._camera.up)
        seen = max(abs(float(axes[1] @ up)), 0.2)  # seen from above, a small move on the screen must not fling it away
        return -self.labels.handle_px * 2.0 * self._camera.half_mm / self._area().height() / seen

    @property
    def tilting(self) -> bool:
        """Whether a hand holds the arrow."""
        return self._tilting is not None

    def leaned(self, direction: Floats, right: float, nearer: float) -> tuple[float, float, float]:
        """``direction`` leaned by these shares to the right on the screen and toward the eye."""
        axes = self._camera.axes()
        level = axes[2] - direction * float(axes[2] @ direction)
        size = float(np.linalg.norm(level))
        level = level / size if size > 1e-6 else axes[1]
        x, y, z = of_length_one(direction + axes[0] * right + level * nearer)
        return float(x), float(y), float(z)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Lets go; the fine picture follows, or the whole part is judged along the tilted draw."""
        if self._tilting is not None:
            self._tilting = None
            self.labels.lean_deg = 0.0
            if self._tilt is not None:
                self.tilt_done.emit(self._tilt)
            self._tilt = None
            self.update()
            return
        if self._grip is not None:
            moved_mm = self._handle_mm()
            self._grip, self.labels.handle_px = None, 0.0
            self.update()
            if abs(moved_mm) > 1e-6:
                self.heightened.emit(moved_mm)
            return
        clicked = self._drag is not None and not self._moved
        self._drag = None
        if clicked and event is not None and self.measuring:
            self._pick_at(event.position(), self._measured)
        elif clicked and event is not None and self._scene is not None and self._scene.kind in ("stock", "cores"):
            self._pick_at(event.position(), self.clicked.emit)

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
        if not self._spots:
            self.labels.said = ""
        self.update()
        self.hovered.emit(-1)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The picture keeps its fit."""
        if self.beside is not None:
            self.beside.setGeometry(self.width() - 108, HEAD + 20, 96, max(self.height() - HEAD - 190, 120))
        self._fit_next = True
        self._ask(True)

    def _pick(self) -> None:
        self._pick_at(self._pointer, self._found)

    def _pick_at(self, place: QPointF, answer: Callable[[Spot | None], None]) -> None:
        area, ratio = self._area(), self.devicePixelRatioF()
        if self._scene is None or not area.contains(place) or self._scene.kind == "pattern":
            return
        x, y = (place.x() - area.x()) * ratio, (place.y() - area.y()) * ratio
        self._client.pick(self._camera, round(area.width() * ratio), round(area.height() * ratio), x, y, answer)

    def _found(self, spot: Spot | None) -> None:
        """The read-out by the pointer: draft, mark and thickness."""
        marking = self._scene is not None and self._scene.kind in ("draw", "parting")
        naming = self._scene is not None and self._scene.kind in ("stock", "cores")
        self.hovered.emit(spot.region if spot is not None and (marking or naming) else -1)
        if self.measuring and self._spots:
            return
        self.labels.pointer = self._pointer
        said = "" if spot is None else spot_words(spot, self._unit, marking)
        if spot is not None and naming and self.name_of is not None:
            name = self.name_of(spot.region)
            said = ", ".join(part for part in (name, said) if part)
        self.labels.said = said
        self.update()

    def _measured(self, spot: Spot | None) -> None:
        if spot is None:
            return
        if len(self._spots) == 3:
            self._spots = []
        self._spots.append(spot)
        self.labels.marks = tuple(each.point for each in self._spots)
        self.labels.said = measured_words(self._spots, self._unit)
        self.labels.pointer = self._pointer
        self.update()

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
            labels = self.labels
            labels.camera, labels.lit = self._image_camera, self._lit
            labels.on_picture(painter, area)
            painter.restore()
        elif self._trouble:
            painter.setPen(colour("muted"))
            painter.setFont(font("body"))
            flags = int(Qt.AlignmentFlag.AlignCenter) | int(Qt.TextFlag.TextWordWrap)
            painter.drawText(area.adjusted(60, 0, -60, 0), flags, self._trouble)
        self._headline(painter)
        self.labels.wide, self.labels.high = float(self.width()), float(self.height())
        self.labels.below(painter)
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
