"""Machining stock on faces and rounds of analytic solids."""

import manifold3d as m3
import pytest

from pounce.job.changes import take_remedy
from pounce.metals.tables import limits
from pounce.route.pipeline import Pipeline
from pounce.route.stops import STOCK
from pounce.stock.changes import SetOwnStock
from pounce.stock.values import Fill, Machining
from tests.conftest import model_of
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
