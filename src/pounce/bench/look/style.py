"""The style sheet and the typeface."""

from importlib import resources
from string import Template

from PyQt6.QtGui import QFontDatabase
from PyQt6.QtWidgets import QApplication

from pounce.base.fonts import font_file
from pounce.bench.look.tokens import font, hue, pixels, set_contrast, set_scale

# Of the colours those that the style sheet takes.
COLOURS = ("ember", "field", "hairline", "ink", "muted", "outline", "panel", "paper", "sunk", "verdigrisInk")


def dress(app: QApplication, contrast: bool = False) -> None:
    """Loads the shipped typeface and dresses the whole application."""
    for style in ("Regular", "Semibold", "Bold", "It"):
        QFontDatabase.addApplicationFont(str(font_file(style)))
    # the desktop's text size against the 10 pt that the design is drawn for
    points = app.font().pointSizeF()
    set_scale(points / 10.0 if points > 11.0 else 1.0)
    set_contrast(contrast)
    app.setFont(font("body"))
    app.setStyleSheet(sheet())


def sheet() -> str:
    """The style sheet for the colours in force: ``sheet.qss`` with its colours, sizes and pictures filled in."""
    look = resources.files("pounce.bench") / "look"
    sizes = {name: pixels(name) for name in ("body", "button", "chip", "figure", "job", "status", "stopTitle")}
    colours = {name: hue(name) for name in COLOURS}
    return Template((look / "sheet.qss").read_text(encoding="utf-8")).substitute(
        sizes, **colours, images=str(look / "img")
    )
