"""Machining stock: planes moved out, bores left small, bosses left large; neighbours stay put."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from pounce.base.errors import UserFault
from pounce.metals.grades import machining_for, raw_stock
from pounce.metals.method import Method
from pounce.metals.tables import grades, limits
from pounce.parting.joint import Joint
from pounce.solid.boolean import bare_mesh, hull_tool
from pounce.solid.features.patches import bends_of
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.pick import on_plane, touching
from pounce.solid.rim import shell
from pounce.solid.sets import distinct, is_among
from pounce.stock.body import ROOT, joined_to
from pounce.stock.values import Machining

# How far faces may lie off a feature and still count to it: what float32 files leave of it, and a little.
NEAR_SHARE, NEAR_MM = 2e-5, 0.003
# Faces whose normals are opposite within this cosine end one dimension.
OPPOSITE = 0.999
# A face that a line moved out looks along its own way within this cosine.
LEVEL = 0.99999
# Faces that meet in an edge bent between these leave a slit over it when both are moved out; in a square edge the one
# takes the side of the other along.
LEAST_BEND_DEG, MOST_BEND_DEG = 0.1, 89.0


@dataclass(frozen=True)
class Asked:
    """How much stock, a surface, and by what: ``cut_mm`` of it is there to cut, ``tolerance_mm`` what the casting may
    be short by.

    An own or a home figure holds both without saying how much of each: there ``tolerance_mm`` is 0. ``why`` in one
    sentence.
    """

    cut_mm: float
    tolerance_mm: float
    by: str
    source: str
    why: str

    @property
    def stock_mm(self) -> float:
        """All of it."""
        return self.cut_mm + self.tolerance_mm


@dataclass(frozen=True)
class Dimensioned:
    """What a face is measured by: the casting's largest dimension, the dimension it ends, whether its other end is
    machined too.
    """

    largest_mm: float
    size_mm: float
    both_sides: bool


def dimensioned(mesh: Mesh, feature: Feature, others: Iterable[Feature]) -> Dimensioned:
    """The dimension a face or round ends. ``others`` are all features that get stock."""
    largest = float(mesh.size.max())
    if feature.kind != "plane":
        return Dimensioned(largest, 2.0 * feature.radius_mm, True)
    heights = mesh.vertices @ feature.axis
    level = float(feature.centre @ feature.axis)
    far = [
        float(one.centre @ feature.axis)
        for one in others
        if one.kind == "plane" and float(one.axis @ feature.axis) < -OPPOSITE
    ]
    behind = [at for at in far if at < level]
    size = level - (max(behind) if behind else float(heights.min()))
    return Dimensioned(largest, size if size > NEAR_MM else float(np.ptp(heights)), bool(behind))


def stock_for(line: Machining, of: Dimensioned, method: Method, tolerance: str, in_cope: bool, bore: bool) -> Asked:
    """The stock of a line. UserFault for a grade or figure that cannot be."""
    table = grades()["machining"]
    if line.own_mm is not None:
        if not 0.05 <= line.own_mm <= 50.0:
            raise UserFault(f"Stock of {line.own_mm:g} mm cannot be used.", "Give 0.05 to 50 mm; 1.5 to 3 is usual.")
        return Asked(line.own_mm, 0.0, "own figure", limits()["stock_home"].source, "The maker's own figure.")
    if line.school == "home":
        figure = limits()["bore_under"] if bore else limits()["stock_home"]
        share = 2.0 if bore else 1.0
        why = (
            f"Home practice leaves {figure.low:g} to {figure.high:g} mm {'in a bore' if bore else 'a face'}, the "
            "casting's own error and all."
        )
        return Asked(figure.value / share, 0.0, "home practice", figure.source, why)
    usual = machining_for(method.metal_id)
    grade = usual.grade if line.grade is None else line.grade
    plain = grade
    if in_cope and line.cope_more and grade in table.grades[:-1]:
        grade = table.grades[table.grades.index(grade) + 1]
    more = ", one more for the cope" if grade != plain else ""
    raw = raw_stock(of.largest_mm, of.size_mm, grade, tolerance, of.both_sides)
    why = usual.why() if line.grade is None else f"Grade {line.grade} was asked for."
    return Asked(raw.cut_mm, raw.tolerance_mm, f"grade {grade}{more}", table.source, why)


def near_of(body: Mesh) -> float:
    """How far off a feature its faces may lie, mm."""
    return max(NEAR_MM, NEAR_SHARE * body.diagonal)


def raised(body: Mesh, feature: Feature, stock_mm: float, line: int) -> Mesh:
    """The body with the plane of this feature moved out. UserFault when none of it is left on the body."""
    level = float(feature.centre @ feature.axis)
    mine = is_among(body.tags.face, feature.faces)
    among = on_plane(body, feature.axis, level, near_of(body))
    faces = touching(body, among, mine)
    if not len(faces):
        raise UserFault(
            "That face is no longer there to be moved out.", "Put this line before the one that covered it."
        )
    way = feature.axis
    top = body.vertices + way * stock_mm
    own = body.vertices[distinct(body.faces[faces])] @ way
    bottom = body.vertices - way * (ROOT * body.diagonal + float(np.ptp(own)))
    # every corner of the face exactly in one plane, so that it comes out flat
    off = top @ way - (level + stock_mm)
    top = top - np.outer(np.where(np.abs(off) < near_of(body), off, 0.0), way)
    made = joined_to(body, [shell(body.faces[faces], top, bottom)], line)
    # moved out it is still that face: walls are leaned and judged by what the face is asked for
    own = (made.tags.face < 0) & (made.tags.line == line) & (made.normals @ way > LEVEL)
    return made.tagged(made.tags.changed(own, face=int(feature.faces[0])))


def mitred(body: Mesh, part: Mesh, one: Feature, two: Feature, moved_mm: tuple[float, float], line: int) -> Mesh:
    """The body with the wedge filled between two plane faces that were moved out and meet in a convex edge of the
    ``part``: each moved square to itself, they leave a slit over their edge. The same body where they do not meet so.
    """
    edges = _shared(part, one, two)
    if not len(edges):
        return body
    n1, n2 = one.axis, two.axis
    corner = np.linalg.lstsq(np.stack([n1, n2]), np.array(moved_mm), rcond=None)[0]
    root = ROOT * body.diagonal
    tools = []
    for a, b in part.vertices[edges]:
        way = (b - a) / max(float(np.linalg.norm(b - a)), 1e-300)
        sides = [np.cross(way, normal) for normal in (n1, n2)]
        # the foot of the wedge and its flanks reach a hair into the metal on both sides
        into = [side if float(side @ other) < 0.0 else -side for side, other in zip(sides, (n2, n1), strict=True)]
        section = np.array(
            [-root * (n1 + n2), n1 * moved_mm[0] + root * into[0], corner, n2 * moved_mm[1] + root * into[1]]
        )
        tools.append(bare_mesh(hull_tool(np.concatenate([a + section, b + section]))))
    made = joined_to(body, tools, line)
    for feature in (one, two):
        own = (made.tags.face < 0) & (made.tags.line == line) & (made.normals @ feature.axis > LEVEL)
        made = made.tagged(made.tags.changed(own, face=int(feature.faces[0])))
    return made


def _shared(part: Mesh, one: Feature, two: Feature) -> Ints:
    """(k, 2) corners of the convex edges that two faces share, bent less than a slab's own side takes up."""
    bends = bends_of(part)
    mine, other = is_among(bends.pairs, one.faces), is_among(bends.pairs, two.faces)
    between = (mine[:, 0] & other[:, 1]) | (mine[:, 1] & other[:, 0])
    chosen = between & ~bends.concave & (bends.bend_deg > LEAST_BEND_DEG) & (bends.bend_deg < MOST_BEND_DEG)
    return np.asarray(bends.ends[chosen])


