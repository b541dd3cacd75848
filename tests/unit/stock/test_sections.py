"""Thick and thin: walls that are walls, heavy places beside thinner ones, rapping beside contraction."""

import manifold3d as m3
import numpy as np
import pytest
import trimesh

from pounce.base.units import length, less_as_shown, quantity
from pounce.job import edits
from pounce.job.job import Job
from pounce.metals.tables import limits
from pounce.part.walls import least_wall
from pounce.route.pipeline import Pipeline
from pounce.route.stops import PART, STOCK
from pounce.solid.tree import tree_of
from pounce.stock.values import Draft, Machining
from pounce.stock.weights import bulks_of
from tests.conftest import law, mesh_of, model_of, some
from tests.unit.stock.helpers import stocked

M = m3.Manifold


@law(2, 30)
def test_raised_letters_and_beads_are_no_walls(seed: int) -> None:
    """A plate of 8 mm with strokes 1.2 mm proud and 2 mm wide: the metal fills them from the plate."""
    noise = np.random.default_rng(seed)
    plate = M.cube([100, 60, 8])
    for k in range(6):
        stroke = M.cube([float(noise.uniform(8, 15)), float(noise.uniform(1.6, 2.6)), 1.2 + 1.0])
        plate += stroke.translate([8 + 15.0 * k, float(noise.uniform(10, 40)), 7.0])
    mesh = mesh_of(plate)
    found = least_wall(mesh, tree_of(mesh))
    assert found is not None and found[0] == pytest.approx(8.0, abs=0.01)
    stock = stocked(plate, height=0.0).need(STOCK)
    assert stock.thin_mm2 == 0.0


def test_a_thin_rib_and_a_thin_pin_are_walls() -> None:
    rib = mesh_of(M.cube([80, 50, 10]) + M.cube([80, 2.5, 30]).translate([0, 20, 5]))
    found = least_wall(rib, tree_of(rib))
    assert found is not None and found[0] == pytest.approx(2.5, abs=0.01)
    pin = mesh_of(M.cube([40, 40, 10]) + M.cube([3, 3, 40]).translate([18, 18, 5]))
    found = least_wall(pin, tree_of(pin))
    assert found is not None and found[0] == pytest.approx(3.0, abs=0.01)


def test_a_wall_as_thick_as_the_limit_is_not_said_to_be_under_it() -> None:
    """Aluminium-silicon runs 4 mm: 3.98 reads 4 mm and is none; 3.8 is."""
    for wall, thin in ((3.98, False), (3.8, True)):
        shell = M.cube([60, 60, 40]) - M.cube([60 - 2 * wall, 60 - 2 * wall, 40]).translate([wall, wall, wall])
        job = edits.set_draw(Job(), (0.0, 0.0, 1.0)).job
        results = Pipeline().run(job, model_of(shell), until=STOCK)
        assert any(f.code == "thin-wall" for f in PART.findings(results)) == thin
        assert any(f.code == "thin-area" for f in STOCK.findings(results)) == thin


@pytest.mark.parametrize(
    ("value", "text"),
    [(0.15, "0.15 mm"), (0.106, "0.11 mm"), (0.053, "0.053 mm"), (4.0, "4 mm"), (12.34, "12.3 mm"), (0.998, "1 mm")],
)
def test_quantities_show_the_digits_they_have(value: float, text: str) -> None:
    assert length(value).replace("\u00a0", " ") == text == quantity("grain_mm", value).replace("\u00a0", " ")


def test_less_is_said_of_figures_as_they_are_shown() -> None:
    assert not less_as_shown(3.96, 4.0) and less_as_shown(3.94, 4.0) and less_as_shown(0.14, 0.15)


def test_a_foot_ring_is_heavy_beside_the_wall_it_stands_under() -> None:
    """A bowl of 5 mm on a foot of 13 by 12: the whole ring is one heavy place, and the bowl is what lies beside it."""
    bowl = M.cylinder(50, 40, 60, 96) - M.cylinder(50, 35, 55, 96).translate([0, 0, 5])
    foot = M.cylinder(12, 40, 40, 96) - M.cylinder(14, 27, 27, 96).translate([0, 0, -1])
    found = bulks_of(mesh_of(bowl + foot))
    assert found[0].diameter_mm == pytest.approx(12.6, abs=1.5)
    assert found[0].ratio > limits()["section_jump"].value
    even = M.cylinder(12, 60, 60, 96) - M.cylinder(20, 48, 48, 96).translate([0, 0, -4])
    assert all(one.ratio < 1.3 for one in bulks_of(mesh_of(even)))


