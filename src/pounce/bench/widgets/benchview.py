"""The bench: the picture under the hand, that turns it, tilts the draw, moves the joint, points and measures."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent

from pounce.base.units import degrees, length
from pounce.bench.view3d.asks import Spot, Tinted
from pounce.bench.view3d.client import RenderClient
from pounce.bench.widgets.labels import Chip
from pounce.bench.widgets.picture import Picture
from pounce.solid.frame import unit as of_length_one
from pounce.solid.mesh import Floats

TILT_PX = 120.0
GRIP_PX = 22


def spot_words(spot: Spot, unit: str, marking: bool) -> str:
    """What lies under the pointer in words."""
    said = []
    if marking:
        said.append(f"{('draws clean', 'tight', 'locks')[spot.state]}, draft {degrees(spot.draft_deg)}")
    if np.isfinite(spot.thick_mm):
        said.append(f"{length(spot.thick_mm, unit)} thick")
    return ", ".join(said)


def measured_words(spots: list[Spot], unit: str) -> str:
    """One point: how thick the material is there; two: the distance; three: also the angle at the second."""
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


class BenchView(Picture):
    """Turns, slides and picks."""

    hovered = pyqtSignal(int)
    tilted = pyqtSignal(object)
    tilt_done = pyqtSignal(object)
    tilt_near = pyqtSignal(object)
    heightened = pyqtSignal(float)
    dropped = pyqtSignal(object)
    clicked = pyqtSignal(object)

    def __init__(self, client: RenderClient) -> None:
        super().__init__(client)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Bench: the part in three dimensions. Arrow keys turn it.")
        self.can_tilt = self.picks = False
        self._tilting: tuple[QPointF, Floats] | None = None
        self._tilt: tuple[float, float, float] | None = None
        self.measuring = False
        self.name_of: Callable[[int], str] | None = None
        self._spots: list[Spot] = []
        self._moved = False
        self._grip: float | None = None
        self._drag: QPoint | None = None
        self._sliding = False
        self._hover = QTimer(self)
        self._hover.setSingleShot(True)
        self._hover.setInterval(60)
        self._hover.timeout.connect(self._pick)
        self._pointer = QPointF()

    def measure(self, on: bool) -> None:
        """Starts or ends measuring: two clicks give a distance, a third the angle between."""
        self.measuring = on
        self._spots = []
        self.labels.marks, self.labels.said = (), ""
        self.setCursor(Qt.CursorShape.CrossCursor if on else Qt.CursorShape.ArrowCursor)
        self.update()

    def live_chips(self, chips: tuple[Chip, ...]) -> None:
        """The areas counting along while the draw is tilted; tags of the old draw are taken away."""
        self.labels.chips, self.labels.tags = chips, ()
        self.update()

    def ready_live(self, tinted: Tinted) -> None:
        """Makes what live turning needs before the hand takes the arrow."""
        self._client.tint(tinted)

    def show_live(self, tinted: Tinted | None) -> None:
        """Live states on the part while its draw is tilted, or the judged ones again."""
        self._live = tinted is not None
        self._client.tint(tinted)
        self._ask(tinted is not None)

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
        elif (
            clicked
            and event is not None
            and self._scene is not None
            and (self.picks or self._scene.kind in ("stock", "cores"))
        ):
            self._pick_at(event.position(), self.clicked.emit)

    def _picked(self) -> bool:
        """Whether a click picks a place."""
        return self._scene is not None and (self.picks or self._scene.kind in ("stock", "cores"))

    def mouseDoubleClickEvent(self, _event: QMouseEvent | None) -> None:
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

    def leaveEvent(self, _event: QEvent | None) -> None:
        """The pointer left: nothing is lit."""
        self._hover.stop()
        if not self._spots:
            self.labels.said = ""
        self.update()
        self.hovered.emit(-1)

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
