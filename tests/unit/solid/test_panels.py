"""Convex panels of flat patches: they cover the patch once, each is convex, and there are few of them."""

import manifold3d as m3
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from pounce.solid.mesh import Mesh
from pounce.solid.panels import convex_panels
from pounce.solid.rim import rim_loops
from tests.conftest import mesh_of


def panels_of(mesh: Mesh) -> dict[int, list[int]]:
    return convex_panels(mesh, np.zeros(len(mesh.faces), np.int64), np.arange(len(mesh.faces)))


def area_of(mesh: Mesh, loop: list[int]) -> float:
    corners = mesh.vertices[loop]
    return float(np.linalg.norm(np.cross(corners, np.roll(corners, -1, axis=0)).sum(axis=0)) / 2.0)


def test_a_box_has_six() -> None:
    found = panels_of(mesh_of(m3.Manifold.cube([30, 20, 10])))
    assert len(found) == 6 and all(len(loop) == 4 for loop in found.values())


def test_a_frame_with_a_hole_takes_four_a_side_at_most() -> None:
    frame = mesh_of(m3.Manifold.cube([30, 20, 5]) - m3.Manifold.cube([10, 8, 20], True).translate([15, 10, 0]))
    found = panels_of(frame)
    # Hertel and Mehlhorn 1983: at most four times as many as the fewest; a ring of four corners wants four
    flat = [face for face in found if abs(frame.normals[face, 2]) > 0.99]
    assert 8 <= len(flat) <= 16


@settings(max_examples=25, deadline=None)
@given(sides=st.integers(3, 40), seed=st.integers(0, 1000))
def test_they_cover_the_patch_once_and_are_convex(sides: int, seed: int) -> None:
    """A prism on a star: its walls and its two ragged ends."""
    turn = np.random.default_rng(seed)
    around = 2.0 * np.pi * np.arange(sides) / sides
    size = turn.uniform(4.0, 20.0, sides)
    outline = np.column_stack([size * np.cos(around), size * np.sin(around)])
    mesh = mesh_of(m3.CrossSection([outline]).extrude(7.0))
    found = panels_of(mesh)
    assert sum(area_of(mesh, loop) for loop in found.values()) == pytest.approx(mesh.area, rel=1e-9)
    for face, loop in found.items():
        corners = mesh.vertices[loop]
        along = np.roll(corners, -1, axis=0) - corners
        turns = np.cross(np.roll(along, 1, axis=0), along) @ mesh.normals[face]
        assert turns.min() > -1e-6
    assert len(found) < len(mesh.faces) or sides == 3


def test_what_is_refused_stays_apart_and_groups_are_kept_apart() -> None:
    mesh = mesh_of(m3.Manifold.cube([30, 20, 10]))
    group, all_ = np.zeros(12, np.int64), np.arange(12)
    assert len(convex_panels(mesh, group, all_, lambda _face, _loop: False)) == 12
    assert len(convex_panels(mesh, np.arange(12), all_)) == 12


def test_rims_of_holes_that_were_filled_flush_are_corners_of_no_panel() -> None:
    """A plate whose holes were filled: the plugs' ends lie in its faces, by themselves a hundred slivers each."""
    plate = m3.Manifold.cube([60, 40, 5])
    hole = mesh_of(plate - m3.Manifold.cylinder(20, 6, 6, 64, True).translate([20, 20, 0]))
    top = np.flatnonzero(hole.normals[:, 2] > 0.99)
    rim = rim_loops(hole.faces[top])[0]
    inner = next(loop for loop in rim if len(loop) == 64)
    plug = np.stack([np.full(62, inner[0]), inner[2:], inner[1:-1]], axis=1)
    whole = Mesh.of(hole.vertices, np.concatenate([hole.faces[top], plug]))
    assert whole.normals[-1, 2] > 0.99 and len(whole.faces) > 120
    found = panels_of(whole)
    assert len(found) == 1 and sorted(map(len, found.values())) == [4]
    assert sum(area_of(whole, loop) for loop in found.values()) == pytest.approx(60 * 40, rel=1e-9)
    refused = convex_panels(whole, np.zeros(len(whole.faces), np.int64), np.arange(len(whole.faces)), lambda *_: False)
    assert len(refused) == len(whole.faces)
    # a hole that stays open has its rim all the same
    open_one = convex_panels(hole, np.zeros(len(hole.faces), np.int64), top)
    area = sum(area_of(hole, loop) for loop in open_one.values())
    assert area == pytest.approx(float(hole.areas[top].sum()), rel=1e-9)
