"""The story of a job on one page."""

import io

import pypdf
import pytest

from pounce.base.pdf import register_fonts
from pounce.route.stops import LOGBOOK, METAL
from pounce.sheet.logpage import Told, story_page
from tests.unit.sheet.helpers import words_of
from tests.worked import BEARING, demo


@pytest.mark.parametrize("paper", ["A4", "letter"])
def test_one_page_with_the_jobs_words(paper: str) -> None:
    results, _ = demo(BEARING)
    register_fonts()
    method = results.need(METAL)
    told = Told(results.job.name, method.metal.name, method.mould.name, method.pattern.name)
    content = story_page(told, results.need(LOGBOOK), paper)
    assert len(pypdf.PdfReader(io.BytesIO(content)).pages) == 1
    text = words_of(content)
    assert results.job.name in text and method.metal.name in text and method.mould.name.lower() in text
    assert content == story_page(told, results.need(LOGBOOK), paper)  # the same story twice is the same file
