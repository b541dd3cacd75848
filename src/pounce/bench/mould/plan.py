"""The mould from above: flask, castings, the metal's way in, margins; castings, sprue, gates and feeders are moved by
hand or keys.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
    QTransform,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from pounce.base.units import count_words, from_mm, length, plain
from pounce.bench.look.focus import ringed
from pounce.bench.look.tokens import colour, font
from pounce.bench.mould import strokes
from pounce.bench.section.bands import loops_path
from pounce.bench.section.sketch import sand_picture
from pounce.bench.stops.view import Headline
from pounce.bench.widgets.prose import head_event
from pounce.craft.glossary import explained
from pounce.rig.hands import feeders_by_hand, gates_by_hand, put_at, slid, stood_at
from pounce.rig.values import KeptFlask, Margin, PlacedChoice, RigResult, Spot, gate_kinds, kept_flask

HEAD, FOOT, SIDE = 72.0, 46.0, 168.0
# Walls of the flask as they are drawn, as a share of its longer side.
WALL = 0.045
MOST_MARGINS, MOST_VENTS, MOST_GATES = 6, 24, 3
# Margins of more than this many times what is wanted are not drawn; labels stand so far apart.
NEAR, TAG_PX = 2.0, 30.0
STEP_MM, FAR_MM, TURN_DEG, WHEEL_DEG = 1.0, 10.0, 15.0, 5.0
# Pieces by number: castings from 0 on, gates from GATE down, feeders from FEEDER down.
NOTHING, SPRUE, GATE, FEEDER = -1, -2, -3, -1000
# A gate is taken hold of so far out of its casting, mm, and no further off than this, px.
GATE_OUT_MM, GATE_PX = 5.0, 10.0


@dataclass(frozen=True)
class Moved:
    """Where the pieces go: castings with their turns, and the sprue; the flask they are in; what was done."""

    placed: tuple[PlacedChoice, ...]
    sprue_mm: Spot
    kept: KeptFlask
    label: str


class MouldPlan(QWidget):
    """Paints the plan; says where a piece was put, and which lies under the pointer."""

    moved = pyqtSignal(object)
    gated = pyqtSignal(object)
    fed = pyqtSignal(int, object)

    # there before the first event comes, which is before the first line of our own
    _saying = Headline("", "")

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumSize(420, 280)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(
            "Mould from above. Tab chooses a casting, the sprue, a gate or a feeder, arrows move it by a millimetre, "
            "with Shift by ten, comma and full stop turn a casting."
        )
        self._rig: RigResult | None = None
        self._unit = "mm"
        self._sand: QPixmap | None = None
        self._frame = QTransform()
        self._chosen, self._held = NOTHING, NOTHING
        self._from, self._by = QPointF(), QPointF()
        self._cut_y = 0.0

    def show_rig(self, rig: RigResult | None, saying: Headline, unit: str) -> None:
        """Another mould, or none while it is worked out."""
        self._rig, self._saying, self._unit = rig, saying, unit
        self._by = QPointF()
        said = f"{saying.head} {saying.under}"
        self.setAccessibleDescription(f"{said}\n{explained(said)}")
        self.update()

    def show_cut(self, y_mm: float) -> None:
        """Where the section below is cut."""
        self._cut_y = y_mm
        self.update()

    # --- painting ------------------------------------------------------------------------------------------------

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paper, flask, sand, metal, margins, labels, headline."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour("paper"))
        if self._rig is not None:
            self._place(self._rig)
            self._flask(painter, self._rig)
            self._metal(painter, self._rig)
            self._margins(painter, self._rig)
            _cut_line(painter, self._frame, self._rig, self._cut_y)
            self._labels(painter, self._rig)
        self._headline(painter)
        if ringed(self):
            painter.setPen(QPen(colour("ink"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(2, 2, self.width() - 4, self.height() - 4), 3, 3)
        painter.end()

    def _place(self, rig: RigResult) -> None:
        f = rig.flask
        wall = WALL * max(f.long_mm, f.wide_mm)
        wide, high = f.long_mm + 2.0 * wall, f.wide_mm + 2.0 * wall
        k = min((self.width() - 2.0 * SIDE) / wide, (self.height() - HEAD - FOOT) / high)
        middle = QPointF(self.width() / 2.0, HEAD + (self.height() - HEAD - FOOT) / 2.0)
        self._frame = QTransform.fromTranslate(middle.x(), middle.y()).scale(k, -k)

    def _headline(self, painter: QPainter) -> None:
        width = self.width() - 40
        for words, role, tone, top, high in (
            (self._saying.head, "headline", "ink", 14, 28),
            (self._saying.under, "body", "muted", 42, 22),
        ):
            painter.setPen(colour(tone))
            painter.setFont(font(role))
            text = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, width)
            painter.drawText(QRectF(20, top, width, high), Qt.AlignmentFlag.AlignVCenter, text)

    def _outline(self, rig: RigResult, more: float = 0.0) -> QPainterPath:
        f = rig.flask
        path = QPainterPath()
        box = QRectF(-f.long_mm / 2 - more, -f.wide_mm / 2 - more, f.long_mm + 2 * more, f.wide_mm + 2 * more)
        if f.shape == "box":
            path.addRect(box)
        else:
            path.addEllipse(box)
        return self._frame.map(path)

    def _flask(self, painter: QPainter, rig: RigResult) -> None:
        wall = WALL * max(rig.flask.long_mm, rig.flask.wide_mm)
        inside, whole = self._outline(rig), self._outline(rig, wall)
        if rig.flask.shape != "can":
            self._pins(painter, rig, wall)
        if rig.flask.shape == "can":
            strokes.sheet(painter, self._outline(rig, strokes.CAN_PX / self._frame.m11()))
        else:
            strokes.timber(painter, whole)
        if self._sand is None or self._sand.size() != self.size():
            self._sand = sand_picture(self.width(), self.height())
        painter.save()
        painter.setClipPath(inside)
        painter.fillPath(inside, colour("sandWash"))
        painter.drawPixmap(0, 0, self._sand)
        painter.restore()
        painter.setPen(QPen(colour("ink"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(inside)

    def _pins(self, painter: QPainter, rig: RigResult, wall: float) -> None:
        """Ears with the pins at both ends."""
        x, size = rig.flask.long_mm / 2.0 + wall, 0.7 * wall
        painter.setPen(QPen(colour("ink"), 1.2))
        for side in (-1.0, 1.0):
            painter.setBrush(colour("timber"))
            ear = QPainterPath()
            ear.addRect(QRectF(min(side * x, side * (x + 1.6 * size)), -size, 1.6 * size, 2.0 * size))
            painter.drawPath(self._frame.map(ear))
            painter.setBrush(colour("brass"))
            painter.drawEllipse(self._frame.map(QPointF(side * (x + 0.8 * size), 0.0)), 3.6, 3.6)

    def _shift(self, casting: int) -> QTransform:
        """What is held moves with the hand."""
        mine = self._held != NOTHING and (self._held == casting)
        return QTransform.fromTranslate(self._by.x(), self._by.y()) * self._frame if mine else self._frame

    def _metal(self, painter: QPainter, rig: RigResult) -> None:
        ways = ("runner", "gate") if self._held == NOTHING or self._held <= GATE else ()
        for kind in ("well", *ways, "print", "casting"):
            for shape in rig.shapes:
                if shape.kind == kind:
                    held = SPRUE if kind == "well" else shape.casting
                    path = strokes.body(painter, self._shift(held), shape.rings, kind)
                    if held == self._chosen and kind in ("casting", "well"):
                        painter.setPen(QPen(colour("brass"), 3.0))
                        painter.setBrush(Qt.BrushStyle.NoBrush)
                        painter.drawPath(path)
        frame = self._shift(SPRUE)
        for shape in rig.shapes:
            if shape.kind == "feeder":
                painter.setPen(QPen(colour("ink"), 1.2))
                painter.setBrush(colour("steel"))
                painter.drawPath(self._shift(shape.casting).map(loops_path(shape.rings)))
            if shape.kind in ("cup", "sprue", "foot"):
                painter.setPen(QPen(colour("ink"), 1.2))
                painter.setBrush(colour({"cup": "panel", "sprue": "steel", "foot": "steelDeep"}[shape.kind]))
                if shape.kind == "cup":
                    painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawPath(frame.map(loops_path(shape.rings)))
        if self._chosen <= GATE:
            by = self._by if self._held == self._chosen else QPointF()
            _chosen_ring(painter, self._frame, rig, self._chosen, by)
        if self._held == NOTHING:
            _fittings(painter, self._frame, rig)
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.setBrush(colour("field"))
        for x, y, _ in rig.vents[:MOST_VENTS] if self._held == NOTHING else ():
            painter.drawEllipse(self._frame.map(QPointF(x, y)), 3.2, 3.2)

    def _margins(self, painter: QPainter, rig: RigResult) -> None:
        """What is short, then the nearest of each kind."""
        if self._held != NOTHING:
            if self._held > GATE:
                self._margins_live(painter, rig)
            return
        short = [one for one in rig.margins if one.short]
        rest = [
            one
            for one in rig.margins
            if not one.short and one.mm < NEAR * one.wanted_mm and one.of.startswith(("casting", "sprue", "pouring"))
        ]
        for one in [*rest[: max(MOST_MARGINS - len(short), 0)], *short]:
            self._margin(painter, one)

    def _margin(self, painter: QPainter, one: Margin) -> None:
        a, b = (self._frame.map(QPointF(*end)) for end in one.line)
        words = plain(from_mm(max(one.mm, 0.0), self._unit), 2 if self._unit == "in" else 0)
        if one.short:
            words = f"{length(max(one.mm, 0.0), self._unit)}, wants {length(one.wanted_mm, self._unit)}"
        strokes.measure(painter, a, b, words, "ochre" if one.short else "ink")

    def _margins_live(self, painter: QPainter, rig: RigResult) -> None:
        """From what is held to the four walls, as the hand moves it."""
        kinds = ("cup", "well") if self._held == SPRUE else ("casting", "print")
        points = [
            ring
            for shape in rig.shapes
            if shape.kind in kinds and (self._held == SPRUE or shape.casting == self._held)
            for ring in shape.rings[:1]
        ]
        if not points:
            return
        k = self._frame.m11()
        all_points = np.concatenate(points) + np.array([self._by.x(), self._by.y()])
        low, high = all_points.min(axis=0), all_points.max(axis=0)
        middle = (low + high) / 2.0
        x, y = rig.flask.long_mm / 2.0, rig.flask.wide_mm / 2.0
        wanted = rig.wanted.sprue_wall if self._held == SPRUE else rig.wanted.wall
        for a, b in (
            ((float(low[0]), float(middle[1])), (-x, float(middle[1]))),
            ((float(high[0]), float(middle[1])), (x, float(middle[1]))),
            ((float(middle[0]), float(low[1])), (float(middle[0]), -y)),
            ((float(middle[0]), float(high[1])), (float(middle[0]), y)),
        ):
            gap = abs(a[0] - b[0]) + abs(a[1] - b[1])
            inside = abs(a[0]) <= x and abs(a[1]) <= y
            tone = "ink" if inside and gap >= wanted - 0.05 else "ochre"
            text = length(gap if inside else 0.0, self._unit)
            if k > 0.0:
                strokes.measure(painter, self._frame.map(QPointF(*a)), self._frame.map(QPointF(*b)), text, tone)

    def _labels(self, painter: QPainter, rig: RigResult) -> None:
        f = rig.flask
        wall = WALL * max(f.long_mm, f.wide_mm)
        low = self._frame.map(QPointF(-f.long_mm / 2.0, -f.wide_mm / 2.0 - wall))
        high = self._frame.map(QPointF(f.long_mm / 2.0, f.wide_mm / 2.0))
        y = low.y() + 20.0
        long = f"{length(f.long_mm, self._unit)} inside"
        strokes.outside(painter, QPointF(low.x(), y), QPointF(high.x(), y), long, "paper")
        sides = self._sides(rig)
        if f.shape == "box":  # where fewer labels stand
            side = 1.0 if len(sides[1]) < len(sides[0]) else -1.0
            x = self._frame.map(QPointF(side * (f.long_mm / 2.0 + 2.2 * wall), 0.0)).x() + side * 14.0
            bottom = self._frame.map(QPointF(0.0, -f.wide_mm / 2.0)).y()
            near = sides[0] if side < 0.0 else sides[1]
            low_down = not near or sum(spot.y() for _, spot in near) / len(near) < (high.y() + bottom) / 2.0
            at = high.y() + (0.88 if low_down else 0.12) * (bottom - high.y())
            strokes.upright(painter, x, high.y(), bottom, at, length(f.wide_mm, self._unit), "paper")
        if self._held == NOTHING:
            half = f.long_mm / 2.0 + wall
            for side, mine in zip((-1.0, 1.0), sides, strict=True):
                self._column(painter, mine, side, self._frame.map(QPointF(side * half, 0.0)).x() + side * 40.0)

    def _column(self, painter: QPainter, tags: list[tuple[str, QPointF]], side: float, edge: float) -> None:
        """Labels beside the flask, as high as what they speak of, clear of one another and of the pins."""
        if not tags:
            return
        edge = min(max(edge, 158.0), self.width() - 158.0)
        pins = self._frame.map(QPointF(0.0, 0.0)).y()
        middle = sum(spot.y() for _, spot in tags) / len(tags)
        y = max(middle - TAG_PX * (len(tags) - 1) / 2.0, HEAD + 14.0)
        for text, spot in tags:
            y += TAG_PX if abs(y - pins) < 0.6 * TAG_PX else 0.0
            strokes.tag(painter, text, QPointF(edge, y), spot, side)
            y += TAG_PX

    def _sides(self, rig: RigResult) -> tuple[list[tuple[str, QPointF]], list[tuple[str, QPointF]]]:
        """What is named left and right of the flask, from above: half of the names on each side, by where they
        point.
        """
        spots = sorted(
            ((text, self._frame.map(at)) for text, at in _named(rig, self._unit)), key=lambda one: one[1].x()
        )
        half = (len(spots) + 1) // 2
        left, right = (sorted(part, key=lambda one: one[1].y()) for part in (spots[:half], spots[half:]))
        return left, right

    # --- hands ---------------------------------------------------------------------------------------------------

    def _under(self, at: QPointF) -> int:
        """The piece under a place: the sprue, a feeder, a gate, a casting, or nothing."""
        rig = self._rig
        if rig is None:
            return NOTHING
        if rig.sprue is not None:
            spot = self._frame.map(QPointF(*rig.sprue.at_mm))
            if (spot - at).manhattanLength() <= max(rig.sprue.well_mm / 2.0 * self._frame.m11(), 10.0):
                return SPRUE
        for k in feeders_by_hand(rig):
            x, y, _ = rig.feeders[k].foot_mm
            off = self._frame.map(QPointF(x, y)) - at
            if np.hypot(off.x(), off.y()) <= rig.feeders[k].wide_mm / 2.0 * self._frame.m11():
                return FEEDER - k
        for k in gates_by_hand(rig):
            (x, y, _), turn = rig.gates[k].at_mm, np.radians(rig.gates[k].way_deg)
            out = QPointF(x + GATE_OUT_MM * float(np.cos(turn)), y + GATE_OUT_MM * float(np.sin(turn)))
            if (self._frame.map(out) - at).manhattanLength() <= GATE_PX:
                return GATE - k
        for shape in rig.shapes:
            if shape.kind in ("casting", "print") and self._frame.map(loops_path(shape.rings[:1])).contains(at):
                return shape.casting
        return NOTHING

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Takes hold of what lies there."""
        if event is None:
            return
        self.setFocus()
        self._chosen = self._held = self._under(event.position())
        self._from, self._by = event.position(), QPointF()
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Moves what is held, with its margins."""
        if event is None:
            return
        if self._held == NOTHING:
            over = self._under(event.position()) != NOTHING
            self.setCursor(Qt.CursorShape.OpenHandCursor if over else Qt.CursorShape.ArrowCursor)
            return
        k = self._frame.m11()
        step = event.position() - self._from
        self._by = QPointF(step.x() / k, -step.y() / k)
        self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """Lets go: the piece stays there."""
        held, by = self._held, self._by
        self._held = NOTHING
        if held != NOTHING and (abs(by.x()) > 0.3 or abs(by.y()) > 0.3):
            self._put(held, by.x(), by.y(), 0.0)
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move the chosen piece, comma and full stop turn it."""
        if event is None:
            return
        far = FAR_MM if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else STEP_MM
        ways = {
            Qt.Key.Key_Left: (-far, 0.0, 0.0),
            Qt.Key.Key_Right: (far, 0.0, 0.0),
            Qt.Key.Key_Up: (0.0, far, 0.0),
            Qt.Key.Key_Down: (0.0, -far, 0.0),
            Qt.Key.Key_Comma: (0.0, 0.0, TURN_DEG),
            Qt.Key.Key_Period: (0.0, 0.0, -TURN_DEG),
        }
        way = ways.get(Qt.Key(event.key()))
        if way is None or self._chosen == NOTHING:
            super().keyPressEvent(event)
            return
        self._put(self._chosen, *way)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Turns the casting under the pointer, five degrees a notch."""
        which = NOTHING if event is None else self._under(event.position())
        if event is None or which < 0:
            super().wheelEvent(event)
            return
        self._chosen = which
        self._put(which, 0.0, 0.0, WHEEL_DEG * (1.0 if event.angleDelta().y() > 0 else -1.0))
        event.accept()

    def event(self, event: QEvent | None) -> bool:
        """Tab goes from piece to piece, and on to the next control after the last."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and self._rig is not None:
            order = [*range(self._rig.tier), SPRUE, *(GATE - k for k in gates_by_hand(self._rig))]
            order += [FEEDER - k for k in feeders_by_hand(self._rig)]
            at = order.index(self._chosen) if self._chosen in order else -1
            if event.key() == Qt.Key.Key_Tab and at + 1 < len(order):
                self._chosen = order[at + 1]
                self.update()
                return True
            if event.key() == Qt.Key.Key_Tab:
                self._chosen = NOTHING
                self.update()
        said = f"{self._saying.head} {self._saying.under}"
        return head_event(self, event, said, HEAD) or super().event(event)

    def _put(self, which: int, dx: float, dy: float, turn_deg: float) -> None:
        rig = self._rig
        if rig is None or rig.sprue is None:
            return
        if which <= FEEDER:
            x, y, _ = rig.feeders[FEEDER - which].foot_mm
            place = stood_at(rig, FEEDER - which, (x + dx, y + dy))
            if place is not None and (dx or dy):
                self.fed.emit(rig.feeders[FEEDER - which].number, place)
            return
        if which <= GATE:
            x, y, _ = rig.gates[GATE - which].at_mm
            if (dx or dy) and slid(rig, GATE - which, (x + dx, y + dy)) != slid(rig, GATE - which, (x, y)):
                self.gated.emit(put_at(rig, GATE - which, (x + dx, y + dy)))
            return
        placed = [PlacedChoice(one.at_mm, one.turn_deg) for one in rig.castings[: rig.tier]]
        sprue = rig.sprue.at_mm
        if which == SPRUE:
            sprue = (sprue[0] + dx, sprue[1] + dy)
        elif 0 <= which < len(placed):
            one = placed[which]
            placed[which] = PlacedChoice((one.at_mm[0] + dx, one.at_mm[1] + dy), one.turn_deg + turn_deg)
        name = "Sprue" if which == SPRUE else rig.castings[which].name
        done = f"{name} {'turned' if turn_deg else 'moved'}"
        self.moved.emit(Moved(tuple(placed), sprue, kept_flask(rig.flask, rig.own), done))


