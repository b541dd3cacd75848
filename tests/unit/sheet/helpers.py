"""Pages of the shop sheet as another library reads them."""

import io
from collections.abc import Callable

import pypdf
from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas

from pounce.base.pdf import register_fonts


def drawn(draw: Callable[[Canvas], object]) -> str:
    """What is written on a page that ``draw`` drew on, with plain blanks."""
    register_fonts()
    buffer = io.BytesIO()
    page = Canvas(buffer, pagesize=A4, invariant=1)
    draw(page)
    page.showPage()
    page.save()
    return words_of(buffer.getvalue())


def words_of(content: bytes) -> str:
    """Every word of a PDF."""
    text = "\n".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(content)).pages)
    return text.replace("\u00a0", " ").replace("\u202f", " ").replace("\u2009", " ")
