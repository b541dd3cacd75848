"""Pages as another library reads them."""

import io

import numpy as np
import pypdf
from pypdf.generic import ContentStream

from pounce.export.templates import drawings_of, templates_pdf
from pounce.pattern.values import PatternResult
from pounce.solid.mesh import Floats

MM = 72.0 / 25.4


def lines_on(page: pypdf.PageObject, width: float) -> list[Floats]:
    """Every straight path of a page drawn with this pen, as (k, 2) points in mm from the sheet's corner."""
    out: list[Floats] = []
    points: list[list[float]] = []
    pen = 0.0
    for words, operator in ContentStream(page.get_contents(), page.pdf).operations:
        name = operator.decode()
        if name == "w":
            pen = float(words[0])
        elif name == "m":
            points = [[float(words[0]), float(words[1])]]
        elif name == "l":
            points.append([float(words[0]), float(words[1])])
        elif name in ("S", "s", "n", "b", "B"):
            if name in ("S", "s") and abs(pen - width) < 1e-6 and len(points) > 1:
                out.append(np.array(points) / MM)
            points = []
    return out


def templates(found: PatternResult, paper: str = "A4") -> pypdf.PdfReader:
    """The templates as another library reads them."""
    content, count = templates_pdf("Test", drawings_of(found.making, found.pieces), paper)
    read = pypdf.PdfReader(io.BytesIO(content))
    assert len(read.pages) == count
    return read


def read(content: bytes) -> pypdf.PdfReader:
    """A PDF's pages."""
    return pypdf.PdfReader(io.BytesIO(content))


def shapes_on(page: pypdf.PageObject) -> list[Floats]:
    """Every closed path of straight lines, as (k, 2) points in mm from the sheet's corner."""
    out: list[Floats] = []
    points: list[list[float]] = []
    closed = False
    for words, operator in ContentStream(page.get_contents(), page.pdf).operations:
        name = operator.decode()
        if name == "m":
            points, closed = [[float(words[0]), float(words[1])]], False
        elif name == "l":
            points.append([float(words[0]), float(words[1])])
        elif name == "h":
            closed = True
        elif name in ("b", "b*", "B", "B*", "f", "f*", "S", "s", "n"):
            if name != "n" and closed and len(points) > 2:
                out.append(np.array(points) / MM)
            points = []
    return out


def check_of(page: pypdf.PageObject) -> float:
    """Length of the longest level line, mm: the check line."""
    level = [line for pen in (0.5, 0.6, 0.8, 0.9, 1.0, 1.2) for line in lines_on(page, pen)]
    return max((float(np.ptp(line[:, 0])) for line in level if float(np.ptp(line[:, 1])) < 1e-6), default=0.0)
