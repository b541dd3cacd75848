"""Volumes and dimensions of analytic solids after each addition, and that additions add."""

import itertools

import manifold3d as m3
import numpy as np
import pytest

from pounce.job import edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.job.stock_edits import add_line, set_axis
from pounce.metals.tables import limits
from pounce.route.pipeline import Pipeline
from pounce.route.stops import STOCK
from pounce.stock.bend import is_u
from pounce.stock.changes import SetOwnStock
from pounce.stock.values import Camber, Draft, Fill, Fillets, Finish, Lettering, Level, Machining, WallDraft
from tests.conftest import law, mesh_of, model_of
from tests.unit.stock.helpers import is_closed, lost, polygon_area, section_area, stocked

M = m3.Manifold
BLOCK = M.cube([60, 40, 30])


def tan(degrees: float) -> float:
    return float(np.tan(np.radians(degrees)))


def change(results: object) -> float:
    stock = results.need(STOCK)  # type: ignore[attr-defined]
    assert is_closed(stock.mesh)
    assert not any(line.trouble for line in stock.lines), [line.trouble for line in stock.lines]
    return float(stock.added_mm3)


# --- machining stock ---------------------------------------------------------------------------------------------


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


# --- draft -------------------------------------------------------------------------------------------------------


def test_a_drafted_cylinder_is_a_frustum() -> None:
    """V = h/3 (A1 + A2 + sqrt(A1 A2)), exact for the polygon that the cylinder is."""
    sides, h, r, a = 64, 40.0, 20.0, 2.0
    wide = r + h * tan(a) / np.cos(np.pi / sides)  # facets move by h tan a, corners by that over cos(pi/n)
    one, two = polygon_area(r, sides), polygon_area(wide, sides)
    results = stocked(M.cylinder(h, r, r, sides), Draft(degrees=a), height=0.0)
    assert change(results) == pytest.approx(h / 3 * (one + two + np.sqrt(one * two)) - one * h, rel=1e-6)
    # the end far from the parting keeps its size
    assert section_area(results.need(STOCK).mesh, h - 1e-6) == pytest.approx(one, rel=1e-5)


@pytest.mark.parametrize(("how", "foot", "top"), [("add", 1.0, 0.0), ("take", 0.0, -1.0), ("half", 0.5, -0.5)])
def test_draft_added_taken_and_half(how: str, foot: float, top: float) -> None:
    move = 30 * tan(1.5)
    mesh = stocked(BLOCK, Draft(degrees=1.5, how=how), height=0.0).need(STOCK).mesh  # type: ignore[arg-type]
    for height, share in ((1e-6, foot), (30 - 1e-6, top)):
        assert section_area(mesh, height) == pytest.approx((60 + 2 * move * share) * (40 + 2 * move * share), rel=1e-6)


def test_both_halves_agree_at_the_parting() -> None:
    """The shallow half takes the deep half's section at the joint."""
    mesh = stocked(BLOCK, Draft(degrees=2.0), height=20.0).need(STOCK).mesh
    at = (60 + 2 * 20 * tan(2.0)) * (40 + 2 * 20 * tan(2.0))
    for height in (20 - 1e-6, 20 + 1e-6):
        assert section_area(mesh, height) == pytest.approx(at, rel=1e-6)
    for height in (1e-6, 30 - 1e-6):
        assert section_area(mesh, height) == pytest.approx(60 * 40, rel=1e-6)


@pytest.mark.parametrize("up", [True, False])
def test_pockets_widen_toward_the_side_their_sand_leaves_by(up: bool) -> None:
    hollow = BLOCK - M.cube([40, 20, 20]).translate([10, 10, 10 if up else 0])
    mesh = stocked(hollow, Draft(degrees=2.0), height=0.0).need(STOCK).mesh
    mouth, deep = (30 - 1e-6, 10 + 1e-6) if up else (1e-6, 20 - 1e-6)
    outer = lambda z: (60 + 2 * (30 - z) * tan(2.0)) * (40 + 2 * (30 - z) * tan(2.0))  # noqa: E731
    inner = lambda z: outer(z) - section_area(mesh, z)  # noqa: E731
    assert inner(mouth) == pytest.approx(40 * 20, rel=1e-5)
    assert inner(deep) == pytest.approx((40 - 40 * tan(2.0)) * (20 - 40 * tan(2.0)), rel=1e-5)


