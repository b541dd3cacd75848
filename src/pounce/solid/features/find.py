"""All features of a mesh, on its triangles alone."""

from dataclasses import replace

import numpy as np

from pounce.solid import boolean
from pounce.solid.features.facets import Facets, facets_of
from pounce.solid.features.importedfaces import has_imported_faces, imported_rounds
from pounce.solid.features.patches import SMOOTH_DEG, Bends, bends_of, flat_groups, grouped, noise_of
from pounce.solid.features.relief import marks
from pounce.solid.features.rounds import ARC_DEG, LEAST_NEAR_MM, NEAR, ROUGH, Grown, Rounds, axes_of, turned_deg
from pounce.solid.features.shapes import Shape
from pounce.solid.features.turned import MOST_AXES, own_axes, turned_rings
from pounce.solid.features.values import Feature, Kind
from pounce.solid.features.whole import banded, made_whole
from pounce.solid.frame import across
from pounce.solid.mesh import Floats, Ints, Mesh
from pounce.solid.once import once_a_mesh
from pounce.solid.sets import distinct, is_among
from pounce.solid.tags import FaceTags
from pounce.solid.tree import Tree, tree_of

# Planes smaller than this share of the surface are no feature a hand would point at.
LEAST_PLANE = 3e-4
MOST_PLANES = 250
MOST_MARKED = 10
# A facet this large is a face of its own whatever lies beside it.
LEAST_CURVED = 0.02
# From so many triangles a flat patch on the features are looked for on the mesh with these merged, which may move it by
# this share of the diagonal.
WORTH_MERGING, MERGED = 4.0, 1e-6
# Over this share of the curved surface unexplained, the mesh is asked again with more tolerance (a scan, a decimated
# model), and rounds are taken that cover this share.
UNEXPLAINED, LEAST_ROUGH = 0.15, 1e-2
EXACT_MM = 0.02


@once_a_mesh
def features_of(mesh: Mesh) -> tuple[Feature, ...]:
    """The features of the mesh, largest first; kept while the mesh lives."""
    bends = bends_of(mesh)
    return (None if has_imported_faces(mesh) else _on_fewer(mesh, bends)) or _find(mesh, bends)


def feature_numbers(mesh: Mesh, features: tuple[Feature, ...]) -> Ints:
    """(m,) the feature of each face, -1 for none."""
    out = np.full(len(mesh.faces), -1, np.int64)
    for index in reversed(range(len(features))):
        out[features[index].faces] = index
    return out


def _on_fewer(mesh: Mesh, bends: Bends) -> tuple[Feature, ...] | None:
    """The features found on a mesh whose flat faces carry no needless triangles, brought back to this one.

    A subdivided facet has corners inside the round it stands for; only its own corners lie on it. None where little
    would be merged, or where the mesh is no solid.
    """
    group = flat_groups(mesh, bends)
    if len(mesh.faces) < WORTH_MERGING * (int(group.max(initial=0)) + 1):
        return None
    solid = boolean.closed_solid(mesh, 0, group)
    if solid is None:
        return None
    fewer = boolean.as_mesh(boolean.simplified(solid, MERGED * mesh.diagonal), FaceTags.own(int(group.max()) + 1))
    if len(fewer.faces) > 0.7 * len(mesh.faces):
        return None
    out = []
    for feature in _find(fewer, bends_of(fewer)):
        patches = np.zeros(int(group.max()) + 1, bool)
        patches[fewer.tags.face[feature.faces]] = True
        out.append(replace(feature, faces=np.flatnonzero(patches[group])))
    return tuple(out)


