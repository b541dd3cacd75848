"""Features from the faces that a STEP file tells."""

from pathlib import Path

import manifold3d as m3
import numpy as np
import pytest

from pounce.part.reading import read_model
from pounce.solid.features.find import features_of
from pounce.solid.features.importedfaces import has_imported_faces, imported_rounds
from pounce.solid.features.patches import bends_of, flat_groups
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of

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


def told(solid: m3.Manifold, ids: np.ndarray, way: tuple[float, float, float] = (0.0, 0.0, 1.0)) -> Mesh:
    """The solid's mesh, standing along ``way``, with faces of a file by ``ids``."""
    mesh = mesh_of(solid)
    turned = Mesh.of(mesh.vertices @ turn_to_z(np.array(way)) + [40.0, -7.0, 3.0], mesh.faces)
    return turned.tagged(turned.tags.changed(imported=ids))


@pytest.mark.parametrize("way", [(0.0, 0.0, 1.0), (0.6, 0.0, 0.8), (0.48, -0.6, 0.64)])
def test_each_kind_of_face_is_told_as_what_it_is(way: tuple[float, float, float]) -> None:
    """One face each for the wall of a cylinder, a cone and a ball; flats for the rest."""
    for solid, kind, radius in (
        (m3.Manifold.cylinder(30, 9, 9, 40), "cylinder", 9.0),
        (m3.Manifold.cylinder(30, 12, 6, 40), "cone", None),
        (m3.Manifold.sphere(10, 24), "ball", 10.0),
    ):
        plain = mesh_of(solid)
        flat = (np.abs(plain.normals[:, 2]) > 0.999) & (kind != "ball")
        ids = np.where(flat, 1 + (plain.normals[:, 2] > 0.0), 0)
        mesh = told(solid, ids, way)
        found = imported_rounds(mesh, flat_groups(mesh, bends_of(mesh)), 0.01)
        assert [one.shape.kind for one in found] == [kind]
        assert set(found[0].faces.tolist()) == set(np.flatnonzero(ids == 0).tolist())
        assert found[0].misfit_mm < 1e-6
        if radius is not None:
            assert found[0].shape.radius == pytest.approx(radius)
        if kind == "cone":
            assert abs(found[0].shape.slope) == pytest.approx(6.0 / 30.0)
        if kind != "ball":
            assert abs(float(found[0].shape.axis @ np.array(way))) == pytest.approx(1.0)


def test_a_free_form_face_gives_none() -> None:
    lump = mesh_of(m3.Manifold.sphere(10, 24))
    waved = Mesh.of(lump.vertices * (1.0 + 0.1 * np.sin(lump.vertices[:, :1])), lump.faces)
    mesh = waved.tagged(waved.tags.changed(imported=np.zeros(len(waved.faces), np.int64)))
    assert has_imported_faces(mesh)
    assert imported_rounds(mesh, flat_groups(mesh, bends_of(mesh)), 0.01) == []


def test_triangles_that_are_their_own_faces_tell_nothing() -> None:
    mesh = mesh_of(box(10, 10, 10))
    assert not has_imported_faces(mesh)
    assert not has_imported_faces(mesh.tagged(mesh.tags.changed(imported=np.arange(12))))
    assert has_imported_faces(mesh.tagged(mesh.tags.changed(imported=np.arange(12) // 2)))