def _chosen_ring(painter: QPainter, frame: QTransform, rig: RigResult, which: int, by: QPointF) -> None:
    """About the gate or feeder that is chosen, where the hand has it."""
    if which <= FEEDER:
        if FEEDER - which >= len(rig.feeders):
            return
        feeder = rig.feeders[FEEDER - which]
        x, y, wide = feeder.foot_mm[0] + by.x(), feeder.foot_mm[1] + by.y(), feeder.wide_mm
        # where it would stand on nothing it stays
        tone = "brass" if stood_at(rig, FEEDER - which, (x, y)) is not None else "ochre"
    else:
        if GATE - which >= len(rig.gates):
            return
        (x, y, _), wide, tone = rig.gates[GATE - which].at_mm, rig.gates[GATE - which].wide_mm, "brass"
        if by != QPointF():
            x, y = slid(rig, GATE - which, (x + by.x(), y + by.y()))
    painter.setPen(QPen(colour(tone), 3.0))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    r = max(wide / 2.0 * frame.m11(), GATE_PX)
    painter.drawEllipse(frame.map(QPointF(x, y)), r, r)


def _fittings(painter: QPainter, frame: QTransform, rig: RigResult) -> None:
    """Vents led out as dotted ways, and the keys of a block."""
    painter.setPen(QPen(colour("ink"), 1.6, Qt.PenStyle.DotLine))
    for lead in rig.leads:
        if lead.way == "joint":
            painter.drawLine(frame.map(QPointF(*lead.at_mm)), frame.map(QPointF(*lead.to_mm)))
    painter.setPen(QPen(colour("ink"), 1.2))
    painter.setBrush(colour("sandWash"))
    for key in rig.keys:
        r = key.wide_mm / 2.0 * frame.m11()
        painter.drawEllipse(frame.map(QPointF(*key.at_mm)), r, r)


