"""Boards in register with the pins of the flask: what is rammed over them closes to the part."""

import io
from pathlib import Path
from typing import Any

import ezdxf
import manifold3d as m3
import numpy as np
import pytest
import shapely
import shapely.affinity

from pounce.base.errors import UserFault
from pounce.export.outlines import outlines_dxf
from pounce.export.plandrawings import board_drawings
from pounce.job import edits, file, pattern_edits, rig_edits
from pounce.job.changes import take_remedy
from pounce.job.job import Job
from pounce.job.rig_edits import asked_rig
from pounce.metals.tables import limits
from pounce.pattern.values import OVER, Mount, PatternResult
from pounce.route.files import model_files
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import MOULD, PATTERN
from pounce.solid import boolean
from tests.conftest import box, model_of
from tests.unit.pattern.test_making import M, pattern_of

BARE = {"dowels": "none", "draw_screw": False, "numbers": False}
LOPSIDED = M.cube([100, 70, 30], True) + M.cylinder(30, 18, 12, 64).translate([25, 12, 10])
ALIKE = M.cylinder(100, 25, 25, 64, True).rotate([0, 90, 0])


def mounted(solid: m3.Manifold, kind: str, **changes: Any) -> tuple[PatternResult, Mount]:
    """The pattern of a solid parted at z = 0, mounted so."""
    found = pattern_of(solid, "printed-filament", 0.0, mount=kind, **{**BARE, **changes})
    assert found.mount is not None
    return found, found.mount


def standing(found: PatternResult, mount: Mount, board: int, gating: bool = False) -> list[m3.Manifold]:
    """The pieces of the pattern on a board, or its gates and runner, their joint at z = 0 of the board's upper
    side.
    """
    top = float(mount.boards[board].laid.bounds[1, 2])
    out = []
    for one in mount.placed:
        if one.board == board and (found.pieces[one.piece].role == "gating") == gating:
            solid = boolean.closed_solid(one.mesh)
            assert solid is not None
            out.append(solid.translate([0.0, 0.0, -top]))
    return out


def over(solid: m3.Manifold) -> m3.Manifold:
    """A flask half turned over about the line of its pins."""
    return solid.transform(np.column_stack([OVER, np.zeros(3)]))


def volume_of(found: PatternResult) -> float:
    """Of all halves together."""
    return sum(piece.volume_mm3 for piece in found.pieces if piece.role.endswith("half"))


def test_two_boards_close_to_the_part() -> None:
    found, mount = mounted(LOPSIDED, "boards", copies=2)
    assert [board.name for board in mount.boards] == ["Cope board", "Drag board"] and mount.castings == 2
    cope = M.batch_boolean(standing(found, mount, 0), m3.OpType.Add)
    drag = over(M.batch_boolean(standing(found, mount, 1), m3.OpType.Add))
    closed = cope + drag
    # both halves meet all over their joint: nothing overlaps, nothing gapes, two whole parts come out
    assert float((cope ^ drag).volume()) == pytest.approx(0.0, abs=1e-3)
    assert float(closed.volume()) == pytest.approx(2 * volume_of(found), rel=1e-9)
    assert len(closed.decompose()) == 2
    joint = cope.slice(1e-6)
    assert float((joint - drag.slice(-1e-6)).area()) < 1e-3 and float((drag.slice(-1e-6) - joint).area()) < 1e-3


def test_one_board_serves_a_part_that_lies_on_itself() -> None:
    found, mount = mounted(ALIKE, "one-side")
    assert mount.alike < 1e-6 and len(mount.placed) == 1 and mount.castings == 1
    (cope,) = standing(found, mount, 0)
    closed = cope + over(cope)
    assert float(closed.volume()) == pytest.approx(volume_of(found), rel=1e-9) and len(closed.decompose()) == 1


def test_one_board_carries_both_halves_of_any_other_part() -> None:
    found, mount = mounted(LOPSIDED, "one-side")
    # the boss stands on one side only, so some of the part lies elsewhere when it is turned over
    boss = np.pi * 15.0**2 * 25.0
    assert 0.5 * boss / volume_of(found) < mount.alike < boss / volume_of(found)
    assert len(mount.boards) == 1 and len(mount.placed) == 2 and mount.castings == 2
    both = M.batch_boolean(standing(found, mount, 0), m3.OpType.Add)
    closed = both + over(both)
    # one flask half rammed on it, turned over onto another: two whole parts, upside down to one another
    assert float((both ^ over(both)).volume()) == pytest.approx(0.0, abs=1e-3)
    assert float(closed.volume()) == pytest.approx(2 * volume_of(found), rel=1e-9)
    assert sorted(float(one.volume()) for one in closed.decompose()) == pytest.approx([volume_of(found)] * 2, rel=1e-9)


