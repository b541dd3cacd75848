"""Features of a bare mesh against the solids they were made from."""

import time
from pathlib import Path

import manifold3d as m3
import numpy as np
import pytest

from pounce.part.reading import read_model
from pounce.solid.features.find import feature_numbers, features_of
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Mesh
from tests.conftest import mesh_of

M = m3.Manifold


def of_kind(mesh: Mesh, kind: str) -> list[Feature]:
    return [feature for feature in features_of(mesh) if feature.kind == kind]


def angle_deg(one: np.ndarray, two: np.ndarray) -> float:
    return float(np.degrees(np.arctan2(np.linalg.norm(np.cross(one, two)), abs(one @ two))))


@pytest.mark.parametrize("facets", [12, 24, 200])
@pytest.mark.parametrize("turned", [(0.0, 0.0, 0.0), (31.0, -47.0, 12.0)])
def test_a_plate_with_bore_boss_and_taper(facets: int, turned: tuple[float, float, float]) -> None:
    """Radii within 0.02 mm and axes within 0.1 degree, coarse and fine, straight and askew."""
    plate = M.cube([90, 60, 12]) - M.cylinder(20, 7.5, 7.5, facets).translate([20, 30, -4])
    plate -= M.cylinder(10, 4, 4, facets).translate([70, 15, 5])
    plate += M.cylinder(14, 11, 11, facets).translate([55, 38, 11])
    plate += M.cylinder(10, 6, 4.5, facets).translate([75, 45, 11])
    mesh = mesh_of(plate.rotate(list(turned)).translate([200.0, -90.0, 33.0]))
    turn = _rotation(turned)
    bores, bosses, cones = of_kind(mesh, "bore"), of_kind(mesh, "boss"), of_kind(mesh, "cone")
    assert sorted(round(f.radius_mm, 2) for f in bores) == [4.0, 7.5]
    assert [round(f.radius_mm, 2) for f in bosses] == [11.0]
    assert [f.half_angle_deg for f in cones] == pytest.approx([np.degrees(np.arctan(0.15))], abs=0.1)
    assert cones[0].radius_mm == pytest.approx(6.0 - 0.15 * 1.0, abs=0.02)  # it begins on the plate
    for feature in (*bores, *bosses, *cones):
        assert angle_deg(feature.axis, turn[:, 2]) < 0.1
        assert feature.exact and feature.full
    wide = next(f for f in bores if f.radius_mm > 5)
    blind = next(f for f in bores if f.radius_mm < 5)
    assert wide.through and wide.length_mm == pytest.approx(12.0, abs=0.02)
    assert not blind.through and blind.length_mm == pytest.approx(7.0, abs=0.02)
    assert float(blind.axis @ turn[:, 2]) > 0.99  # it looks out of its open end


def _rotation(degrees: tuple[float, float, float]) -> np.ndarray:
    x, y, z = np.radians(degrees)
    rx = np.array([[1, 0, 0], [0, np.cos(x), -np.sin(x)], [0, np.sin(x), np.cos(x)]])
    ry = np.array([[np.cos(y), 0, np.sin(y)], [0, 1, 0], [-np.sin(y), 0, np.cos(y)]])
    rz = np.array([[np.cos(z), -np.sin(z), 0], [np.sin(z), np.cos(z), 0], [0, 0, 1]])
    return rz @ ry @ rx


def test_a_block_has_six_planes_with_their_sizes() -> None:
    mesh = mesh_of(M.cube([40, 30, 20]))
    planes = of_kind(mesh, "plane")
    assert len(planes) == 6
    assert {plane.size_mm for plane in planes} == {(40.0, 30.0), (40.0, 20.0), (30.0, 20.0)}
    numbers = feature_numbers(mesh, features_of(mesh))
    assert (numbers >= 0).all()
    assert features_of(mesh)[numbers[0]].words("mm").startswith("face ")


@pytest.mark.parametrize("segments", [6, 24])
def test_a_rounded_corner_is_a_fillet_and_an_edge_a_rounding(segments: int) -> None:
    """An L with a filleted inside corner of 6 mm and a rounded outside edge of 4 mm, both of arc pieces."""
    turns = np.radians(np.linspace(0, 90, segments + 1))
    inner = [(16 - 6 * np.sin(t), 16 - 6 * np.cos(t)) for t in turns]  # from the floor up to the wall
    outer = [(4 - 4 * np.sin(t), 36 + 4 * np.cos(t)) for t in turns]
    outline = [(0.0, 0.0), (40.0, 0.0), (40.0, 10.0), *inner, (10.0, 40.0), *outer]
    mesh = mesh_of(m3.CrossSection([outline]).extrude(50))
    assert [f.radius_mm for f in of_kind(mesh, "fillet")] == pytest.approx([6.0], abs=0.02)
    assert [f.radius_mm for f in of_kind(mesh, "rounding")] == pytest.approx([4.0], abs=0.02)


def test_raised_and_sunk_marks_are_one_feature_a_face() -> None:
    plate = M.cube([60, 30, 8])
    bars = [M.cube([2, 12, 3]).translate([8 + 6 * k, 9, 6.2]) for k in range(5)]
    marked = M.batch_boolean([plate, *bars], m3.OpType.Add) - M.cube([10, 4, 3]).translate([45, 13, 7.2])
    found = {round(f.height_mm, 3): f.notes["pieces"] for f in of_kind(mesh_of(marked), "relief")}
    assert found == {1.2: 5.0, -0.8: 1.0}


