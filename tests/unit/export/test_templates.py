"""Templates, outlines and rules read back by other libraries: everything measures 1:1."""

import numpy as np
import pytest

from tests.conftest import box
from tests.unit.export.helpers import lines_on, templates
from tests.unit.pattern.test_making import pattern_of


def test_a_template_measures_one_to_one() -> None:
    found = pattern_of(box(120, 70, 30), "wood", 15.0)
    page = templates(found).pages[0]
    outline = max(lines_on(page, 0.9), key=len)
    assert np.ptp(outline, axis=0).tolist() == pytest.approx([120 * (100 / 98.8), 70 * (100 / 98.8)], abs=0.1)
    check = [line for line in lines_on(page, 0.8) if abs(float(np.ptp(line[:, 1]))) < 1e-6]
    assert max(float(np.ptp(line[:, 0])) for line in check) == pytest.approx(100.0, abs=0.01)
    words = page.extract_text()
    assert "Cope half, board 1 of 1" in words and "100 mm" in words
