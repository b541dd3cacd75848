"""How much sky a face sees: all of it on a convex part, a known share at the bottom of a well."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.solid import sky
from pounce.solid.sky import openness
from tests.conftest import box, mesh_of


def test_a_convex_part_sees_the_whole_sky() -> None:
    mesh = mesh_of(m3.Manifold.sphere(20, 48))
    assert openness(mesh, np.ones(len(mesh.faces), bool)) == pytest.approx(1.0, abs=0.02)


@pytest.mark.parametrize(("radius", "deep"), [(10.0, 10.0), (10.0, 20.0)])
def test_the_floor_of_a_round_well_sees_the_view_factor_of_its_mouth(radius: float, deep: float) -> None:
    """From the middle of the floor of a cylinder the mouth is seen by r2 / (r2 + h2): the view factor of a disc from a
    point on its axis (handbooks of heat transfer). The floor's faces are small about the middle here.
    """
    well = box(60, 60, 40) - m3.Manifold.cylinder(deep + 1.0, radius, radius, 96).translate([30, 30, 40.0 - deep])
    spot = m3.Manifold.cylinder(0.02, 1.5, 1.5, 24).translate([30, 30, 40.0 - deep])
    mesh = mesh_of(well + spot)
    at = np.abs(mesh.corners[:, :, 2] - (40.0 - deep + 0.02)).max(axis=1) < 1e-6
    seen = openness(mesh, at)
    assert at.sum() > 3
    found = float(np.average(seen[at], weights=mesh.areas[at]))
    assert found == pytest.approx(radius**2 / (radius**2 + deep**2), abs=0.06)
    assert (seen[~at] == 1.0).all()


def test_what_is_kept_is_what_is_looked_at_anew_and_of_few_parts(monkeypatch: pytest.MonkeyPatch) -> None:
    asks = [mesh_of(box(40, 40, 40) - box(k, k, 30).translate([4, 4, 20])) for k in range(8, 8 + sky.KEPT + 3)]
    for mesh in asks:
        some = mesh.normals[:, 2] > -0.5
        twice = [openness(mesh, asked) for asked in (~some, some, some)]
        monkeypatch.setattr(sky, "SMALL", 0)
        anew = openness(mesh, some)
        monkeypatch.undo()
        assert np.array_equal(twice[1], anew) and np.array_equal(twice[2], anew)
        assert anew.min() < 0.9 and (twice[0][some] == 1.0).all()
    assert len(sky._KNOWN) <= sky.KEPT