def test_a_match_plate_keeps_both_sides_in_register() -> None:
    found, mount = mounted(LOPSIDED, "match-plate", dowels="loose", copies=2)
    thick = limits()["match_plate"].value
    (plate,) = mount.boards
    assert float(plate.laid.size[2]) == thick and plate.role == "match-plate"
    cope, drag = (
        [one for one in mount.placed if found.pieces[one.piece].role == role] for role in ("cope-half", "drag-half")
    )
    assert len(cope) == len(drag) == 2
    bored = {(round(x, 3), round(y, 3)) for x, y, _ in mount.holes[0]}
    for up, down in zip(cope, drag, strict=True):
        assert float(up.mesh.bounds[0, 2]) == pytest.approx(thick) and float(down.mesh.bounds[1, 2]) == pytest.approx(
            0.0
        )
        for one in (up, down):
            for hole in found.pieces[one.piece].holes:
                x, y, _ = one.turn @ hole.at_mm + one.shift
                assert (round(float(x), 3), round(float(y), 3)) in bored
    # closed up by the plate's thickness the two sides are the part again
    solids = [boolean.closed_solid(one.mesh) for one in (cope[0], drag[0])]
    assert solids[0] is not None and solids[1] is not None
    assert float((solids[0].translate([0, 0, -thick]) ^ solids[1]).volume()) == pytest.approx(0.0, abs=1e-3)


def test_patterns_on_a_board_leave_sand_for_gates() -> None:
    found, mount = mounted(LOPSIDED, "boards", copies=4)
    # a gate touches its pattern, to a hair
    feet = list(mount.outlines[0].buffer(0.01).geoms)
    assert len(feet) == 4
    apart = min(a.distance(b) for k, a in enumerate(feet) for b in feet[:k])
    assert apart >= limits()["parts_gap"].value - 0.03
    around = shapely.box(*(-np.array(mount.flask_mm) / 2), *(np.array(mount.flask_mm) / 2))
    assert min(around.exterior.distance(foot) for foot in feet) >= limits()["sand_round_pattern"].value - 0.03
    assert found.findings and "mounted" in {one.code for one in found.findings}


@pytest.mark.parametrize("kind", ["boards", "match-plate"])
def test_boards_carry_the_moulds_layout_with_gates_and_runner(kind: str) -> None:
    """Closed up, castings and gating lie as Mould has them: its plan's castings are the boards' feet, and together
    they are the volume of both.
    """
    model = model_of(LOPSIDED)
    job = pattern_edits.set_making(with_model(Job(name="Two"), model), mount=kind, copies=2, **BARE).job
    job = edits.set_height(job, 0.0).job
    results = Pipeline().run(job, model, until=MOULD)
    found, rig = results.need(PATTERN), results.need(MOULD)
    mount = found.mount
    assert mount is not None and len(rig.castings) == 2 == mount.castings
    assert mount.flask_mm == (rig.flask.long_mm, rig.flask.wide_mm)
    ways = [k for k, piece in enumerate(found.pieces) if piece.role == "gating"]
    assert len(ways) == len(mount.gating) == 2
    thick = limits()["match_plate"].value

    def closed(role_is_gating: bool) -> m3.Manifold:
        if kind == "boards":
            cope, drag = (M.batch_boolean(standing(found, mount, k, role_is_gating), m3.OpType.Add) for k in (0, 1))
            return cope + over(drag)
        out = []
        for one in mount.placed:
            if (found.pieces[one.piece].role == "gating") == role_is_gating:
                solid = boolean.closed_solid(one.mesh)
                assert solid is not None
                out.append(solid.translate([0.0, 0.0, 0.0 if solid.bounding_box()[5] < 0.5 else -thick]))
        return M.batch_boolean(out, m3.OpType.Add)

    castings, gating = closed(False), closed(True)
    # gates end at the metal and never run into it
    assert float((castings ^ gating).volume()) < 1.0
    plan = shapely.unary_union([shapely.Polygon(one.rings[0]) for one in rig.shapes if one.kind == "casting"])
    feet = shapely.unary_union([shapely.Polygon(np.asarray(ring)) for ring in castings.project().to_polygons()])
    assert plan.symmetric_difference(feet).area < 0.01 * plan.area
    # the sprue's place is bored
    assert rig.sprue is not None
    marked = [np.hypot(x - rig.sprue.at_mm[0], y - rig.sprue.at_mm[1]) for x, y, _ in mount.holes[0]]
    assert min(marked) < 1e-6


