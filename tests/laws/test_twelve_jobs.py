"""Twelve jobs worked by hand, figure by figure: sizes, stock, draft, core, mass, and what is said first.

Figures of the hand calculations: contraction x 100/(100 - S) with S of EN 12890; machining stock and tolerance of
ISO 8062; draft by height after EN 12890; densities of handbooks. All from memory, as in the program's tables, and
worked afresh here.
"""

from math import pi, radians, sin, tan

import manifold3d as m3
import msgspec
import numpy as np
import pytest

from pounce.base.finding import Finding, Severity
from pounce.cores.parse import with_words
from pounce.job import edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import CORES, DRAW, PARTING, PATTERN, STOCK, stops
from pounce.solid.boolean import closed_solid
from pounce.solid.sound import soundness
from pounce.stock.parse import parse_addition
from pounce.stock.values import Dimension
from tests.conftest import model_of
from tests.worked import UNPOURED

M = m3.Manifold
SIDES = 96
IRON, ALUMINIUM, SILVER, BRASS = 100 / 99.0, 100 / 98.8, 100 / 98.1, 100 / 98.5


def rod(high: float, radius: float, at: tuple[float, float, float] = (0, 0, 0)) -> m3.Manifold:
    return M.cylinder(high, radius, radius, SIDES).translate(list(at))


def area(diameter: float) -> float:
    """Of the polygon that a round of 96 facets is."""
    return SIDES / 2 * sin(2 * pi / SIDES) * (diameter / 2) ** 2


def worked(solid: m3.Manifold, *words: str, **choices: str) -> Results:
    """The job worked to its pattern: additions and ``core:`` words, other choices by name."""
    job = Job()
    for name, value in choices.items():
        if name == "draw":
            job = edits.set_draw(job, edits.parse_draw(value)).job
        elif name == "parting":
            job = edits.set_parting(job, *edits.parse_parting(value)).job
        else:
            job = getattr(edits, f"set_{name}")(job, value).job
    for word in words:
        if word.startswith("core:"):
            job = msgspec.structs.replace(job, cores=with_words(job.cores, word[5:]))
        else:
            job = add_line(job, parse_addition(word)).job
    results = Pipeline().run(job, model_of(solid), skip=UNPOURED)
    assert not results.faults
    assert not [line.trouble for line in results.need(STOCK).lines if line.trouble]
    for piece in results.need(PATTERN).pieces:
        assert closed_solid(piece.mesh) is not None
        assert soundness(piece.mesh).bodies == 1
    return results


def row(results: Results, name: str) -> Dimension:
    return next(one for one in results.need(STOCK).dimensions if one.name == name)


def said(results: Results, code: str) -> Finding:
    return next(f for stop in stops() for f in stop.findings(results) if f.code == code)


def first(results: Results) -> Finding:
    return next(f for stop in stops() for f in stop.findings(results) if f.severity is not Severity.NOTE)


def test_a_block_with_a_bore() -> None:
    """Iron, 80 x 60 x 60, bore 40 with stock: G of 63 to 100 mm is 1.4, CT12 of 25 to 40 mm is 5.0, so 40 - 2 x (1.4
    + 5/4) = 34.7.
    """
    results = worked(
        M.cube([80, 60, 60]) - rod(70, 20, (40, 30, -5)), "machine@60,30,30", "core:all", metal="grey-iron", draw="+y"
    )
    assert row(results, "Bore").casting_mm == pytest.approx(34.7, abs=2e-3)
    assert row(results, "Bore").pattern_mm == pytest.approx(34.7 * IRON, abs=2e-3)
    assert row(results, "Overall, x").pattern_mm == pytest.approx(80 * IRON)
    cast = 80 * 60 * 60 - 60 * area(34.7)
    assert results.need(STOCK).cast.mass_kg == pytest.approx(cast * 7.15e-6, rel=1e-4)
    # the core lies in the joint: prints 0.6 x 34.7 = 20.8, to the half millimetre 21; clearance 0.2 + 0.6 x 34.7/100 =
    # 0.41 at each end
    (core,) = results.need(CORES).cores
    assert [one.kind for one in core.prints] == ["side", "side"]
    assert float(core.mesh.size.max()) == pytest.approx(60 + 2 * 21 - 2 * 0.41, abs=0.02)
    assert results.need(PARTING).height_mm == pytest.approx(30.0, abs=0.01)