def _find(mesh: Mesh, bends: Bends) -> tuple[Feature, ...]:
    if not len(mesh.faces):
        return ()
    noise = noise_of(mesh, bends)
    group = flat_groups(mesh, bends, noise)
    near = max(LEAST_NEAR_MM, NEAR * mesh.diagonal, noise)
    facets = facets_of(mesh, bends, group)
    grown = _rounds(facets, near)
    taken = np.zeros(len(mesh.faces), bool)
    for one in grown:
        taken[one.faces] = True
    area = mesh.area
    # facets among bent neighbours of their own size belong to a curve, found or not; they are no planes
    curved = np.zeros(len(facets.weight), bool)
    curved[group[facets.seeds(facets.curved)]] = True
    curved &= facets.weight < LEAST_CURVED * area
    for rough in ROUGH:
        left = float(mesh.areas[curved[group] & ~taken].sum())
        if left < max(UNEXPLAINED * float(mesh.areas[curved[group]].sum()), LEAST_ROUGH * area):
            break
        more = _rounds(facets, rough * near, ~taken)
        # a small bore that is exact never had its turn, where strips that end on a ball led nowhere
        kept = [
            one
            for one in more
            if float(mesh.areas[one.faces].sum()) > LEAST_ROUGH * area or (one.misfit_mm < near and _is_wide(mesh, one))
        ]
        grown = _whole(mesh, grown + kept)
        for one in grown:
            taken[one.faces] = True
    weight = np.bincount(group, np.where(taken, 0.0, mesh.areas))
    wide = np.where(curved, 0.0, weight)
    planes = [index for index in np.argsort(-wide)[:MOST_PLANES].tolist() if wide[index] > LEAST_PLANE * area]
    order = np.argsort(group, kind="stable")
    starts = np.searchsorted(group[order], np.arange(len(weight) + 1))
    tree = tree_of(mesh)
    out = [_round(mesh, bends, tree, round_) for round_ in grown]
    for index in planes:
        faces = order[starts[index] : starts[index + 1]]
        faces = faces[~taken[faces]]
        if len(faces) and _is_flat(mesh, faces, near):
            out.append(_plane(mesh, faces))
    largest = sorted((one for one in out if one.kind == "plane"), key=lambda one: -one.area_mm2)[:MOST_MARKED]
    for plane in largest:
        out += [_relief(mesh, plane, faces, height) for faces, height in marks(mesh, bends, plane.faces)]
    return tuple(sorted(out, key=lambda one: -one.area_mm2))


def _rounds(facets: Facets, near: float, among: np.ndarray | None = None) -> list[Grown]:
    mesh, group = facets.mesh, facets.group
    rounds = Rounds(facets, near, rough=among is not None)
    known: list[Grown] = []
    if among is not None:
        rounds.free &= among
    elif has_imported_faces(mesh):
        known = imported_rounds(mesh, group, near)
        for one in known:
            rounds.free[one.faces] = False
    if among is not None:
        found = rounds.all()
        return _merged(mesh, found + rounds.rings(found))
    # bands of a ring are cones each, so rings are looked for first, and once more about the axes that the rest has told
    bands = turned_rings(mesh, own_axes(mesh, group, rounds.free), rounds.free, near)
    for one in bands:
        rounds.free[one.faces] = False
    curved = rounds.free.copy()
    found = known + rounds.all()
    for one in found:  # what is a ball or goes well round a bore is no band of a ring
        if one.shape.kind == "ball" or _is_wide(mesh, one):
            curved[one.faces] = False
    later = turned_rings(mesh, axes_of(found, MOST_AXES), curved, near)
    for one in later:  # what was grown on single bands of a ring gives way to it
        rounds.free[one.faces] = False
        found = [other for other in found if is_among(other.faces, one.faces).mean() < 0.5]
    bands += later
    return _whole(mesh, _merged(mesh, found + bands + rounds.rings(found)))


def _whole(mesh: Mesh, found: list[Grown]) -> list[Grown]:
    found = [banded(mesh, found_one) for found_one in found]
    concave = [_concave(mesh, one) for one in found]
    return made_whole(mesh, found, concave, lambda one, points: turned_deg(one.shape, points))


def _is_wide(mesh: Mesh, one: Grown) -> bool:
    return one.shape.kind == "cylinder" and turned_deg(one.shape, mesh.corners[one.faces].reshape(-1, 3)) > ARC_DEG