def test_rapping_is_held_beside_contraction_where_it_is_as_much() -> None:
    """A coin of 40 mm in silver: rapped 0.4 mm each way it grows 0.8; 1.9 per cent of it is 0.77 (40 x 1.9/98.1)."""
    coin = stocked(M.cylinder(3, 20, 20, 96), metal="silver", height=0.0).need(STOCK)
    found = next(f for f in coin.findings if f.code == "rapping-matters")
    assert found.figures["rap_mm"] == pytest.approx(0.8)
    assert found.figures["shrink_mm"] == pytest.approx(40 * 1.9 / 98.1, abs=1e-3)
    plate = stocked(M.cube([400, 300, 20]), metal="silver", height=0.0).need(STOCK)
    assert not any(f.code == "rapping-matters" for f in plate.findings)


def test_sharp_corners_are_said_only_where_there_are_any() -> None:
    ball, step = M.sphere(30, 64), M.cube([60, 40, 10]) + M.cube([20, 40, 30])
    for kind in ("printed-filament", "original-part"):
        assert not any(f.code == "corners-sharp" for f in stocked(ball, pattern_kind=kind).need(STOCK).findings)
        said = next(f for f in stocked(step, pattern_kind=kind).need(STOCK).findings if f.code == "corners-sharp")
        assert said.figures["corners"] == 1.0


@pytest.mark.parametrize("degrees", [1.0, 2.5, 4.0])
def test_a_drafted_bore_is_left_small_square_to_its_wall(degrees: float) -> None:
    """By hand: the frustum of the hole less that of a hole whose radii are both smaller by the stock over cos of the
    draft.
    """
    lean, high, own = np.tan(np.radians(degrees)), 40.0, 2.0
    hole = M.cylinder(high + 20, 20 - 10 * lean, 20 + (high + 10) * lean, 128).translate([45, 35, -10])
    middle = (float(65.0 + high / 2 * lean), 35.0, high / 2)
    stock = stocked(M.cube([90, 70, high]) - hole, Machining(middle, own_mm=own), height=0.0).need(STOCK)
    less = own / np.cos(np.radians(degrees))
    wide, narrow = 20.0 + high * lean, 20.0

    def frustum(one: float, two: float) -> float:
        return float(np.pi * high / 3 * (one**2 + one * two + two**2))

    assert stock.lines[0].trouble == ""
    assert stock.lines[0].added_mm3 == pytest.approx(
        frustum(wide, narrow) - frustum(wide - less, narrow - less), rel=2e-3
    )
    assert stock.lines[0].figures["left_mm"] == pytest.approx(2 * (wide - less), abs=0.02)


@some("turn, segments, height", [(0.0, 128, 0.0), (12.0, 27, 20.0), (0.0, 128, 20.0), (33.0, 96, 0.0)], 2)
def test_stock_on_both_faces_of_a_bored_block_moves_no_corner_and_leaves_draft_its_way(
    turn: float, segments: int, height: float
) -> None:
    """Nothing of the old faces may stay as a seam that parts walls: 8 corners and two rims a level, and walls that
    all get their draft.
    """
    solid = (M.cube([90, 70, 40]) - M.cylinder(60, 20, 20, segments).translate([45, 35, -10])).rotate([0, 0, turn])
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    x, y = float(5 * c - 5 * s), float(5 * s + 5 * c)
    lines = (Machining((x, y, 40.0)), Machining((x, y, 0.0)))
    plain = stocked(solid, *lines, height=height).need(STOCK)
    raised = plain.lines[0].figures["stock_mm"] + plain.lines[1].figures["stock_mm"]
    level = 90 * 70 - 0.5 * segments * 400 * np.sin(2 * np.pi / segments)
    assert plain.mesh.volume == pytest.approx(level * (40 + raised), rel=2e-6)
    assert len(plain.mesh.vertices) <= 4 * (4 + segments) + segments
    leaned = stocked(solid, *lines, Draft(), height=height).need(STOCK)
    made = trimesh.Trimesh(leaned.mesh.vertices, leaned.mesh.faces)
    assert made.is_watertight and made.body_count == 1 and made.euler_number == 0
    assert not leaned.lines[-1].trouble and not any(f.code == "walls-still-tight" for f in leaned.findings)


def test_a_flanged_stub_with_bolt_holes_and_stock_under_it_gets_its_draft() -> None:
    """Films that wedges leave are no bodies: the commonest flange, stock on its face, a core in its bore, a gusset
    on its side.
    """
    stub = M.cylinder(9, 48, 48, 96) + M.cylinder(55, 24, 23, 96) + M.cube([50, 6, 28]).translate([-25, -3, 8])
    stub -= M.cylinder(200, 16, 16, 96, True)
    for k in range(4):
        turn = np.radians(45 + 90 * k)
        stub -= M.cylinder(60, 4.5, 4.5, 32, True).translate([36 * float(np.cos(turn)), 36 * float(np.sin(turn)), 0])
    found = stocked(stub, Machining((40.0, 0.0, 0.0)), Draft(), metal="grey-iron").need(STOCK)
    assert not found.lines[-1].trouble
    made = trimesh.Trimesh(found.mesh.vertices, found.mesh.faces, process=False)
    assert made.is_watertight and made.body_count == 1 and made.euler_number == 2 - 2 * 5
