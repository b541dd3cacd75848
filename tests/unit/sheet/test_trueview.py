"""The true-scale section of the sheet's front."""

import io
from dataclasses import replace
from functools import partial

import numpy as np
from reportlab.pdfgen.canvas import Canvas

from pounce.base.pdf import register_fonts
from pounce.route.paper import content_of
from pounce.sheet.content import Content
from pounce.sheet.trueview import draw_true
from tests.conftest import some
from tests.unit.sheet.helpers import drawn
from tests.worked import ARM, BEARING, FRAME, demo

MM = 72.0 / 25.4


def scale_in(stem: str, wide_mm: float, high_mm: float) -> float:
    register_fonts()
    page = Canvas(io.BytesIO())
    return draw_true(page, content_of(*demo(stem)), 40.0, 40.0, wide_mm * MM, high_mm * MM)


@some("stem", [BEARING, FRAME, ARM], 2)
def test_it_is_true_where_there_is_room_and_never_larger(stem: str) -> None:
    content = content_of(*demo(stem))
    points = np.concatenate([*content.cut.mould, *content.cut.loops]) * content.factor
    wide, high = np.ptp(points, axis=0)
    assert scale_in(stem, 1.6 * wide, 1.6 * high) == 1.0
    small = scale_in(stem, wide / 2.0, high / 2.0)
    assert small < 0.6
    # a usual scale
    assert any(abs(1.0 / small - usual) < 1e-6 for usual in (1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 15, 20, 25, 50, 100))


def test_it_names_what_it_cuts() -> None:
    content = content_of(*demo(BEARING))
    text = drawn(lambda page: draw_true(page, content, 40.0, 200.0, 500.0, 400.0))
    assert text.strip()
    for word in ("ope", "rag"):
        assert word in text


def in_view(page: Canvas, content: Content) -> None:
    draw_true(page, content, 40.0, 200.0, 500.0, 400.0)


def test_a_core_that_the_cut_passes_beside_is_left_out() -> None:
    """Of four cored slots round a bore the section through the first may meet none of the others."""
    content = content_of(*demo(BEARING))
    missed = replace(content, cut=replace(content.cut, cores=((), *content.cut.cores)))
    whole, left = (drawn(partial(in_view, content=one)) for one in (content, missed))
    assert whole == left
