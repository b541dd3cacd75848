"""Draw and parting against solids whose answer is known from geometry alone."""

import manifold3d
import numpy as np
import pytest

from pounce.base.progress import silent
from pounce.draw.reachability import reach_along
from pounce.draw.scan import Pieces, locked_at, scan
from pounce.draw.stop import draw_stop
from pounce.draw.values import DrawChoices
from pounce.metals.method import MethodChoices, resolve
from pounce.part.model import PartChoices
from pounce.part.stop import part_stop
from pounce.parting.stop import parting_stop
from pounce.parting.values import PartingChoices, PartingResult, State
from pounce.solid.frame import turn_to_z, unit
from pounce.solid.mesh import Floats
from tests.conftest import box, law, model_of

Z = (0.0, 0.0, 1.0)


def parted(
    *solids: manifold3d.Manifold, draw: tuple[float, float, float] = Z, height: float | None = None, draft: float = 2.0
) -> PartingResult:
    part = part_stop(PartChoices(), model_of(*solids), silent)
    method = resolve(MethodChoices(draft_deg=draft))
    drawn = draw_stop(DrawChoices(direction=draw), part, silent)
    return parting_stop(PartingChoices(height_mm=height), part, method, drawn, silent)


@pytest.mark.parametrize("angle", [0.6, 1.0, 3.0, 7.0])
def test_a_cone_frustum_has_the_draft_of_its_angle(angle: float) -> None:
    """Frustum: lateral area pi (R + r) s; facets of an n-gon lean a little less than the cone itself."""
    height, low, sides = 40.0, 30.0, 720
    top = low - height * np.tan(np.radians(angle))
    result = parted(manifold3d.Manifold.cylinder(height, low, top, sides), draft=angle - 0.1)
    lateral = np.pi * (low + top) * np.hypot(height, low - top)
    assert result.kind == "flat-back"
    assert result.height_mm == pytest.approx(0.0, abs=1e-9)
    assert result.locked_mm2 == 0.0
    assert result.tight_mm2 == 0.0
    assert result.least_draft_deg == pytest.approx(angle, abs=0.01)
    steeper = parted(manifold3d.Manifold.cylinder(height, low, top, sides), draft=angle + 0.1)
    assert steeper.tight_mm2 == pytest.approx(lateral, rel=1e-3)


def test_a_sphere_is_parted_at_its_equator_and_nothing_locks() -> None:
    """A convex body has nothing locked for any draw; the band under the draft asked is 2 pi R (2 R sin a)."""
    radius, asked = 25.0, 5.0
    result = parted(manifold3d.Manifold.sphere(radius, 300).translate([7.0, -3.0, 11.0]), draft=asked)
    assert result.height_mm == pytest.approx(11.0, abs=0.05)
    assert result.locked_mm2 < 1e-3 * 4 * np.pi * radius**2
    band = 2 * np.pi * radius * 2 * radius * np.sin(np.radians(asked))
    assert result.tight_mm2 == pytest.approx(band, rel=0.05)


@pytest.mark.parametrize("direction", [Z, (1.0, 2.0, 0.5), (-0.3, 0.1, 0.9)])
def test_a_convex_prism_never_locks_at_its_best_joint_more_than_its_shape_must(
    direction: tuple[float, float, float],
) -> None:
    """Every face of a convex body is reachable from the side it looks to: nothing locks whatever the parting."""
    solid = box(30, 20, 10) ^ manifold3d.Manifold.sphere(22, 60).translate([15, 10, 5])
    result = parted(solid, draw=direction)
    assert result.locked_any_mm2 == 0.0


def test_a_tube_across_the_draw_locks_its_whole_bore() -> None:
    """Bore of radius r and length l across the draw: 2 pi r l is reachable from neither side."""
    outer = manifold3d.Manifold.cylinder(50, 15, 15, 400, True)
    bore = manifold3d.Manifold.cylinder(60, 9, 9, 400, True)
    result = parted((outer - bore).rotate([90, 0, 0]))
    assert result.locked_any_mm2 == pytest.approx(2 * np.pi * 9 * 50, rel=2e-3)
    assert result.locked_mm2 == pytest.approx(2 * np.pi * 9 * 50, rel=5e-3)


def test_an_upright_tube_is_tight_and_never_locked() -> None:
    """Walls along the draw are tight: 2 pi (R + r) h, with no draft at all."""
    outer = manifold3d.Manifold.cylinder(30, 15, 15, 400)
    bore = manifold3d.Manifold.cylinder(70, 9, 9, 400, True)
    result = parted(outer - bore)
    assert result.locked_mm2 == 0.0
    assert result.tight_mm2 == pytest.approx(2 * np.pi * (15 + 9) * 30, rel=1e-3)
    assert result.least_draft_deg == pytest.approx(0.0, abs=1e-6)


def test_a_mushroom_locks_under_its_cap_when_parted_at_the_foot() -> None:
    """Stem r, cap R, joint at the foot: the sand round the stem, 2 pi r h, and under the cap, pi (R^2 - r^2), stays."""
    stem = manifold3d.Manifold.cylinder(20, 6, 6, 256)
    cap = manifold3d.Manifold.cylinder(8, 18, 18, 256).translate([0, 0, 20])
    result = parted(stem + cap, height=0.0)
    assert result.locked_mm2 == pytest.approx(np.pi * (18**2 - 6**2) + 2 * np.pi * 6 * 20, rel=1e-3)
    best = parted(stem + cap)
    assert best.locked_mm2 < 1.0


