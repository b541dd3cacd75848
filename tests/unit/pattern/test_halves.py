"""The pattern: scaled, split, fitted one way only, written and read back by another library."""

from pathlib import Path

import manifold3d
import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from pounce.base.errors import Cancelled, UserFault
from pounce.export.models import proven, write_model
from pounce.job import edits
from pounce.job.job import Job
from pounce.part.formats import read_3mf
from pounce.part.model import Model
from pounce.pattern.values import PatternChoices, PatternResult
from pounce.route.build import build
from pounce.route.opening import open_any, with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import PATTERN
from pounce.solid import boolean
from pounce.solid.mesh import Mesh
from pounce.solid.sound import soundness
from tests.conftest import box, mesh_of, model_of

BAR = manifold3d.Manifold.cylinder(80, 20, 20, 96, True).rotate([90, 0, 0])


def made(model: Model, job: Job | None = None) -> Results:
    return Pipeline().run(with_model(job or Job(), model), model, until=PATTERN)


def pattern_of(model: Model, choices: PatternChoices | None = None) -> PatternResult:
    job = Job(pattern=choices or PatternChoices())
    found = made(model, job).need(PATTERN)
    assert isinstance(found, PatternResult)
    return found


def test_the_halves_are_the_scaled_part_less_their_holes() -> None:
    pattern = pattern_of(model_of(BAR), PatternChoices(numbers=False))
    assert [piece.role for piece in pattern.pieces] == ["cope-half", "drag-half"]
    holes = sum(np.pi * h.radius_mm**2 * h.depth_mm for piece in pattern.pieces for h in piece.holes)
    total = sum(piece.volume_mm3 for piece in pattern.pieces)
    assert total + holes == pytest.approx(mesh_of(BAR).volume * (100 / 98.8) ** 3, rel=2e-4)
    for piece in pattern.pieces:
        assert boolean.closed_solid(piece.mesh) is not None
        assert piece.laid.bounds[0][2] == pytest.approx(0.0, abs=1e-9)


def test_volume_is_conserved_by_the_split_itself() -> None:
    pattern = pattern_of(model_of(BAR), PatternChoices(dowels="none", draw_screw=False, numbers=False))
    total = sum(piece.volume_mm3 for piece in pattern.pieces)
    assert total == pytest.approx(mesh_of(BAR).volume * (100 / 98.8) ** 3, rel=1e-12)


def test_the_tags_of_faces_ride_through_scaling_split_and_drilling() -> None:
    model = model_of(BAR)
    part = model.bodies[0].mesh
    for piece in pattern_of(model).pieces:
        own = piece.mesh.tags.face >= 0
        assert own.any() and (~own).any()
        middles = piece.mesh.corners[own].mean(axis=1) / (100 / 98.8)
        source = piece.mesh.tags.face[own]
        off = np.einsum("ij,ij->i", middles - part.corners[source, 0], part.normals[source])
        assert np.abs(off).max() < 1e-4


def test_dowels_fit_one_way_only() -> None:
    """Turned end for end about any axis along the draw, no placement brings both dowels to both holes."""
    pattern = pattern_of(model_of(BAR))
    drag = [h for h in pattern.pieces[1].holes if h.purpose == "dowel"]
    cope = [h for h in pattern.pieces[0].holes if h.purpose == "dowel"]
    thick, thin = pattern.dowel_mm
    assert thick > thin + 0.9
    assert {round(2 * h.radius_mm, 3) for h in drag} == {thick + 0.3, thin + 0.3}
    assert {round(2 * h.radius_mm, 3) for h in cope} == {thick + 0.1, thin + 0.1}
    # swapping the two would need the thick dowel to enter the thin hole
    assert thick > 2 * min(h.radius_mm for h in drag)
    middle = np.mean([h.at_mm for h in drag], axis=0)
    assert np.linalg.norm(middle) > 2.0


