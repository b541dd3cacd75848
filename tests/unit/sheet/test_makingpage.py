"""The page of how the pattern is made: the ways side by side, and the chosen one's steps."""

import pytest

from pounce.route.stops import PATTERN
from pounce.sheet.makingpage import making_page
from tests.unit.sheet.helpers import drawn
from tests.worked import BEARING, FRAME, LATCH, demo


@pytest.mark.parametrize("stem", [BEARING, FRAME, LATCH])
def test_ways_figures_and_steps(stem: str) -> None:
    results, _ = demo(stem)
    pattern = results.need(PATTERN)
    text = " ".join(drawn(lambda page: making_page(page, "Job", pattern, results.job.pattern, "mm")).split())
    assert "Job: how the pattern is made" in text and "The ways side by side" in text
    for way in pattern.making.ways:
        assert way.takes.split(",")[0][:16].replace("\u00a0", " ") in text or way.kind in text.lower()
    for step in pattern.making.steps[:3]:
        assert step.split(".")[0][:18].replace("\u00a0", " ") in text


def test_units_follow_the_reader() -> None:
    results, _ = demo(BEARING)
    pattern = results.need(PATTERN)
    choices = results.job.pattern
    one = drawn(lambda page: making_page(page, "Job", pattern, choices, "mm"))
    two = drawn(lambda page: making_page(page, "Job", pattern, choices, "in"))
    assert one != two and " in" in two