def test_a_flanged_bush_in_iron_with_stock() -> None:
    """Bore 30 and both faces: bore 30 - 2 x (1.4 + 5/4) = 24.7; height 60 + 2 x 1.4 + 5.6/2 = 65.6 (ISO 8062, both
    ends cut).
    """
    bush = rod(60, 30) + rod(12, 50) - rod(80, 15, (0, 0, -5))
    results = worked(
        bush, "machine@15,0,30", "machine@25,0,60", "machine@40,0,0", "core:all", metal="grey-iron", draw="+z"
    )
    assert row(results, "Bore").casting_mm == pytest.approx(24.7, abs=2e-3)
    assert row(results, "Overall, z").casting_mm == pytest.approx(65.6, abs=1e-3)
    assert row(results, "Overall, z").pattern_mm == pytest.approx(65.6 * IRON, abs=1e-3)
    # it stands in the drag, upright: no metal gets under it
    (core,) = results.need(CORES).cores
    assert sorted(one.kind for one in core.prints) == ["cope", "drag"]
    assert core.loads.lift_n <= 0.0
    hollow = 65.6 * area(24.7)
    assert core.hollow.volume == pytest.approx(hollow, rel=1e-3)
    cast = area(100) * 12 + area(60) * 48 + (area(100) + area(60)) * 2.8 - hollow
    assert results.need(STOCK).cast.mass_kg == pytest.approx(cast * 7.15e-6, rel=1e-3)


def test_a_mug_is_split_through_its_handle_and_has_one_core() -> None:
    handle = M.revolve(m3.CrossSection.circle(5, 32).translate([26, 0]), 64).rotate([90, 0, 0]).translate([38, 0, 45])
    mug = rod(90, 40) + (handle - rod(90, 38)) - rod(90, 35, (0, 0, 5))
    results = worked(mug, "core:all")
    parting, (core,) = results.need(PARTING), results.need(CORES).cores
    assert abs(results.need(DRAW).direction[1]) == pytest.approx(1.0)
    assert parting.kind == "split" and parting.height_mm == pytest.approx(0.0, abs=0.01)
    assert [one.kind for one in core.prints] == ["side"]
    assert core.hollow.volume == pytest.approx(85 * area(70), rel=4e-3)  # its floor leans a degree in the box
    assert row(results, "Overall, z").pattern_mm == pytest.approx(90 * ALUMINIUM)


def test_a_bowl_with_a_foot_draws_without_a_core() -> None:
    ball = M.sphere(70, SIDES) - M.sphere(65, SIDES)
    bowl = ball.trim_by_plane([0, 0, -1], 0) + (rod(14, 28, (0, 0, -74)) - M.sphere(65, SIDES))
    results = worked(bowl)
    assert results.need(PARTING).locked_mm2 == pytest.approx(0.0, abs=1.0)
    assert not results.need(CORES).cores
    assert row(results, "Overall, x").pattern_mm == pytest.approx(140 * ALUMINIUM, rel=1e-4)


def test_a_coin_in_silver_pressed_into_clay() -> None:
    """40 mm at 1.9 per cent: 40 x 100/98.1 = 40.775; contraction takes 0.775, rapping 0.4 each way gives 0.8 back."""
    results = worked(rod(3, 20), metal="silver", mould="fine-clay", draw="+z")
    assert row(results, "Overall, x").pattern_mm == pytest.approx(40.0 * SILVER)
    rap = said(results, "rapping-matters").figures
    assert (rap["rap_mm"], rap["shrink_mm"]) == pytest.approx((0.8, 40 * SILVER - 40))
    assert results.need(STOCK).cast.mass_kg == pytest.approx(3 * area(40) * 10490e-9, rel=1e-4)
    # 3 mm high: the shortest band asks 3 degrees
    assert said(results, "tight").figures["asked_draft_deg"] == 3.0


