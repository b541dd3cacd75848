"""Counter-bends for the bow, and the legs of a U."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.errors import UserFault
from pounce.job.changes import take_remedy
from pounce.metals.tables import limits
from pounce.route.stops import STOCK
from pounce.stock.bend import allowance, allowed, bow_for, cambered, heavy_way, is_u, legs_drawn_in, slender
from pounce.stock.body import body_of
from pounce.stock.values import Camber, Finish, Machining
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


def test_the_longest_and_the_shallowest_way() -> None:
    assert slender(mesh_of(M.cube([20, 300, 6]))) == (1, 2, pytest.approx(50.0))


@pytest.mark.parametrize("axis", [0, 1, 2])
@pytest.mark.parametrize("sign", [1.0, -1.0])
def test_the_heavy_side_is_told_whichever_way_it_looks(axis: int, sign: float) -> None:
    """A channel: a thick back and two thin flanges; the back freezes last."""
    bar = M.cube([400, 40, 14]) + M.cube([400, 4, 40]) + M.cube([400, 4, 40]).translate([0, 36, 0])
    bar = bar if sign < 0 else bar.mirror([0, 0, 1])
    turned = {0: bar.rotate([0, 0, 90]), 1: bar.rotate([90, 0, 0]), 2: bar}[axis]
    mesh = mesh_of(turned)
    long = slender(mesh)[0]
    found = heavy_way(mesh, long)
    assert found is not None
    back = mesh.centre_of_mass - mesh.bounds.mean(axis=0)
    assert found[0] == int(np.argmax(np.abs(np.where(np.arange(3) == long, 0.0, back))))
    assert found[1] == np.sign(back[found[0]])


def test_an_even_bar_has_no_heavy_side() -> None:
    assert heavy_way(mesh_of(M.cube([400, 30, 20])), 0) is None


def test_a_bent_bar_is_a_parabola_between_its_ends() -> None:
    bar = mesh_of(M.cube([200, 10, 6]))
    bent = cambered(bar, 3.0, 0, np.array([0.0, 0.0, 1.0]))
    # to the square of its slope, 0.06 at its ends
    assert bent.volume == pytest.approx(bar.volume, rel=2e-3)
    top = bent.vertices[np.unique(bent.faces[bent.normals[:, 2] > 0.9])]
    share = (top[:, 0] - 100.0) / 100.0
    assert top[:, 2] - 6.0 == pytest.approx(3.0 * (1.0 - share**2), abs=0.02)
    # sections stay square to the bent line: its upper face is shorter than its lower one
    assert np.ptp(top[:, 0]) != pytest.approx(200.0, abs=1e-3)


def test_legs_are_drawn_in_at_their_tips_alone() -> None:
    staple = M.cube([90, 20, 60]) - M.cube([70, 30, 50]).translate([10, -5, 10])
    made = legs_drawn_in(mesh_of(staple), 2.0, 0, np.array([0.0, 0.0, 1.0]))
    tips = made.vertices[made.vertices[:, 2] > 59.9]
    feet = made.vertices[made.vertices[:, 2] < 0.1]
    assert np.ptp(tips[:, 0]) == pytest.approx(88.0, abs=1e-6)
    assert np.ptp(feet[:, 0]) == pytest.approx(90.0, abs=1e-6)
    # each leg keeps its thickness
    left = np.unique(np.round(tips[tips[:, 0] < 45][:, 0], 6))
    assert np.ptp(left) == pytest.approx(10.0, abs=1e-3)


@pytest.mark.parametrize("bow", [-0.1, 41.0])
def test_a_bow_that_cannot_be_is_refused(bow: float) -> None:
    figure = limits()["bow"]
    with pytest.raises(UserFault, match="cannot be right"):
        bow_for(Camber(bow_mm=bow, toward="+z"), mesh_of(M.cube([400, 30, 20])), figure)
    with pytest.raises(UserFault, match="along the length itself"):
        bow_for(Camber(bow_mm=1.0, toward="+x"), mesh_of(M.cube([400, 30, 20])), figure)


def test_finish_and_rapping_add_up() -> None:
    """Paint makes the pattern larger, so it is made smaller; sanding the other way; rapping sideways only."""
    everywhere, level = allowance(Finish(paint_mm=0.2, sanding_mm=0.05, rap_mm=0.4))
    assert everywhere == pytest.approx(-0.15) and level == pytest.approx(-0.4)
    # a coat on foam lies outside it: the casting takes the foam's own size
    assert allowance(Finish(coating_mm=0.3)) == (0.0, 0.0)
    with pytest.raises(UserFault):
        allowance(Finish(paint_mm=9.0))


def test_a_thin_place_that_would_fold_is_said() -> None:
    plate = body_of(mesh_of(M.cube([60, 40, 1])))
    with pytest.raises(UserFault):
        allowed(plate, -0.8, 0.0, np.array([0.0, 0.0, 1.0]))
    less = allowed(plate, -0.2, 0.0, np.array([0.0, 0.0, 1.0]))
    assert less.size == pytest.approx([59.6, 39.6, 0.6])
