"""Clean, tight or locked, of shapes whose draft is known."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.draw.reachability import reach_along
from pounce.parting.joint import flat_joint
from pounce.parting.states import judged_at, pieces_of, scan_pieces
from pounce.parting.values import Judged, State
from pounce.solid.mesh import Mesh, areas_of
from tests.conftest import box, law, mesh_of

M = m3.Manifold
UP = np.array([0.0, 0.0, 1.0])


def judged(mesh: Mesh, height: float, asked: float = 1.5) -> Judged:
    reach = reach_along(mesh, UP)
    return judged_at(mesh, reach, flat_joint(UP, height), np.full(len(mesh.faces), asked), 1e-4 * mesh.diagonal)


def area(found: Judged, state: State) -> float:
    return float(areas_of(found.corners)[found.state == state].sum())


@pytest.mark.parametrize(
    ("draft", "state"), [(0.0, State.TIGHT), (1.0, State.TIGHT), (2.0, State.CLEAN), (-3.0, State.LOCKED)]
)
def test_a_pyramids_walls_by_their_draft(draft: float, state: State) -> None:
    top = 1.0 - np.tan(np.radians(draft)) * 30.0 / 20.0
    mesh = mesh_of(M.extrude(m3.CrossSection.square((40, 40), True), 30, 0, 0, (top, top)))
    found = judged(mesh, 0.0)
    walls = np.abs(mesh.normals[found.face][:, 2]) < 0.5
    assert (found.state[walls] == state).all()
    assert found.draft_deg[walls] == pytest.approx(np.full(int(walls.sum()), draft), abs=1e-6)
    assert found.state[~walls].tolist() == [State.CLEAN] * int((~walls).sum())


@pytest.mark.parametrize("height", [5.0, 11.0, 20.0])
def test_faces_are_divided_exactly_at_the_joint(height: float) -> None:
    """A double cone: above the joint its upper walls are clean; a lower wall above the joint locks."""
    mesh = mesh_of(M.cylinder(15, 10, 20, 64) + M.cylinder(15, 20, 10, 64).translate([0, 0, 15]))
    found = judged(mesh, height)
    assert areas_of(found.corners).sum() == pytest.approx(mesh.area)
    lean = np.arctan(10 / 15)
    ring = lambda low, high: np.pi * (low + high) * abs(high - low) / np.tan(lean) / np.cos(lean)  # noqa: E731
    wrong = ring(10 + 10 * height / 15, 20) if height < 15 else ring(20, 20 - 10 * (height - 15) / 15)
    assert area(found, State.LOCKED) == pytest.approx(wrong, rel=5e-3)
    over = found.corners[..., 2] - height
    assert not ((over.max(axis=1) > 1e-3) & (over.min(axis=1) < -1e-3)).any()
    assert (found.above == (over.mean(axis=1) >= 0.0)).mean() > 0.99


def test_a_level_face_in_the_joint_leaves_by_its_open_side() -> None:
    mesh = mesh_of(box(40, 40, 10) + box(20, 20, 20).translate([10, 10, 0]))
    found = judged(mesh, 10.0)
    step = (np.abs(found.corners[..., 2] - 10.0) < 1e-6).all(axis=1)
    assert step.any() and (found.state[step] == State.CLEAN).all()


def test_a_roofed_dent_leaves_with_the_half_that_fills_it() -> None:
    """A pocket in the underside that opens into the joint at its mouth."""
    mesh = mesh_of(
        box(40, 40, 20) - M.extrude(m3.CrossSection.square((20, 20), True), 10, 0, 0, (0.8, 0.8)).translate([20, 20, 0])
    )
    found = judged(mesh, 0.0)
    assert area(found, State.LOCKED) == 0.0


@law(4, 40)
def test_areas_of_a_random_lump_come_to_its_surface(seed: int) -> None:
    noise = np.random.default_rng(seed)
    parts = [M.sphere(float(noise.uniform(6, 12)), 24).translate(noise.uniform(-10, 10, 3).tolist()) for _ in range(4)]
    mesh = mesh_of(m3.Manifold.batch_boolean(parts, m3.OpType.Add))
    found = judged(mesh, float(noise.uniform(-5, 5)))
    assert sum(area(found, state) for state in State) == pytest.approx(mesh.area, rel=1e-9)
    corners, face, up, down = pieces_of(mesh, reach_along(mesh, UP))
    assert areas_of(corners).sum() == pytest.approx(mesh.area, rel=1e-6)
    assert len(face) == len(up) == len(down) == len(scan_pieces(mesh, reach_along(mesh, UP), UP).areas)