def test_a_face_hidden_in_part_is_divided() -> None:
    """A block over one third of a wide plate: just that third of the plate's top is out of reach from above."""
    plate = box(90, 40, 10)
    roof = box(30, 40, 5).translate([0, 0, 25])
    post = box(2, 40, 20).translate([0, 0, 9])
    reach = reach_along(part_stop(PartChoices(), model_of(plate + roof + post), silent).mesh, np.array([0.0, 0.0, 1.0]))
    mesh = part_stop(PartChoices(), model_of(plate + roof + post), silent).mesh
    up = np.where(reach.mixed, 0.0, reach.up)
    top = (mesh.normals[:, 2] > 0.99) & (np.abs(mesh.corners[:, :, 2] - 10.0).max(axis=1) < 1e-6)
    corners = reach.piece_corners
    areas = 0.5 * np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    seen = (mesh.areas * up)[top].sum() + areas[top[reach.piece_face] & reach.piece_up].sum()
    assert seen == pytest.approx(60 * 40, rel=0.01)


def test_areas_add_up_whatever_the_parting(bearing: object) -> None:
    del bearing
    solid = manifold3d.Manifold.sphere(20, 64) - manifold3d.Manifold.cylinder(60, 5, 5, 48, True).rotate([90, 0, 0])
    whole = part_stop(PartChoices(), model_of(solid), silent).area_mm2
    for height in (-15.0, -3.3, 0.0, 8.1):
        r = parted(solid, height=height)
        assert r.clean_mm2 + r.tight_mm2 + r.locked_mm2 == pytest.approx(whole, rel=1e-9)


def test_the_joint_divides_triangles_exactly() -> None:
    """A box parted at 7 of 20: walls below 7 belong to the drag, to the last digit."""
    result = parted(box(30, 20, 20), height=7.0)
    judged = result.judged
    heights = judged.corners @ np.array([0.0, 0.0, 1.0])
    walls = np.abs(judged.draft_deg) < 1e-9
    areas = 0.5 * np.linalg.norm(
        np.cross(judged.corners[:, 1] - judged.corners[:, 0], judged.corners[:, 2] - judged.corners[:, 0]), axis=1
    )
    below = walls & (heights.max(axis=1) <= 7.0 + 1e-9)
    assert areas[below].sum() == pytest.approx(7.0 * 100.0, rel=1e-12)
    assert (judged.state[walls] == State.TIGHT).all()


def test_the_scan_agrees_with_counting_at_every_height() -> None:
    """One pass over all heights against the exact area at each of them."""
    noise = np.random.default_rng(3)
    pieces = Pieces(noise.random((400, 3)) * 30.0, noise.random(400), noise.random(400) < 0.5, noise.random(400) < 0.5)
    pieces.heights[:40] = pieces.heights[:40, :1]
    heights, values = scan(pieces)
    level = pieces.heights[:40, 0]
    smooth = [k for k in range(0, len(heights), 3) if np.abs(level - heights[k]).min() > 1e-9]
    assert len(smooth) > 100
    for k in smooth:
        assert values[k] == pytest.approx(locked_at(pieces, float(heights[k]), 0.0), abs=1e-9)
    trial = np.linspace(-1.0, 31.0, 900)
    assert values.min() <= min(locked_at(pieces, float(h), 0.0) for h in trial) + 1e-9


@law(4, 60)
def test_turning_part_and_draw_together_changes_nothing(seed: int) -> None:
    """Oblique draws are judged like upright ones."""
    noise = np.random.default_rng(seed)
    direction: Floats = unit(noise.normal(size=3))
    solid = box(40, 30, 20) - manifold3d.Manifold.cylinder(60, 6, 6, 96, True).rotate([90, 0, 0]).translate([20, 0, 10])
    upright = parted(solid)
    matrix = np.concatenate([turn_to_z(direction).T, np.zeros((3, 1))], axis=1)
    turned = parted(solid.transform(matrix), draw=(float(direction[0]), float(direction[1]), float(direction[2])))
    assert turned.locked_any_mm2 == pytest.approx(upright.locked_any_mm2, rel=0.01)
    assert turned.clean_mm2 == pytest.approx(upright.clean_mm2, rel=0.01)


def test_brute_force_agrees_on_random_parts() -> None:
    """Every face's reach against rays tested one by one, by another formula, in plain Python."""
    noise = np.random.default_rng(5)
    for _ in range(3):
        solid = manifold3d.Manifold.cube([20, 20, 20], True)
        for _ in range(4):
            solid -= manifold3d.Manifold.sphere(6, 12).translate((noise.random(3) * 24 - 12).tolist())
        mesh = part_stop(PartChoices(), model_of(solid), silent).mesh
        direction = unit(noise.normal(size=3))
        reach = reach_along(mesh, direction)
        clear = np.flatnonzero(~reach.mixed & (np.abs(reach.slope) > 0.05) & (mesh.areas > 1e-3))
        for face in clear[:: max(len(clear) // 60, 1)]:
            way = direction if reach.slope[face] > 0 else -direction
            start = mesh.corners[face].mean(axis=0) + mesh.normals[face] * 1e-3
            free = not _meets_any(mesh.corners, start, way)
            assert free == (reach.up[face] if reach.slope[face] > 0 else reach.down[face])


def _meets_any(corners: Floats, start: Floats, way: Floats) -> bool:
    """Signed volumes of tetrahedra: a line passes through a triangle when three of them agree in sign."""
    end = start + way * 1e3
    for a, b, c in corners:
        sides = [
            float(np.linalg.det(np.stack([p - start, q - start, end - start]))) for p, q in ((a, b), (b, c), (c, a))
        ]
        if all(s > 0 for s in sides) or all(s < 0 for s in sides):
            normal = np.cross(b - a, c - a)
            if float((a - start) @ normal) / float(way @ normal) > 0:
                return True
    return False
