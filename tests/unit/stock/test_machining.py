"""Machining stock on faces and rounds of analytic solids."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.job.changes import take_remedy
from pounce.metals.method import MethodChoices, resolve
from pounce.metals.tables import limits
from pounce.route.pipeline import Pipeline
from pounce.route.stops import STOCK
from pounce.solid.features.find import features_of
from pounce.stock.changes import SetOwnStock
from pounce.stock.machining import Dimensioned, dimensioned, stock_for
from pounce.stock.values import Fill, Machining
from tests.conftest import mesh_of, model_of
from tests.unit.stock.helpers import change, polygon_area, stocked

M = m3.Manifold
BLOCK = M.cube([60, 40, 30])


def test_a_plane_moves_out_and_its_neighbours_stay() -> None:
    """dV = area x stock exactly. Raw size by ISO 8062 (from memory): F + RMA + CT/2, G of 40 to 63 mm 0.7, CT12 of
    25 to 40 mm 5.0: 3.2 mm.
    """
    results = stocked(BLOCK, Machining((30.0, 20.0, 30.0)))
    assert change(results) == pytest.approx(60 * 40 * 3.2, rel=1e-4)
    assert results.need(STOCK).mesh.size.tolist() == pytest.approx([60, 40, 33.2], abs=1e-6)
    said = results.need(STOCK).lines[0]
    assert (
        "0.7 mm to cut (grade G) and 2.5 mm for CT12" in said.about_words().replace("\u00a0", " ")
        and "middle of F to H" in said.why
    )
    own = stocked(BLOCK, Machining((30.0, 20.0, 30.0), own_mm=1.75))
    assert change(own) == pytest.approx(60 * 40 * 1.75, rel=1e-4)


@pytest.mark.parametrize(("grade", "mm"), [("D", 0.3), ("F", 0.5), ("H", 1.0), ("K", 2.0)])
def test_stock_by_grade(grade: str, mm: float) -> None:
    assert change(stocked(BLOCK, Machining((30.0, 40.0, 15.0), grade))) == pytest.approx(60 * 30 * (mm + 2.5), rel=1e-4)


def test_both_ends_of_a_dimension_share_its_tolerance() -> None:
    """F + 2 RMA + CT/2 (ISO 8062): 30 + 2 x 0.7 + 5.0/2 = 33.9 over both faces, the same on each."""
    lines = (Machining((30.0, 20.0, 30.0)), Machining((30.0, 20.0, 0.0)))
    assert stocked(BLOCK, *lines).need(STOCK).mesh.size[2] == pytest.approx(33.9, abs=1e-6)


def test_a_bore_is_left_small_by_the_standard_or_as_home_shops_do() -> None:
    """F - 2 RMA - CT/2 (ISO 8062): 24 - 2 x 0.7 - 4.6/2 = 20.3. Home practice: 3 to 6 mm under, 4 the middle."""
    bored = BLOCK - M.cylinder(40, 12, 12, 96).translate([30, 20, -5])
    for line, left in ((Machining((42.0, 20.0, 15.0)), 20.3), (Machining((42.0, 20.0, 15.0), school="home"), 20.0)):
        bore = next(d for d in stocked(bored, line).need(STOCK).dimensions if d.kind == "bore")
        assert bore.casting_mm == pytest.approx(left, abs=2e-3)
    face = stocked(BLOCK, Machining((30.0, 20.0, 30.0), school="home"))
    assert face.need(STOCK).mesh.size[2] == pytest.approx(32.0, abs=1e-6)


def test_steel_takes_a_coarser_grade_and_set_sand_a_finer_tolerance() -> None:
    """ISO 8062 annexes, from memory: steel G to K, the middle H (1.0); resin sand CT11 (3.6/2)."""
    line = Machining((30.0, 20.0, 30.0))
    steel = stocked(BLOCK, line, metal="carbon-steel", mould="resin-sand").need(STOCK)
    assert steel.mesh.size[2] == pytest.approx(30 + 1.0 + 1.8, abs=1e-6)


def test_noise_at_a_tables_bound_jumps_no_row() -> None:
    sizes = [
        stocked(M.cube([63.0 + off, 40, 30]), Machining((30.0, 20.0, 30.0))).need(STOCK).mesh.size[2]
        for off in (-0.004, 0.004)
    ]
    assert sizes[0] == pytest.approx(sizes[1], abs=1e-6)


def test_a_bore_too_thin_for_a_core_is_cast_solid() -> None:
    """Common practice: bores under 12 to 15 mm are cast solid with a centre mark."""
    bored = BLOCK - M.cylinder(40, 8, 8, 96).translate([30, 20, -5])
    results = stocked(bored, Machining((38.0, 20.0, 15.0)))
    found = next(f for f in results.need(STOCK).findings if f.code.startswith("bore-thin"))
    job = take_remedy(results.job, found.remedies[0]).job
    assert [type(line) for line in job.stock.lines] == [Fill]
    stock = Pipeline().run(job, model_of(bored), until=STOCK).need(STOCK)
    assert stock.mesh.volume == pytest.approx(60 * 40 * 30, rel=1e-3)


def test_a_cope_face_may_take_a_grade_more() -> None:
    """Dross gathers under faces that look up in the cope (common practice)."""
    line = Machining((30.0, 20.0, 30.0), "F", cope_more=True)
    assert change(stocked(BLOCK, line, height=15.0)) == pytest.approx(60 * 40 * 3.2, rel=1e-4)
    below = Machining((30.0, 20.0, 0.0), "F", cope_more=True)
    assert change(stocked(BLOCK, below, height=15.0)) == pytest.approx(60 * 40 * 3.0, rel=1e-4)


def test_bores_shrink_and_bosses_grow() -> None:
    sides = 96
    bored = BLOCK - M.cylinder(40, 9, 9, sides).translate([30, 20, -5])
    small = stocked(bored, Machining((39.0, 20.0, 15.0), own_mm=1.5))
    assert change(small) == pytest.approx(30 * (polygon_area(9, sides) - polygon_area(7.5, sides)), rel=1e-4)
    bore = next(d for d in small.need(STOCK).dimensions if d.kind == "bore")
    assert (bore.wanted_mm, bore.casting_mm) == pytest.approx((18.0, 15.0), abs=1e-3)
    bossed = BLOCK + M.cylinder(20, 9, 9, sides).translate([30, 20, 25])
    large = stocked(bossed, Machining((39.0, 20.0, 40.0), own_mm=1.0))
    assert change(large) == pytest.approx(15 * (polygon_area(10, sides) - polygon_area(9, sides)), rel=1e-4)


def test_stock_that_would_close_a_bore_says_so_and_leaves_the_body() -> None:
    bored = BLOCK - M.cylinder(40, 2, 2, 48).translate([30, 20, -5])
    stock = stocked(bored, Machining((32.0, 20.0, 15.0), own_mm=2.0)).need(STOCK)
    assert "close the bore" in stock.lines[0].trouble
    assert stock.added_mm3 == pytest.approx(0.0, abs=1e-9)
    assert any(f.code == "line-failed-0" for f in stock.findings)


def test_stock_on_a_face_across_the_split_is_found_thin() -> None:
    """Cope against drag may shift by 0.5 mm (common practice): of 0.7 mm too little is left to cut."""
    stock = stocked(BLOCK, Machining((60.0, 20.0, 15.0), own_mm=0.7), height=15.0).need(STOCK)
    thin = next(f for f in stock.findings if f.code.startswith("stock-thin"))
    assert thin.figures["left_mm"] < limits()["stock_left"].value
    assert isinstance(thin.remedies[0].change, SetOwnStock)


@pytest.mark.parametrize(("own", "ok"), [(0.05, True), (50.0, True), (0.04, False), (51.0, False)])
def test_an_own_figure_is_taken_as_it_is(own: float, ok: bool) -> None:
    of = Dimensioned(100.0, 50.0, False)
    line = Machining((0.0, 0.0, 0.0), own_mm=own)
    if ok:
        assert stock_for(line, of, resolve(MethodChoices()), "CT12", False, False).stock_mm == own
    else:
        with pytest.raises(UserFault, match="cannot be used"):
            stock_for(line, of, resolve(MethodChoices()), "CT12", False, False)


def test_home_practice_leaves_half_of_a_bores_figure_a_side() -> None:
    """1.5 to 3 mm a face, 3 to 6 mm in a bore's diameter (common practice)."""
    of, method = Dimensioned(100.0, 50.0, False), resolve(MethodChoices())
    face, bore = (
        stock_for(Machining((0.0, 0.0, 0.0), school="home"), of, method, "CT12", False, one) for one in (False, True)
    )
    assert 1.5 <= face.stock_mm <= 3.0
    assert 3.0 <= 2.0 * bore.stock_mm <= 6.0
    assert face.tolerance_mm == 0.0


