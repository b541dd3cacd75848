"""Features from STEP faces, thin walls and filler as maps, and the legs of a U."""

from pathlib import Path

import manifold3d as m3
import numpy as np
import pytest

from pounce.part.reading import read_model
from pounce.solid.features.find import features_of
from pounce.solid.features.importedfaces import has_imported_faces, imported_rounds
from pounce.solid.features.patches import bends_of, flat_groups
from pounce.solid.mesh import Mesh
from pounce.stock.values import Camber, Draft
from tests.conftest import box
from tests.unit.stock.helpers import is_closed, stocked

STEP = Path(__file__).parents[2] / "data" / "plate-with-bore.step"


def test_a_step_model_gives_one_feature_for_each_of_its_faces() -> None:
    """The plate of the file: six flat faces and one bore, told by the file's own faces (the reader's ids), not by
    search.
    """
    mesh = read_model(STEP).bodies[0].mesh
    assert has_imported_faces(mesh)
    given = imported_rounds(mesh, flat_groups(mesh, bends_of(mesh)), 0.002)
    assert {one.shape.kind for one in given} == {"cylinder"}
    for one in given:
        assert len(np.unique(mesh.tags.imported[one.faces])) == 1
        assert set(np.flatnonzero(mesh.tags.imported == mesh.tags.imported[one.faces[0]])) == set(one.faces.tolist())
    found = features_of(mesh)
    assert [f.kind for f in found].count("plane") == 6
    bore = next(f for f in found if f.kind == "bore")
    assert bore.full
    assert bore.misfit_mm < 1e-4


def test_halves_of_a_round_that_a_file_keeps_apart_become_one() -> None:
    """A bore and a cone, each in two halves with ids of their own, as CAD programs write them."""
    solid = box(60, 60, 20) - m3.Manifold.cylinder(20, 8, 12, 64).translate([30, 30, 0])
    raw = solid.to_mesh64()
    plain = Mesh.of(np.asarray(raw.vert_properties)[:, :3], np.asarray(raw.tri_verts, np.int64))
    middle = plain.corners.mean(axis=1)
    flat = np.abs(plain.normals).max(axis=1) > 0.9999
    side = np.where(
        flat, 10 + np.argmax(plain.normals, axis=1) + 3 * np.argmin(plain.normals, axis=1), middle[:, 0] > 30.0
    )
    mesh = plain.tagged(plain.tags.changed(imported=side.astype(np.int64)))
    assert has_imported_faces(mesh)
    cones = [f for f in features_of(mesh) if f.kind == "cone"]
    assert len(cones) == 1
    assert cones[0].full
    assert cones[0].half_angle_deg == pytest.approx(np.degrees(np.arctan(4.0 / 20.0)), abs=0.1)
    assert cones[0].radius_mm == pytest.approx(12.0, abs=0.02)


def test_thin_walls_are_marked_where_they_are() -> None:
    """A 1.5 mm fin on a block of 20: aluminium-silicon runs at 3, so the fin's two sides are thin and the block is
    not.
    """
    solid = box(60, 40, 20) + box(60, 1.5, 40).translate([0, 20, 10])
    stock = stocked(solid).stock
    assert stock is not None
    middle = stock.mesh.corners.mean(axis=1)
    fin = (middle[:, 2] > 20.01) & (np.abs(stock.mesh.normals[:, 1]) > 0.9)
    assert stock.thin[fin].all()
    assert not stock.thin[(np.abs(stock.mesh.normals[:, 2]) > 0.9) & (middle[:, 2] < 20.01)].any()
    assert stock.thin_mm2 == pytest.approx(2.0 * 60.0 * 30.0, rel=0.03)


def test_filler_is_thickest_at_the_parting_and_nothing_at_the_far_end() -> None:
    """2 degrees over 20 mm: tan 2 x 20 = 0.698 mm at the joint, none 20 mm off it."""
    stock = stocked(box(50, 50, 40), Draft(2.0), height=20.0, pattern_kind="original-part").stock
    assert stock is not None
    depth = np.array(stock.filler_mm)
    z = stock.mesh.vertices[:, 2]
    assert depth[np.abs(z - 20.0) < 1e-6] == pytest.approx(20.0 * np.tan(np.radians(2.0)), abs=1e-3)
    assert np.abs(depth[(z < 1e-6) | (z > 40.0 - 1e-6)]).max() < 1e-6


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


@pytest.mark.parametrize("noise_mm", [0.0, 0.001, 0.002, 0.004])
def test_bores_are_told_on_a_mesh_with_noise(noise_mm: float) -> None:
    """A blind bore of 12 and a through one of 8, their corners off by a normal spread: one feature each, six flat
    faces and the floor.
    """
    solid = box(60, 40, 30) - m3.Manifold.cylinder(20, 6, 6, 40).translate([20, 20, 15])
    raw = (solid - m3.Manifold.cylinder(60, 4, 4, 32, True).translate([45, 20, 0])).to_mesh64()
    vertices = np.asarray(raw.vert_properties)[:, :3]
    mesh = Mesh.of(
        vertices + np.random.default_rng(3).normal(0.0, noise_mm, vertices.shape), np.asarray(raw.tri_verts, np.int64)
    )
    found = features_of(mesh)
    assert [f.kind for f in found].count("plane") == 7
    rounds = sorted((f for f in found if f.kind != "plane"), key=lambda f: f.radius_mm)
    assert [(f.kind, f.through) for f in rounds] == [("bore", True), ("bore", False)]
    assert [f.radius_mm for f in rounds] == pytest.approx([4.0, 6.0], abs=0.01)
    assert all(f.misfit_mm < max(1.5 * noise_mm, 1e-6) for f in rounds)