def _cut_line(painter: QPainter, frame: QTransform, rig: RigResult, y_mm: float) -> None:
    x = rig.flask.long_mm / 2.0 * 1.02
    painter.setPen(QPen(colour("brassInk"), 1.8, Qt.PenStyle.DashDotLine))
    painter.drawLine(frame.map(QPointF(-x, y_mm)), frame.map(QPointF(x, y_mm)))


def _named_fittings(rig: RigResult, figure: Callable[[float], str]) -> list[tuple[str, QPointF]]:
    """One of the core vents, a breather, a key, a trap."""
    out: list[tuple[str, QPointF]] = []
    for kind, words in (("core", "core vent, led out"), ("breather", "breather")):
        lead = next((one for one in rig.leads if one.kind == kind and one.way == "joint"), None)
        if lead is not None:
            at = [0.4 * a + 0.6 * b for a, b in zip(lead.at_mm, lead.to_mm, strict=True)]
            out.append((words, QPointF(*at)))
    if rig.on_end:
        out.append(
            ("cup: this end up", QPointF(rig.flask.long_mm / 2.0 - 6.0, rig.sprue.at_mm[1] if rig.sprue else 0.0))
        )
    if rig.keys:
        out.append((f"key Ø {figure(rig.keys[0].wide_mm)}, {count_words(len(rig.keys))}", QPointF(*rig.keys[0].at_mm)))
    if rig.runner is not None and rig.runner.traps:
        out.append((f"whirl trap Ø {figure(rig.runner.trap_mm)}", QPointF(*rig.runner.traps[0])))
    return out


