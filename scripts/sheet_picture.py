"""Draws the front page of the demo job's shop sheet into a picture: ``sheet_picture.py FOLDER``."""

import sys
import tempfile
from pathlib import Path

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize, Qt
from PyQt6.QtGui import QGuiApplication, QImage, QPainter
from PyQt6.QtPdf import QPdfDocument

from pounce.base.progress import silent
from pounce.route.demo_jobs import lay_out
from pounce.route.opening import open_any
from pounce.route.paper import sheet_bytes
from pounce.route.pipeline import Pipeline

WIDE_PX = 900


def main(folder: Path) -> None:
    """Works the first demo job and draws its sheet."""
    with tempfile.TemporaryDirectory() as at:
        job, model = open_any(lay_out(Path(at))[0], silent)
        assert model is not None
        content = sheet_bytes(Pipeline().run(job, model), model)
    data = QBuffer()
    data.setData(QByteArray(content))
    data.open(QIODevice.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(data)
    page = document.pagePointSize(0)
    drawn = document.render(0, QSize(WIDE_PX, round(WIDE_PX * page.height() / page.width())))
    paper = QImage(drawn.size(), QImage.Format.Format_RGB32)
    paper.fill(Qt.GlobalColor.white)
    painter = QPainter(paper)
    painter.drawImage(0, 0, drawn)
    painter.end()
    paper.save(str(folder / "17-sheet.png"))


if __name__ == "__main__":
    application = QGuiApplication([])
    main(Path(sys.argv[1]))