def test_a_slot_too_narrow_to_lean_still_only_gains_metal() -> None:
    """Two walls 1.5 mm apart and 60 mm deep close as a V; no metal is lost and the solid stays closed."""
    part = M.cube([80, 40, 60]) - M.cube([60, 1.5, 60]).translate([10, 20, 2])
    results = stocked(part, Draft(degrees=2.0), height=0.0)
    stock = results.need(STOCK)
    assert is_closed(stock.mesh)
    assert lost(part, stock.mesh) < 1e-4 * part.volume()
    assert stock.added_mm3 > 0.0


def test_a_wall_of_its_own_draft_and_one_left_alone() -> None:
    line = Draft(degrees=2.0, walls=(WallDraft((60.0, 20.0, 15.0), 0.0), WallDraft((30.0, 40.0, 15.0), 4.0)))
    mesh = stocked(BLOCK, line, height=0.0).need(STOCK).mesh
    low, high = mesh.bounds
    assert high[0] == pytest.approx(60.0, abs=1e-6) and high[1] == pytest.approx(40 + 30 * tan(4.0), abs=1e-6)
    assert low.tolist() == pytest.approx([-30 * tan(2.0), -30 * tan(2.0), 0.0], abs=1e-6)


def test_machined_faces_get_draft_by_adding_only() -> None:
    lines = (Machining((60.0, 20.0, 15.0), own_mm=1.0), Draft(degrees=2.0, how="take"))
    mesh = stocked(BLOCK, *lines, height=0.0).need(STOCK).mesh
    low, high = mesh.bounds
    assert high[0] == pytest.approx(61.0 + 30 * tan(2.0), abs=1e-3)
    assert lost(M.cube([1.0, 30, 28]).translate([60.0, 5, 1]), mesh) < 1e-3  # nowhere under the finished size
    assert low[0] == pytest.approx(0.0, abs=1e-6)


# --- plugs -------------------------------------------------------------------------------------------------------


def test_a_countersunk_hole_is_filled_flush_and_marked() -> None:
    holed = BLOCK - M.cylinder(40, 3, 3, 48).translate([20, 20, -5]) - M.cylinder(3, 3, 6, 48).translate([20, 20, 27])
    results = stocked(holed, Fill(), height=15.0)
    stock = results.need(STOCK)
    r = limits()["centre_mark"].value / 2.0
    mark = np.pi / 3 * r * r * r  # a cone of 90 degrees
    assert is_closed(stock.mesh)
    assert stock.mesh.volume == pytest.approx(60 * 40 * 30 - 2 * mark, abs=0.12 * mark)
    point = stock.drill[0]
    assert point.through and point.diameter_mm == pytest.approx(6.0, abs=1e-3)
    assert np.abs(np.array(point.at_mm)[:2] - 20).max() < 1e-3


def test_a_counterbore_goes_with_its_hole_out_of_the_table() -> None:
    holed = BLOCK - M.cylinder(40, 3, 3, 48).translate([20, 20, -5]) - M.cylinder(8, 5, 5, 48).translate([20, 20, 24])
    holed -= M.cylinder(40, 9, 9, 48).translate([42, 20, -5])
    assert {d.name for d in stocked(holed).need(STOCK).dimensions if d.kind == "bore"} == {"Bore"}
    assert sum(d.kind == "bore" for d in stocked(holed).need(STOCK).dimensions) == 3
    stock = stocked(holed, Fill()).need(STOCK)
    assert [d.wanted_mm for d in stock.dimensions if d.kind == "bore"] == pytest.approx([18.0], abs=1e-3)
    assert len(stock.drill) == 1


