"""Makes the demo parts of the walled-garden glasshouse from plain solids.

Run with ``make demo-data``; the results are kept in ``src/pounce/route/demo``. The bearing is an STL, which states no
unit; the quadrant arm is a 3MF, which does.
"""

import itertools
from pathlib import Path

import manifold3d as m3
import numpy as np
import trimesh
from PyQt6.QtGui import QFont, QFontDatabase, QGuiApplication, QPainterPath

from pounce.base.fonts import font_file
from pounce.route.demo_making import save_book, save_shipped
from pounce.route.demos import BOOK, DEMOS
from pounce.solid.mesh import Mesh
from pounce.solid.threemf import write_3mf

HERE = Path(__file__).resolve().parent.parent / "src" / "pounce" / "route" / "demo"
TAN = {deg: float(np.tan(np.radians(deg))) for deg in (0.5, 0.8, 2.0, 3.0)}


def hull(points: list[tuple[float, float, float]]) -> m3.Manifold:
    """The convex hull of these points."""
    return m3.Manifold.hull_points(np.array(points, float))


def bearing() -> m3.Manifold:
    """The vent-shaft pedestal bearing: the bore stands along z, the joint is meant at z = 0.

    Most walls taper 2 degrees away from the joint; the flange's bolt face 0.5 and the right cheek 0.8.
    """
    flange_points = []
    for z in (-28.0, 0.0, 28.0):
        lift = abs(z)
        side, front, back = 60.0 - TAN[2.0] * lift, 12.0 - TAN[0.5] * lift, TAN[2.0] * lift
        for y in (back, front):
            if z == 0.0:
                flange_points += [(-side, y, 0.0), (side, y, 0.0)]
                continue
            sign = np.sign(z)
            for angle in np.linspace(0.0, np.pi / 2, 13):
                x, rise = side - 10.0 + 10.0 * np.cos(angle), 18.0 + 10.0 * np.sin(angle)
                flange_points += [(x, y, sign * rise), (-x, y, sign * rise)]
    flange = hull(flange_points)
    block_points = []
    for z in (-22.0, 0.0, 22.0):
        radius = 26.0 - TAN[2.0] * abs(z)
        left, right = -26.0 + TAN[0.8] * abs(z), 26.0 - TAN[2.0] * abs(z)
        block_points += [(left, 6.0, z), (right, 6.0, z), (left, 42.0, z)]
        block_points += [(radius * np.cos(a), 42.0 + radius * np.sin(a), z) for a in np.linspace(0.0, np.pi, 65)]
    block = hull(block_points)
    boss = m3.Manifold.cylinder(26.0, 11.0, 11.0, 96).rotate([-90.0, 0.0, 0.0]).translate([0.0, 54.0, 0.0])
    body = flange + block + boss
    bore = m3.Manifold.cylinder(60.0, 12.5, 12.5, 128, True).translate([0.0, 42.0, 0.0])
    oil = m3.Manifold.cylinder(40.0, 3.0, 3.0, 64).rotate([-90.0, 0.0, 0.0]).translate([0.0, 44.0, 0.0])
    mouth = m3.Manifold.cylinder(8.0, 3.0, 8.0, 64).rotate([-90.0, 0.0, 0.0]).translate([0.0, 72.5, 0.0])
    bolt = m3.Manifold.cylinder(30.0, 5.5, 5.5, 64).rotate([-90.0, 0.0, 0.0])
    bolts = bolt.translate([-43.0, -10.0, 0.0]) + bolt.translate([43.0, -10.0, 0.0])
    # turned so that the boss looks to the front and the weak cheek is the right one
    return (body - bore - oil - mouth - bolts).rotate([0.0, 0.0, 180.0])


def bar(points: list[tuple[float, float]], half: float) -> m3.CrossSection:
    """A flat bar with round ends along a line of points (mm)."""
    out = m3.CrossSection()
    for one, two in itertools.pairwise(points):
        ends = [m3.CrossSection.circle(half, 32).translate(at) for at in (one, two)]
        out = out + m3.CrossSection.batch_hull(ends)
    return out