def test_a_spoked_wheel_parts_at_its_middle() -> None:
    """Rim 22 high, 11 each side of the joint, over 10 and under 50 mm: 2 degrees, 180 + 2 x 11 tan 2 at the joint."""
    rim = rod(22, 90) - rod(26, 78, (0, 0, -2))
    wheel = rim + rod(32, 22, (0, 0, -5)) - rod(60, 10, (0, 0, -20))
    for k in range(5):
        wheel += M.cube([61, 10, 10]).translate([20, -5, 6]).rotate([0, 0, 72 * k])
    results = worked(wheel, "draft", metal="grey-iron", draw="+z")
    assert results.need(PARTING).height_mm == pytest.approx(11.0, abs=0.01)
    assert row(results, "Overall, x").casting_mm == pytest.approx(180 + 2 * 11 * tan(radians(2)), abs=0.01)
    assert row(results, "Overall, x").pattern_mm == pytest.approx((180 + 2 * 11 * tan(radians(2))) * IRON, abs=0.01)
    assert {piece.role for piece in results.need(PATTERN).pieces} == {"cope-half", "drag-half"}


def test_a_thin_badge_is_told_to_be_too_thin() -> None:
    """2.5 mm where aluminium-silicon runs 4; raised lettering is no wall. Draft 3 degrees over 2.5 mm: 80 + 2 x 2.5
    tan 3.
    """
    badge = M.cube([80, 40, 2.5]) + M.cube([20, 3, 1.2]).translate([30, 15, 2.0])
    results = worked(badge, "draft", draw="+z")
    assert first(results).code == "thin-wall" and first(results).figures["least_wall_mm"] == pytest.approx(
        2.5, abs=0.01
    )
    assert row(results, "Overall, x").casting_mm == pytest.approx(80 + 2 * 2.5 * tan(radians(3)), abs=0.005)


def test_a_long_handle_in_brass_is_split_along() -> None:
    bar = M.cylinder(240, 9, 7, 64).rotate([0, 90, 0]) + M.sphere(12, 64).translate([240, 0, 0])
    results = worked(bar, metal="yellow-brass", parting="flat:0", draw="+z")
    assert row(results, "Overall, x").pattern_mm == pytest.approx(252 * BRASS, abs=0.02)
    assert results.need(PARTING).locked_mm2 == pytest.approx(0.0, abs=1.0)
    assert len(results.need(PATTERN).dowel_mm) == 2


def test_a_bracket_with_two_degrees_asked() -> None:
    """Own figure, the same on every wall: 70 mm of plate on one side, 10 of foot on the other: 100 + (70 + 10) tan
    2; holes cast solid.
    """
    bracket = M.cube([100, 60, 10]) + M.cube([10, 60, 70]) - rod(20, 5, (75, 15, -5)) - rod(20, 5, (75, 45, -5))
    results = worked(bracket, "draft:2", "fill", draw="+z", parting="flat:0")
    assert row(results, "Overall, x").casting_mm == pytest.approx(100 + 80 * tan(radians(2)), abs=0.01)
    stock = results.need(STOCK)
    assert [point.diameter_mm for point in stock.drill] == pytest.approx([10.0, 10.0])
    assert sorted(point.at_mm[1] for point in stock.drill) == pytest.approx([15.0, 45.0], abs=1e-3)
    # laid in the drag, the flat back up: what it forms of sand stands
    assert results.need(PARTING).drag_depth_mm == pytest.approx(70.0)


