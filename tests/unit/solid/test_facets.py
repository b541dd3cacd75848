"""Which patches may be facets of a round, and which of them are strips."""

import manifold3d
import numpy as np

from pounce.solid.features.facets import Facets, facets_of
from pounce.solid.features.patches import bends_of, flat_groups
from pounce.solid.mesh import Mesh
from tests.conftest import box, mesh_of

M = manifold3d.Manifold


def of(mesh: Mesh) -> Facets:
    bends = bends_of(mesh)
    return facets_of(mesh, bends, flat_groups(mesh, bends))


def test_a_bore_has_one_seed_a_facet_and_flats_have_none() -> None:
    mesh = mesh_of(box(80, 50, 12) - M.cylinder(20, 7, 7, 48).translate([20, 25, -4]))
    facets = of(mesh)
    seeds = facets.seeds(facets.curved)
    middle = mesh.corners[seeds].mean(axis=1)
    assert len(seeds) == 48 == len(np.unique(facets.group[seeds]))
    assert np.hypot(middle[:, 0] - 20, middle[:, 1] - 25).max() < 7.0
    # a patch with no free face leads to none
    first = facets.group == facets.group[seeds[0]]
    assert set(facets.seeds(facets.curved & ~first).tolist()) == set(seeds.tolist()) - set(np.flatnonzero(first))


def test_facets_of_a_cylinder_are_strips_and_those_of_a_ball_are_not() -> None:
    mesh = mesh_of(M.cylinder(20, 7, 7, 48) + M.sphere(9, 32).translate([40, 0, 0]))
    facets = of(mesh)
    seeds = facets.seeds(facets.curved)
    on_ball = mesh.corners[seeds].mean(axis=1)[:, 0] > 20
    assert on_ball.any() and not on_ball.all()
    assert set(facets.strips(seeds).tolist()) == set(seeds[~on_ball].tolist())


def test_neighbours_are_those_over_smooth_edges() -> None:
    facets = of(mesh_of(M.cylinder(20, 7, 7, 48)))
    first, beside = facets.beside
    pairs = {(f, int(g)) for f in range(len(facets.mesh.faces)) for g in beside[first[f] : first[f + 1]]}
    assert pairs == {tuple(p) for both in (facets.pairs, facets.pairs[:, ::-1]) for p in both.tolist()}


def test_the_rim_of_faces_is_what_they_share_with_others() -> None:
    mesh = mesh_of(M.sphere(10, 24))
    bends = bends_of(mesh)
    for count in (1, 7, 60):
        faces = np.random.default_rng(count).permutation(len(mesh.faces))[:count]
        inside = np.zeros(len(mesh.faces), bool)
        inside[faces] = True
        assert bends.rim(faces).tolist() == np.flatnonzero(inside[bends.pairs].sum(axis=1) == 1).tolist()
    assert not len(bends.rim(np.arange(len(mesh.faces))))
