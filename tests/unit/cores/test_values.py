"""Choices and results of Cores: through the job file and back, and what a print lies beyond."""

from typing import get_args

import msgspec
import numpy as np
import pytest

from pounce.cores.values import HOWS, CoreChoices, HollowChoice, How, Offer, Print


def test_choices_go_through_json_and_back() -> None:
    each = HollowChoice((1.0, 2.0, 3.0), "core", side_mm=20.0, box="half", closed=((0.0, 0.0, 1.0),), wide=1.5)
    choices = CoreChoices((each, HollowChoice((4.0, 5.0, 6.0), "drill")), "core-oil", 90.0, True, True)
    assert msgspec.json.decode(msgspec.json.encode(choices), type=CoreChoices) == choices


@pytest.mark.parametrize(
    "text", ['{"hollows": [{"at_mm": [0, 0]}]}', '{"hollows": [{"at_mm": [0,0,0], "make": "luck"}]}']
)
def test_what_is_no_choice_does_not_come_in(text: str) -> None:
    with pytest.raises(msgspec.ValidationError):
        msgspec.json.decode(text, type=CoreChoices)


def test_every_way_has_a_name() -> None:
    assert set(HOWS) == set(get_args(How))
    assert all(HOWS.values())


def test_an_offer_speaks_in_the_readers_unit() -> None:
    one = Offer((0.0, 0.0, 0.0), "Bore {wide_mm}", "", "", 1.0, 0.0, 2, figures={"wide_mm": 25.4})
    assert "25.4" in one.words("mm") and "1" in one.words("in") and "in" in one.words("in")


def made(kind: str, axis: tuple[float, float, float], rim_mm: float = 0.0) -> Print:
    return Print(kind, np.array(axis), np.array([10.0, 0, 0]), 20.0, 10.0, (1.0, 1.0), 0.0, 0.3, rim_mm=rim_mm)


def test_how_far_points_lie_beyond_the_part() -> None:
    points = np.array([[10.0, 5, 5], [15.0, -9, 0], [4.0, 0, 0]])
    assert made("side", (1.0, 0.0, 0.0)).beyond(points) == pytest.approx([0.0, 5.0, -6.0])
    round_it = np.array([[10.0, 0, 30], [10.0, 40, 7], [99.0, 0, 25]])
    assert made("ring", (1.0, 0.0, 0.0), 25.0).beyond(round_it) == pytest.approx([5.0, np.hypot(40, 7) - 25.0, 0.0])
