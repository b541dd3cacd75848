"""The cut itself as a craftsman sketches it: sand dotted round it, part flat grey, joint a bold dash."""

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QFontMetricsF,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
    QTransform,
)
from PyQt6.QtWidgets import QWidget

from pounce.base.units import degrees, from_mm, length, plain
from pounce.bench.look.tokens import colour, font
from pounce.bench.section.bands import band_at, label_bands, loops_path, paint_bands
from pounce.bench.section.coresketch import label_cores, paint_cores, paint_mould
from pounce.parting.insection import Cut2D
from pounce.parting.values import State

LOUPE = 58.0
ANGLES = 6.0
# From this lift on, as a share of the part's height, the lift is drawn at half scale.
HALF_FROM = 0.35


@dataclass(frozen=True)
class Lifted:
    """How far the trial has gone: the cope lifted, the pattern drawn, mm."""

    lift_mm: float = 0.0
    drawn_mm: float = 0.0

    @property
    def under_way(self) -> bool:
        """Whether anything has moved."""
        return self.lift_mm > 0.0 or self.drawn_mm > 0.0


class Sketch(QWidget):
    """Paints one cut, at rest or in the trial draw; says which region lies under the pointer and where it is."""

    hovered = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setMouseTracking(True)
        self.setAccessibleName("Section through the mould")
        self._cut: Cut2D | None = None
        self._sand: QPixmap | None = None
        self._unit, self._lit, self._mould = "mm", -1, True
        self._lifted = Lifted()
        self._frame = QTransform()
        self._pointer: QPointF | None = None

    def show_cut(self, cut: Cut2D | None, unit: str, mould: bool) -> None:
        """Another cut; ``mould`` False shows the plain part without sand."""
        self._cut, self._unit, self._mould = cut, unit, mould
        self.update()

    def show_lift(self, lifted: Lifted) -> None:
        """The trial at another height."""
        if lifted != self._lifted:
            self._lifted = lifted
            self.update()

    def light(self, region: int) -> None:
        """Marks the stretches of one region."""
        if region != self._lit:
            self._lit = region
            self.update()

    # --- painting ------------------------------------------------------------------------------------------------

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paints the sketch."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        cut = self._cut
        if cut is None or not cut.loops:
            if self._mould:
                self._paint_sand(painter)
            painter.setPen(colour("muted"))
            painter.setFont(font("secondary"))
            words = "The cut follows as soon as the draw is judged." if cut is None else "The cut meets no stuff here."
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, words)
            painter.end()
            return
        trial = self._mould and self._lifted.under_way
        shift, half = self._place(cut, trial)
        if trial:
            self._paint_trial(painter, cut, shift, half)
        else:
            self._paint_rest(painter, cut)
        painter.end()

    def _place(self, cut: Cut2D, trial: bool) -> tuple[float, bool]:
        """Sets the frame; returns how far (mm as drawn) the cope stands lifted, and whether at half scale."""
        wide, high = cut.high[0] - cut.low[0], cut.high[1] - cut.low[1]
        lift = self._lifted.lift_mm if trial else 0.0
        half = lift > HALF_FROM * high
        shift = min(lift * (0.5 if half else 1.0), 1.1 * high)
        # room for the lift is kept from the start of the trial, so that nothing jumps while it goes on
        most = high * (1.8 if trial else 1.0)
        k = min((self.width() - 250) / max(wide, 1e-9), (self.height() - (40 if trial else 64)) / max(most, 1e-9))
        middle_x, middle_y = (cut.low[0] + cut.high[0]) / 2, (cut.low[1] + cut.high[1]) / 2
        down = 0.36 * high * k if trial else 0.0
        self._frame = (
            QTransform.fromTranslate(
                self.width() / 2 + (16 if trial or cut.drafts is None or not self._mould else -24),
                self.height() / 2 - 8 + down,
            )
            .scale(k, -k)
            .translate(-middle_x, -middle_y)
        )
        return shift, half

    def _paint_rest(self, painter: QPainter, cut: Cut2D) -> None:
        if self._mould:
            self._paint_sand(painter)
        path = self._frame.map(loops_path(cut.loops))
        if cut.mould:
            paint_mould(painter, cut, self._frame)
        painter.setPen(QPen(colour("ink"), 1.6))
        painter.setBrush(colour("steelFlat"))
        painter.drawPath(path)
        paint_cores(painter, cut, self._frame)
        if self._mould:
            self._hatch_locked(painter, cut, np.inf, 0.0)
            self._paint_marks(painter, cut)
            paint_bands(painter, cut, self._frame, self._lit)
            self._paint_joint(painter, cut, 0.0, True)
        under = self._frame.map(loops_path(cut.mould)).boundingRect() if cut.mould else path.boundingRect()
        self._dimensions(painter, cut, under)
        if self._mould:
            self._paint_labels(painter, cut, path.boundingRect())
            if cut.mould:
                box = self._frame.map(loops_path(cut.mould)).boundingRect()
                label_cores(painter, cut, self._frame, QRectF(self.rect()), box)
            elif cut.wanted:
                label_bands(painter, cut, self._frame, QRectF(self.rect()), path.boundingRect(), self._lit)
            elif cut.drafts is not None and self.width() > 560:
                self._paint_loupe(painter, *cut.drafts)
            self._readout(painter, cut)

    def _paint_trial(self, painter: QPainter, cut: Cut2D, shift: float, half: bool) -> None:
        """Cope lifted off the drag, with the sand that stayed behind."""
        painter.fillRect(self.rect(), colour("panel"))
        drawn = min(self._lifted.drawn_mm * (0.5 if half else 1.0), 0.9 * shift)
        path = loops_path(cut.loops)
        for above in (False, True):
            side = _side(cut, above)
            painter.save()
            up = shift if above else 0.0
            moved = QTransform.fromTranslate(0.0, up) * self._frame
            painter.setClipPath(moved.map(side))
            self._paint_sand(painter)
            # the impression, empty where the pattern is not
            painter.setPen(QPen(colour("ink"), 1.2))
            painter.setBrush(colour("panel"))
            painter.drawPath(moved.map(path))
            if above and not cut.whole:
                painter.setBrush(colour("steelFlat"))
                painter.drawPath(moved.map(path))
            painter.restore()
            self._paint_joint(painter, cut, up, above is False)
        lower = QTransform.fromTranslate(0.0, drawn) * self._frame
        painter.save()
        if not cut.whole:
            keep = _side(cut, False)
            painter.setClipPath(lower.map(keep))
        painter.setPen(QPen(colour("ink"), 1.6))
        painter.setBrush(colour("steelFlat"))
        painter.drawPath(lower.map(path))
        painter.restore()
        self._hatch_locked(painter, cut, self._lifted.lift_mm, shift)
        self._crumbs(painter, cut)
        self._lift_words(painter, cut, shift, half)

    def _paint_sand(self, painter: QPainter) -> None:
        if self._sand is None or self._sand.size() != self.size():
            self._sand = sand_picture(self.width(), self.height())
        painter.drawPixmap(0, 0, self._sand)

    def _hatch_locked(self, painter: QPainter, cut: Cut2D, lift: float, shift: float) -> None:
        """Sand with material in its way, cross-hatched; in the trial only what has not yet torn off, where it hangs."""
        if not len(cut.locked):
            return
        region = QPainterPath()
        region.setFillRule(Qt.FillRule.WindingFill)
        for x0, x1, z0, z1, cope in cut.locked:
            gone = lift if cope > 0.5 else self._lifted.drawn_mm
            low, high = (z0, z1 - gone) if cope > 0.5 and np.isfinite(lift) else (z0, z1)
            if cope <= 0.5 and np.isfinite(lift):
                low = z0 + gone
            if high <= low:
                continue
            up = shift if cope > 0.5 else 0.0
            a, b = (
                self._frame.map(QPointF(float(x0), float(low + up))),
                self._frame.map(QPointF(float(x1), float(high + up))),
            )
            region.addRect(QRectF(a, b).normalized().adjusted(-0.3, 0, 0.3, 0))
        painter.save()
        painter.fillPath(region, colour("damson", 0.28))
        painter.setClipPath(region)
        painter.setPen(QPen(colour("damson"), 1.0))
        box = region.boundingRect()
        span = box.height()
        x = box.left() - span
        while x < box.right():
            painter.drawLine(QPointF(x, box.bottom()), QPointF(x + span, box.top()))
            painter.drawLine(QPointF(x, box.top()), QPointF(x + span, box.bottom()))
            x += 6.0
        painter.restore()

    def _crumbs(self, painter: QPainter, cut: Cut2D) -> None:
        """Torn sand of the cope in a heap on the drag's face."""
        fallen = [
            (x0, x1, min(z1 - z0, self._lifted.lift_mm))
            for x0, x1, z0, z1, cope in cut.locked
            if cope > 0.5 and self._lifted.lift_mm > 0.0
        ]
        if not fallen:
            return
        noise = np.random.default_rng(9)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour("damson"))
        total = sum((x1 - x0) * high for x0, x1, high in fallen)
        k = self._frame.m11()
        count = int(min(160, max(8, total * k * k / 14.0)))
        weights = np.array([(x1 - x0) * high for x0, x1, high in fallen])
        for index in noise.choice(len(fallen), count, p=weights / weights.sum()):
            x = fallen[index][0] + noise.random() * (fallen[index][1] - fallen[index][0])
            joint = float(np.interp(x, cut.line[:, 0], cut.line[:, 1]))
            spot = self._frame.map(QPointF(float(x), joint))
            painter.drawEllipse(spot + QPointF(noise.normal() * 5.0, -abs(noise.normal()) * 4.0 - 1.5), 2.0, 1.8)

    def _lift_words(self, painter: QPainter, cut: Cut2D, shift: float, half: bool) -> None:
        painter.setFont(font("dimension"))
        painter.setPen(QPen(colour("ink"), 1))
        box = self._frame.map(loops_path(cut.loops)).boundingRect()
        x = max(box.left() - 26.0, 150.0)
        low = self._frame.map(QPointF(0.0, cut.joint)).y()
        high = low - shift * self._frame.m11()
        if low - high > 12.0:
            painter.drawLine(QPointF(x, low), QPointF(x, high))
            for y in (low, high):
                painter.drawLine(QPointF(x - 3.5, y + 3.5), QPointF(x + 3.5, y - 3.5))
        words = f"lift {length(self._lifted.lift_mm, self._unit)}"
        painter.drawText(
            QRectF(x - 128, (low + high) / 2 - 9, 120, 18),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            words,
        )
        if half:
            painter.setFont(font("dimension", italic=True))
            painter.setPen(colour("muted"))
            painter.drawText(
                QRectF(self.width() - 190, self.height() - 26, 180, 18),
                Qt.AlignmentFlag.AlignRight,
                "lift drawn at half scale",
            )
        hung = [strip for strip in cut.locked if strip[4] > 0.5]
        if hung and self._lifted.lift_mm > 0.0:
            places = np.array(hung)
            x_mm = float(places[:, :2].mean())
            spot = self._frame.map(QPointF(x_mm, float(np.interp(x_mm, cut.line[:, 0], cut.line[:, 1]))))
            self._label(
                painter,
                f"sand tears and drops on the {cut.halves[1].lower()}",
                spot,
                QPointF(self.width() - 230.0, low + 22.0),
                State.LOCKED,
            )

    def _paint_marks(self, painter: QPainter, cut: Cut2D) -> None:
        for state, name in ((State.TIGHT, "ochre"), (State.LOCKED, "damson")):
            for (start, end), region in zip(
                cut.marked[cut.state == state], cut.region[cut.state == state], strict=True
            ):
                lit = self._lit >= 0 and region == self._lit
                painter.setPen(QPen(colour("ink" if lit else name), 6 if lit else 4, cap=Qt.PenCapStyle.RoundCap))
                painter.drawLine(self._frame.map(QPointF(*start)), self._frame.map(QPointF(*end)))

    def _paint_joint(self, painter: QPainter, cut: Cut2D, up: float, named: bool) -> None:
        """The joint as a bold dash from edge to edge, level beyond what was worked out."""
        line = [self._frame.map(QPointF(float(x), float(y) + up)) for x, y in cut.line]
        line = [
            QPointF(4.0, line[0].y()),
            *[p for p in line if 4 < p.x() < self.width() - 4],
            QPointF(self.width() - 4.0, line[-1].y()),
        ]
        pen = QPen(colour("ink"), 2.4)
        pen.setDashPattern([10 / 2.4, 5 / 2.4])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(line))
        painter.setFont(font("button"))
        painter.setPen(colour("ink"))
        y = line[0].y()
        if not self._lifted.under_way or not named:
            painter.drawText(QRectF(14, y - 22, 60, 18), Qt.AlignmentFlag.AlignVCenter, cut.halves[0])
        if named:
            painter.drawText(QRectF(14, y + 6, 60, 18), Qt.AlignmentFlag.AlignVCenter, cut.halves[1])

    def _paint_labels(self, painter: QPainter, cut: Cut2D, box: QRectF) -> None:
        """Names of the longest marked stretches, right of the part, on straight leaders."""
        edge = self.width() - (2.0 * LOUPE + 26.0 if cut.drafts is not None and self.width() > 560 else 14.0)
        room = edge - box.right() - 20.0
        if room < 90.0:
            return
        places = [(words, self._frame.map(QPointF(x, y)), state) for words, x, y, state in cut.labels]
        places.sort(key=lambda place: place[1].y())
        joint = self._frame.map(QPointF(0.0, cut.joint)).y()
        y = 18.0
        for words, spot, state in places:
            y = max(y, min(spot.y() - 6.0, self.height() - 34.0))
            if abs(y - joint) < 14.0:
                y = joint + 16.0
            self._label(painter, words, spot, QPointF(box.right() + 22.0, y), State(state), room)
            y += 24.0

    def _label(
        self, painter: QPainter, words: str, spot: QPointF, at: QPointF, state: State, room: float = 220.0
    ) -> None:
        painter.setFont(font("button"))
        words = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, room)
        width = QFontMetricsF(painter.font()).horizontalAdvance(words)
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(spot, at)
        painter.setBrush(colour("field"))
        painter.drawEllipse(spot, 2.4, 2.4)
        box = QRectF(at.x(), at.y() - 9, width + 8, 18)
        painter.fillRect(box, colour("sandWash"))
        painter.setPen(colour("damson" if state is State.LOCKED else "ochreInk"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)

    def _paint_loupe(self, painter: QPainter, least: float, asked: float) -> None:
        """A wall under the glass: how it leans now and how it should, angles six times as large."""
        middle = QPointF(self.width() - LOUPE - 12.0, self.height() / 2.0)
        painter.save()
        round_ = QPainterPath()
        round_.addEllipse(middle, LOUPE, LOUPE)
        painter.fillPath(round_, colour("sandWash"))
        painter.setClipPath(round_)
        foot = middle + QPointF(4.0, LOUPE)
        reach = 2.2 * LOUPE

        def top(angle: float) -> QPointF:
            turn = np.radians(min(max(ANGLES * angle, -40.0), 60.0))
            return foot + QPointF(-float(np.sin(turn)) * reach, -float(np.cos(turn)) * reach)

        now, wanted = top(least), top(asked)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour("steelFlat"))
        painter.drawPolygon(QPolygonF([foot, now, now - QPointF(4 * LOUPE, 0), foot - QPointF(4 * LOUPE, 0)]))
        painter.setPen(QPen(colour("ochre"), 5))
        painter.drawLine(foot, now)
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(foot, now)
        pen = QPen(colour("verdigrisInk"), 1.6)
        pen.setDashPattern([5, 3])
        painter.setPen(pen)
        painter.drawLine(foot, wanted)
        painter.restore()
        painter.setPen(QPen(colour("ink"), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(middle, LOUPE, LOUPE)
        painter.setFont(font("button"))
        painter.setPen(colour("ink"))
        painter.drawText(QPointF(middle.x() + 9, middle.y() - 18), f"{degrees(least)} now")
        painter.setPen(colour("verdigrisInk"))
        painter.drawText(
            QRectF(middle.x() - LOUPE + 6, middle.y() + 2, 48, 32),
            Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
            f"{degrees(asked)} wanted",
        )
        painter.setFont(font("dimension", italic=True))
        painter.setPen(colour("muted"))
        painter.drawText(QPointF(middle.x() + 9, middle.y() + 14), "angles")
        painter.drawText(QPointF(middle.x() + 9, middle.y() + 29), "× 6")

    def _readout(self, painter: QPainter, cut: Cut2D) -> None:
        """Where the pointer is, in the part's own measure."""
        back, fine = self._frame.inverted()
        if self._pointer is None or not fine:
            return
        place = back.map(self._pointer)
        joint = float(np.interp(place.x(), cut.line[:, 0], cut.line[:, 1]))
        over = place.y() - joint
        side = "over" if over >= 0 else "under"
        words = (
            f"{length(place.x() - cut.low[0], self._unit)} from the left, {length(abs(over), self._unit)} {side} "
            "the joint"
        )
        painter.setFont(font("dimension"))
        width = QFontMetricsF(painter.font()).horizontalAdvance(words) + 10
        box = QRectF(self.width() / 2 - width / 2, self.height() - 22, width, 18)
        painter.fillRect(box, colour("panel"))
        painter.setPen(colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)

    def _dimensions(self, painter: QPainter, cut: Cut2D, box: QRectF) -> None:
        painter.setFont(font("dimension"))
        foot = min(box.bottom() + 16, self.height() - 12.0)
        if self._pointer is None:
            self._across(painter, box.left(), box.right(), foot, box.width() / max(self._frame.m11(), 1e-12))
        x = box.left() - 18
        joint = self._frame.map(QPointF(0.0, cut.joint)).y()
        top, bottom = box.top(), box.bottom()
        spans = (
            [(top, bottom)] if not self._mould or not top + 2 < joint < bottom - 2 else [(top, joint), (joint, bottom)]
        )
        for low, high in spans:
            self._upright(painter, x, low, high, (high - low) / max(self._frame.m11(), 1e-12))

    def _figure(self, value: float) -> str:
        return plain(from_mm(value, self._unit), 3 if self._unit == "in" else 1)

    def _text(self, painter: QPainter, x: float, y: float, text: str) -> None:
        width = QFontMetricsF(painter.font()).horizontalAdvance(text)
        box = QRectF(x - width / 2 - 4, y - 9, width + 8, 18)
        painter.fillRect(box, colour("sandWash" if self._mould else "panel"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _across(self, painter: QPainter, left: float, right: float, y: float, value: float) -> None:
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(QPointF(left - 4, y), QPointF(right + 4, y))
        for x in (left, right):
            painter.drawLine(QPointF(x, y - 8), QPointF(x, y + 4))
            painter.drawLine(QPointF(x - 3.5, y + 3.5), QPointF(x + 3.5, y - 3.5))
        self._text(painter, (left + right) / 2, y, self._figure(value))

    def _upright(self, painter: QPainter, x: float, top: float, bottom: float, value: float) -> None:
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        for y in (top, bottom):
            painter.drawLine(QPointF(x - 4, y), QPointF(x + 12, y))
            painter.drawLine(QPointF(x - 3.5, y + 3.5), QPointF(x + 3.5, y - 3.5))
        self._text(painter, x - 22, (top + bottom) / 2, self._figure(value))

    # --- hands ---------------------------------------------------------------------------------------------------

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Says which region lies under the pointer, and where that is."""
        cut = self._cut
        back, fine = self._frame.inverted()
        if event is None or cut is None or not fine:
            return
        self._pointer = event.position()
        self.update()
        if cut.bands:
            self.hovered.emit(band_at(cut, back.map(event.position())))
            return
        if not len(cut.marked):
            return
        point = back.map(event.position())
        middles = cut.marked.mean(axis=1)
        gap = np.hypot(middles[:, 0] - point.x(), middles[:, 1] - point.y())
        nearest = int(np.argmin(gap))
        near = gap[nearest] * self._frame.m11() < 14
        self.hovered.emit(int(cut.region[nearest]) if near else -1)

    def leaveEvent(self, _event: object) -> None:
        """Nothing is under the pointer."""
        self._pointer = None
        self.update()
        self.hovered.emit(-1)


def _side(cut: Cut2D, above: bool) -> QPainterPath:
    """Everything over the joint, or under it, far beyond what is seen."""
    reach = 60.0 * (cut.high[1] - cut.low[1] + cut.high[0] - cut.low[0] + 1.0)
    far = float(cut.line[:, 1].max()) + reach if above else float(cut.line[:, 1].min()) - reach
    first, last = cut.line[0], cut.line[-1]
    edge = [QPointF(float(x), float(y)) for x, y in cut.line]
    left, right = float(first[0]) - reach, float(last[0]) + reach
    out = QPainterPath()
    out.addPolygon(
        QPolygonF(
            [
                QPointF(left, float(first[1])),
                *edge,
                QPointF(right, float(last[1])),
                QPointF(right, far),
                QPointF(left, far),
            ]
        )
    )
    out.closeSubpath()
    return out


def sand_picture(width: int, height: int) -> QPixmap:
    """Sand with a ragged edge and one tone of dots, the same at every start."""
    picture = QPixmap(max(width, 1), max(height, 1))
    picture.fill(Qt.GlobalColor.transparent)
    noise = np.random.default_rng(11)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    step = 9
    top = [QPointF(x, 5 + 3 * noise.random()) for x in range(2, width, step)]
    right = [QPointF(width - 3 - 3 * noise.random(), y) for y in range(6, height - 4, step)]
    bottom = [QPointF(x, height - 4 - 3 * noise.random()) for x in range(width - 3, 0, -step)]
    left = [QPointF(3 + 3 * noise.random(), y) for y in range(height - 6, 4, -step)]
    path = QPainterPath()
    path.addPolygon(QPolygonF([*top, *right, *bottom, *left]))
    path.closeSubpath()
    painter.setPen(QPen(colour("sand"), 1))
    painter.setBrush(colour("sandWash"))
    painter.drawPath(path)
    painter.setClipPath(path)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour("sandDot", 0.75))
    count = width * height // 130
    for x, y, size in zip(noise.random(count) * width, noise.random(count) * height, noise.random(count), strict=True):
        painter.drawEllipse(QPointF(x, y), 0.5 + 0.45 * size, 0.5 + 0.45 * size)
    painter.end()
    return picture