def bench_end() -> m3.Manifold:
    """The end frame of the glasshouse bench, 900 mm high: flat bars with a narrower rib on both sides, a ring under
    the arm.
    """
    lines = [
        [(70.0, 24.0), (115.0, 230.0), (70.0, 420.0), (85.0, 630.0)],
        [(560.0, 24.0), (515.0, 230.0), (530.0, 420.0), (640.0, 878.0)],
        [(70.0, 420.0), (530.0, 420.0)],
        [(85.0, 630.0), (300.0, 655.0), (583.0, 640.0)],
        [(98.0, 150.0), (532.0, 150.0)],
    ]
    flat, rib = m3.CrossSection(), m3.CrossSection()
    for points in lines:
        flat, rib = flat + bar(points, 22.0), rib + bar(points, 10.0)
    centre, outer = (300.0, 535.0), 100.0
    flat = flat + (m3.CrossSection.circle(outer, 96) - m3.CrossSection.circle(outer - 34.0, 96)).translate(centre)
    rib = rib + (m3.CrossSection.circle(outer - 8.0, 96) - m3.CrossSection.circle(outer - 26.0, 96)).translate(centre)
    feet = m3.CrossSection.square((90.0, 26.0), True)
    flat = flat + feet.translate((70.0, 13.0)) + feet.translate((560.0, 13.0))
    return flat.extrude(30.0).translate([0.0, 0.0, -15.0]) + rib.extrude(42.0).translate([0.0, 0.0, -21.0])


def latch_handle() -> m3.Manifold:
    """The latch handle: a plate with two screw holes, a boss and a lever, its grip worn hollow where the thumb lay.
    Nothing on it has draft.
    """
    plate = m3.CrossSection.batch_hull(
        [m3.CrossSection.circle(17, 48).translate((0.0, y)) for y in (-58.0, 58.0)]
    ).extrude(5.0)
    boss = m3.Manifold.cylinder(14.0, 14.0, 14.0, 64).translate([0.0, 20.0, 4.0])
    arm = m3.CrossSection.batch_hull(
        [m3.CrossSection.circle(11, 48).translate((0.0, 20.0)), m3.CrossSection.circle(7, 48).translate((105.0, 28.0))]
    )
    grip = m3.CrossSection.batch_hull(
        [
            m3.CrossSection.circle(7, 48).translate((100.0, 27.6)),
            m3.CrossSection.circle(9.5, 48).translate((128.0, 30.0)),
        ]
    )
    lever = arm.extrude(9.0).translate([0.0, 0.0, 7.0]) + grip.extrude(12.0).translate([0.0, 0.0, 5.5])
    worn = m3.Manifold.sphere(25.0, 96).translate([117.0, 29.3, 40.0])
    holes = m3.Manifold.cylinder(12.0, 2.75, 2.75, 32).translate([0.0, -48.0, -1.0]) + m3.Manifold.cylinder(
        12.0, 2.75, 2.75, 32
    ).translate([0.0, 58.0, -1.0])
    spindle = m3.Manifold.cube([8.0, 8.0, 12.0], True).rotate([0.0, 0.0, 45.0]).translate([0.0, 20.0, 4.0])
    return plate + boss + lever - worn - holes - spindle


def ring(profile: list[tuple[float, float]], start: float, sweep: float) -> m3.Manifold:
    """A radial profile (r, z) turned from ``start`` over ``sweep`` degrees about z."""
    return m3.CrossSection([np.array(profile, float)]).revolve(192, sweep).rotate([0.0, 0.0, start])


def spoke(angle: float) -> m3.Manifold:
    """A tapered spoke from the hub to the rim."""
    points = []
    for z, inset in ((0.0, 0.0), (9.0, 9.0 * TAN[2.0])):
        for x, half in ((8.0, 11.0 - inset), (126.0, 7.5 - inset)):
            points += [(x, half, z), (x, -half, z)]
    return hull(points).rotate([0.0, 0.0, angle])