def test_more_than_an_alphabet_of_holes_have_names_of_their_own() -> None:
    plate = M.cube([130, 110, 6])
    for k in range(30):
        plate -= M.cylinder(20, 2, 2, 16).translate([12 + 20 * (k % 6), 12 + 20 * (k // 6), -5])
    names = [point.name for point in stocked(plate, Fill(mark=False)).need(STOCK).drill]
    assert len(set(names)) == 30 and names[0] == "A" and names[26] == "A2"


def test_a_hollow_inside_the_part_stays_hollow() -> None:
    """A void of the part's own is no crumb of a union."""
    hollow = BLOCK - M.sphere(8, 48).translate([30, 20, 15])
    assert change(stocked(hollow, Machining((30.0, 20.0, 30.0), own_mm=1.0))) == pytest.approx(60 * 40, rel=1e-3)
    both = stocked(hollow, Machining((30.0, 20.0, 30.0), own_mm=1.0), Fillets(radius_mm=0.0, ease_mm=1.0), height=0.0)
    assert both.need(STOCK).mesh.volume == pytest.approx(hollow.volume() + 60 * 40, rel=5e-3)


def test_a_hole_in_a_wall_gets_no_mark_that_would_lock() -> None:
    holed = BLOCK - M.cylinder(80, 3, 3, 48).rotate([0, 90, 0]).translate([-5, 20, 15])
    stock = stocked(holed, Fill(proud_mm=1.0), height=15.0).need(STOCK)
    assert not stock.drill[0].marked
    assert stock.mesh.size[0] == pytest.approx(62.0, abs=1e-4)
    assert stock.mesh.volume == pytest.approx(60 * 40 * 30 + 2 * polygon_area(3, 48), rel=1e-5)


def test_drilling_places_follow_an_own_contraction() -> None:
    """Made for 1.2 %, but along x the metal contracts by 0.8 %: the hole comes out that much farther from the
    origin.
    """
    holed = BLOCK - M.cylinder(40, 3, 3, 48).translate([50, 20, -5])
    job = add_line(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, Fill()).job
    job = set_axis(job, "x", hindered="core").job
    stock = Pipeline().run(job, model_of(holed), until=STOCK).need(STOCK)
    assert stock.factors == pytest.approx((100 / 99.2, 100 / 98.8, 100 / 98.8))
    assert stock.drill[0].at_mm[0] == pytest.approx(
        50.0, abs=1e-3
    )  # pattern and casting agree: what was wanted comes out


def test_a_worn_place_is_levelled() -> None:
    worn = BLOCK - M.sphere(20, 96).translate([30, 20, 48])
    results = stocked(worn, Level((30.0, 20.0, 28.0), 12.0), height=0.0)
    assert change(results) == pytest.approx(60 * 40 * 30 - worn.volume(), rel=2e-2)
    assert results.need(STOCK).mesh.bounds[1][2] == pytest.approx(30.0, abs=1e-3)


# --- fillets, text, finish, camber -----------------------------------------------------------------------------


def corner(r: float, steps: int = 8) -> float:
    """Area of a corner less its arc of chords."""
    return r * r * (1.0 - 0.5 * steps * np.sin(np.pi / (2 * steps)))


def test_an_inside_corner_is_filled_to_its_radius() -> None:
    angle = M.cube([40, 30, 10]) + M.cube([10, 30, 40])
    assert change(stocked(angle, Fillets(radius_mm=5.0), height=0.0)) == pytest.approx(30 * corner(5.0), rel=2e-3)


def test_outside_edges_are_eased_but_not_at_the_joint() -> None:
    results = stocked(BLOCK, Fillets(radius_mm=0.0, ease_mm=2.0), height=0.0)
    eased = 2 * (60 + 40) * corner(2.0) + 4 * 30 * corner(2.0)
    assert -results.need(STOCK).added_mm3 == pytest.approx(eased, rel=0.05)
    assert section_area(results.need(STOCK).mesh, 1e-4) == pytest.approx(60 * 40 - 4 * corner(2.0), rel=1e-3)


def test_text_stands_on_its_face_and_is_refused_where_sand_cannot_show_it() -> None:
    plate = M.cube([120, 40, 15])
    results = stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 10.0, 1.2), height=0.0)
    added = change(results)
    assert results.need(STOCK).mesh.bounds[1][2] == pytest.approx(16.2, abs=1e-6)
    sunk = -stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 10.0, -1.2), height=0.0).need(STOCK).added_mm3
    assert sunk == pytest.approx(added, rel=1e-3)
    fine = stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 3.0, 1.2), height=0.0).need(STOCK)
    assert "shows nothing finer" in fine.lines[0].trouble and fine.added_mm3 == pytest.approx(0.0, abs=1e-9)
    turned = stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 10.0, 1.2, turn_deg=90.0), height=0.0).need(
        STOCK
    )
    assert "longer than its face" in turned.lines[0].trouble


def test_finish_makes_every_side_smaller_and_rapping_only_the_upright_ones() -> None:
    mesh = stocked(BLOCK, Finish(paint_mm=0.2, sanding_mm=0.05, rap_mm=0.4), height=0.0).need(STOCK).mesh
    assert mesh.size.tolist() == pytest.approx([60 - 2 * 0.55, 40 - 2 * 0.55, 30 - 2 * 0.15], abs=1e-6)


