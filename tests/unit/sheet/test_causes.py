"""Causes on the sheet: each with its cure and a box, over as many pages as they take."""

import pytest

from pounce.sheet.causes import causes_rows
from tests.unit.sheet.helpers import drawn
from tests.worked import ARM, BEARING, demo


@pytest.mark.parametrize("stem", [BEARING, ARM])
@pytest.mark.parametrize("unit", ["mm", "in"])
def test_every_cause_stands_once_with_its_words(stem: str, unit: str) -> None:
    causes = demo(stem)[0].causes
    assert causes is not None
    ends: list[float] = []
    text = drawn(lambda page: ends.append(causes_rows(page, causes, unit, 780.0, 60.0, lambda: (780.0, 60.0))))
    flat = " ".join(text.split())
    for cause in (*causes.open, *causes.cured):
        words = " ".join(cause.words(unit).replace("\u00a0", " ").split())
        assert words[:25] in flat, words
    assert ends[0] < 780.0 or not (*causes.open, *causes.cured)


def test_a_page_that_is_full_is_turned() -> None:
    causes = demo(BEARING)[0].causes
    assert causes is not None and (*causes.open, *causes.cured)
    turned: list[int] = []

    def turn() -> tuple[float, float]:
        turned.append(1)
        return 780.0, 60.0

    drawn(lambda page: causes_rows(page, causes, "mm", 64.0, 60.0, turn))
    assert len(turned) == 1
