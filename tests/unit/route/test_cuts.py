"""Sections as plain polygons: what is metal, what is core, and where it locks."""

import numpy as np
import pytest
import shapely

from pounce.parting.insection import CutAsked
from pounce.parting.values import State
from pounce.route.cuts import cut_for, front_cut
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES, PARTING, STOCK
from pounce.solid.mesh import Floats
from tests.conftest import box, model_of
from tests.unit.cores.helpers import M
from tests.unit.stock.helpers import stocked
from tests.worked import ARM, BEARING, BUSH, demo

UNDERCUT = box(60, 40, 30) - box(80, 12, 8).translate([-5, 30, 11])


def shape(loops: tuple[Floats, ...]) -> shapely.Geometry:
    """What outlines that lie in one another cover, by another library."""
    whole: shapely.Geometry = shapely.Polygon()
    for loop in loops:
        whole = whole.symmetric_difference(shapely.Polygon(loop).buffer(0))
    return whole


def parted(solid: object, height: float = 15.0) -> Results:
    return stocked(solid, height=height)  # type: ignore[arg-type]


@pytest.mark.parametrize(("angle", "wide"), [(0.0, 60.0), (90.0, 40.0)])
def test_a_cut_of_a_block_is_its_rectangle(angle: float, wide: float) -> None:
    found = cut_for(parted(box(60, 40, 30)), CutAsked(angle_deg=angle))
    covered = shape(found.loops)
    assert covered.area == pytest.approx(wide * 30.0)
    low, high = np.array(covered.bounds).reshape(2, 2)
    assert high - low == pytest.approx([wide, 30.0])
    assert found.joint == pytest.approx(15.0) and found.halves == ("COPE", "DRAG")
    assert found.line[:, 1] == pytest.approx(np.full(len(found.line), 15.0))


def test_of_two_ways_the_one_that_shows_more_is_taken() -> None:
    found = cut_for(parted(box(60, 40, 30)), CutAsked())
    assert found.asked.angle_deg in (0.0, 90.0) and shape(found.loops).area == pytest.approx(1800.0)


@pytest.mark.parametrize("share", [0.1, 0.5, 0.9])
def test_it_lies_where_it_is_asked_for(share: float) -> None:
    """A wedge across the cut: the section's width tells where it was cut."""
    wedge = M.hull_points(np.array([[0, 0, 0], [60, 0, 0], [30, 40, 0], [0, 0, 30], [60, 0, 30], [30, 40, 30]], float))
    wide = [shape(cut_for(parted(wedge), CutAsked(0.0, one)).loops).area / 30.0 for one in (share, 1.0 - share)]
    assert sorted(wide) == pytest.approx(sorted([60.0 * (1.0 - share), 60.0 * share]), rel=0.02)


def test_a_locked_groove_is_marked_where_it_is() -> None:
    results = parted(UNDERCUT)
    found = cut_for(results, CutAsked(angle_deg=90.0))
    locked = found.marked[found.state == State.LOCKED]
    assert len(locked)
    assert locked[..., 1].min() >= 11.0 - 1e-6 and locked[..., 1].max() <= 19.0 + 1e-6
    assert len(found.locked) and results.need(PARTING).locked_mm2 > 0.0
    assert any(state == State.LOCKED for *_, state in found.labels)


def test_what_is_added_lies_in_bands_outside_what_is_wanted() -> None:
    results = demo(ARM)[0]
    found = cut_for(results, CutAsked(stock=True))
    assert found.wanted and found.bands
    grown, wanted = shape(found.loops), shape(found.wanted)
    assert grown.area > wanted.area
    numbers = {number for *_, number in found.band_labels}
    assert numbers <= set(range(len(results.need(STOCK).lines)))


@pytest.mark.parametrize("stem", [BEARING, BUSH])
def test_cores_lie_within_what_the_pattern_leaves_and_touch_no_metal(stem: str) -> None:
    results = demo(stem)[0]
    found, words = front_cut(results, "mm", 150.0)
    assert len(found.cores) == len(results.need(CORES).cores) and words
    mould, metal = shape(found.mould), shape(found.loops)
    for loops in found.cores:
        core = shape(loops)
        if core.area:
            assert core.difference(mould.buffer(1e-3)).area < 1e-2 * core.area
            assert core.intersection(metal).area < 1e-2 * core.area


def test_the_finished_pattern_is_cut_at_its_own_size() -> None:
    results = demo(ARM)[0]
    bare, made = (cut_for(results, CutAsked(0.0, pattern=one)) for one in (False, True))
    factor = results.pattern.factor if results.pattern is not None else 1.0
    assert factor > 1.0
    assert made.high[1] - made.low[1] == pytest.approx(factor * (bare.high[1] - bare.low[1]), rel=1e-6)


def test_labels_follow_the_readers_unit() -> None:
    results = Pipeline().run(parted(UNDERCUT).job, model_of(UNDERCUT), until=PARTING)
    one, two = (cut_for(results, CutAsked(90.0, unit=unit)).labels for unit in ("mm", "in"))
    assert [at for _, *at in one] == [at for _, *at in two]
