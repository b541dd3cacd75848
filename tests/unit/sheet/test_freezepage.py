"""The page of what sets last: the order, the scale of seconds, what fills."""

import numpy as np
import pytest

from pounce.route.stops import FREEZE, MOULD
from pounce.sheet.freezepage import freeze_page
from tests.unit.sheet.helpers import drawn
from tests.worked import ARM, BEARING, FINIAL, demo


@pytest.mark.parametrize("stem", [BEARING, ARM, FINIAL])
def test_it_tells_the_order_in_which_it_sets(stem: str) -> None:
    results, _ = demo(stem)
    made, rig = results.need(FREEZE), results.need(MOULD)
    text = " ".join(drawn(lambda page: freeze_page(page, "Job", made, rig, "mm")).split())
    assert "Job: what sets last" in text
    assert made.order and all(what[:16].lower() in text.lower() for what, _ in made.order[:2])
    # seconds on the scale end with the last that sets
    most = float(np.nanmax(made.picture.sets_s))
    assert str(round(most)) in text or f"{most / 60:.1f}" in text or str(int(most)) in text