def is_inward(mesh: Mesh, feature: Feature) -> bool:
    """Whether a round of the part ``mesh`` is the wall of a hole."""
    if feature.kind != "cone":
        return feature.kind == "bore"
    middle = mesh.corners[feature.faces].mean(axis=1) - feature.centre
    middle = middle - np.outer(middle @ feature.axis, feature.axis)
    return float((mesh.areas[feature.faces] * np.einsum("ij,ij->i", middle, mesh.normals[feature.faces])).sum()) < 0.0


def _radius_at(body: Mesh, feature: Feature, height: Floats, out: Floats) -> Floats:
    """(n,) the round's radius at these heights: its own, or of a cone the line its corners lie on."""
    if feature.kind != "cone":
        return np.full(len(height), feature.radius_mm)
    own = distinct(body.faces[is_among(body.tags.face, feature.faces)])
    if len(own) < 3:
        raise UserFault("That round is no longer there.", "Put this line before the one that covered it.")
    slope, start = np.polyfit(height[own], out[own], 1)
    return np.asarray(start + slope * height)


def round_faces(body: Mesh, feature: Feature, inward: bool) -> Ints:
    """Faces of the body on the round of this feature, with what earlier lines added to it."""
    rel = body.vertices - feature.centre
    height = rel @ feature.axis
    out = np.sqrt(np.maximum(np.einsum("ij,ij->i", rel, rel) - height**2, 0.0))
    close = np.abs(out - _radius_at(body, feature, height, out)) < near_of(body) + 2.0 * feature.misfit_mm
    middle = body.corners.mean(axis=1) - feature.centre
    middle = middle - np.outer(middle @ feature.axis, feature.axis)
    middle = middle / np.maximum(np.linalg.norm(middle, axis=1), 1e-300)[:, None]
    facing = np.einsum("ij,ij->i", middle, body.normals) * (-1.0 if inward else 1.0)
    own = is_among(body.tags.face, feature.faces)
    # the feature's own faces belong to it however far noise has thrown a corner: one left out would stand as a notch in
    # the stock
    among = (close[body.faces].all(axis=1) | own) & (facing > (0.85 if feature.kind != "cone" else 0.3))
    return touching(body, among, own)


