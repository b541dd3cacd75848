"""Thick and thin: walls that are walls, heavy places beside thinner ones, rapping beside contraction."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.units import length, less_as_shown, quantity
from pounce.job import edits
from pounce.job.job import Job
from pounce.metals.tables import limits
from pounce.part.walls import least_wall
from pounce.route.line import Line
from pounce.route.results import findings_at
from pounce.solid.tree import tree_of
from pounce.stock.weights import bulks_of
from tests.conftest import mesh_of, model_of
from tests.unit.stock.helpers import stocked

M = m3.Manifold


@pytest.mark.parametrize("seed", range(3))
def test_raised_letters_and_beads_are_no_walls(seed: int) -> None:
    """A plate of 8 mm with strokes 1.2 mm proud and 2 mm wide: the metal fills them from the plate."""
    noise = np.random.default_rng(seed)
    plate = M.cube([100, 60, 8])
    for k in range(6):
        stroke = M.cube([float(noise.uniform(8, 20)), float(noise.uniform(1.6, 2.6)), 1.2 + 1.0])
        plate += stroke.translate([8 + 15.0 * k, float(noise.uniform(10, 40)), 7.0])
    mesh = mesh_of(plate)
    found = least_wall(mesh, tree_of(mesh))
    assert found is not None and found[0] == pytest.approx(8.0, abs=0.01)
    stock = stocked(plate, height=0.0).need("stock")
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
        results = Line().run(job, model_of(shell), until="stock")
        assert any(f.code == "thin-wall" for f in findings_at("part", results)) == thin
        assert any(f.code == "thin-area" for f in findings_at("stock", results)) == thin


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
    coin = stocked(M.cylinder(3, 20, 20, 96), metal="silver", height=0.0).need("stock")
    found = next(f for f in coin.findings if f.code == "rapping-matters")
    assert found.figures["rap_mm"] == pytest.approx(0.8)
    assert found.figures["shrink_mm"] == pytest.approx(40 * 1.9 / 98.1, abs=1e-3)
    plate = stocked(M.cube([400, 300, 20]), metal="silver", height=0.0).need("stock")
    assert not any(f.code == "rapping-matters" for f in plate.findings)


def test_sharp_corners_are_said_only_where_there_are_any() -> None:
    ball, step = M.sphere(30, 64), M.cube([60, 40, 10]) + M.cube([20, 40, 30])
    for kind in ("printed-filament", "original-part"):
        assert not any(f.code == "corners-sharp" for f in stocked(ball, pattern_kind=kind).need("stock").findings)
        said = next(f for f in stocked(step, pattern_kind=kind).need("stock").findings if f.code == "corners-sharp")
        assert said.figures["corners"] == 1.0
