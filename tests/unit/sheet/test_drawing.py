"""Sections on the sheet: true to the part, at a usual scale, with their sizes."""

import manifold3d
import numpy as np
import pytest

from pounce.parting.joint import flat_joint
from pounce.sheet.drawing import Sketch, common_scale, draw_section, scale_words, sketch
from tests.conftest import box, mesh_of
from tests.unit.sheet.helpers import drawn

UP = np.array([0.0, 0.0, 1.0])
X, Y = np.eye(3)[0], np.eye(3)[1]
PART = mesh_of(box(80, 40, 30) - manifold3d.Manifold.cylinder(100, 8, 8, 48, True).translate([40, 20, 0]))


def cut(across: np.ndarray = X, height: float = 12.0) -> Sketch:
    found = sketch(PART, across, flat_joint(UP, height), "Cut")
    assert found is not None
    return found


@pytest.mark.parametrize(("across", "wide"), [(X, 80.0), (Y, 40.0)])
def test_a_cut_through_the_middle_has_the_parts_size(across: np.ndarray, wide: float) -> None:
    found = cut(across)
    assert (found.high - found.low) == pytest.approx([wide, 30.0], abs=1e-6)
    area = sum(
        0.5 * abs(float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))) for x, y in (loop.T for loop in found.loops)
    )
    assert area == pytest.approx((wide - 16.0) * 30.0, rel=1e-3)  # two rectangles beside the bore


def test_nothing_to_cut_is_no_sketch() -> None:
    rings = manifold3d.Manifold.compose([box(5, 5, 5), box(5, 5, 5).translate([0, 40, 0])])
    assert sketch(mesh_of(rings), X, flat_joint(UP, 2.0), "Cut") is None


def test_the_largest_usual_scale_that_fits_all() -> None:
    two = [cut(X), cut(Y)]
    mm = 72.0 / 25.4
    scale = common_scale(two, 80.0 * mm, 30.0 * mm)
    assert scale == 1.0
    assert common_scale(two, 79.0 * mm, 30.0 * mm) < 1.0
    assert common_scale(two, 400.0 * mm, 400.0 * mm) > 1.0
    assert common_scale(two, 1.0, 1.0) > 0.0  # as small as there is


@pytest.mark.parametrize(("scale", "words"), [(1.0, "1:1"), (0.5, "1:2"), (2.0, "2:1"), (0.4, "1:2.5")])
def test_scales_in_words(scale: float, words: str) -> None:
    assert scale_words(scale) == words


@pytest.mark.parametrize(("unit", "sizes"), [("mm", ("80", "12", "18")), ("in", ("3.15", "0.472", "0.709"))])
def test_its_sizes_are_written_in_the_readers_unit(unit: str, sizes: tuple[str, ...]) -> None:
    text = drawn(lambda page: draw_section(page, cut(), 50.0, 300.0, 300.0, 178.0, 1.0, unit))
    # its length, and how deep it lies in either half
    assert "COPE" in text and "DRAG" in text and all(size in text.split("\n") for size in sizes)
