"""Why: every kind of cause leads to a paragraph that is there, with the figures of the part."""

import pytest

from pounce.base.finding import Remedy
from pounce.causes.values import Cause, Harm, Rule
from pounce.craft.page import page_of
from pounce.craft.why import PLACES, on_this_part, place_of

CAUSE = Cause(
    1, Rule.DRAFT, Harm.SCARS, "{area} stands without draft.", "draft", "stock", {"area_mm2": 1240.0}, "area_mm2"
)


@pytest.mark.parametrize("rule", PLACES)
def test_the_paragraph_is_there(rule: Rule) -> None:
    page, head = PLACES[rule]
    assert page_of(page).paragraph(head) is not None


def test_every_rule_that_costs_something_has_its_place() -> None:
    assert set(Rule) - set(PLACES) == {Rule.OTHER, Rule.NOTES}


def test_a_cause_of_no_rule_of_its_own_goes_to_its_stop() -> None:
    other = Cause(1, Rule.OTHER, Harm.SCARS, "Something.", "thing", "mould")
    assert place_of(other) == ("mould", "")
    assert place_of(CAUSE) == ("draw", "How much draft")


def test_it_speaks_of_this_very_part() -> None:
    said = on_this_part(CAUSE, "mm")
    assert "12.4" in said and "cm²" in said
    helped = Cause(
        1, Rule.DRAFT, Harm.SCARS, "No draft.", "draft", "stock", remedies=(Remedy("lean", "lean the walls"),)
    )
    assert on_this_part(helped, "mm") == "No draft. What helps: lean the walls."