def test_short_pins_stand_no_more_than_three_mm_proud() -> None:
    pattern = pattern_of(model_of(BAR), PatternChoices(dowels="pins"))
    cope, drag = pattern.pieces
    assert all(pin.proud_mm <= 3.0 for pin in cope.pins)
    assert len(cope.pins) == 2
    assert not drag.pins
    low = float((cope.mesh.vertices @ np.array([0, 0, 1.0])).min())
    assert low == pytest.approx(-3.0, abs=1e-6)
    assert [h.purpose for h in drag.holes].count("dowel") == 2


def test_the_draw_screw_lies_under_the_middle_of_mass() -> None:
    pattern = pattern_of(model_of(BAR))
    for piece in pattern.pieces:
        screw = next(h for h in piece.holes if h.purpose == "draw-screw")
        assert np.linalg.norm(screw.at_mm[:2] - piece.mesh.centre_of_mass[:2]) < 2.5


def test_holes_keep_clear_of_every_face() -> None:
    pattern = pattern_of(model_of(BAR))
    for piece in pattern.pieces:
        for hole in piece.holes:
            end = hole.at_mm + hole.into * hole.depth_mm
            axis_gap = 20 * (100 / 98.8) - float(np.hypot(end[0], end[2])) - hole.radius_mm
            assert axis_gap > 0.5


def test_a_flat_backed_part_stays_whole() -> None:
    pattern = pattern_of(model_of(manifold3d.Manifold.cylinder(20, 30, 28, 64)))
    assert [piece.role for piece in pattern.pieces] == ["pattern"]
    assert [h.purpose for h in pattern.pieces[0].holes] == ["draw-screw"]


def test_a_thin_joint_says_that_there_is_no_room() -> None:
    thin = manifold3d.Manifold.cylinder(60, 2.5, 2.5, 48, True).rotate([90, 0, 0])
    pattern = pattern_of(model_of(thin))
    assert {f.code for f in pattern.findings} >= {"no-room-for-dowels", "no-room-for-draw-screw"}


def test_an_open_shell_is_judged_but_not_built(tmp_path: Path) -> None:
    mesh = mesh_of(manifold3d.Manifold.cylinder(30, 20, 15, 64))
    model = model_of(box(1, 1, 1))
    cup = mesh.part(np.flatnonzero(mesh.normals[:, 2] < 0.9))
    body = type(model.bodies[0])("cup", cup, False, np.zeros((0, 2, 3)))
    results = made(Model("Cup", "cup.stl", "stl", "mm", (body,), ()))
    assert results.parting is not None
    with pytest.raises(UserFault, match="shell is open"):
        build(results, model, tmp_path / "out")
    assert not (tmp_path / "out").exists()


@pytest.mark.parametrize("suffix", [".3mf", ".stl"])
def test_files_are_read_back_by_another_library(tmp_path: Path, suffix: str) -> None:
    mesh = mesh_of(BAR)
    write_model(tmp_path / f"a{suffix}", "bar", mesh)
    other = trimesh.load_mesh(tmp_path / f"a{suffix}")
    other.merge_vertices()
    assert other.is_watertight
    assert other.volume == pytest.approx(mesh.volume, rel=1e-5)
    assert other.extents == pytest.approx(mesh.size, abs=1e-4)


def test_a_3mf_states_mm_and_names_its_object(tmp_path: Path) -> None:
    write_model(tmp_path / "a.3mf", "Arm, cope half", mesh_of(BAR))
    scene = trimesh.load_scene(tmp_path / "a.3mf")
    assert scene.units in ("millimeter", "millimeters", "mm")
    assert list(scene.geometry) == ["Arm, cope half"]


def test_a_file_that_reads_back_wrong_is_refused(tmp_path: Path) -> None:
    mesh = mesh_of(BAR)
    write_model(tmp_path / "a.3mf", "bar", mesh)
    with pytest.raises(UserFault, match="does not read back"):
        proven(tmp_path / "a.3mf", mesh.scaled(1.001))


