"""Walls that wind round the draw, against the twist that they were made with."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.draw.reachability import reach_along
from pounce.draw.screw import screw_of
from pounce.job import edits
from pounce.job.job import Job
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.places import place_findings
from pounce.route.stops import PARTING
from pounce.solid.mesh import Mesh
from tests.conftest import mesh_of, model_of

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])


def gear(twist_deg: float, teeth: int = 20, bore: float = 8.0) -> m3.Manifold:
    """A wheel 24 thick whose teeth turn by so much from face to face."""
    corners = []
    for k in range(teeth):
        for share, radius in ((-0.3, 30.0), (-0.12, 36.0), (0.12, 36.0), (0.3, 30.0)):
            turn = 2.0 * np.pi * (k + share) / teeth
            corners.append((radius * np.cos(turn), radius * np.sin(turn)))
    return m3.CrossSection([corners]).extrude(24.0, 24, twist_deg) - M.cylinder(80, bore, bore, 96, True)


def wound(mesh: Mesh) -> float | None:
    reach = reach_along(mesh, UP)
    found = screw_of(mesh, ~reach.up & ~reach.down, UP)
    return None if found is None else found.lead_mm


@pytest.mark.parametrize("twist", [20.0, 40.0, -30.0])
def test_the_lead_is_that_of_the_twist_wherever_the_axis_stands(twist: float) -> None:
    """A turn of 360 degrees takes 24 mm x 360 / twist."""
    lead = 24.0 * 360.0 / twist
    assert wound(mesh_of(gear(twist))) == pytest.approx(lead, rel=5e-3)
    assert wound(mesh_of(gear(twist).translate([130.0, -70.0, 15.0]))) == pytest.approx(lead, rel=5e-3)


def test_what_no_turn_frees_does_not_wind() -> None:
    straight = gear(0.0)
    assert wound(mesh_of(straight)) is None, "spur teeth draw straight"
    slanted = M.cube([40, 30, 50]).transform([[1, 0, 0.4, 0], [0, 1, 0, 0], [0, 0, 1, 0]])
    assert wound(mesh_of(slanted + M.cube([80, 50, 6]).translate([0, -10, -5]))) is None, "a tilted draw frees it"
    # a pin across, and a web whose holes would not turn with the teeth
    crossed = gear(30.0) + M.cylinder(120, 14, 14, 48, True).rotate([90, 0, 0]).translate([0, 0, 12])
    holed = gear(30.0, bore=2.0)
    for k in range(4):
        holed -= M.cylinder(80, 9, 9, 48, True).translate([16, 0, 0]).rotate([0, 0, 90 * k])
    assert wound(mesh_of(crossed)) is None and wound(mesh_of(holed)) is None
    groove = M.cylinder(40, 30, 30, 96) - (M.cylinder(10, 40, 40, 96) - M.cylinder(10, 22, 22, 96)).translate(
        [0, 0, 15]
    )
    assert wound(mesh_of(groove)) is None


def test_it_is_told_once_in_the_place_of_all_its_teeth() -> None:
    model = model_of(gear(30.0))
    job = edits.set_draw(with_model(Job(), model), (0.0, 0.0, 1.0)).job
    results = Pipeline().run(job, model, until=PARTING)
    said = [one for one in place_findings(results) if one.mark == "locked"]
    assert [one.code for one in said] == ["winds"]
    assert said[0].figures["lead_mm"] == pytest.approx(288.0, rel=5e-3) and said[0].figures["right_hand"] == 1.0
    assert said[0].figures["area_mm2"] == pytest.approx(results.need(PARTING).locked_mm2)