def tooth(angle: float) -> m3.Manifold:
    """A gear tooth on the rim with 3 degrees of draft."""
    points = []
    for z, inset in ((0.0, 0.0), (8.0, 8.0 * TAN[3.0])):
        points += [(130.0, 4.2 - inset, z), (130.0, -4.2 + inset, z)]
        points += [(148.0 - inset, 2.2 - inset, z), (148.0 - inset, -2.2 + inset, z)]
    return hull(points).rotate([0.0, 0.0, angle])


def lettering(text: str, size_mm: float, height_mm: float) -> m3.Manifold:
    """Raised letters standing on z = 0, centred."""
    family = QFontDatabase.applicationFontFamilies(QFontDatabase.addApplicationFont(str(font_file("Bold"))))[0]
    path = QPainterPath()
    font = QFont(family)
    font.setPointSizeF(200.0)
    path.addText(0.0, 0.0, font, text)
    loops = [np.array([[p.x(), -p.y()] for p in polygon][:-1]) for polygon in path.toSubpathPolygons()]
    flat = m3.CrossSection(loops, m3.FillRule.NonZero)
    low_x, low_y, high_x, high_y = flat.bounds()
    scale = size_mm / (high_y - low_y)
    flat = flat.translate([-(low_x + high_x) / 2.0, -(low_y + high_y) / 2.0]).scale([scale, scale])
    return flat.simplify(0.02).extrude(height_mm)


def quadrant_arm() -> m3.Manifold:
    """The vent quadrant arm: flat-backed, toothed, with raised lettering; spans 96 degrees about its hub."""
    sweep, start = 96.0, -48.0
    rim = ring([(118.0, 0.0), (136.0, 0.0), (136.0 - 9 * TAN[2.0], 9.0), (118.0 + 9 * TAN[2.0], 9.0)], start, sweep)
    hub = m3.Manifold.cylinder(20.0, 21.0, 21.0 - 20.0 * TAN[2.0], 128)
    bore = m3.Manifold.cylinder(40.0, 8.0, 8.0, 96, True)
    body = rim + hub
    for angle in (-42.0, 0.0, 42.0):
        body += spoke(angle)
    for angle in np.linspace(-45.0, 45.0, 19):
        body += tooth(float(angle))
    words = lettering("VENT 3", 11.0, 1.0).rotate([0.0, 0.0, -90.0]).translate([127.0, 0.0, 8.98])
    return (body + words - bore).rotate([0.0, 0.0, 90.0])


def finial() -> m3.Manifold:
    """The ridge finial: a turned baluster lying along x on a base that bows, with two leaves whose rims rise out of its
    plane.

    No plane parts it: the line runs along the axis and up with the leaves, so the joint must follow them.
    """
    profile = [
        (0.0, 0.0),
        (15.0, 0.0),
        (15.0, 5.0),
        (9.0, 9.0),
        (6.5, 20.0),
        (8.5, 30.0),
        (15.0, 40.0),
        (18.0, 49.0),
        (16.0, 58.0),
        (9.0, 66.0),
        (6.0, 71.0),
        (8.5, 76.0),
        (6.0, 82.0),
        (3.0, 90.0),
        (0.0, 96.0),
    ]
    fine = np.linspace(0.0, 1.0, 90)
    steps = np.linspace(0.0, 1.0, len(profile))
    radius = np.interp(fine, steps, [r for r, _ in profile])
    height = np.interp(fine, steps, [h for _, h in profile])
    kernel = np.array([0.25, 0.5, 0.25])
    for _ in range(4):
        radius[1:-1] = np.convolve(radius, kernel, "same")[1:-1]
    outline = np.column_stack([np.maximum(radius, 0.0), height])
    body = m3.CrossSection([outline]).revolve(128).rotate([0.0, 90.0, 0.0])

    def leaf(side: float, rise: float) -> m3.Manifold:
        """A leaf standing off one side, its rim lifted by ``rise`` at the tip."""
        turn = np.linspace(0.0, 2.0 * np.pi, 97)[:-1]
        blade = np.column_stack([22.0 * np.cos(turn), 15.0 * np.sin(turn) * (1.0 - 0.35 * np.cos(turn))])
        flat = m3.CrossSection([blade]).extrude(1.0, 0).refine_to_length(1.6)

        def bend(points: np.ndarray) -> np.ndarray:
            x, y, z = points.T
            edge = np.clip(1.0 - (x / 22.0) ** 2 - (y / 15.0) ** 2, 0.0, 1.0)
            thick = 1.2 + 3.2 * np.sqrt(edge)
            out = (y + 15.0) / 30.0
            return np.column_stack([x, y, (z - 0.5) * thick + rise * out**2])

        bent = flat.warp_batch(bend).translate([0.0, 19.0, 0.0])
        return bent.mirror([0.0, 1.0, 0.0]) if side < 0 else bent

    leaves = leaf(1.0, 9.0).translate([50.0, 0.0, 0.0]) + leaf(-1.0, 7.0).translate([50.0, 0.0, 0.0])
    return body + leaves