def _named(rig: RigResult, unit: str) -> list[tuple[str, QPointF]]:
    """What is named on the plan, and where it is (mm)."""

    def figure(value: float) -> str:
        return plain(from_mm(value, unit), 2 if unit == "in" else 1)

    def many(count: int) -> str:
        return "" if count == 1 else f", {count_words(count)}"

    def half(name: str) -> str:
        return "" if rig.loose else f", {name}"

    out: list[tuple[str, QPointF]] = []
    if rig.sprue is not None:
        out.append((f"sprue, foot Ø {figure(rig.sprue.foot_mm)}", QPointF(*rig.sprue.at_mm)))
    if rig.runner is not None:
        line = rig.runner.lines[0]
        middle = line[len(line) // 2]
        size = f"{figure(rig.runner.wide_mm)} × {figure(rig.runner.high_mm)}"
        out.append((f"runner {size}{half(rig.runner.half)}", QPointF(float(middle[0]), float(middle[1]))))
    for gate, count in gate_kinds(rig.gates)[:MOST_GATES]:
        turn = np.radians(gate.way_deg)
        at = QPointF(gate.at_mm[0] + 5.0 * float(np.cos(turn)), gate.at_mm[1] + 5.0 * float(np.sin(turn)))
        size = f"{figure(gate.wide_mm)} × {figure(gate.thick_mm)}"
        out.append((f"gate {size}{many(count)}{half(gate.half)}", at))
    if rig.feeders:
        kinds = {one.number for one in rig.feeders}
        x, y, _ = rig.feeders[0].foot_mm
        several = "" if len(kinds) == 1 else f", {count_words(len(kinds))} to a casting"
        out.append((f"feeder Ø {figure(rig.feeders[0].wide_mm)}{several}", QPointF(x, y)))
    if rig.chills:
        out.append((f"chill {figure(rig.chills[0].side_mm)} square", QPointF(*rig.chills[0].at_mm[:2])))
    out += _named_fittings(rig, figure)
    if rig.vents:
        x, y, _ = rig.vents[0]
        out.append((f"vent Ø {figure(rig.vent_mm)}{many(len(rig.vents))}", QPointF(x, y)))
    return out
