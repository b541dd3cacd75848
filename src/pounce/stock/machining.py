"""Machining stock: planes moved out, bores left small, bosses left large; neighbours stay put."""

from dataclasses import dataclass

import numpy as np

from pounce.base.errors import UserFault
from pounce.metals.tables import grades, limits
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.stock.body import ROOT, joined_to, on_plane, part_face, shell, touching
from pounce.stock.values import Machining

# How far faces may lie off a feature and still count to it: what float32 files leave of it, and a little.
NEAR_SHARE, NEAR_MM = 2e-5, 0.003


@dataclass(frozen=True)
class Asked:
    """How much stock, a surface, by what."""

    stock_mm: float
    by: str
    source: str


def stock_for(line: Machining, largest_mm: float, in_cope: bool) -> Asked:
    """The stock of a line on a casting whose largest dimension this is. UserFault for a grade or figure that cannot be."""
    table = grades()["machining"]
    if line.own_mm is not None:
        if not 0.05 <= line.own_mm <= 50.0:
            raise UserFault(f"Stock of {line.own_mm:g} mm cannot be used.", "Give 0.05 to 50 mm; 1.5 to 3 is usual.")
        return Asked(line.own_mm, "own figure", limits()["stock_home"].source)
    grade = line.grade
    if in_cope and line.cope_more and grade in table.grades[:-1]:
        grade = table.grades[table.grades.index(grade) + 1]
    more = ", one more for the cope" if grade != line.grade else ""
    return Asked(table.at(largest_mm, grade), f"ISO grade {grade}{more}", table.source)


def near_of(body: Mesh) -> float:
    """How far off a feature its faces may lie, mm."""
    return max(NEAR_MM, NEAR_SHARE * body.diagonal)


def raised(body: Mesh, feature: Feature, stock_mm: float, line: int) -> Mesh:
    """The body with the plane of this feature moved out. UserFault when none of it is left on the body."""
    level = float(feature.centre @ feature.axis)
    mine = np.isin(part_face(body), feature.faces)
    among = on_plane(body, feature.axis, level, near_of(body))
    faces = touching(body, among, mine)
    if not len(faces):
        raise UserFault("That face is no longer there to be moved out.", "Put this line before the one that covered it.")
    way = feature.axis
    top = body.vertices + way * stock_mm
    own = body.vertices[np.unique(body.faces[faces])] @ way
    bottom = body.vertices - way * (ROOT * body.diagonal + float(np.ptp(own)))
    # every corner of the face exactly in one plane, so that it comes out flat
    off = top @ way - (level + stock_mm)
    top = top - np.outer(np.where(np.abs(off) < near_of(body), off, 0.0), way)
    return joined_to(body, [shell(body.faces[faces], top, bottom)], line)


def round_faces(body: Mesh, feature: Feature) -> Ints:
    """Faces of the body on the round of this feature, with what earlier lines added to it."""
    rel = body.vertices - feature.centre
    height = rel @ feature.axis
    out = np.sqrt(np.maximum(np.einsum("ij,ij->i", rel, rel) - height**2, 0.0))
    close = np.abs(out - feature.radius_mm) < near_of(body) + 2.0 * feature.misfit_mm
    middle = body.corners.mean(axis=1) - feature.centre
    middle = middle - np.outer(middle @ feature.axis, feature.axis)
    middle = middle / np.maximum(np.linalg.norm(middle, axis=1), 1e-300)[:, None]
    facing = np.einsum("ij,ij->i", middle, body.normals) * (-1.0 if feature.kind in ("bore", "fillet") else 1.0)
    among = close[body.faces].all(axis=1) & (facing > 0.85)
    return touching(body, among, np.isin(part_face(body), feature.faces))


def resized(body: Mesh, feature: Feature, stock_mm: float, line: int) -> Mesh:
    """The body with a bore left smaller or a boss left larger by the stock, a side.

    Never more of the round than there is: an arc stays an arc. UserFault for a bore that would close.
    """
    inward = feature.kind == "bore"
    if inward and stock_mm >= feature.radius_mm - 0.5:
        raise UserFault("The stock would close the bore.", "Fill it and drill it, or give less stock.")
    faces = round_faces(body, feature)
    if not len(faces):
        raise UserFault("That round is no longer there.", "Put this line before the one that covered it.")
    rel = body.vertices - feature.centre
    flat = rel - np.outer(rel @ feature.axis, feature.axis)
    out = flat / np.maximum(np.linalg.norm(flat, axis=1), 1e-300)[:, None]
    sign = -1.0 if inward else 1.0
    foot = feature.centre + np.outer(rel @ feature.axis, feature.axis)
    top = foot + out * (feature.radius_mm + sign * stock_mm)
    bottom = body.vertices - sign * out * (ROOT * body.diagonal + near_of(body) * 0.05)
    return joined_to(body, [shell(body.faces[faces], top, bottom)], line)


def looks_up_in_cope(feature: Feature, direction: Floats, above: bool) -> bool:
    """Whether a plane looks up in the cope, where dross gathers."""
    return feature.kind == "plane" and above and float(feature.axis @ direction) > 0.5


def middle_of(mesh: Mesh, feature: Feature) -> Floats:
    """(3,) a point on the feature for a label: of its faces the middle nearest to their common middle."""
    middles = mesh.corners[feature.faces].mean(axis=1)
    weight = mesh.areas[feature.faces]
    common = np.einsum("i,ij->j", weight, middles) / max(float(weight.sum()), 1e-300)
    return np.asarray(middles[int(np.argmin(np.linalg.norm(middles - common, axis=1)))])
