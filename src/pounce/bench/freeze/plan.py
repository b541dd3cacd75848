"""The mould from above in bands of time, its last places, feeders, gates and cold ends named."""

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPainterPath, QPaintEvent, QPen, QPixmap, QTransform
from PyQt6.QtWidgets import QWidget

from pounce.base.units import quantity
from pounce.bench.freeze import ramp
from pounce.bench.freeze.scale import Telling, scale
from pounce.bench.look.tokens import colour, font
from pounce.bench.mould import strokes
from pounce.bench.section.bands import loops_path
from pounce.bench.section.sketch import sand_picture
from pounce.bench.stops.view import Headline
from pounce.bench.widgets.prose import head_event
from pounce.craft.glossary import explained
from pounce.feeding.values import FreezeResult
from pounce.rig.values import RigResult

HEAD, FOOT, SIDE, TAG_PX = 72.0, 62.0, 190.0, 30.0
# Metal seen from above, from the lowest drawn to the highest.
METAL = ("runner", "gate", "well", "casting", "feeder", "foot")
RING_PX = 11.0
MOST_ENDS = 3


class FreezePlan(QWidget):
    """Paints the plan."""

    # there before the first event comes, which is before the first line of our own
    _saying = Headline("", "")

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumSize(420, 260)
        self._made: FreezeResult | None = None
        self._rig: RigResult | None = None
        self._telling = Telling("sets", 1.0)
        self._image: QImage | None = None
        self._sand: QPixmap | None = None
        self._frame = QTransform()
        self._cut_y = 0.0
        self.setAccessibleName("Mould from above: dark sets first, bright sets last")

    def show_made(self, made: FreezeResult | None, rig: RigResult | None, saying: Headline) -> None:
        """Another result, or none while it is worked out."""
        self._made, self._rig, self._saying = made, rig, saying
        said = f"{saying.head} {saying.under}"
        self.setAccessibleDescription(f"{said}\n{explained(said)}")
        self._image = None
        self.update()

    def show_telling(self, telling: Telling) -> None:
        """Setting or filling, all of it or one moment."""
        self._telling, self._image = telling, None
        self.update()

    def show_cut(self, y_mm: float) -> None:
        """Where the section below is cut."""
        self._cut_y = y_mm
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paper, sand, metal in bands, names, scale, headline."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour("paper"))
        if self._made is not None and self._rig is not None:
            self._place(self._rig)
            self._ground(painter, self._rig)
            self._metal(painter, self._made, self._rig)
            self._marks(painter, self._made)
            self._cut(painter, self._rig)
            self._labels(painter, self._made, self._rig)
            scale(painter, QPointF(20.0, self.height() - FOOT + 20.0), self._telling)
        self._headline(painter)
        painter.end()

    def event(self, event: QEvent | None) -> bool:
        """Over the headline its words are explained after a moment."""
        said = f"{self._saying.head} {self._saying.under}"
        return head_event(self, event, said, HEAD) or super().event(event)

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

    def _place(self, rig: RigResult) -> None:
        x0, y0, x1, y1 = rig.seen_box()
        k = min((self.width() - 2.0 * SIDE) / (x1 - x0), (self.height() - HEAD - FOOT) / (y1 - y0))
        middle = QPointF(self.width() / 2.0, HEAD + (self.height() - HEAD - FOOT) / 2.0)
        frame = QTransform.fromTranslate(middle.x(), middle.y()).scale(k, -k)
        self._frame = frame.translate(-(x0 + x1) / 2.0, -(y0 + y1) / 2.0)

    def _ground(self, painter: QPainter, rig: RigResult) -> None:
        f = rig.flask
        path = QPainterPath()
        box = QRectF(-f.long_mm / 2, -f.wide_mm / 2, f.long_mm, f.wide_mm)
        if f.shape == "box":
            path.addRect(box)
        else:
            path.addEllipse(box)
        path = self._frame.map(path)
        if self._sand is None or self._sand.size() != self.size():
            self._sand = sand_picture(self.width(), self.height())
        seen = QPainterPath()
        x0, y0, x1, y1 = rig.seen_box()
        seen.addRect(QRectF(self._frame.map(QPointF(x0, y1)), self._frame.map(QPointF(x1, y0))))
        path = path.intersected(seen)
        painter.save()
        painter.setClipPath(path)
        painter.fillPath(path, colour("sandWash"))
        painter.drawPixmap(0, 0, self._sand)
        painter.restore()
        painter.setPen(QPen(colour("outline"), 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)

    def _metal(self, painter: QPainter, made: FreezeResult, rig: RigResult) -> None:
        if self._image is None:
            self._image = ramp.banded(ramp.over(made.picture, self._telling.shown), self._telling)
        c = made.picture.cells
        for shape in rig.shapes:
            if shape.kind == "print":
                strokes.body(painter, self._frame, shape.rings, "print")
        paths = [self._frame.map(loops_path(one.rings)) for kind in METAL for one in rig.shapes if one.kind == kind]
        whole = QPainterPath()
        for path in paths:
            whole = whole.united(path)
        painter.save()
        painter.setClipPath(whole)
        painter.fillPath(whole, colour("steelFlat"))
        ramp.paint(painter, self._frame, self._image, float(c.low[0]), float(c.low[1]), c.step)
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.drawPath(whole)
        for chill in rig.chills:
            side = chill.side_mm / 2.0
            x, y, _ = chill.at_mm
            path = QPainterPath()
            path.addRect(QRectF(x - side, y - side, 2.0 * side, 2.0 * side))
            painter.setBrush(colour("steelDeep"))
            painter.drawPath(self._frame.map(path))

    def _spots(self, made: FreezeResult) -> list[tuple[str, QPointF, str]]:
        """What is named, where, and how it is ringed."""
        if self._telling.shown == "fills":
            said = [
                (f"{quantity('front_c', one.front_c)} after {quantity('s_s', one.seconds)}", one, "cold")
                for one in made.fill.ends[:MOST_ENDS]
            ]
            said += [(f"streams meet, {quantity('front_c', one.front_c)}", one, "meet") for one in made.fill.meets[:2]]
            return [(text, QPointF(one.at_mm[0], one.at_mm[1]), how) for text, one, how in said]
        out = [
            (f"{one.number}  sets last, {quantity('s_s', one.seconds)}", QPointF(*one.at_mm[:2]), "wants")
            for one in made.places
            if one.wants
        ]
        if not out and made.places:
            one = made.places[0]
            out.append((f"last, {quantity('s_s', one.seconds)}", QPointF(*one.at_mm[:2]), "last"))
        out += [
            (f"feeder {one.number + 1} {quantity('s_s', one.seconds)}", QPointF(*one.at_mm[:2]), "feeder")
            for one in made.feeders
        ]
        if made.gates:
            first = min(made.gates, key=lambda one: one.seconds)
            out.append((f"gate {quantity('s_s', first.seconds)}", QPointF(*first.at_mm[:2]), "gate"))
        return out

    def _marks(self, painter: QPainter, made: FreezeResult) -> None:
        for _, at, how in self._spots(made):
            spot = self._frame.map(at)
            if how == "gate":
                continue
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor("white"), 4.4))
            painter.drawEllipse(spot, RING_PX, RING_PX)
            pen = QPen(colour("ink"), 2.0)
            if how in ("wants", "cold"):
                pen.setDashPattern([2.0, 1.6])
            painter.setPen(pen)
            painter.drawEllipse(spot, RING_PX, RING_PX)

    def _cut(self, painter: QPainter, rig: RigResult) -> None:
        x0, _, x1, _ = rig.seen_box()
        pen = QPen(colour("brassInk"), 1.4)
        pen.setDashPattern([8.0, 3.0, 2.0, 3.0])
        painter.setPen(pen)
        painter.drawLine(self._frame.map(QPointF(x0, self._cut_y)), self._frame.map(QPointF(x1, self._cut_y)))

    def _labels(self, painter: QPainter, made: FreezeResult, rig: RigResult) -> None:
        spots = sorted(((t, self._frame.map(at)) for t, at, _ in self._spots(made)), key=lambda one: one[1].x())
        half = (len(spots) + 1) // 2
        for side, part in ((-1.0, spots[:half]), (1.0, spots[half:])):
            if not part:
                continue
            part.sort(key=lambda one: one[1].y())
            x0, _, x1, _ = rig.seen_box()
            edge = self._frame.map(QPointF(x1 if side > 0.0 else x0, 0.0)).x() + side * 14.0
            edge = min(max(edge, SIDE - 6.0), self.width() - SIDE + 6.0)
            middle = sum(spot.y() for _, spot in part) / len(part)
            y = max(middle - TAG_PX * (len(part) - 1) / 2.0, HEAD + 14.0)
            for text, spot in part:
                strokes.tag(painter, text, QPointF(edge, y), spot, side)
                y += TAG_PX
