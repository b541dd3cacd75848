"""The page of a core: its prints, sand and box as the results have them."""

import numpy as np
import pytest

from pounce.metals.tables import mix
from pounce.route.stops import CORES, STOCK
from pounce.sheet.corepage import core_page
from tests.unit.sheet.helpers import drawn
from tests.worked import BEARING, BUSH, ELBOW, demo


@pytest.mark.parametrize("stem", [BEARING, ELBOW, BUSH])
@pytest.mark.parametrize("unit", ["mm", "in"])
def test_it_says_what_the_core_is(stem: str, unit: str) -> None:
    results, _ = demo(stem)
    stock = results.need(STOCK)
    for core in results.need(CORES).cores:
        sand = mix(results.job.cores.mix)
        text = drawn(
            lambda page, core=core, sand=sand: core_page(  # type: ignore[misc]
                page, "Job", core, sand, np.array(stock.rammed_factors), np.array(stock.box_factors), unit
            )
        )
        assert f"Job: {core.name.lower()}" in text
        assert f"{unit}" in text and sand.name.split(",")[0].lower() in text.lower()
        assert len(core.prints) <= text.lower().count("print") + 1
        other = "in" if unit == "mm" else "mm"
        figures = [word for word in text.split("\n") if word.endswith(f" {other}")]
        assert not figures, figures


def test_a_baked_core_says_how_it_is_baked() -> None:
    results, _ = demo(ELBOW)
    stock, core = results.need(STOCK), results.need(CORES).cores[0]
    sand = mix(results.job.cores.mix)
    assert sand.baked
    text = drawn(
        lambda page: core_page(
            page, "Job", core, sand, np.array(stock.rammed_factors), np.array(stock.box_factors), "mm"
        )
    )
    assert "Bake at" in " ".join(text.split())
