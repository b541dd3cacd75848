"""The camera's arithmetic, and carrying values between processes."""

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from pounce.base.packing import pack, unpack
from pounce.bench.view3d.camera import Camera, fitted
from pounce.bench.view3d.finish import blurred
from pounce.bench.view3d.painter import opened
from pounce.solid.frame import unit
from tests.conftest import box, mesh_of

angles = st.floats(-360, 360)


@given(angles, st.floats(-89, 89), st.tuples(angles, angles, angles).filter(lambda v: np.linalg.norm(v) > 1))
def test_axes_are_square_and_the_draw_points_up(round_deg: float, tip: float, up: tuple[float, float, float]) -> None:
    axes = Camera(up, round_deg, tip).axes()
    assert axes @ axes.T == pytest.approx(np.eye(3), abs=1e-9)
    assert np.linalg.det(axes) == pytest.approx(1.0)
    assert float(axes[1] @ unit(up)) == pytest.approx(np.cos(np.radians(tip)), abs=1e-6)


def test_a_fitted_view_holds_the_part_and_sliding_moves_it_by_pixels() -> None:
    points = mesh_of(box(120, 80, 56)).vertices
    camera = fitted(Camera(), points, 770, 500)
    seen = camera.project(points, 770, 500)
    assert seen[:, 0].min() > 0 and seen[:, 0].max() < 770
    assert seen[:, 1].min() > 0 and seen[:, 1].max() < 500
    moved = camera.slid(30, -12, 500).project(points, 770, 500)
    assert (moved - seen)[:, :2] == pytest.approx(np.tile([30.0, -12.0], (len(points), 1)))


def test_a_value_crosses_with_its_arrays_read_only(tmp_path: Path) -> None:
    mesh = mesh_of(box(1, 2, 3))
    back = unpack(pack(tmp_path / "a.bin", {"mesh": mesh, "note": ("x", 1.5)}))
    assert back["note"] == ("x", 1.5)
    assert np.array_equal(back["mesh"].vertices, mesh.vertices)
    with pytest.raises(ValueError, match="read-only"):
        back["mesh"].faces[0, 0] = 7


def test_the_opened_cope_half_shows_its_split_face_and_stays_its_size() -> None:
    half = mesh_of(box(40, 30, 10))
    turned = opened(half, np.array([0.0, 0.0, 1.0]), 0.0)
    assert turned.volume == pytest.approx(half.volume)
    split = np.argmin(half.normals[:, 2])
    assert turned.normals[split][1] < -0.3 and turned.normals[split][2] > -0.5


def test_the_blur_keeps_the_light_and_its_width() -> None:
    spot = np.zeros((101, 101))
    spot[50, 50] = 1.0
    soft = blurred(spot, 6.0)
    x = np.arange(101) - 50
    assert soft.sum() == pytest.approx(1.0)
    assert np.sqrt((soft.sum(axis=0) * x * x).sum()) == pytest.approx(6.0, rel=0.15)
