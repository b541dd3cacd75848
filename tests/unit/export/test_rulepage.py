"""Contraction rules."""

import io

import numpy as np
import pypdf
import pytest

from pounce.export.rulepage import Rule, marks_mm, rules_pdf
from tests.unit.export.helpers import MM, lines_on, read


@pytest.mark.parametrize("factor", [1.0104166667, 1.0208333333, 1.013 * 1.0156])
def test_rule_marks_stand_at_the_contraction(factor: float) -> None:
    """The old rules of 1/8 and 1/4 inch in a foot, and a pair of metals; every mark to 0.02 mm."""
    page = pypdf.PdfReader(io.BytesIO(rules_pdf((Rule("Test", factor),)))).pages[0]
    marks = [line for line in lines_on(page, 0.25) if abs(float(np.ptp(line[:, 0]))) < 1e-6]
    top = max(float(line[:, 1].max()) for line in marks)
    found = np.sort([float(line[0, 0]) for line in marks if float(line[:, 1].max()) > top - 1e-6])
    assert len(found) == 251
    assert found - found[0] == pytest.approx(np.arange(251) * factor, abs=0.02)
    assert f"{100 * (factor - 1):.2f} % over" in page.extract_text()


def test_marks_are_where_the_castings_millimetres_grow_to() -> None:
    assert marks_mm(1.02, 4) == pytest.approx([0.0, 1.02, 2.04, 3.06, 4.08])
    assert len(marks_mm(1.0)) == 1 + round(marks_mm(1.0)[-1])


def test_inches_stand_in_sixteenths_on_the_other_edge() -> None:
    page = read(rules_pdf((Rule("Test", 1.02),))).pages[0]
    marks = [line for line in lines_on(page, 0.25) if abs(float(np.ptp(line[:, 0]))) < 1e-6]
    low = min(float(line[:, 1].min()) for line in marks)
    inches = np.sort([float(line[0, 0]) for line in marks if float(line[:, 1].min()) < low + 1e-6])
    steps = np.diff(inches)
    assert len(inches) > 100 and steps == pytest.approx(np.full(len(steps), 25.4 / 16 * 1.02), abs=0.02)


def test_every_rule_has_its_strip_and_its_name() -> None:
    rules = tuple(Rule(f"Rule {k}", 1.0 + k / 100) for k in range(9))
    pages = read(rules_pdf(rules)).pages
    words = "".join(page.extract_text() for page in pages)
    for rule in rules:
        assert rule.name in words
        assert f"{100 * (rule.factor - 1):.2f} % over" in words


@pytest.mark.parametrize("paper", ["A4", "letter"])
def test_a_strip_is_no_longer_than_its_paper(paper: str) -> None:
    page = read(rules_pdf((Rule("Wide", 1.1),), paper)).pages[0]
    wide = float(page.mediabox.width) / MM
    for line in lines_on(page, 0.25):
        assert line[:, 0].min() > 0.0 and line[:, 0].max() < wide