def with_other(tmp_path: Path, kind: str, other: m3.Manifold, height_mm: float | None = None) -> Results:
    """A job on what carries it, with two castings of another job in its mould."""
    path, model = tmp_path / "plate.pounce", model_of(other)
    job = pattern_edits.set_making(with_model(Job(name="Plate"), model), **{**BARE, "dowels": "pins"}).job
    file.save(path, job if height_mm is None else edits.set_height(job, height_mm).job, model)
    model = model_of(LOPSIDED)
    job = pattern_edits.set_making(with_model(Job(name="Two"), model), mount=kind, **BARE).job
    job = rig_edits.add_guest(edits.set_height(job, 0.0).job, str(path), "Plate", 2).job
    return Pipeline().run(job, model, until=MOULD)


@pytest.mark.parametrize("kind", ["boards", "match-plate"])
def test_another_jobs_pattern_stands_where_its_gates_end(tmp_path: Path, kind: str) -> None:
    """All castings of the mould lie on what carries it, each at its gates; the holes of its pins are bored."""
    results = with_other(tmp_path, kind, box(60, 40, 24), 12.0)
    found, rig = results.need(PATTERN), results.need(MOULD)
    mount = found.mount
    assert mount is not None and [one.lot for one in rig.castings] == [0, 1, 1] and mount.castings == 3
    others = [one for one in mount.placed if found.pieces[one.piece].role == "other-pattern"]
    assert len(others) == 4 and {found.pieces[one.piece].name for one in others} == {
        "Plate: cope half",
        "Plate: drag half",
    }
    plan = shapely.unary_union([shapely.Polygon(one.rings[0]) for one in rig.shapes if one.kind == "casting"])
    if kind == "match-plate":  # over and under one plate: seen from above as the mould is
        assert plan.symmetric_difference(mount.outlines[0].intersection(plan)).area < 0.01 * plan.area
    else:  # the drag's board is seen from its other side
        under = shapely.affinity.scale(mount.outlines[1], 1.0, -1.0, origin=(0.0, 0.0))
        for feet in (mount.outlines[0], under):
            assert plan.difference(feet).area < 0.02 * plan.area
    lots = [shapely.Polygon(one.rings[0]) for one in rig.shapes if one.kind == "casting"][1:]
    for foot in lots:  # its own pins, two a casting
        inside = [1 for x, y, _ in mount.holes[0] if foot.contains(shapely.Point(x, y))]
        assert len(inside) == 2
    # it is built from its own job, and told so
    assert not [one for one in model_files(results) if "other" in one.stem]
    assert "others-carried" in {one.code for one in found.findings}


def test_another_job_that_no_board_carries_is_told(tmp_path: Path) -> None:
    """A joint that follows the part lies on no board: the gates stand there, its pattern is bedded by hand."""
    path, model = tmp_path / "wave.pounce", model_of(box(60, 40, 24))
    job = edits.set_metal(with_model(Job(name="Wave"), model), "aluminium-silicon").job
    file.save(path, edits.set_pattern_kind(job, "metal-from-master").job, model)
    model = model_of(LOPSIDED)
    job = pattern_edits.set_making(with_model(Job(name="Two"), model), mount="match-plate", **BARE).job
    job = rig_edits.add_guest(edits.set_height(job, 0.0).job, str(path), "Wave").job
    found = Pipeline().run(job, model, until=PATTERN).need(PATTERN)
    (told,) = (one for one in found.findings if one.code == "other-not-carried")
    assert "cast in metal from its master" in told.text and not told.informational
    assert found.mount is not None and not found.mount.others


