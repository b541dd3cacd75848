"""The small renderer for paper: what is drawn stands where the view says, in the order of depth."""

import manifold3d
import numpy as np
import pytest

from pounce.solid.mesh import joined
from pounce.solid.picture import INK, View, render, standing_view
from tests.conftest import box, mesh_of

M = manifold3d.Manifold
FRONT = View(np.eye(3), 4.0, np.zeros(3), 200, 160)


def shown(picture: np.ndarray) -> np.ndarray:
    """Where something is drawn on transparent paper."""
    return np.asarray(picture[..., 3] > 128)


def test_a_point_falls_on_its_pixel() -> None:
    found = FRONT.project(np.array([[0.0, 0, 0], [10, 0, 5], [0, 10, -5]]))
    assert found == pytest.approx(np.array([[100, 80, 0], [140, 80, 5], [100, 40, -5]]))


def test_a_box_covers_its_own_rectangle() -> None:
    mesh = mesh_of(box(20, 10, 5).translate([-10, -5, 0]))
    there = shown(render(mesh, FRONT, background=None))
    rows, columns = np.flatnonzero(there.any(axis=1)), np.flatnonzero(there.any(axis=0))
    assert (columns[0], columns[-1]) == pytest.approx((60, 139), abs=1)
    assert (rows[0], rows[-1]) == pytest.approx((60, 99), abs=1)
    assert there.sum() == pytest.approx(80 * 40, rel=0.05)


def test_the_nearer_hides_the_farther() -> None:
    near, far = mesh_of(box(10, 10, 1).translate([-5, -5, 20])), mesh_of(box(30, 30, 1).translate([-15, -15, 0]))
    colours = np.concatenate([np.tile([200.0, 0, 0], (12, 1)), np.tile([0.0, 0, 200], (12, 1))])
    for first, second in ((near, far), (far, near)):
        order = colours if first is near else colours[::-1]
        picture = render(joined([first, second]), FRONT, order)
        middle = picture[80, 100].astype(int)
        corner = picture[60 - 30, 100 - 50].astype(int)
        assert middle[0] > middle[2] + 50
        assert corner[2] > corner[0] + 50


def test_edges_are_inked_and_flat_faces_are_not() -> None:
    mesh = mesh_of(box(20, 20, 5).translate([-10, -10, 0]))
    picture = render(mesh, FRONT).astype(int)
    inked = np.abs(picture[..., :3] - INK).sum(axis=2) < 300  # averaged down: half ink, half paper
    assert inked[50:110, 58:62].any(axis=1).all() and inked[50:110, 138:142].any(axis=1).all()
    assert not inked[60:100, 80:120].any()


def test_a_line_is_drawn_where_nothing_stands_before_it() -> None:
    mesh = mesh_of(box(20, 20, 5).translate([-10, -10, 0]))
    before = np.array([[[-30.0, 0, 10], [30, 0, 10]]])
    behind = np.array([[[-30.0, 0, -10], [30, 0, -10]]])

    def inked(lines: np.ndarray) -> np.ndarray:
        picture = render(mesh, FRONT, lines=lines).astype(int)
        return np.asarray(np.abs(picture[80, :, :3] - INK).sum(axis=1) < 60)

    assert inked(before)[70:130].all()
    assert not inked(behind)[70:130].any()
    assert inked(behind)[10:50].all()  # beside the part it is seen


def test_sand_is_dotted() -> None:
    mesh = mesh_of(box(40, 30, 5).translate([-20, -15, 0]))
    plain = render(mesh, FRONT).astype(int)
    dotted = render(mesh, FRONT, grains=np.ones(12, bool)).astype(int)
    darker = (dotted[..., :3].sum(axis=2) < plain[..., :3].sum(axis=2) - 20)[40:120, 40:160]
    assert 0.005 < darker.mean() < 0.3


@pytest.mark.parametrize("up", [(0, 0, 1), (0, 0, -1), (1, 0, 0), (0.6, 0.0, 0.8)])
@pytest.mark.parametrize("shape", [(320, 200), (120, 200)])
def test_a_standing_view_shows_all_of_it_upright(up: tuple[float, ...], shape: tuple[int, int]) -> None:
    mesh = mesh_of(box(50, 20, 10) + M.cylinder(40, 4, 4).translate([10, 10, 0]))
    way = np.array(up, float)
    view = standing_view(mesh, way, *shape)
    seen = view.project(mesh.vertices)
    assert seen[:, 0].min() >= 0 and seen[:, 0].max() <= shape[0]
    assert seen[:, 1].min() >= 0 and seen[:, 1].max() <= shape[1]
    # it fills the picture one way, and what is higher along the draw is higher in it
    assert max(np.ptp(seen[:, 0]) / shape[0], np.ptp(seen[:, 1]) / shape[1]) == pytest.approx(0.88, abs=0.01)
    foot, head = view.project(np.array([mesh.bounds.mean(axis=0), mesh.bounds.mean(axis=0) + 10 * way]))
    assert head[1] < foot[1] and head[0] == pytest.approx(foot[0])
    assert view.turn @ view.turn.T == pytest.approx(np.eye(3)) and np.linalg.det(view.turn) == pytest.approx(1.0)