def test_a_dimension_is_measured_to_what_ends_it() -> None:
    block = mesh_of(BLOCK)
    planes = {tuple(np.round(one.axis).astype(int).tolist()): one for one in features_of(block)}
    top, foot = planes[(0, 0, 1)], planes[(0, 0, -1)]
    alone, both = dimensioned(block, top, [top]), dimensioned(block, top, [top, foot])
    assert (alone.size_mm, alone.both_sides) == (30.0, False)
    assert (both.size_mm, both.both_sides) == (30.0, True)
    assert alone.largest_mm == 60.0


def test_a_step_is_measured_to_the_step_that_is_machined() -> None:
    stepped = mesh_of(M.cube([60, 40, 30]) + M.cube([30, 40, 50]))
    planes = [one for one in features_of(stepped) if one.kind == "plane" and abs(one.axis[2]) > 0.99]
    top = next(one for one in planes if one.centre[2] > 40 and one.axis[2] > 0)
    foot = next(one for one in planes if one.axis[2] < 0)
    assert dimensioned(stepped, top, [top]).size_mm == pytest.approx(50.0)
    assert dimensioned(stepped, top, [top, foot]).size_mm == pytest.approx(50.0)


def test_a_cone_with_stock_stands_square_to_its_wall() -> None:
    part = M.cylinder(30, 20, 14, 96)
    mesh = stocked(part, Machining((17.0, 0.0, 15.0), own_mm=1.0), height=0.0).need(STOCK).mesh
    slope = np.arctan(6 / 30)
    wall = mesh.corners[(np.abs(mesh.normals[:, 2]) < 0.5) & (mesh.tags.line == 0)].reshape(-1, 3)
    wall = wall[(wall[:, 2] > 1) & (wall[:, 2] < 29)]
    radius = 20 - 6 / 30 * wall[:, 2]
    off = (np.hypot(wall[:, 0], wall[:, 1]) - radius) * np.cos(slope)
    assert off == pytest.approx(np.full(len(off), 1.0), abs=0.02)


def test_two_faces_that_meet_square_are_moved_without_a_notch() -> None:
    lines = (Machining((30.0, 20.0, 30.0), own_mm=2.0), Machining((60.0, 20.0, 15.0), own_mm=1.5))
    results = stocked(BLOCK, *lines, height=0.0)
    assert change(results) == pytest.approx(61.5 * 40 * 32 - 60 * 40 * 30, rel=1e-6)
