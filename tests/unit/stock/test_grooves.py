"""A groove round the outside: told from a hollow, with what it costs to make by a ring core or a cheek, and filled
to be turned.
"""

import manifold3d as m3
import numpy as np
import pytest
import trimesh

from pounce.base.errors import UserFault
from pounce.base.finding import Remedy
from pounce.job import edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.parting.values import Kind
from pounce.route.pipeline import Pipeline
from pounce.route.stops import DRAW, PARTING, STOCK
from pounce.solid.groove import groove_at, turned_about
from pounce.stock.values import Fill
from tests.conftest import law, mesh_of, model_of
from tests.unit.stock.helpers import stocked

M = m3.Manifold
Z = (0.0, 0.0, 1.0)


def wheel(profile: list[tuple[float, float]], segments: int = 128) -> m3.Manifold:
    return M.revolve(m3.CrossSection([profile]), segments)


def vee(rim: float, floor: float, wide: float, flange: float) -> m3.Manifold:
    tall = wide + 2 * flange
    return wheel([(8, 0), (rim, 0), (rim, flange), (floor, tall / 2), (rim, flange + wide), (rim, tall), (8, tall)])


@law(2, 40)
def test_a_vee_is_told_and_filled_by_what_lies_between_its_cones_and_the_rim(seed: int) -> None:
    """By hand: pi R^2 w less two frustums of pi h / 3 (R^2 + R r + r^2), h half the width."""
    noise = np.random.default_rng(seed)
    rim, wide, flange = float(noise.uniform(40, 90)), float(noise.uniform(10, 20)), float(noise.uniform(4, 7))
    floor = rim - float(noise.uniform(0.4, 0.7)) * wide
    solid = vee(rim, floor, wide, flange)
    hand = np.pi * (rim**2 * wide - 2 * (wide / 2) / 3 * (rim**2 + rim * floor + floor**2))
    results = Pipeline().run(edits.set_draw(Job(), Z).job, model_of(solid), until=PARTING)
    region = next(one for one in results.need(PARTING).regions if one.kind is Kind.GROOVE)
    assert region.ring_mm3 == pytest.approx(hand, rel=8e-3)
    assert region.cheek_mm == pytest.approx(wide, abs=1e-6)
    said = next(f for f in DRAW.findings(results) if f.code == "locked")
    assert {"fill", "draw-other"} <= {one.id for one in said.remedies} and "core" not in {
        one.id for one in said.remedies
    }
    filled = stocked(solid, Fill(region.centre_mm), height=0.0).need(STOCK)
    assert filled.lines[0].added_mm3 == pytest.approx(hand, rel=2e-3)
    made = trimesh.Trimesh(filled.mesh.vertices, filled.mesh.faces)
    assert made.is_watertight and made.euler_number == 0 and made.body_count == 1
    top = np.linalg.norm(filled.mesh.vertices[:, :2], axis=1).max()
    assert top == pytest.approx(rim, abs=1e-6)


def test_the_wish_of_the_draw_stop_turns_the_wheel_from_the_solid() -> None:
    """A square groove, 60 over 48 and 16 wide: pi (60^2 - 48^2) 16."""
    solid = wheel([(8, 0), (60, 0), (60, 4), (48, 4), (48, 20), (60, 20), (60, 24), (8, 24)])
    job = edits.set_draw(Job(), Z).job
    results = Pipeline().run(job, model_of(solid), until=PARTING)
    said = next(f for f in DRAW.findings(results) if f.code == "locked")
    assert said.figures["cheek_mm"] == pytest.approx(16.0)
    wish: Remedy = next(one for one in said.remedies if one.id == "fill")
    job = take_remedy(job, wish).job
    results = Pipeline().run(job, model_of(solid), until=STOCK)
    assert "turned after casting" in next(f for f in DRAW.findings(results) if f.code == "wish-fill").words()
    line = results.need(STOCK).lines[0]
    assert line.added_mm3 == pytest.approx(np.pi * (60**2 - 48**2) * 16, rel=2e-3)
    assert results.need(STOCK).drill == ()


