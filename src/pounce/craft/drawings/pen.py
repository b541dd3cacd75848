"""The pen of the craft's drawings: sand, metal, marks, arrows and sizes as SVG, sharp at any scale.

Only what SVG Tiny knows is used, since that is what the window draws. Lengths are pixels at 100 %.
"""

import math
import random
from collections.abc import Mapping, Sequence
from xml.sax.saxutils import escape

import shapely

WIDE, HIGH = 190.0, 122.0
# Dots of sand: one for so many square pixels.
DOT_ROOM = 30.0
BAND = 5.0
# One name: the window reads no list.
FAMILY = "Source Sans Pro"

Point = tuple[float, float]
Points = Sequence[Point]


class Pen:
    """Draws on a sheet of ``WIDE`` x ``HIGH``; ``colours`` are hexadecimal by the names of the house's tokens."""

    def __init__(self, colours: Mapping[str, str], seed: int = 1) -> None:
        self._colours = colours
        self._dice = random.Random(seed)  # the same sand each time
        self._out: list[str] = []

    def svg(self) -> str:
        """The drawing."""
        body = "\n".join(self._out)
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDE:g} {HIGH:g}" '
            f'width="{WIDE:g}" height="{HIGH:g}">\n'
            f"{body}\n</svg>\n"
        )

    def shape(
        self, points: Points, fill: str = "", line: str = "ink", width: float = 1.5, dash: str = "", close: bool = True
    ) -> None:
        """A polygon or a polyline."""
        tag = "polygon" if close else "polyline"
        at = " ".join(f"{x:.1f},{y:.1f}" for x, y in points)
        stroke = f'stroke="{self._colours[line]}" stroke-width="{width:g}" stroke-linejoin="round"' if line else ""
        dashed = f' stroke-dasharray="{dash}"' if dash else ""
        inner = self._colours[fill] if fill else "none"
        self._out.append(f'<{tag} points="{at}" fill="{inner}" {stroke}{dashed}/>')

    def line(self, points: Points, tone: str = "ink", width: float = 1.5, dash: str = "") -> None:
        """An open line."""
        self.shape(points, "", tone, width, dash, close=False)

    def ring(self, x: float, y: float, radius: float, fill: str = "", line: str = "ink", width: float = 1.5) -> None:
        """A circle."""
        inner = self._colours[fill] if fill else "none"
        stroke = f'stroke="{self._colours[line]}" stroke-width="{width:g}"' if line else ""
        self._out.append(f'<circle cx="{x:g}" cy="{y:g}" r="{radius:g}" fill="{inner}" {stroke}/>')

    def sand(self, *outlines: Points) -> None:
        """Sand within the first outline and outside the others, dotted."""
        body = shapely.Polygon(outlines[0], list(outlines[1:]))
        self.shape(outlines[0], "sandWash", "")
        for hole in outlines[1:]:
            self.shape(hole, "panel", "")
        x0, y0, x1, y1 = body.bounds
        for _ in range(int((x1 - x0) * (y1 - y0) / DOT_ROOM)):
            x, y = self._dice.uniform(x0, x1), self._dice.uniform(y0, y1)
            if body.contains(shapely.Point(x, y)):
                self.ring(round(x, 1), round(y, 1), self._dice.choice((0.5, 0.8, 1.0)), "sandDot", "")

    def metal(self, points: Points) -> None:
        """Pattern or casting."""
        self.shape(points, "steelFlat", "ink", 1.6)

    def band(self, edge: Points, state: str, inward: float = BAND) -> None:
        """The mark of a draw along an edge: what lets go, what drags, what locks."""
        (ax, ay), (bx, by) = edge
        long = math.hypot(bx - ax, by - ay)
        nx, ny = -(by - ay) / long * inward, (bx - ax) / long * inward
        fill, line = {
            "clean": ("verdigrisWash", "verdigrisInk"),
            "tight": ("ochre", "ochreInk"),
            "locked": ("damson", "damsonDeep"),
        }[state]
        self.shape([(ax, ay), (bx, by), (bx + nx, by + ny), (ax + nx, ay + ny)], fill, line, 1.2)
        if state == "tight":
            for k in range(1, int(long / 6.0)):
                x, y = ax + (bx - ax) * 6.0 * k / long, ay + (by - ay) * 6.0 * k / long
                self.line([(x, y), (x + nx, y + ny - 3.0)], line, 1.0)

    def torn(self, around: Points, count: int = 14) -> None:
        """Grains that came off along a line."""
        (ax, ay), (bx, by) = around
        for _ in range(count):
            k = self._dice.random()
            x, y = ax + (bx - ax) * k + self._dice.gauss(0, 2.5), ay + (by - ay) * k + self._dice.gauss(0, 2.5)
            self.ring(round(x, 1), round(y, 1), self._dice.choice((1.0, 1.4, 2.0)), "damson", "")

    def arrow(self, start: Point, end: Point, tone: str = "verdigrisInk", width: float = 2.4) -> None:
        """An arrow from start to end."""
        way = math.atan2(end[1] - start[1], end[0] - start[0])
        self.line([start, end], tone, width)
        barbs = [(end[0] - 6.5 * math.cos(way + k), end[1] - 6.5 * math.sin(way + k)) for k in (0.65, -0.65)]
        self.line([barbs[0], end, barbs[1]], tone, width)

    def size(self, start: Point, end: Point, words: str, away: float = 8.0) -> None:
        """A dimension line with small strokes at its ends, its figure beside it."""
        self.line([start, end], "ink", 1.2)
        level = abs(end[1] - start[1]) < abs(end[0] - start[0])
        for x, y in (start, end):
            self.line([(x - 3.0, y + 3.0), (x + 3.0, y - 3.0)], "ink", 1.4)
        middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
        at = (middle[0], middle[1] - away + 4.0) if level else (middle[0] - away, middle[1] + 4.0)
        self.words(at, words, anchor="middle" if level else "end", bold=True)

    def words(
        self,
        at: Point,
        text: str,
        tone: str = "ink",
        anchor: str = "start",
        bold: bool = False,
        px: float = 11.5,
        ground: str = "",
    ) -> None:
        """A few words, on sand with a ground of their own."""
        if ground:
            wide = 0.54 * px * len(text) + 4.0
            left = at[0] - 2.0 - {"start": 0.0, "middle": wide / 2 - 2.0, "end": wide - 4.0}[anchor]
            self.shape(box(left, at[1] - px, left + wide, at[1] + 3.5), ground, "")
        weight = ' font-weight="700"' if bold else ""
        self._out.append(
            f'<text x="{at[0]:.1f}" y="{at[1]:.1f}" fill="{self._colours[tone]}" font-family="{FAMILY}" '
            f'font-size="{px:g}"{weight} text-anchor="{anchor}">{escape(text)}</text>'
        )

    def joint(self, y: float, *gaps: tuple[float, float], x0: float = 4.0, x1: float = WIDE - 4.0) -> None:
        """The bold dashed line where the mould parts, left out in the gaps."""
        at = x0
        for a, b in (*gaps, (x1, x1)):
            if a > at:
                self.line([(at, y), (a, y)], "ink", 2.2, "7,4")
            at = b


def box(x0: float, y0: float, x1: float, y1: float) -> list[Point]:
    """A rectangle's corners."""
    return [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]


def bow(x: float, y: float, radius: float, start: float, end: float, steps: int = 24) -> list[Point]:
    """Points of an arc; angles in degrees, from x towards y (down)."""
    return [
        (x + radius * math.cos(math.radians(a)), y + radius * math.sin(math.radians(a)))
        for a in (start + (end - start) * k / steps for k in range(steps + 1))
    ]
