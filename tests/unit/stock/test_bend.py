"""Counter-bends for the bow, and the legs of a U."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.job.changes import take_remedy
from pounce.route.stops import STOCK
from pounce.stock.bend import is_u
from pounce.stock.values import Camber, Machining
from tests.conftest import box, mesh_of
from tests.unit.stock.helpers import is_closed, stocked

M = m3.Manifold
BLOCK = M.cube([60, 40, 30])


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


def _u() -> m3.Manifold:
    return box(200, 30, 15) + box(15, 30, 100) + box(15, 30, 100).translate([185, 0, 0])


def test_the_legs_of_a_u_are_told_and_set_closer() -> None:
    """Aluminium-silicon contracts 1.2 %, 0.8 at least (the table): 0.4 % of 200 mm is 0.8 mm between the tips."""
    said = stocked(_u()).stock
    assert said is not None
    legs = next(f for f in said.findings if f.code == "legs-spread")
    assert legs.figures["bow_mm"] == pytest.approx(0.8, rel=1e-6)
    bent = stocked(_u(), Camber(legs=True)).stock
    assert bent is not None
    assert not bent.lines[0].trouble
    tips = bent.mesh.vertices[bent.mesh.vertices[:, 2] > 99.9]
    assert np.ptp(tips[:, 0]) == pytest.approx(200.0 - 0.8, abs=1e-3)
    feet = bent.mesh.vertices[bent.mesh.vertices[:, 2] < 1e-6]
    assert np.ptp(feet[:, 0]) == pytest.approx(200.0, abs=1e-6)
    assert is_closed(bent.mesh)
    assert bent.mesh.volume == pytest.approx(_u().volume(), rel=5e-3)
    inner = np.abs(bent.mesh.vertices[:, 0] - 100.0) < 90.0
    top = inner & (bent.mesh.vertices[:, 2] > 99.9)
    # a leg keeps its thickness: its inner side moves as far as its outer one
    assert np.ptp(bent.mesh.vertices[top][:, 0]) == pytest.approx(170.0 - 0.8, abs=1e-3)


def test_no_u_no_word_of_legs() -> None:
    for solid in (
        box(200, 30, 40),
        box(200, 30, 15) + box(15, 30, 100),
        box(80, 80, 80) - box(60, 60, 90).translate([10, 10, 10]),
    ):
        stock = stocked(solid).stock
        assert stock is not None
        assert not [f for f in stock.findings if f.code == "legs-spread"]


def test_a_bow_leans_what_stands_off_the_bent_line() -> None:
    """A rib of 60 on a bar of 400, bowed by 4 mm: slope at the end 4 x bow / length, so the rib's top leans by that
    times its height.
    """
    bar = box(400, 20, 10) + box(4, 20, 60).translate([396, 0, 0])
    stock = stocked(bar, Camber(bow_mm=4.0, axis="x", toward="+z")).stock
    assert stock is not None
    v = stock.mesh.vertices
    foot, top = v[(v[:, 0] > 395) & (v[:, 2] < 1.0)], v[v[:, 2] > 59.0]
    lean = top[:, 0].max() - foot[:, 0].max()
    assert lean == pytest.approx(4.0 * 4.0 / 400.0 * 60.0, rel=0.02)
    assert is_closed(stock.mesh)