def test_what_pattern_and_mould_say_of_a_board_is_one() -> None:
    """More castings at either are more at both; a flask said at Mould lets go of Pattern's."""
    job = pattern_edits.set_making(Job(), mount="match-plate").job
    more = pattern_edits.set_making(job, copies=4).job
    assert asked_rig(more).count == 4
    fewer = rig_edits.set_count(more, 2).job
    assert asked_rig(fewer).count == 2 and fewer.pattern.copies == 1
    wide = pattern_edits.set_making(fewer, flask_mm=(300.0, 200.0)).job
    assert asked_rig(wide).inside_mm == (300.0, 200.0)
    own = rig_edits.set_flask(wide, "bench-box").job
    assert asked_rig(own).flask == "bench-box" and asked_rig(own).inside_mm is None and own.pattern.flask_mm is None
    alone = pattern_edits.set_making(more, mount="one-side").job
    assert asked_rig(alone) == alone.rig


def test_the_template_of_a_board_measures_its_pins() -> None:
    """Read back from DXF by ezdxf: the round pin's hole and the middle of the slot lie as far apart as the flask's
    pins.
    """
    _, mount = mounted(LOPSIDED, "boards", flask_mm=(200.0, 150.0), pin_mm=12.0)
    document = ezdxf.read(io.StringIO(outlines_dxf(board_drawings(mount)[:1]).decode()))
    wide = 12.0 + limits()["flask_pin_play"].value
    circles = [one for one in document.modelspace().query("CIRCLE") if abs(2 * one.dxf.radius - wide) < 1e-6]
    (pin,) = circles
    slots = []
    for line in document.modelspace().query("LWPOLYLINE"):
        points = np.array([point[:2] for point in line.get_points()])
        size = np.ptp(points, axis=0)
        if abs(size[1] - wide) < 0.05 and size[0] < 2 * wide:
            slots.append((size, (points.min(axis=0) + points.max(axis=0)) / 2))
    ((size, middle),) = slots
    assert size[0] == pytest.approx(wide + limits()["flask_pin_slot"].value, abs=0.05)
    apart = 200.0 + 2 * limits()["flask_pin_out"].value
    assert middle - np.array([pin.dxf.center.x, pin.dxf.center.y]) == pytest.approx([apart, 0.0], abs=0.02)


def test_a_metal_pattern_is_mounted_at_its_own_size_and_not_its_masters() -> None:
    metal = pattern_of(LOPSIDED, "metal-from-master", 0.0, mount="match-plate").mount
    plain = pattern_of(LOPSIDED, "printed-filament", 0.0, mount="match-plate").mount
    assert metal is not None and plain is not None
    # both carry patterns of the casting's one contraction, so they lie alike
    sizes = [np.array(one.outlines[0].bounds) for one in (metal, plain)]
    assert sizes[0] == pytest.approx(sizes[1], abs=1e-4) and metal.flask_mm == plain.flask_mm


def test_whole_patterns_on_one_board_lie_in_rows() -> None:
    found = pattern_of(box(100, 60, 20), "printed-filament", mount="one-side", copies=4)
    assert found.mount is not None and found.mount.castings == 4
    # two rows of two, not a row of four
    assert found.mount.flask_mm[0] < 3 * 100


def test_a_flask_too_small_is_said_and_cured() -> None:
    found, _ = mounted(LOPSIDED, "one-side", flask_mm=(110.0, 90.0))
    said = next(one for one in found.findings if one.code == "flask-too-small")
    job = take_remedy(pattern_edits.with_word(Job(), "flask=110x90"), said.remedies[0]).job
    assert job.pattern.flask_mm is None


def test_only_a_flat_joint_lies_on_a_board() -> None:
    found = pattern_of(ALIKE, "foam-burned-out", mount="boards")
    assert found.mount is None and "no-board-for-this-joint" in {one.code for one in found.findings}


@pytest.mark.parametrize("changes", [{"copies": 0}, {"copies": 99}, {"pin_mm": 1.0}, {"flask_mm": (10.0, 10.0)}])
def test_boards_that_cannot_be(changes: dict[str, Any]) -> None:
    """Neither as a word nor in a file."""
    model = model_of(box(60, 40, 30))
    field, value = next(iter(changes.items()))
    word = {"flask_mm": "flask=10x10"}.get(field, f"{field.removesuffix('_mm')}={value}")
    with pytest.raises(UserFault, match="cannot be used"):
        pattern_edits.with_word(Job(), word)
    job = pattern_edits.set_making(with_model(Job(), model), mount="boards", **changes).job
    assert isinstance(Pipeline().run(job, model, until=PATTERN).faults["pattern"], UserFault)
