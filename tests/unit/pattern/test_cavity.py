"""Hollow pieces: walls, roofs, ribs and drains, held against a plate solved afresh and against distances by VTK."""

import manifold3d as m3
import numpy as np
import pytest
import shapely
import trimesh
from scipy.sparse import lil_matrix
from scipy.sparse.linalg import spsolve

from pounce.metals import contraction, tables
from pounce.metals.tables import limits
from pounce.pattern.making.metal.master import lap_stock, wall_for
from pounce.pattern.making.printed.cavity import Shape, chambers, hollowed, rib_pitch
from pounce.pattern.values import PatternChoices
from pounce.solid import boolean
from tests.conftest import box, mesh_of
from tests.unit.pattern.helpers import distances
from tests.unit.pattern.test_making import M, pattern_of

NONE = np.zeros((0, 3))


def shape_of(solid: m3.Manifold, height: float) -> shapely.geometry.base.BaseGeometry:
    """A cut of a solid as a shapely shape."""
    out: shapely.geometry.base.BaseGeometry = shapely.Polygon()
    for loop in solid.slice(height).to_polygons():
        out = out.symmetric_difference(shapely.Polygon(np.asarray(loop)).buffer(0))
    return out


def clamped_plate(points: int) -> float:
    """w D / (p a^4) in the middle of a square plate held all round, by finite differences of the biharmonic
    equation.
    """
    h = 1.0 / (points + 1)
    rows = lil_matrix((points**2, points**2))

    def at(i: int, j: int) -> int:
        return i * points + j

    stencil = {
        (0, 0): 20,
        (1, 0): -8,
        (-1, 0): -8,
        (0, 1): -8,
        (0, -1): -8,
        (1, 1): 2,
        (1, -1): 2,
        (-1, 1): 2,
        (-1, -1): 2,
        (2, 0): 1,
        (-2, 0): 1,
        (0, 2): 1,
        (0, -2): 1,
    }
    for i in range(points):
        for j in range(points):
            for (di, dj), value in stencil.items():
                # beyond a built-in edge the deflection is mirrored; on it, it is nil
                k, m = (
                    (-2 - (i + di) if i + di < -1 else 2 * points - (i + di) if i + di > points else i + di),
                    (-2 - (j + dj) if j + dj < -1 else 2 * points - (j + dj) if j + dj > points else j + dj),
                )
                if 0 <= k < points and 0 <= m < points:
                    rows[at(i, j), at(k, m)] += value
    found = spsolve(rows.tocsr(), np.full(points**2, h**4))
    return float(found[at(points // 2, points // 2)])


def test_ribs_stand_as_near_as_a_clamped_plate_wants() -> None:
    factor = clamped_plate(61)
    assert factor == pytest.approx(limits()["plate_flex"].value, rel=0.02)
    wall, modulus = 4.0, 2500.0
    pitch = rib_pitch(wall, modulus)
    stiff = modulus * wall**3 / (12 * (1 - 0.09))
    assert factor * limits()["ram_pressure"].value * 1e-3 * pitch**4 / stiff == pytest.approx(
        limits()["hollow_flex"].value, rel=0.02
    )


@pytest.mark.parametrize("lean", [0.0, 0.06])
def test_walls_are_nowhere_thinner_than_asked(lean: float) -> None:
    """Distances by VTK from every corner of the chambers to the faces of the mould."""
    cone = M.cylinder(40, 60, 45, 96) + M.cube([40, 30, 55], True).translate([0, 0, 27.4])
    mesh = mesh_of(cone)
    found = chambers(mesh, Shape(4.0, 2.4, 45.0, 0.0, lean, lean == 0.0, np.array([[0.0, 0.0, 7.0]])))
    assert found
    faces = mesh.part(mesh.corners[:, :, 2].max(axis=1) > 1e-6)
    for one in found:
        points = boolean.bare_mesh(one).vertices
        assert distances(faces, points[points[:, 2] > 0.0]).min() > 4.0 - 0.06
        foot = shape_of(one, 0.5)
        assert foot.is_empty or foot.distance(shapely.Point(0, 0)) > 7.0 - 0.05


def test_chambers_and_piece_make_the_solid() -> None:
    mesh = mesh_of(M.cylinder(40, 60, 50, 96))
    shape = Shape(4.0, 2.4, 40.0, 0.0, 0.0, True, NONE)
    hollow, drains = hollowed(mesh, shape, False)
    inside = sum(float((one ^ boolean.closed_solid(mesh)).volume()) for one in chambers(mesh, shape))
    assert hollow.volume + inside == pytest.approx(mesh.volume, rel=1e-6) and drains == 0
    assert boolean.closed_solid(hollow) is not None and hollow.volume < 0.6 * mesh.volume
    # outside nothing has changed
    assert hollow.bounds == pytest.approx(mesh.bounds, abs=1e-9)


def test_chambers_roof_over_without_support() -> None:
    """Over every step a chamber reaches out no further than the step is high, or over no more than a printer
    bridges.
    """
    mesh = mesh_of(M.cylinder(40, 60, 50, 96))
    step = 1.0
    bridge = limits()["hollow_bridge"].value
    for one in chambers(mesh, Shape(4.0, 2.4, 40.0, 0.0, 0.0, True, NONE)):
        low, high = boolean.bare_mesh(one).bounds[:, 2]
        for height in np.arange(max(low, 0.0) + 0.5, high - 0.5, step):
            here, above = shape_of(one, float(height)), shape_of(one, float(height + step))
            roof = here.difference(above.buffer(step + 0.15))
            assert roof.buffer(-(bridge / 2 + 0.2)).is_empty


def test_the_back_of_a_metal_pattern_draws() -> None:
    mesh = mesh_of(M.cylinder(40, 60, 40, 96) - M.cylinder(60, 8, 8, 48).translate([25, 0, -5]))
    lean = float(np.tan(np.radians(3.0)))
    for one in chambers(mesh, Shape(6.0, 6.0, 0.0, 0.0, lean, False, NONE)):
        last = shape_of(one, 0.5)
        for height in np.arange(2.5, float(boolean.bare_mesh(one).bounds[1, 2]) - 0.5, 2.0):
            here = shape_of(one, float(height))
            assert here.difference(last.buffer(-0.8 * 2.0 * lean)).area < 0.02 * last.area
            last = here


def test_resin_drains_through_the_joint_only() -> None:
    found = pattern_of(M.cylinder(40, 45, 38, 64), "printed-resin", hollow=True)
    (piece,) = found.making.prints
    said = {one.code: one for one in found.findings}
    drains = int(said["drains"].figures["drains"])
    assert drains >= 2 and boolean.closed_solid(piece.mesh) is not None
    solid = boolean.closed_solid(piece.mesh)
    plain = boolean.closed_solid(pattern_of(M.cylinder(40, 45, 38, 64), "printed-resin").pieces[0].laid)
    assert solid is not None and plain is not None
    # in the floor only the holes are missing; no wall is pierced: the silhouette from the side and from above is the
    # same
    floor = limits()["hollow_wall"].value / 2
    wide = limits()["drain_hole"].value
    lost = shape_of(plain, floor).area - shape_of(solid, floor).area
    assert lost == pytest.approx(drains * np.pi / 4 * wide**2, rel=0.02)
    # a chamber that drained nowhere would be a shell of its own
    assert len(solid.decompose()) == 1


def test_no_drain_touches_a_wall_and_no_chamber_is_shut() -> None:
    """A comb of narrow chambers, some no wider than a drain hole: watertight in single precision by trimesh, and one
    shell.
    """
    comb = M.cube([200, 60, 30])
    for k in range(8):
        comb = comb - M.cube([2.0, 50, 40]).translate([13.0 + 13.0 * k + 1.5 * k, 20, -5])
    found = pattern_of(comb, "printed-resin", hollow=True)
    assert {one.code for one in found.findings} >= {"hollow", "drains"}
    for one in found.making.prints:
        mesh = trimesh.Trimesh(one.mesh.vertices.astype(np.float32), one.mesh.faces)
        assert mesh.is_watertight and one.drains > 0
        solid = boolean.closed_solid(one.mesh)
        assert solid is not None and len(solid.decompose()) == 1


def test_filament_is_told_whether_hollowing_saves() -> None:
    found = pattern_of(M.cylinder(60, 80, 70, 64), "printed-filament", hollow=True, inside_percent=60.0)
    said = {one.code: one for one in found.findings}["hollow-or-filled"]
    full = pattern_of(M.cylinder(60, 80, 70, 64), "printed-filament", inside_percent=60.0)
    assert said.figures["full_mm3"] == pytest.approx(full.making.figures["plastic_mm3"], rel=1e-6)
    assert said.figures["hollow_mm3"] < said.figures["full_mm3"] and "saves plastic" in said.text


def test_a_master_carries_stock_on_its_joint_and_a_hollow_back() -> None:
    solid = M.cylinder(40, 60, 50, 96)
    full = pattern_of(solid, "metal-from-master", back=False, lap_mm=0.0)
    lapped = pattern_of(solid, "metal-from-master", back=False)
    backed = pattern_of(solid, "metal-from-master")
    swell = contraction.factor(tables.metal("aluminium-silicon").contraction.value)
    # 120 mm: ISO 8062-3 grade F asks 1.5 mm (the table of the standard, from memory)
    lap = lapped.making.figures["lap_mm"]
    assert lap == 2.2 == lap_stock(120.0, PatternChoices(), "aluminium-silicon")  # grade G, 100 to 160 mm
    area = float(full.pieces[0].laid.areas[full.pieces[0].laid.corners[:, :, 2].max(axis=1) < 1e-6].sum())
    more = lapped.pieces[0].volume_mm3 - full.pieces[0].volume_mm3
    assert more == pytest.approx(area * lap * swell, rel=1e-4)
    back = backed.making.figures["back_litres"] * 1e6 * swell**3
    assert back > 0.0
    assert lapped.pieces[0].volume_mm3 - backed.pieces[0].volume_mm3 == pytest.approx(back, rel=1e-6)
    assert boolean.closed_solid(backed.pieces[0].laid) is not None
    assert backed.making.figures["metal_kg"] == pytest.approx(
        backed.pieces[0].volume_mm3 / swell**3 * 1e-9 * tables.metal("aluminium-silicon").density.value
    )
    assert wall_for(500.0) == pytest.approx(2.0 * wall_for(100.0))


def test_pins_of_a_metal_pattern_are_marked_not_bored() -> None:
    found = pattern_of(M.cube([120, 80, 60], True), "metal-from-master", 0.0)
    marks = [hole for piece in found.pieces for hole in piece.holes if hole.purpose == "pin-mark"]
    assert len(marks) == 4 and all(hole.depth_mm == limits()["pin_mark"].value / 2 for hole in marks)
    assert not any(hole.purpose == "dowel" for piece in found.pieces for hole in piece.holes)


def test_hollowing_wants_room_and_a_flat_joint() -> None:
    thin = pattern_of(box(60, 40, 6), "printed-filament", hollow=True)
    assert "no-room-to-hollow" in {one.code for one in thin.findings}


def test_a_hollow_piece_that_is_cut_for_the_bed_keeps_a_face_to_glue() -> None:
    found = pattern_of(box(400, 60, 50), "printed-filament", hollow=True, numbers=False, draw_screw=False)
    prints = found.making.prints
    assert len(prints) == 2 and all(one.room_mm3 > 0.0 for one in prints)
    swell = contraction.factor(tables.metal("aluminium-silicon").contraction.value)
    for one in prints:
        end = np.abs(one.mesh.normals[:, 0]) > 0.999
        ends = [
            float(one.mesh.areas[end & (np.abs(one.mesh.corners[:, :, 0] - at).max(axis=1) < 0.01)].sum())
            for at in one.mesh.bounds[:, 0]
        ]
        # two dowels of 6 mm and their glue are bored in the cut, and nothing else is missing
        bored = 2 * np.pi / 4 * (6.0 + limits()["dowel_glue_clearance"].value) ** 2
        assert min(ends) > 60 * 50 * swell**2 - bored - 5.0