def elbow() -> m3.Manifold:
    """The gutter elbow: a quarter bend of 44 mm bore with two flanges, its middle line in the plane z = 0."""
    radius, outer, inner, straight = 60.0, 30.0, 22.0, 20.0

    def pipe(r: float, more: float) -> m3.Manifold:
        bend = m3.Manifold.revolve(m3.CrossSection.circle(r, 64).translate([radius, 0.0]), 96, 90.0)
        leg = m3.Manifold.cylinder(straight + more, r, r, 64)
        return (
            bend
            + leg.rotate([90.0, 0.0, 0.0]).translate([radius, 0.0, 0.0])
            + leg.rotate([0.0, -90.0, 0.0]).translate([0.0, radius, 0.0])
        )

    # flanges lean 2 degrees away from the joint, so that they draw
    plate = []
    for z in (-42.0, 0.0, 42.0):
        lean = TAN[2.0] * abs(z)
        half = 42.0 if z == 0.0 else 0.0
        for x in (-half, half):
            plate += [(x, 0.0 + lean, z), (x, 9.0 - lean, z)]
    for angle in np.linspace(0.0, 2.0 * np.pi, 65)[:-1]:
        x, z = 42.0 * np.cos(angle), 42.0 * np.sin(angle)
        lean = TAN[2.0] * abs(z)
        plate += [(x, 0.0 + lean, z), (x, 9.0 - lean, z)]
    flange = hull(plate)
    one = flange.translate([radius, -straight, 0.0])
    two = flange.rotate([0.0, 0.0, -90.0]).translate([-straight, radius, 0.0])
    body = pipe(outer, 0.0) + one + two
    return body - pipe(inner, 1.0)


def spindle_bush() -> m3.Manifold:
    """The bush of the vent winder's spindle, lying along x: long for its bore, so that its core is poured standing.

    Its end faces lean 2 degrees away from a joint along its axis.
    """

    def disc(x0: float, x1: float, radius: float) -> m3.Manifold:
        points = []
        for angle in np.linspace(0.0, 2.0 * np.pi, 97)[:-1]:
            y, z = radius * float(np.cos(angle)), radius * float(np.sin(angle))
            lean = TAN[2.0] * abs(z)
            points += [(x0 + lean, y, z), (x1 - lean, y, z)]
        return hull(points)

    bore = m3.Manifold.cylinder(200.0, 9.0, 9.0, 64).rotate([0.0, 90.0, 0.0]).translate([-20.0, 0.0, 0.0])
    return disc(0.0, 150.0, 20.0) + disc(6.0, 22.0, 32.0) + disc(132.0, 142.0, 24.0) - bore


