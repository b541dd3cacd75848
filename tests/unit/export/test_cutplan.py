"""The plan for cutting the drag down, at true size."""

import numpy as np
import pytest

from pounce.export.cutplan import CutPlan, cut_plan_pdf, usual_step
from pounce.parting.values import CutDown
from tests.unit.export.helpers import MM, lines_on, read

SQUARE = np.array([[20.0, 20], [100, 20], [100, 60], [20, 60]])


def plan(wide: float = 120.0, high: float = 80.0, depths: tuple[float, ...] = (2.0, 4.0)) -> CutPlan:
    surface = np.zeros((9, 13))
    done = CutDown(4.0, 80.0, 12_800.0, surface, np.zeros(2), 10.0, 15.0)
    contours = [(depth, (SQUARE + depth,)) for depth in depths]
    line = np.array([[0.0, 40], [wide, 40]])
    return CutPlan("Arm", done, 2.0, contours, (line,), np.array([[0.0, 0], [wide, high]]))


@pytest.mark.parametrize("depth", [0.4, 3.0, 11.0, 26.0, 90.0, 400.0])
def test_a_step_gives_a_dozen_lines_at_most(depth: float) -> None:
    assert 0.0 < depth / usual_step(depth) <= 12.0 + 1e-9
    assert usual_step(depth) <= usual_step(2.0 * depth)


def test_contours_and_the_parting_line_are_drawn_at_true_size() -> None:
    page = read(cut_plan_pdf(plan())).pages[0]
    found = lines_on(page, 0.8)
    outlines = [one for one in found if len(one) >= 4]
    assert len(outlines) == 2
    for one in outlines:
        assert np.ptp(one, axis=0) == pytest.approx([80.0, 40.0], abs=0.01)
    assert np.abs(outlines[1].mean(axis=0) - outlines[0].mean(axis=0)) == pytest.approx([2.0, 2.0], abs=0.01)
    line = lines_on(page, 1.6)
    assert any(np.ptp(one[:, 0]) == pytest.approx(120.0, abs=0.01) for one in line)


def test_depths_and_quantities_are_written() -> None:
    words = read(cut_plan_pdf(plan())).pages[0].extract_text()
    assert "Arm: cutting the drag down" in words
    assert words.startswith("2\n4\n")


@pytest.mark.parametrize(("wide", "high"), [(100.0, 60.0), (260.0, 180.0), (700.0, 500.0)])
def test_the_page_is_as_large_as_it_needs(wide: float, high: float) -> None:
    page = read(cut_plan_pdf(plan(wide, high))).pages[0]
    assert float(page.mediabox.width) / MM >= wide and float(page.mediabox.height) / MM >= high