def _merged(mesh: Mesh, found: list[Grown]) -> list[Grown]:
    """Pieces of one round brought together: a bore crossed by another falls apart into several, a model's is made of
    halves.
    """
    out: list[Grown] = []
    for found_one in found:
        for index, other in enumerate(out):
            if _same(found_one.shape, other.shape) and _concave(mesh, found_one) == _concave(mesh, other):
                if not _meet(mesh, found_one.faces, other.faces):
                    continue
                out[index] = Grown(
                    other.shape,
                    np.concatenate([other.faces, found_one.faces]),
                    max(found_one.misfit_mm, other.misfit_mm),
                )
                break
        else:
            out.append(found_one)
    return out


def _same(one: Shape, other: Shape) -> bool:
    if one.kind != other.kind or one.kind == "ring":
        return False
    if one.kind == "ball":
        return float(np.linalg.norm(one.centre - other.centre)) < 0.01 and abs(one.radius - other.radius) < 0.01
    facing = float(one.axis @ other.axis)
    if abs(facing) < 0.99999:
        return False
    rel = one.centre - other.centre
    along = float(rel @ other.axis)
    if float(np.linalg.norm(rel - other.axis * along)) > 0.01:
        return False
    turn = 1.0 if facing > 0.0 else -1.0
    alike = abs(one.slope * turn - other.slope) < 1e-3
    return alike and abs(one.radius - other.radius - other.slope * along) < 0.01


def _meet(mesh: Mesh, one: Ints, two: Ints) -> bool:
    return bool(is_among(mesh.faces[one].ravel(), mesh.faces[two].ravel()).any())


def _concave(mesh: Mesh, one: Grown) -> bool:
    facing = np.einsum("ij,ij->i", one.shape.outward(mesh.corners[one.faces].mean(axis=1)), mesh.normals[one.faces])
    return float((facing * mesh.areas[one.faces]).sum()) < 0.0


def _round(mesh: Mesh, bends: Bends, tree: Tree, one: Grown) -> Feature:
    """What a round is called: by the way it looks, how far it goes, and what it runs out into."""
    shape, faces = one.shape, one.faces
    points = mesh.corners[faces].reshape(-1, 3)
    concave = _concave(mesh, one)
    axis, radius = shape.axis, shape.radius
    height = (points - shape.centre) @ axis
    low, high = float(height.min()), float(height.max())
    turned = turned_deg(shape, points)
    kind: Kind = "bore" if concave else "boss"
    through = False
    centre = shape.centre
    notes: dict[str, float] = {}
    if shape.kind == "ball":
        kind = "ball"
    elif shape.kind == "ring":
        kind = "fillet" if concave else "rounding"
        radius, notes = shape.ring, {"core_mm": shape.radius}
    elif shape.kind == "cone":
        kind = "cone"
        if shape.slope < 0.0:
            axis, low, high = -axis, -high, -low
        radius = shape.radius + abs(shape.slope) * high
    elif turned < ARC_DEG and _runs_out(mesh, bends, faces):
        kind = "fillet" if concave else "rounding"
    elif kind == "bore":
        through, axis = _open_ends(tree, shape, low, high)
        if axis @ shape.axis < 0.0:
            low, high = -high, -low
    flat = float(mesh.areas[faces].sum())
    return Feature(
        kind,
        faces,
        axis,
        centre,
        radius,
        low,
        high,
        flat,
        one.misfit_mm,
        turned,
        float(np.degrees(np.arctan(abs(shape.slope)))),
        through,
        exact=one.misfit_mm < EXACT_MM,
        notes=notes,
        concave=concave,
    )


def _runs_out(mesh: Mesh, bends: Bends, faces: Ints) -> bool:
    """Whether at least half of the length of its sides meets its neighbours smoothly."""
    rim = bends.rim(faces)
    size = np.linalg.norm(mesh.vertices[bends.ends[rim, 0]] - mesh.vertices[bends.ends[rim, 1]], axis=1)
    smooth = bends.bend_deg[rim] < SMOOTH_DEG
    return float(size[smooth].sum()) > 0.5 * float(size.sum())


