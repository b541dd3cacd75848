"""The page of the mould: flask, sprue, weights and steps as the results have them."""

import pytest

from pounce.base.units import quantity
from pounce.route.stops import MOULD
from pounce.sheet.mouldpage import mould_page
from tests.unit.sheet.helpers import drawn
from tests.worked import BEARING, BUSH, FRAME, demo


@pytest.mark.parametrize("stem", [BEARING, FRAME, BUSH])
def test_a_mould_can_be_rammed_from_it(stem: str) -> None:
    rig = demo(stem)[0].need(MOULD)
    text = " ".join(drawn(lambda page: mould_page(page, "Job", rig, "mm")).split())
    assert "Job: mould" in text and "Flask and the metal's way in" in text
    flat = text.replace(" ", "")
    poured = quantity("poured_kg", rig.weights.poured_kg).replace("\u00a0", "").replace(" ", "")
    assert poured in flat
    for step in rig.steps[:2]:
        words = step.words("mm") if hasattr(step, "words") else str(step)
        assert words.replace("\u00a0", "").replace(" ", "")[:20] in flat


def test_inches_are_inches() -> None:
    rig = demo(BEARING)[0].need(MOULD)
    text = drawn(lambda page: mould_page(page, "Job", rig, "in"))
    assert " in" in text and not [one for one in text.split("\n") if one.endswith(" mm")]