def resized(body: Mesh, feature: Feature, stock_mm: float, line: int, inward: bool) -> Mesh:
    """The body with a bore left smaller or a boss left larger by the stock, a side; on a cone the stock stands square
    to its wall.

    Never more of the round than there is: an arc stays an arc. UserFault for a bore that would close.
    """
    if inward and stock_mm >= feature.radius_mm - 0.5:
        raise UserFault("The stock would close the bore.", "Fill it and drill it, or give less stock.")
    faces = round_faces(body, feature, inward)
    if not len(faces):
        raise UserFault("That round is no longer there.", "Put this line before the one that covered it.")
    rel = body.vertices - feature.centre
    flat = rel - np.outer(rel @ feature.axis, feature.axis)
    out = flat / np.maximum(np.linalg.norm(flat, axis=1), 1e-300)[:, None]
    sign = -1.0 if inward else 1.0
    foot = feature.centre + np.outer(rel @ feature.axis, feature.axis)
    radius = _radius_at(body, feature, rel @ feature.axis, np.linalg.norm(flat, axis=1))
    if feature.kind == "cone":
        stock_mm = stock_mm / float(np.cos(np.radians(feature.half_angle_deg)))
        if inward and float(radius[distinct(body.faces[faces])].min()) <= stock_mm + 0.5:
            raise UserFault("The stock would close the bore.", "Fill it and drill it, or give less stock.")
    top = foot + out * (radius + sign * stock_mm)[:, None]
    bottom = body.vertices - sign * out * (ROOT * body.diagonal + near_of(body) * 0.05)
    return joined_to(body, [shell(body.faces[faces], top, bottom)], line)


def looks_up_in_cope(feature: Feature, joint: Joint, middle: Floats) -> bool:
    """Whether a plane looks up in the cope, or into it from the joint: dross gathers there."""
    over = float(joint.above(middle)) * (-1.0 if joint.turned else 1.0)
    return feature.kind == "plane" and over > -NEAR_MM and float(feature.axis @ joint.up) > 0.5


def middle_of(mesh: Mesh, feature: Feature) -> Floats:
    """(3,) a point on the feature for a label: of its faces the middle nearest to their common middle."""
    middles = mesh.corners[feature.faces].mean(axis=1)
    weight = mesh.areas[feature.faces]
    common = np.einsum("i,ij->j", weight, middles) / max(float(weight.sum()), 1e-300)
    return np.asarray(middles[int(np.argmin(np.linalg.norm(middles - common, axis=1)))])