def test_a_straight_edge_in_iron_from_a_master_in_aluminium() -> None:
    """The master takes both contractions: 500 x 100/99 x 100/98.8 = 511.185. Stock G of 400 to 630 mm is 4.0, CT12
    of 25 to 40 mm 5.0/2.
    """
    edge = M.cube([500, 40, 12]) + M.cube([500, 10, 30]).translate([0, 15, 0])
    results = worked(
        edge,
        "machine@250,20,0",
        metal="grey-iron",
        pattern_kind="metal-from-master",
        master_metal="aluminium-silicon",
        draw="+z",
        parting="flat:0",
    )
    assert row(results, "Overall, x").pattern_mm == pytest.approx(500 * IRON * ALUMINIUM)
    assert row(results, "Overall, x").casting_mm == pytest.approx(500.0)
    assert row(results, "Overall, z").casting_mm == pytest.approx(30 + 4.0 + 2.5, abs=1e-3)
    assert results.need(STOCK).rammed_factors == pytest.approx((IRON,) * 3)


def test_a_sand_core_for_a_metal_pattern_fits_the_seat_that_it_leaves() -> None:
    """Bore 60 x 120 in iron: prints 0.6 x 60 = 36 a side, seat (120 + 72) x 100/99 = 193.94; the core is less by its
    clearance, 0.56 an end.
    """
    bush = (rod(120, 45) - rod(140, 30, (0, 0, -10))).rotate([0, 90, 0])
    results = worked(
        bush,
        "core:all",
        metal="grey-iron",
        pattern_kind="metal-from-master",
        master_metal="aluminium-silicon",
        draw="+z",
    )
    stock, (core,) = results.need(STOCK), results.need(CORES).cores
    assert [one.length_mm for one in core.prints] == [36.0, 36.0]
    seat = (120 + 2 * 36) * stock.rammed_factors[0]
    assert seat == pytest.approx(193.94, abs=0.01)
    made = float(core.mesh.size[0]) * stock.rammed_factors[0]
    assert made == pytest.approx(seat - 2 * 0.56 * IRON, abs=0.02)
    assert core.loads.volume_mm3 == pytest.approx(core.mesh.volume * IRON**3)
    # the printed master carries both contractions, and so do its prints
    assert stock.factors[0] == pytest.approx(IRON * ALUMINIUM)


def test_a_crankcase_with_crossing_bores_has_one_core_and_straight_walls() -> None:
    """One core with a print at each mouth, in the joint; walls of 40 mm a half lean 2 degrees, and nothing else was
    added.
    """
    case = M.cube([120, 80, 90]) - M.cube([96, 60, 60]).translate([12, 10, 14])
    case -= rod(130, 18).rotate([0, 90, 0]).translate([-5, 40, 40])
    case -= rod(60, 22, (60, 40, 60))
    results = worked(case, "draft", "core:all", draw="+y")
    (core,) = results.need(CORES).cores
    assert sorted(one.kind for one in core.prints) == ["side"] * 3
    hollow = closed_solid(core.hollow)
    assert hollow is not None
    foot = 40 * tan(radians(2))
    added = 2 * (foot * 40 / 2 * 2 * (120 + 90) + 4 * foot**2 * 40 / 3)
    # before a mouth that lies in the joint metal is foot (1 - h/40) thick, h 4 r/(3 pi) on the mean
    mouths = sum(area(2 * r) * foot * (1 - 4 * r / (3 * pi) / 40) for r in (18, 18, 22))
    assert results.need(STOCK).added_mm3 == pytest.approx(added - mouths, rel=1e-3)
    whole = closed_solid(results.need(STOCK).mesh)
    assert whole is not None and whole.genus() == case.genus() and len(whole.decompose()) == 1
    assert row(results, "Overall, x").casting_mm == pytest.approx(120 + 2 * 40 * tan(radians(2)), abs=0.01)


def test_a_foam_frame_is_burned_out() -> None:
    frame = M.cube([600, 300, 40]) - M.cube([540, 240, 60]).translate([30, 30, -10])
    results = worked(frame, metal="grey-iron", pattern_kind="foam-burned-out", mould="loose-sand")
    assert row(results, "Overall, x").pattern_mm == pytest.approx(600 * IRON)
    assert results.need(STOCK).cast.mass_kg == pytest.approx((600 * 300 - 540 * 240) * 40 * 7.15e-6)
    assert not results.need(CORES).cores
    assert any("needs no core" in f.words() for f in CORES.findings(results))
    assert np.allclose(results.need(PARTING).asked_deg, 0.0)
