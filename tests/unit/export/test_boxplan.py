"""Plans of core boxes at true size: the joint to saw to, the sections as templates."""

from functools import cache

import numpy as np
import pytest

from pounce.cores.values import Core
from pounce.export.boxplan import box_plan_pdf, frame_of
from pounce.route.stops import CORES
from tests.unit.cores.helpers import block, cored
from tests.unit.export.helpers import check_of, read, shapes_on

SCALE = np.full(3, 100.0 / 98.8)


@cache
def core() -> Core:
    return cored(block(24.0), height=0.0).need(CORES).cores[0]


def test_the_frame_lies_across_the_pull() -> None:
    box = core().boxes[0]
    u, v = frame_of(box)
    assert [float(u @ box.pull), float(v @ box.pull), float(u @ v)] == pytest.approx([0.0, 0.0, 0.0], abs=1e-9)
    assert np.cross(u, v) == pytest.approx(box.pull)
    assert abs(float(u @ box.ram)) == pytest.approx(1.0) or abs(float(box.ram @ box.pull)) > 0.5


def test_two_pages_a_box_at_true_size() -> None:
    pages = read(box_plan_pdf("Block", (core(),), SCALE)).pages
    assert len(pages) == 2
    box = core().boxes[0]
    u, v = frame_of(box)
    points = box.parts[0].mesh.vertices * SCALE
    wanted = sorted([float(np.ptp(points @ u)), float(np.ptp(points @ v))])
    # the vent's groove parts the two walls from each other in the joint
    outer = np.concatenate([one for one in shapes_on(pages[0]) if np.ptp(one[:, 0]) > 10.0])
    assert sorted(np.ptp(outer, axis=0)) == pytest.approx(wanted, abs=0.05)
    for page in pages:
        assert check_of(page) == pytest.approx(100.0, abs=0.01)


def test_sections_are_the_cores_own() -> None:
    """A round core of 24 with prints: every section is no wider than it is, and those in the bore are round."""
    page = read(box_plan_pdf("Block", (core(),), SCALE)).pages[1]
    shapes = [one for one in shapes_on(page) if len(one) > 8]
    assert len(shapes) >= 3
    widths = [float(np.ptp(one[:, 0])) for one in shapes]
    assert max(widths) <= 24.0 * SCALE[0] + 0.1
    middle = max(shapes, key=lambda one: float(np.ptp(one[:, 0])))
    assert float(np.ptp(middle[:, 1])) == pytest.approx(float(np.ptp(middle[:, 0])), rel=0.03)


def test_pieces_are_told_apart() -> None:
    long = cored(block(24.0), height=0.0, longest_mm=60.0).need(CORES).cores[0]
    assert len(long.boxes) > 1
    words = "".join(page.extract_text() for page in read(box_plan_pdf("Block", (long,), SCALE)).pages)
    for number in range(1, len(long.boxes) + 1):
        assert f"piece {number}" in words


@pytest.mark.parametrize("paper", ["A4", "letter"])
def test_a_bore_for_each_dowel_is_marked_with_its_size(paper: str) -> None:
    words = read(box_plan_pdf("Block", (core(),), SCALE, paper)).pages[0].extract_text()
    for _, thick in core().boxes[0].dowels:
        assert f"Ø {thick:g} mm" in words
