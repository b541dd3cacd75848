"""The picture on the bench: frames from the render server with headline, tags, legend and dimensions drawn on top."""

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QFontMetricsF, QImage, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from pounce.bench.freeze.scale import Telling
from pounce.bench.look.focus import ringed
from pounce.bench.look.tokens import colour, font
from pounce.bench.section.sketch import Lifted
from pounce.bench.stops.view import Headline
from pounce.bench.view3d.asks import SceneAsked, Told
from pounce.bench.view3d.camera import Camera, fitted
from pounce.bench.view3d.client import RenderClient
from pounce.bench.widgets.labels import FOOT, HEAD, Chip, Labels, Measure, Tag
from pounce.bench.widgets.prose import head_event
from pounce.craft.glossary import explained
from pounce.solid.mesh import Floats

REST_MS = 140


class Picture(QWidget):
    """Asks for frames of its scene and paints them."""

    # there before the first event comes, which is before the first line of our own
    _saying = Headline("", "")

    def __init__(self, client: RenderClient) -> None:
        super().__init__()
        self.setMinimumSize(420, 300)
        self._client = client
        self._client.framed.connect(self._framed)
        self._client.sorry.connect(self._sorry)
        self._image: QImage | None = None
        self._image_camera = Camera()
        self._image_scene = -1
        self._camera = Camera()
        self._points: Floats | None = None
        self._scene: SceneAsked | None = None
        self.labels = Labels()
        self._live = False
        self._lift = Lifted()
        self._telling = Telling("sets", 1.0)
        self._unit = "mm"
        self.beside: QWidget | None = None
        self._lit = -1
        self._trouble = ""
        self._fit_next = True
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(lambda: self._ask(False))

    def say(self, headline: Headline) -> None:
        """The headline."""
        self._saying = headline
        said = f"{headline.head} {headline.under}"
        self.setAccessibleDescription(f"{said}\n{explained(said)}")
        self.update()

    def event(self, event: QEvent | None) -> bool:
        """Over the headline its words are explained after a moment."""
        said = f"{self._saying.head} {self._saying.under}"
        return head_event(self, event, said, HEAD) or super().event(event)

    def mark(
        self,
        tags: tuple[Tag, ...],
        chips: tuple[Chip, ...],
        measures: tuple[Measure, ...],
        flask: bool,
        remark: str = "",
        scaled: bool = False,
    ) -> None:
        """Tags, legend, dimensions, whether the flask pictogram stands there, a remark, whether there is a scale of
        times.
        """
        labels = self.labels
        labels.scale = self._telling if scaled else None
        labels.tags, labels.measures, labels.remark = tags, measures, remark
        if not self._live:
            labels.chips, labels.flask = chips, flask
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

    def tell(self, telling: Telling) -> None:
        """What is told of the heat: its scale, and a moment that is looked at."""
        was, self._telling = self._telling, telling
        if self.labels.scale is not None:
            self.labels.scale = telling
        if (was.shown, was.at_s) != (telling.shown, telling.at_s):
            self._ask(False)
        self.update()

    def set_unit(self, unit: str) -> None:
        """Lengths in mm or inches."""
        self._unit = unit

    def toward(self) -> tuple[float, float, float]:
        """The way from the part to the eye."""
        x, y, z = (float(value) for value in self._camera.axes()[2])
        return x, y, z

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
            self._camera.up,
            side if lying else self._camera.round_deg,
            min(max(tip * 0.7, -60.0), 60.0) or 15.0,
            self._camera.middle,
            self._camera.half_mm,
        )
        self._fit_next = True
        self._ask(False)

    def home(self) -> None:
        """The usual view."""
        self._camera = Camera(up=self._camera.up)
        self._fit_next = True
        self._ask(False)

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
            self._camera = Camera(view.up, view.round_deg, view.tip_deg, view.middle, wide).slid(
                0, -lower, area.height()
            )
        self._client.frame(
            self._camera,
            round(area.width() * ratio),
            round(area.height() * ratio),
            moving,
            self._lit,
            self._lift.lift_mm,
            self._lift.drawn_mm,
            Told(self._telling.shown == "fills", self._telling.at_s),
        )
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
        self._trouble = (
            f"The 3D picture could not be drawn ({text}). Everything else works. Go to another stop, or start "
            "Pounce again."
        )
        self._image = None  # what was drawn last is not what is judged now
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

    def resizeEvent(self, _event: QResizeEvent | None) -> None:
        """The picture keeps its fit."""
        if self.beside is not None:
            self.beside.setGeometry(self.width() - 140, HEAD + 20, 128, max(self.height() - HEAD - 190, 120))
        self._fit_next = True
        self._ask(True)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
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
        if ringed(self):
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