def test_a_rim_a_cone_and_a_gap_are_no_grooves() -> None:
    up = np.array(Z)
    for solid in (
        wheel([(8, 0), (40, 0), (40, 24), (8, 24)]),
        wheel([(8, 0), (30, 0), (40, 24), (8, 24)]),
        wheel([(8, 0), (60, 0), (60, 4), (48, 12), (48, 24), (8, 24)]),
    ):
        mesh = mesh_of(solid)
        outward = np.flatnonzero((mesh.normals * mesh.corners.mean(axis=1) * [1, 1, 0]).sum(axis=1) > 1.0)
        middle = turned_about(mesh, outward, up)
        assert middle is not None and np.allclose(middle[:2], 0.0, atol=1e-6)
        assert groove_at(mesh, middle, up, mesh.corners[outward[0]].mean(axis=0)) is None
    # a groove that a flat breaks is not closed by a ring
    broken = vee(60, 50, 16, 4) - M.cube([40, 120, 60], True).translate([70, 0, 12])
    mesh = mesh_of(broken)
    assert groove_at(mesh, np.array([0.0, 0.0, 12.0]), up, np.array([-51.0, 0.0, 12.0])) is None


def test_pointing_at_an_outside_cone_never_fills_the_bore_in_it() -> None:
    with pytest.raises(UserFault, match="Only round holes"):
        _trouble(wheel([(8, 0), (40, 0), (30, 24), (8, 24)]), (35.0, 0.0, 12.0))


def _trouble(solid: m3.Manifold, at: tuple[float, float, float]) -> None:
    line = stocked(solid, Fill(at), height=0.0).need(STOCK).lines[0]
    if line.trouble:
        raise UserFault(line.trouble, "")


def test_holes_that_run_into_a_groove_and_noise_do_not_hide_it() -> None:
    """A grooved wheel with a hole through floor and hub, its corners a few micrometres off, as files come.

    By hand: pi (55^2 14 - 2 4 / 3 (55^2 + 55 46 + 46^2) - 46^2 6), and a little of the hole.
    """
    profile = [(9, 0), (55, 0), (55, 5), (46, 9), (46, 15), (55, 19), (55, 24), (9, 24)]
    solid = wheel(profile, 90) - M.cylinder(140, 2.5, 2.5, 24, True).rotate([90, 0, 0]).translate([0, 0, 12])
    noise = np.random.default_rng(4).normal(0, 0.004, (solid.num_vert(), 3))
    noisy = solid.warp_batch(lambda points: points + noise[: len(points)])
    hand = np.pi * (55**2 * 14 - 8 / 3 * (55**2 + 55 * 46 + 46**2) - 46**2 * 6)
    results = Pipeline().run(edits.set_draw(Job(), Z).job, model_of(noisy), until=PARTING)
    region = next(one for one in results.need(PARTING).regions if one.kind is Kind.GROOVE)
    assert np.hypot(*region.centre_mm[:2]) > 45.0
    line = stocked(noisy, Fill(region.centre_mm)).need(STOCK).lines[0]
    assert line.name == "Groove filled" and line.added_mm3 == pytest.approx(hand, rel=0.02)
    # the bore that the hole runs into is not filled by closing the hole
    bore = stocked(noisy, Fill((8.994, 0.314, 20.0))).need(STOCK).lines[0]
    assert "runs into" in bore.trouble or bore.added_mm3 == pytest.approx(np.pi * 81 * 24, rel=0.02)


def test_all_grooves_of_one_make_are_filled_by_one_line_and_others_are_left() -> None:
    """A pulley for three belts with a groove in its hub: three vees of pi (60^2 12 - 2 6 / 3 (60^2 + 60 52 + 52^2)),
    and the hub's stays.
    """
    profile: list[tuple[float, float]] = [(8.0, 0.0), (60.0, 0.0)]
    for nth in range(3):
        low = 4.0 + 16.0 * nth
        profile += [(60.0, low), (52.0, low + 6.0), (60.0, low + 12.0)]
    profile += [
        (60.0, 52.0),
        (24.0, 52.0),
        (24.0, 58.0),
        (21.0, 58.0),
        (21.0, 62.0),
        (24.0, 62.0),
        (24.0, 70.0),
        (8.0, 70.0),
    ]
    solid = wheel(profile)
    results = stocked(solid, Fill((52.0, 0.0, 26.0)), height=0.0)
    (line,) = results.need(STOCK).lines
    hand = 3 * np.pi * (60**2 * 12 - 2 * 6 / 3 * (60**2 + 60 * 52 + 52**2))
    assert line.name == "Three grooves filled" and line.figures["grooves"] == 3.0
    assert line.added_mm3 == pytest.approx(hand, rel=2e-3)
    made = trimesh.Trimesh(results.need(STOCK).mesh.vertices, results.need(STOCK).mesh.faces)
    assert made.is_watertight and made.body_count == 1
    # at the place of the hub's own it alone is filled
    (other,) = stocked(solid, Fill((21.0, 0.0, 60.0)), height=0.0).need(STOCK).lines
    assert other.name == "Groove filled"
    assert other.added_mm3 == pytest.approx(np.pi * (24**2 - 21**2) * 4, rel=1e-2)