def test_camber_bends_by_the_rule_and_keeps_the_volume() -> None:
    """1.5 mm in a metre (common practice): 0.9 mm over 600 mm."""
    bar = M.cube([600, 30, 20])
    stock = stocked(bar, Camber(toward="+z"), height=0.0).need(STOCK)
    assert stock.mesh.size[2] == pytest.approx(20.9, abs=1e-3)
    unknown = stocked(bar, Camber(), height=0.0).need(STOCK)
    assert "Neither side" in unknown.lines[0].trouble
    assert stock.mesh.volume == pytest.approx(bar.volume(), rel=1e-4)
    split = stocked(bar, Camber(toward="+z"), height=10.0).need(STOCK)
    assert "joint stays flat" in split.lines[0].trouble
    thin = stocked(bar, Machining((300.0, 15.0, 20.0), own_mm=1.0), height=0.0).need(STOCK)
    assert any(f.code.startswith("stock-thin") for f in thin.findings)  # 0.9 mm of bow leave a tenth of it
    offered = stocked(bar, height=0.0).need(STOCK)
    bow = next(f for f in offered.findings if f.code == "bow-expected")
    assert not bow.remedies and "Neither side" in bow.text


@pytest.mark.parametrize("down", [False, True])
def test_camber_goes_toward_the_metal_that_freezes_last(down: bool) -> None:
    """A tee: its heavy flange freezes last and pulls its own side in, so the pattern is bent that way out, up or
    down.
    """
    tee = M.cube([600, 30, 12]) + M.cube([600, 4, 36]).translate([0, 13, 0])
    tee = tee.mirror([0, 0, 1]) if down else tee
    height = 0.0
    offered = stocked(tee, height=height).need(STOCK)
    bow = next(f for f in offered.findings if f.code == "bow-expected")
    job = take_remedy(stocked(tee, height=height).job, bow.remedies[0]).job
    line = job.stock.lines[0]
    assert isinstance(line, Camber) and line.toward == ("+z" if down else "-z")


def test_a_ring_is_no_u_and_a_staple_is_one() -> None:
    ring = M.cylinder(12, 60, 60, 96) - M.cylinder(20, 48, 48, 96).translate([0, 0, -4])
    staple = M.cube([90, 20, 60]) - M.cube([70, 30, 50]).translate([10, -5, 10])
    assert is_u(mesh_of(ring)) is None and is_u(mesh_of(ring.rotate([90, 0, 0]))) is None
    assert is_u(mesh_of(staple)) is not None


# --- all of them -------------------------------------------------------------------------------------------------


@law(4, 40)
def test_additions_keep_any_part_closed_and_lose_no_metal(seed: int) -> None:
    """Random blocks, pockets, bosses and bores: stock, fills, draft and fillets only ever add."""
    noise = np.random.default_rng(seed)
    part = M.cube([float(v) for v in noise.uniform(40, 90, 3)])
    size = np.array(part.bounding_box()[3:])
    for _ in range(int(noise.integers(1, 4))):
        at = noise.uniform(0.2, 0.7, 3) * size
        pick = int(noise.integers(3))
        if pick == 0:
            part -= M.cube([float(v) for v in noise.uniform(8, 20, 2)] + [200.0]).translate([at[0], at[1], at[2]])
        elif pick == 1:
            part += M.cylinder(float(size[2] + 12), 9, 9, 40).translate([at[0], at[1], 0])
        else:
            part -= M.cylinder(300, 4, 4, 32).translate([at[0], at[1], -10])
    top = max(part.to_mesh64().vert_properties[:, 2])
    results = stocked(
        part,
        Fill(mark=False),
        Machining((float(size[0]), float(size[1]) / 2, 3.0), own_mm=1.0),
        Draft(degrees=1.5),
        Fillets(radius_mm=2.0),
        height=0.0,
    )
    stock = results.need(STOCK)
    assert is_closed(stock.mesh)
    assert stock.added_mm3 > 0.0
    assert lost(part, stock.mesh) < 2e-5 * part.volume()
    assert stock.mesh.bounds[1][2] == pytest.approx(top, abs=0.01)
    volumes = [body.volume for body in stock.bodies]
    assert all(after >= before * (1 - 1e-9) for before, after in itertools.pairwise(volumes))
    # every face knows where it came from
    assert ((stock.mesh.tags.line >= 0) | (stock.mesh.tags.face >= 0)).all()
