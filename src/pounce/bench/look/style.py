"""The style sheet and the typeface."""

import os
from importlib import resources
from string import Template

from PyQt6.QtGui import QFontDatabase
from PyQt6.QtWidgets import QApplication

from pounce.base.fonts import font_file
from pounce.bench.look.focus import KeyboardFocus
from pounce.bench.look.tokens import font, hue, pixels, set_contrast, set_scale

# Of the colours those that the style sheet takes.
COLOURS = ("ember", "field", "hairline", "ink", "muted", "outline", "panel", "paper", "sunk", "verdigrisInk")


# Set for the process that is drawn larger, by how much.
ZOOM = "POUNCE_ZOOM"
# The desktop's text that the design is drawn for, points, and what is still like it.
DESIGNED_PT, LIKE_IT_PT, DESIGNED_DPI = 10.0, 11.0, 96.0
# The least window, pixels: it must have room on the screen when it is drawn larger.
LEAST = (1100, 700)


def zoom_for(app: QApplication) -> float:
    """How much larger the window is to be drawn for the desktop's size of text, to a quarter; 1 for as designed."""
    screen = app.primaryScreen()
    if screen is None:
        return 1.0
    # some desktops make the letters larger, others say that an inch has more dots
    points = app.font().pointSizeF() * max(screen.logicalDotsPerInchY() / DESIGNED_DPI, 1.0)
    if points <= LIKE_IT_PT:
        return 1.0
    room = screen.availableSize()
    most = min(room.width() / LEAST[0], room.height() / LEAST[1])
    return max(1.0, int(4.0 * min(points / DESIGNED_PT, most, 3.0)) / 4.0)


def dress(app: QApplication, contrast: bool = False) -> None:
    """Loads the shipped typeface and dresses the whole application."""
    for style in ("Regular", "Semibold", "Bold", "It"):
        QFontDatabase.addApplicationFont(str(font_file(style)))
    # where the whole window is drawn larger, its text is not once more
    points = app.font().pointSizeF()
    set_scale(points / DESIGNED_PT if points > LIKE_IT_PT and ZOOM not in os.environ else 1.0)
    set_contrast(contrast)
    app.setFont(font("body"))
    if app.findChild(KeyboardFocus) is None:
        app.installEventFilter(KeyboardFocus(app))
    if app.styleSheet() != (wanted := sheet()):  # every widget is gone over anew, and that takes a while
        app.setStyleSheet(wanted)


def sheet() -> str:
    """The style sheet for the colours in force: ``sheet.qss`` with its colours, sizes and pictures filled in."""
    look = resources.files("pounce.bench") / "look"
    sizes = {name: pixels(name) for name in ("body", "button", "chip", "figure", "job", "status", "stopTitle")}
    colours = {name: hue(name) for name in COLOURS}
    return Template((look / "sheet.qss").read_text(encoding="utf-8")).substitute(
        sizes, **colours, images=str(look / "img")
    )