def test_a_sliver_that_a_files_decimals_flatten_is_taken_off(tmp_path: Path) -> None:
    """A corner 0.0000004 mm off an edge is one in single precision and none at six decimals."""
    side = 10.0
    corners = [[-side, 0, 0], [side, 0, 0], [side, 20, 0], [-side, 20, 0]]
    vertices = np.array([*corners, *([x, y, 20.0] for x, y, _ in corners), [0.0, 4e-7, 0.0]])
    bottom = [[0, 8, 1], [8, 2, 1], [8, 3, 2], [8, 0, 3]]
    rest = [
        [4, 5, 6],
        [4, 6, 7],
        [0, 1, 5],
        [0, 5, 4],
        [1, 2, 6],
        [1, 6, 5],
        [2, 3, 7],
        [2, 7, 6],
        [3, 0, 4],
        [3, 4, 7],
    ]
    mesh = Mesh.of(vertices, np.array([*bottom, *rest], np.int64))
    assert soundness(mesh).sound
    made = write_model(tmp_path / "a.3mf", "Block", mesh)
    assert made.closed and made.volume_mm3 == pytest.approx(8000.0, rel=1e-6)
    back = read_3mf(tmp_path / "a.3mf").bodies[0]
    assert soundness(Mesh.of(back.vertices, back.faces)).sound
    torn = Mesh.of(mesh.vertices, mesh.faces[:-1])
    with pytest.raises(UserFault, match="came out open"):
        write_model(tmp_path / "b.stl", "torn", torn)


def test_a_build_that_is_cancelled_or_fails_leaves_nothing(tmp_path: Path, bearing: Path) -> None:
    job, model = open_any(bearing)
    results = Pipeline().run(job, model, until=PATTERN)

    def stop(fraction: float, _text: str) -> None:
        if fraction > 0.3:
            raise Cancelled

    with pytest.raises(Cancelled):
        build(results, model, tmp_path / "out", stop)
    assert list(tmp_path.glob("*")) == [] or {p.name for p in tmp_path.iterdir()} <= {"xdg_cache_home"}
    (tmp_path / "file").write_text("x")
    with pytest.raises(UserFault, match="is a file"):
        build(results, model, tmp_path / "file")


@settings(max_examples=5)
@given(st.floats(0.0, 3.0), st.sampled_from(["+x", "+y", "+z"]))
def test_every_pattern_measures_right_to_the_hundredth(percent: float, axis: str) -> None:
    job = edits.set_contraction(Job(), percent).job
    job = edits.set_draw(job, edits.AXES[axis]).job
    solid = box(37, 23, 17) + manifold3d.Manifold.sphere(12, 40).translate([18, 11, 17])
    results = made(model_of(solid), job)
    pattern = results.need(PATTERN)
    whole = mesh_of(solid).size * 100.0 / (100.0 - percent)
    boxes = np.array([piece.mesh.bounds for piece in pattern.pieces])
    assert boxes[:, 1].max(axis=0) - boxes[:, 0].min(axis=0) == pytest.approx(whole, abs=0.005)


def test_long_dowels_are_said_to_jam_when_the_cope_is_tilted() -> None:
    """h out of the joint, b from the far edge: free at asin(h / b), the tip then h sin + b (1 - cos) aside."""
    pattern = pattern_of(model_of(BAR))
    said = next(f for f in pattern.findings if f.code == "dowels-jam-askew")
    drag = pattern.pieces[1]
    deep = max(hole.depth_mm for hole in drag.holes if hole.purpose == "dowel")
    assert said.figures["proud_mm"] == pytest.approx(deep)
    # the joint of the bar is 80 by 40 mm, a little larger on the pattern: no dowel is farther from its far edge than
    # the diagonal
    reach = np.hypot(80.0, 40.0) * (100 / 98.8)
    assert said.figures["aside_mm"] > 1.5 * deep**2 / reach * 0.95
    assert said.figures["fits_mm"] < deep
    pins = pattern_of(model_of(BAR), PatternChoices(dowels="pins"))
    shorter = [f for f in pins.findings if f.code == "dowels-jam-askew"]
    assert not shorter or shorter[0].figures["aside_mm"] < said.figures["aside_mm"]
