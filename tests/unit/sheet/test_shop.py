"""The whole sheet: its pages in order, its words in the reader's unit, the same file for the same job."""

import io

import pypdf
import pytest

from pounce.base.paper import PAPERS
from pounce.route.paper import content_of, sheet_bytes
from pounce.route.stops import CORES
from pounce.sheet.shop import shop_sheet
from tests.unit.sheet.helpers import words_of
from tests.worked import ARM, BEARING, ELBOW, demo

ORDER = ("mould", "what sets last", "what is added", "how the pattern is made")


@pytest.mark.parametrize("stem", [BEARING, ARM, ELBOW])
def test_pages_follow_the_work(stem: str) -> None:
    results, model = demo(stem)
    pages = [page.extract_text() for page in pypdf.PdfReader(io.BytesIO(sheet_bytes(results, model))).pages]
    assert results.job.name in pages[0]
    at = [next((k for k, text in enumerate(pages) if f"{results.job.name}: {title}" in text), -1) for title in ORDER]
    assert all(place > 0 for place in at[:2]) and at[0] < at[1]
    assert [place for place in at if place >= 0] == sorted(place for place in at if place >= 0)
    assert len(pages) >= 4 + len(results.need(CORES).cores)


@pytest.mark.parametrize("paper", list(PAPERS))
def test_it_is_drawn_on_the_paper_that_was_chosen(paper: str) -> None:
    content = content_of(*demo(ARM))
    page = pypdf.PdfReader(io.BytesIO(shop_sheet(content, paper))).pages[0]
    size = (float(page.mediabox.width) / 72 * 25.4, float(page.mediabox.height) / 72 * 25.4)
    assert size == pytest.approx(PAPERS[paper], abs=0.1)


def test_the_same_job_is_the_same_file() -> None:
    results, model = demo(ARM)
    assert sheet_bytes(results, model) == sheet_bytes(results, model)


def test_inches_are_inches_on_every_page() -> None:
    """But for what is only ever given in millimetres: grains, draw screws, places by which a core is asked for."""
    results, model = demo(ARM)
    one, two = (words_of(sheet_bytes(results, model, unit)) for unit in ("mm", "in"))
    assert one.count(" mm") > 20 and two.count(" in") > 20
    assert two.count(" mm") < 0.4 * one.count(" mm")
