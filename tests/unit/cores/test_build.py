"""Cores of analytic and awkward solids: that everything fits."""

from pathlib import Path

import numpy as np
import pytest
import trimesh
from manifold3d import CrossSection

from pounce.base.finding import Severity
from pounce.cores.values import CoresResult
from pounce.job import core_edits, edits
from pounce.route.opening import open_any
from pounce.route.pipeline import Pipeline
from pounce.route.stops import CORES, PATTERN, STOCK
from tests.conftest import some
from tests.unit.cores.helpers import PARTS, SIDES, M, block, cored, solid_of


@some("name", PARTS, 3)
def test_core_casting_and_clearance_fill_the_mould(name: str) -> None:
    """The volume identity by the solid library: pattern with prints = part + core + clearance, nothing overlapping,
    all closed.
    """
    solid, draw, height, count, prints = PARTS[name]
    results = cored(solid, draw, height)
    found: CoresResult = results.need(CORES)
    assert len(found.cores) == count, [f.words() for f in found.findings]
    core = found.cores[0]
    assert len(core.prints) == prints
    part, body = solid_of(results.need(STOCK).mesh), solid_of(found.mesh)
    cores = solid_of(core.mesh)
    assert float((cores ^ part).volume()) < 1e-6 * float(part.volume())
    assert float((cores - body).volume()) < 1e-6 * float(part.volume())
    assert float((part - body).volume()) < 1e-6 * float(part.volume())
    room = float((body - part - cores).volume())
    # between pattern and core lie the clearance and the metal that the draft of the core leaves
    assert room == pytest.approx(found.clearance_mm3 + core.draft_mm3, rel=1e-6, abs=1e-5 * core.mesh.volume)
    assert float(part.volume() + cores.volume()) + room == pytest.approx(
        float(body.volume()), rel=1e-6 if core.draft_mm3 else 1e-9
    )
    for made in (core.mesh, *(part_of_box.mesh for one in core.boxes for part_of_box in one.parts)):
        # in single precision and read by another library, as a file of it is
        other = trimesh.Trimesh(made.vertices.astype(np.float32), made.faces)
        assert other.is_watertight
    for one in core.boxes:
        for part_of_box in one.parts:
            held = solid_of(part_of_box.mesh)
            assert float((held ^ solid_of(one.core)).volume()) < 1e-6 * core.mesh.volume
    assert results.need(PATTERN).pieces


def test_a_tube_core_has_the_volume_of_its_bore() -> None:
    """A polygon of 64 sides, 20 across, 80 long, to 1e-9; the core's prints add their own."""
    results = cored(block(), height=0.0)
    core = results.need(CORES).cores[0]
    area = 0.5 * SIDES * np.sin(2.0 * np.pi / SIDES) * 100.0
    assert core.hollow.volume == pytest.approx(area * 80.0, rel=1e-9)
    assert core.symmetric
    assert core.boxes[0].twice


def test_sand_is_weighed_out_with_a_tenth_over() -> None:
    """Flour and molasses: 8 % binder and 6 % water of the sand's weight (common practice), 1600 kg/m3, contraction
    1.2 % each way.
    """
    results = cored(block(), height=0.0, mix="flour-molasses")
    core = results.need(CORES).cores[0]
    assert core.make_kg == pytest.approx(1.1 * 1600e-9 * core.mesh.volume * (100 / 98.8) ** 3, rel=1e-3)
    assert core.binder_kg / core.sand_kg == pytest.approx(0.08)
    assert core.water_kg / core.sand_kg == pytest.approx(0.06)


def test_a_package_part_with_three_crossing_bores() -> None:
    """A cube with square bores along all three axes that meet: example003 of Debian's openscad package (CC0)."""
    job, model = open_any(Path(__file__).parents[2] / "data" / "parts" / "crossing-bores.stl")
    results = Pipeline().run(core_edits.set_cores(edits.set_unit(job, "mm").job, every=True).job, model, until=PATTERN)
    found = results.need(CORES)
    (core,) = found.cores
    assert sorted(one.kind for one in core.prints) == ["cope", "drag", "side", "side", "side", "side"]
    assert core.boxes[0].locked_mm2 == pytest.approx(0.0, abs=1.0)
    assert [one.code for one in found.findings if one.severity != Severity.NOTE and not one.informational] == [
        "core-shift-0"
    ]
    assert len(results.need(PATTERN).pieces) == 2


@pytest.mark.parametrize(("wide", "deep"), [(40.0, 95.0), (24.0, 40.0), (20.0, 90.0)])
def test_a_core_held_at_one_end_gets_the_print_that_balances_it(wide: float, deep: float) -> None:
    """A round core as long out of its print as in it just balances; with a margin it holds (lever, common practice)."""
    outside = M.cylinder(deep + 12.0, 0.9 * wide, 0.9 * wide, SIDES)
    results = cored(outside - M.cylinder(2.0 * deep, wide / 2, wide / 2, SIDES, True), draw=(0.0, 1.0, 0.0), height=0.0)
    core = results.need(CORES).cores[0]
    assert len(core.prints) == 1 and core.prints[0].length_mm > deep
    assert not core.loads.tips


@pytest.mark.parametrize("round_", [True, False])
def test_only_a_round_way_straight_through_is_one_that_a_bar_bores(round_: bool) -> None:
    """A square one of the same width, or the gap between two twisted teeth, is none."""
    tool = M.cylinder(100, 10, 10, SIDES, True) if round_ else M.cube([20, 20, 100], True)
    results = cored(M.cube([80, 50, 50], True) - tool.rotate([0, 90, 0]), height=0.0)
    (offer,) = results.need(CORES).offers
    assert offer.openings == 2 and offer.is_round_bore is round_


@pytest.mark.parametrize(("spout", "prints"), [(9.0, 2), (4.0, 1)])
def test_the_spout_of_a_funnel_gets_a_print_however_wide_its_mouth(spout: float, prints: int) -> None:
    """18 mm is 0.18 of the mouth, and wider than any hole that is cast solid: the core would only touch the sand there,
    and its end dropped. What is narrower than such holes holds nothing.
    """
    line = [(spout, 0), (spout + 5, 0), (spout + 5, 40), (54, 80), (54, 95), (50, 95), (50, 81), (spout, 42)]
    results = cored(M.revolve(CrossSection([line]), SIDES), (0.0, 1.0, 0.0), 0.0)
    (core,) = results.need(CORES).cores
    widths = sorted(round(one.width_mm) for one in core.prints)
    assert widths == ([18, 100] if prints == 2 else [100])
    assert (float(core.mesh.bounds[0, 2]) < -5.0) is (prints == 2)
