"""Faces that meet in a shallow edge and fillets along a mesh's short edges leave neither slits nor rooms shut in."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.job import edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.parting.sand import fine_detail
from pounce.route.pipeline import Pipeline
from pounce.route.stops import METAL, STOCK
from pounce.solid.boolean import closed_solid
from pounce.solid.sound import COARSER, FINE_MM, readied, soundness
from pounce.stock.values import Draft, Fillets, Machining
from tests.conftest import model_of
from tests.unit.stock.helpers import stocked

M = m3.Manifold


@pytest.mark.parametrize("bend_deg", [4.0, 20.0, 45.0, 70.0, 88.0])
def test_two_faces_moved_out_meet_in_a_mitre(bend_deg: float) -> None:
    """A roof: two slabs, and by hand the kite between them over the ridge, 60 long."""
    half = float(np.radians(bend_deg / 2.0))
    fall = float(20.0 * np.tan(half))
    solid = M.hull_points(
        np.array(
            [[x, y, z] for x in (0, 60) for y, z in ((-20, 0), (20, 0), (-20, 20 - fall), (20, 20 - fall), (0, 20))]
        )
    )
    lines = [Machining(at_mm=(30.0, y, 20.0 - fall / 2.0), own_mm=2.0) for y in (-10.0, 10.0)]
    stock = stocked(solid, *lines).need(STOCK)
    slope = 20.0 / np.cos(half)
    wanted = solid.volume() + 60.0 * (2 * slope * 2.0 + 2.0 * 2.0 * np.tan(half))
    assert stock.mesh.volume == pytest.approx(wanted, abs=0.01)
    assert not any(line.trouble for line in stock.lines)


@pytest.mark.parametrize("facets", [61, 96])
def test_a_fillet_round_a_boss_on_a_barrel_shuts_nothing_in(facets: int) -> None:
    """A boss that meets a barrel across its facets: the edges between are of all lengths, a hair's too."""
    barrel = M.cylinder(60, 22, 22, 128, True)
    boss = M.cylinder(40, 11, 11, facets).rotate([90, 0, 0])
    results = stocked(barrel + boss, Fillets(radius_mm=3.0))
    stock = results.need(STOCK)
    assert stock.lines[0].figures["corners"] == 1.0
    solid = closed_solid(stock.mesh)
    assert solid is not None and len(solid.decompose()) == 1 and solid.genus() == 0
    rib, slit = fine_detail(stock.mesh, results.need(METAL))
    assert rib is None and slit is None


def test_ribs_on_a_saddle_that_were_given_draft_are_written() -> None:
    """Wedges along a shaped joint left slivers just longer than a thousandth of a millimetre, in a row: merged at that
    they had no area, and the pattern was refused.
    """
    ribs = [M.cube([3.5, 40, 34]).translate([1 + 9.2 * k, 0, 5]) for k in range(8)]
    saddle = M.cube([70, 40, 10]) - M.cylinder(80, 14, 14, 96).rotate([0, 90, 0]).translate([-5, 20, 0])
    job = edits.set_draw(Job(), (0.0, 0.0, 1.0)).job
    job = add_line(edits.set_parting(job, *edits.parse_parting("natural")).job, Draft()).job
    mesh = Pipeline().run(job, model_of(M.batch_boolean([saddle, *ribs], m3.OpType.Add)), until=STOCK).need(STOCK).mesh
    made = readied(mesh)
    assert soundness(made).sound and soundness(made).bodies == 1
    assert np.abs(made.bounds - mesh.bounds).max() < COARSER * FINE_MM
    assert made.volume == pytest.approx(mesh.volume, abs=COARSER * FINE_MM * mesh.area)
