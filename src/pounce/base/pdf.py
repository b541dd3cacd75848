"""The PDF library made ready: our typeface known to it, and how all our papers are written."""

from typing import BinaryIO

from reportlab import rl_config
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from pounce.base.fonts import font_file
from pounce.base.paper import POINTS_PER_MM

# Packed streams as letters make a file a quarter larger and took a tenth of a build; nothing wants them so today.
rl_config.useA85 = 0


def register_fonts() -> None:
    """Makes the shipped typeface known to the PDF library."""
    for name, style in (("Body", "Regular"), ("Semi", "Semibold"), ("Bold", "Bold"), ("Slant", "It")):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(font_file(style))))


def new_pdf(stream: BinaryIO, size_mm: tuple[float, float] | None = None) -> Canvas:
    """An empty PDF on ``stream`` with pages of this size (width, height); None where each page sets its own. The same
    drawing gives the same bytes.
    """
    register_fonts()
    size = {} if size_mm is None else {"pagesize": tuple(side * POINTS_PER_MM for side in size_mm)}
    return Canvas(stream, pageCompression=1, invariant=1, **size)