def bench_foot() -> m3.Manifold:
    """A foot of the bench: a paw under a stem that curls, and a plate with a lug to bolt it by. Nothing of it draws, so
    it is of foam.
    """
    steps = np.linspace(0.0, 1.0, 16)
    line = [(-14.0 * np.sin(np.pi * t), 0.0, 14.0 + 58.0 * t) for t in steps]
    sizes = 13.0 - 4.5 * steps
    balls = [m3.Manifold.sphere(float(r), 32).translate(list(at)) for r, at in zip(sizes, line, strict=True)]
    stem = balls[0]
    for one, two in itertools.pairwise(balls):
        stem += m3.Manifold.batch_hull([one, two])
    paw = m3.Manifold.cylinder(12.0, 22.0, 18.0, 64)
    for angle in (-50.0, 0.0, 50.0):
        toe = m3.Manifold.sphere(9.0, 32).scale([1.2, 1.0, 0.9]).translate([24.0, 0.0, 7.0])
        instep = m3.Manifold.sphere(8.0, 32).translate([6.0, 0.0, 12.0])
        paw += m3.Manifold.batch_hull([toe, instep]).rotate([0.0, 0.0, angle])
    plate = m3.Manifold.cube([46.0, 34.0, 8.0], True).translate([0.0, 0.0, 84.0])
    lug = m3.Manifold.cube([8.0, 24.0, 22.0], True).translate([-17.0, 0.0, 98.0])
    body = (paw + stem + plate + lug).trim_by_plane([0.0, 0.0, 1.0], 0.0)
    return body - m3.Manifold.cylinder(30.0, 3.5, 3.5, 32, True).rotate([0.0, 90.0, 0.0]).translate([-17.0, 0.0, 101.0])


def main() -> None:
    """Writes the parts."""
    app = QGuiApplication(["make_demo", "-platform", "offscreen"])
    HERE.mkdir(parents=True, exist_ok=True)
    raw = bearing().to_mesh64()
    mesh = trimesh.Trimesh(np.asarray(raw.vert_properties)[:, :3], np.asarray(raw.tri_verts), process=False)
    mesh.export(HERE / "vent-shaft-pedestal-bearing.stl")
    raw = quadrant_arm().to_mesh64()
    faces = np.asarray(raw.tri_verts, np.int64).reshape(-1, 3)
    arm = Mesh.of(np.asarray(raw.vert_properties)[:, :3], faces)
    write_3mf(HERE / "vent-quadrant-arm.3mf", [("Vent quadrant arm", arm)])
    raw = finial().to_mesh64()
    faces = np.asarray(raw.tri_verts, np.int64).reshape(-1, 3)
    write_3mf(HERE / "ridge-finial.3mf", [("Ridge finial", Mesh.of(np.asarray(raw.vert_properties)[:, :3], faces))])
    raw = elbow().to_mesh64()
    faces = np.asarray(raw.tri_verts, np.int64).reshape(-1, 3)
    write_3mf(HERE / "gutter-elbow.3mf", [("Gutter elbow", Mesh.of(np.asarray(raw.vert_properties)[:, :3], faces))])
    raw = latch_handle().to_mesh64()
    faces = np.asarray(raw.tri_verts, np.int64).reshape(-1, 3)
    write_3mf(HERE / "latch-handle.3mf", [("Latch handle", Mesh.of(np.asarray(raw.vert_properties)[:, :3], faces))])
    raw = bench_end().to_mesh64()
    faces = np.asarray(raw.tri_verts, np.int64).reshape(-1, 3)
    write_3mf(
        HERE / "bench-end-frame.3mf", [("Bench end frame", Mesh.of(np.asarray(raw.vert_properties)[:, :3], faces))]
    )
    raw = spindle_bush().to_mesh64()
    faces = np.asarray(raw.tri_verts, np.int64).reshape(-1, 3)
    write_3mf(HERE / "spindle-bush.3mf", [("Spindle bush", Mesh.of(np.asarray(raw.vert_properties)[:, :3], faces))])
    raw = bench_foot().to_mesh64()
    faces = np.asarray(raw.tri_verts, np.int64).reshape(-1, 3)
    write_3mf(HERE / "bench-foot.3mf", [("Bench foot", Mesh.of(np.asarray(raw.vert_properties)[:, :3], faces))])
    del app
    for demo in DEMOS:
        save_shipped(demo)
    save_book(BOOK)
    for path in sorted(HERE.iterdir()):
        print(path.name, path.stat().st_size)


if __name__ == "__main__":
    main()