def test_faces_of_a_step_file(request: pytest.FixtureRequest) -> None:
    model = read_model(Path(request.config.rootpath) / "tests" / "data" / "plate-with-bore.step")
    bore = of_kind(model.bodies[0].mesh, "bore")
    assert [f.radius_mm for f in bore] == pytest.approx([6.0], abs=0.02)
    assert bore[0].through


def test_a_noisy_round_says_how_well_it_fits() -> None:
    mesh = mesh_of(M.cylinder(400, 200, 200, 90))
    noise = np.random.default_rng(3).normal(scale=0.05, size=mesh.vertices.shape)
    rough = Mesh.of(mesh.vertices + noise, mesh.faces)
    found = [f for f in features_of(rough) if f.kind in ("boss", "cone", "ball") and f.area_mm2 > 0.3 * mesh.area]
    assert found and not found[0].exact
    assert "fits within" in found[0].words()


@pytest.mark.alone
def test_two_hundred_thousand_triangles_in_time() -> None:
    """Wanted: 2 s. Twice that is allowed for here, where other work may run beside."""
    part = M.cube([80, 60, 20]) - M.cylinder(30, 12, 12, 256).translate([40, 30, -5]) + M.cylinder(40, 6, 6, 256)
    part = part.refine_to_length(0.62)
    assert 150_000 < part.num_tri() < 300_000
    mesh = mesh_of(part)
    begun = time.perf_counter()
    found = features_of(mesh)
    assert time.perf_counter() - begun < 4.0
    assert {round(f.radius_mm, 2) for f in found if f.kind in ("bore", "boss")} >= {12.0, 6.0}


def test_a_small_bore_among_free_form_ground_is_found() -> None:
    """A lug with a hole of 7 on a lump that no shape fits: its facets are the smallest of all, and come last."""

    def lumpy(v: tuple[float, float, float]) -> tuple[float, float, float]:
        x, y, z = v
        size = 1.0 + 0.12 * np.sin(0.21 * x + 0.3) * np.cos(0.17 * y) + 0.1 * np.sin(0.15 * z + 0.11 * x)
        return x * size, y * size, z * size

    lump = m3.Manifold.sphere(50, 48).warp(lumpy)
    lug = m3.Manifold.cube([12, 30, 40], True).translate([0, 0, 60])
    solid = (lump + lug) - m3.Manifold.cylinder(60, 3.5, 3.5, 32, True).rotate([0, 90, 0]).translate([0, 0, 72])
    (bore,) = of_kind(mesh_of(solid), "bore")
    assert bore.radius_mm == pytest.approx(3.5, abs=0.02) and bore.turned_deg == pytest.approx(360.0)
    assert bore.through and abs(bore.axis[0]) > 0.9999


def test_a_free_form_has_few_rounds_and_a_plate_all_of_its_holes() -> None:
    """Small patches that look round are given up after some dozens; holes and bosses that go round are not, however
    many there are.
    """

    def bent(p: np.ndarray) -> np.ndarray:
        wave = np.sin(p[:, 0] / 9.0) + np.sin(p[:, 1] / 7.0 + 1.0) + np.sin(p[:, 2] / 11.0 + 2.0)
        return np.asarray(p * (1.0 + 0.06 * wave)[:, None])

    lumps = features_of(mesh_of(M.sphere(50, 224).warp_batch(bent)))
    assert 0 < len(lumps) < 130  # 286 when none were given up
    plate = M.cube([240, 200, 6])
    plate -= M.compose(
        [M.cylinder(20, 5, 5, 24).translate([20 * i, 20 * j, -5]) for i in range(1, 12) for j in range(1, 10)]
    )
    assert len(of_kind(mesh_of(plate), "bore")) == 99


def test_bolt_holes_are_found_beside_pipes_that_end_on_a_ball() -> None:
    """Where faceted pipes meet a faceted ball their strips end off the round, by the chord's height: those are tried
    first, lead nowhere, and must not take the turn of eight small bores that are exact.
    """
    pipe = M.cylinder(150, 28, 28, 96, True).rotate([0.0, 90.0, 0.0])
    flange = M.cylinder(14, 48, 48, 96, True).rotate([0.0, 90.0, 0.0])
    valve = M.sphere(42, 72) + pipe + flange.translate([-75, 0, 0]) + flange.translate([75, 0, 0])
    valve += M.cylinder(60, 26, 26, 96, True).translate([0, 0, 40]) + M.cylinder(12, 40, 40, 96, True).translate(
        [0, 0, 70]
    )
    valve -= M.sphere(34, 72) + M.cylinder(170, 18, 18, 96, True).rotate([0.0, 90.0, 0.0])
    valve -= M.cylinder(60, 18, 18, 96, True).translate([0, 0, 50])
    hole = M.cylinder(30, 5, 5, 96, True).rotate([0.0, 90.0, 0.0])
    places = [(x, 26.87 * y, 26.87 * z) for x in (-75, 75) for y in (-1, 1) for z in (-1, 1)]
    for place in places:
        valve -= hole.translate(list(place))
    bores = [one for one in of_kind(mesh_of(valve), "bore") if one.radius_mm < 6.0]
    assert [round(one.radius_mm, 3) for one in bores] == [5.0] * 8
    assert sorted(tuple(one.centre.round(1).tolist()) for one in bores) == sorted(
        (float(x), round(y, 1), round(z, 1)) for x, y, z in places
    )
    assert all(one.is_hole and one.through for one in bores)
