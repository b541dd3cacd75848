"""The page of what is added: every line that is on, none that is off, and the dimensions."""

import msgspec
import pytest

from pounce.route.pipeline import Pipeline
from pounce.route.stops import STOCK
from pounce.sheet.stockpage import stock_page
from tests.unit.sheet.helpers import drawn
from tests.worked import ARM, BEARING, LATCH, demo


@pytest.mark.parametrize("stem", [BEARING, ARM, LATCH])
def test_every_line_and_dimension_stands_on_it(stem: str) -> None:
    stock = demo(stem)[0].need(STOCK)
    text = " ".join(drawn(lambda page: stock_page(page, "Job", stock, "mm")).split())
    assert text.startswith("Job: what is added") or "Job: what is added" in text
    for line in stock.lines:
        words = " ".join(line.words("mm").replace("\u00a0", " ").split())
        assert (words in text) == line.on, words
    for row in stock.dimensions[:3]:
        assert row.name in text


def test_a_line_that_is_off_is_left_out() -> None:
    results, model = demo(ARM)
    line = msgspec.structs.replace(results.job.stock.lines[0], on=False)
    off = msgspec.structs.replace(results.job, stock=msgspec.structs.replace(results.job.stock, lines=(line,)))
    stock = Pipeline().run(off, model, until=STOCK).need(STOCK)
    text = drawn(lambda page: stock_page(page, "Job", stock, "mm"))
    assert stock.lines[0].words("mm") not in text


def test_inches_are_inches_everywhere() -> None:
    stock = demo(BEARING)[0].need(STOCK)
    text = drawn(lambda page: stock_page(page, "Job", stock, "in"))
    assert " in" in text and not [one for one in text.split("\n") if one.endswith(" mm")]