def _open_ends(tree: Tree, shape: Shape, low: float, high: float) -> tuple[bool, Floats]:
    """Whether a bore is open at both ends, and its axis turned to look out of an open end."""
    middle = shape.centre + shape.axis * (low + high) / 2.0
    u, v = across(shape.axis)
    # a ring of rays, as a hole in the floor may lie on the axis itself
    turns = 2.0 * np.pi * np.arange(6) / 6.0
    starts = middle + 0.8 * shape.radius * (np.cos(turns)[:, None] * u + np.sin(turns)[:, None] * v)
    outs = []
    for way in (shape.axis, -shape.axis):
        distance, hit = tree.nearest(starts, np.tile(way, (len(starts), 1)))
        outs.append(float(np.where(hit >= 0, distance, np.inf).min()))
    half = (high - low) / 2.0
    far = 1.02 * half + 1e-6
    open_up, open_down = outs[0] > far, outs[1] > far
    return open_up and open_down, shape.axis if open_up or not open_down else -shape.axis


def _is_flat(mesh: Mesh, faces: Ints, near_mm: float) -> bool:
    normal = mesh.crosses[faces].sum(axis=0)
    normal = normal / max(float(np.linalg.norm(normal)), 1e-300)
    points = mesh.corners[faces].reshape(-1, 3) @ normal
    return float(np.ptp(points)) < near_mm * 2.0


def _plane(mesh: Mesh, faces: Ints) -> Feature:
    normal = mesh.crosses[faces].sum(axis=0)
    normal = normal / float(np.linalg.norm(normal))
    corners = mesh.corners[faces]
    points = corners.reshape(-1, 3)
    areas = mesh.areas[faces]
    total = float(areas.sum())
    centre = np.einsum("i,ij->j", areas, corners.mean(axis=1)) / total
    heights = (points - centre) @ normal
    spread = (points - points.mean(axis=0)) - np.outer((points - points.mean(axis=0)) @ normal, normal)
    # sides along the part's own axes where the plane lies so, else along its longest way
    u = _own_axis(normal, spread)
    v = np.cross(normal, u)
    size = sorted((float(np.ptp(points @ u)), float(np.ptp(points @ v))), reverse=True)
    return Feature(
        "plane",
        faces,
        normal,
        centre,
        0.0,
        float(heights.min()),
        float(heights.max()),
        total,
        float(np.sqrt(np.mean(heights**2))),
        size_mm=(size[0], size[1]),
    )


def _own_axis(normal: Floats, spread: Floats) -> Floats:
    for axis in np.eye(3):
        if abs(float(axis @ normal)) < 1e-6:
            return np.asarray(axis)
    return np.asarray(np.linalg.eigh(spread.T @ spread)[1][:, 2])


def _relief(mesh: Mesh, plane: Feature, faces: Ints, height: float) -> Feature:
    corners = mesh.corners[faces].reshape(-1, 3)
    u, v = across(plane.axis)
    size = sorted((float(np.ptp(corners @ u)), float(np.ptp(corners @ v))), reverse=True)
    areas = mesh.areas[faces]
    centre = np.einsum("i,ij->j", areas, mesh.corners[faces].mean(axis=1)) / float(areas.sum())
    pairs = float(len(distinct(grouped_faces(mesh, faces))))
    return Feature(
        "relief",
        faces,
        plane.axis,
        centre,
        0.0,
        0.0,
        abs(height),
        float(areas.sum()),
        0.0,
        height_mm=height,
        size_mm=(size[0], size[1]),
        notes={"pieces": pairs},
    )


def grouped_faces(mesh: Mesh, faces: Ints) -> Ints:
    """(k,) number of the connected piece of each of these faces (joined by shared corners)."""
    used, inverse = np.unique(mesh.faces[faces], return_inverse=True)
    corner = inverse.reshape(-1, 3)
    pairs = np.concatenate([corner[:, [0, 1]], corner[:, [1, 2]]])
    return grouped(len(used), pairs)[corner[:, 0]]
