"""An undercut filled: what stands over sand is carried on to the joint, leaned where its wall stands, so that the half
it lies in draws.

Sand between an overhang and the joint leaves neither way, whatever else stands in it: all of it may be filled. A
ceiling is carried straight down; a wall that leans back comes out as a wall with draft, the taper that is laid on an
original in filler. Along a joint that follows the part, a ceiling over a floor is closed from the one to the other, as
far as both reach: the joint strays where sand is shut in. Faces are carried whole where all of them locks, so that the
filling ends at their own edges and not at those of the pieces that were judged.
"""

from dataclasses import dataclass

import manifold3d
import numpy as np

from pounce.base.errors import UserFault
from pounce.draw.reachability import LIFT
from pounce.parting.joint import Joint
from pounce.parting.values import Judged, PartingResult, State
from pounce.solid import boolean
from pounce.solid.mesh import Bools, Floats, Ints, Mesh, areas_of, edges
from pounce.solid.pick import nearest_face
from pounce.solid.sample import spread_on
from pounce.solid.sets import distinct, is_among
from pounce.solid.tags import FaceTags
from pounce.solid.tree import tree_of

# How deep the filling roots in what stands over it, mm; pieces that hang over less than this (sine) cast no shadow.
ROOT_MM, LEVEL = 0.004, 1e-4
# A wall stands when it looks sideways by more than this (sine); a ceiling does not.
STANDS = 0.5
# The place pointed at lies this near to the undercut, as a share of the diagonal.
NEAR = 0.02
# Pieces that are carried down one by one; more is no plain undercut.
MOST = 6000
# Points on ceilings from which the floor under them is looked for.
LOOKED = 4000
# What comes out of a filling on the other side of metal counts from this share of it on: less is a crumb.
BEYOND = 1e-3
# How deep a filling goes into the metal under it, mm, and how far within a piece rays look for that (a share).
FOOT_MM, INSIDE = 0.05, 1e-3
# Normals of faces in one plane are this near (cosine).
ONE_PLANE = 0.9999


@dataclass(frozen=True, eq=False)
class Undercut:
    """A place that locks: ``region`` of the parting, its pieces ``corners`` (k, 3, 3) of the faces ``face`` (k,) of
    ``mesh``, ``side`` 1 above the joint and -1 under it (k,), draft asked, degrees.
    """

    region: int
    mesh: Mesh
    corners: Floats
    face: Ints
    side: Floats
    asked_deg: float


def undercut_at(parting: PartingResult, mesh: Mesh, place: Floats) -> Undercut | None:
    """The locked place nearest to ``place`` (3,); None where none is near."""
    judged: Judged = parting.judged
    locked = np.flatnonzero((judged.state == State.LOCKED) & (judged.region >= 0))
    if not len(locked):
        return None
    corners = judged.corners[locked]
    # the piece itself: by its middle and its reach a long one behind the wall would be nearer than the one pointed at
    x, y, z = (float(value) for value in place)
    pieces = Mesh.of(corners.reshape(-1, 3), np.arange(3 * len(corners)).reshape(-1, 3))
    nearest = nearest_face(pieces, (x, y, z))
    middle = corners[nearest].mean(axis=0)
    reach = float(np.linalg.norm(corners[nearest] - middle, axis=1).max())
    if float(np.linalg.norm(middle - place)) - reach > NEAR * mesh.diagonal:
        return None
    region = int(judged.region[locked[nearest]])
    own = locked[judged.region[locked] == region]
    side = np.where(judged.above[own], 1.0, -1.0)
    asked = float(np.median(parting.asked_deg[judged.face[own]]))
    return Undercut(region, mesh, judged.corners[own], judged.face[own], side, asked)


def filling(found: Undercut, joint: Joint, degrees: float) -> Mesh:
    """The metal that fills it, as a closed mesh. UserFault where nothing hangs over or it is too ragged."""
    d = joint.direction
    normals = _normals(found.corners)
    over = (normals @ d) * found.side < -LEVEL
    corners, side, normals, face = found.corners[over], found.side[over], normals[over], found.face[over]
    if not len(corners):
        raise UserFault(
            "Nothing hangs over at that place, so there is nothing to fill.", "Move the joint, or use a core."
        )
    if len(corners) > MOST:
        raise UserFault("That undercut is too ragged to fill.", "Fill it where it is drawn, or make a core.")
    between: list[boolean.Solid] = []
    if joint.level:
        corners, side = _whole(found.mesh, corners, face, side)
        normals = _normals(corners)
    else:
        shut, between = _between(found.mesh, found.corners, _normals(found.corners), found.face, d)
        # what only the joint's straying holds is free once that is filled; walls that stand lean all the same
        left = shut[over] & _stands(normals, d) if between else np.ones(len(corners), bool)
        corners, side, normals = corners[left], side[left], normals[left]
    outward = _outward(corners, normals, d) if len(corners) else corners
    tall = np.abs(joint.above(corners, free=True))
    slope = float(np.tan(np.radians(degrees)))
    way = (side[:, None] * d)[:, None]

    def metal(deep: Floats) -> boolean.Solid:
        top = corners + ROOT_MM * way
        foot = corners - deep[..., None] * way + slope * deep[..., None] * outward
        solids = [
            manifold3d.Manifold.hull_points(np.concatenate([a, b]))
            for a, b, most in zip(top, foot, deep.max(axis=1), strict=True)
            if most > 1e-6
        ]
        if not solids and not between:
            raise UserFault("That place hangs over nothing but the joint.", "Move the joint.")
        # not simplified on the way: pieces that meet in an edge alone lose metal by it
        return boolean.united([*between, *solids])

    whole = metal(tall)
    if len(corners) and _goes_through(whole, found):
        whole = metal(_to_metal(found.mesh, corners, normals, tall, slope * outward, way[:, 0]))
    return boolean.bare_mesh(whole)


def _goes_through(filling: boolean.Solid, found: Undercut) -> bool:
    """Whether a filling comes out on the other side of metal on its way to the joint: into the inside of a cap, under
    the knob that it has on top.
    """
    part = boolean.closed_solid(found.mesh)
    if part is None:
        return False
    tags, least = FaceTags.own(len(found.mesh.faces)), BEYOND * float(filling.volume())
    rooms = [boolean.as_mesh(room, tags) for room in (filling - part).decompose() if room.volume() > least]
    return any(not is_among(room.tags.face, found.face).any() for room in rooms)


def _to_metal(mesh: Mesh, corners: Floats, normals: Floats, tall: Floats, lean: Floats, way: Floats) -> Floats:
    """(k, 3) how deep pieces (k, 3, 3) are carried: to the metal under each corner, and under where its ``lean`` (k, 3,
    3) a mm takes it, but as far as the joint, ``tall`` (k, 3), where nothing lies under one of them. ``way`` (k, 3) up
    from the joint.
    """
    tree, lift = tree_of(mesh), LIFT * mesh.diagonal
    middle = corners.mean(axis=1)
    # just within the piece: a ray from its very corner may slip past its neighbour
    own = corners + INSIDE * (middle[:, None] - corners) + lift * normals[:, None]

    def under(points: Floats) -> Floats:
        gap, met = tree.nearest(points.reshape(-1, 3), np.repeat(-way, points.shape[1], axis=0))
        return np.where(met >= 0, gap, np.inf).reshape(points.shape[:2])

    deep = under(own)
    deep = np.maximum(deep, under(own + lean * np.where(np.isfinite(deep), deep, 0.0)[..., None]))
    # what is under the middle may lie deeper than what is under the corners
    sag = np.maximum(under(middle[:, None] + lift * normals[:, None])[:, 0] - deep.mean(axis=1), 0.0)
    deep += np.where(np.isfinite(sag), sag, 0.0)[:, None] + FOOT_MM
    met = np.asarray((deep < tall).all(axis=1))
    return np.where(met[:, None], deep, tall)


def _whole(mesh: Mesh, corners: Floats, face: Ints, side: Floats) -> tuple[Floats, Floats]:
    """Pieces (k, 3, 3) and their sides with faces in the place of their pieces, where all of a face is among these."""
    own, first, which = np.unique(face, return_index=True, return_inverse=True)
    areas = areas_of(corners)
    whole = np.abs(np.bincount(which, areas) - mesh.areas[own]) < 1e-6 * mesh.areas[own]
    whole &= np.abs(np.bincount(which, side)) == np.bincount(which)
    rest = ~whole[which]
    return np.concatenate([mesh.corners[own[whole]], corners[rest]]), np.concatenate([side[first[whole]], side[rest]])


def _stands(normals: Floats, d: Floats) -> Bools:
    """(k,) which pieces look sideways more than along the draw."""
    return np.asarray(np.linalg.norm(normals - np.outer(normals @ d, d), axis=1) > STANDS)


def _between(mesh: Mesh, corners: Floats, normals: Floats, face: Ints, d: Floats) -> tuple[Bools, list[boolean.Solid]]:
    """(k,) which pieces look at another face along the draw, and what lies between: where what is under ceilings and
    what is over floors is the same. Pieces count on either side of the joint, for it strays through such places.
    """
    tree, lift = tree_of(mesh), LIFT * mesh.diagonal
    up = normals @ d
    shut = np.zeros(len(corners), bool)
    ceilings, floors = [np.zeros(0, np.int64)], [np.zeros(0, np.int64)]
    deep = 0.0
    for hangs, own_faces, met_faces in ((True, ceilings, floors), (False, floors, ceilings)):
        own = np.flatnonzero(up < -LEVEL if hangs else up > LEVEL)
        if not len(own):
            continue
        way = -d if hangs else d
        gap, met = tree.nearest(corners[own].mean(axis=1) + lift * normals[own], way)
        shut[own] = met >= 0
        own, gap = own[met >= 0], gap[met >= 0]
        own_faces.append(face[own])
        met_faces.append(met[met >= 0])
        points, rows = spread_on(corners[own], areas_of(corners[own]), LOOKED)
        far, beyond = tree.nearest(points + lift * normals[own][rows], way)
        met_faces.append(beyond[beyond >= 0])
        deep = max(deep, float(gap.max(initial=0.0)), float(far[beyond >= 0].max(initial=0.0)))
    above, below = (_with_slivers(mesh, distinct(np.concatenate(faces))) for faces in (ceilings, floors))
    above, below = above[mesh.normals[above] @ d < -LEVEL], below[mesh.normals[below] @ d > LEVEL]
    if not len(above) or not len(below):
        return shut, []
    deep += 2.0 * lift
    hung = _prisms(mesh.corners[above], ROOT_MM * d, -deep * d)
    stood = _prisms(mesh.corners[below], -ROOT_MM * d, deep * d)
    solid = boolean.common(boolean.united(hung), boolean.united(stood))
    return shut, [] if solid.is_empty() else [solid]


def _with_slivers(mesh: Mesh, faces: Ints) -> Ints:
    """The faces (k,) with their neighbours in one plane: slivers among them that no ray has met. What is under ceilings
    and over floors is shut in however far both reach.
    """
    own = np.zeros(len(mesh.faces), bool)
    own[faces] = True
    one, two = edges(mesh.faces, len(mesh.vertices)).pairs.T
    flat = np.einsum("ij,ij->i", mesh.normals[one], mesh.normals[two]) > ONE_PLANE
    grown = own.copy()
    grown[two[flat & own[one]]] = True
    grown[one[flat & own[two]]] = True
    return np.flatnonzero(grown)


def _prisms(corners: Floats, one: Floats, other: Floats) -> list[boolean.Solid]:
    """Triangles (k, 3, 3) swept from ``one`` (3,) to ``other`` (3,)."""
    hulls = [manifold3d.Manifold.hull_points(np.concatenate([each + one, each + other])) for each in corners]
    return [hull for hull in hulls if not hull.is_empty()]


def _normals(corners: Floats) -> Floats:
    cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    return np.asarray(cross / np.maximum(np.linalg.norm(cross, axis=1), 1e-300)[:, None])


def _outward(corners: Floats, normals: Floats, d: Floats) -> Floats:
    """(k, 3, 3) for each corner the level way its walls look, as long as carries each of them out by one; nought at
    ceilings.
    """
    level, stands = normals - np.outer(normals @ d, d), _stands(normals, d)
    size = np.linalg.norm(level, axis=1)
    level = np.where(stands[:, None], level / np.maximum(size, 1e-300)[:, None], 0.0)
    flat = corners.reshape(-1, 3)
    _, which = np.unique(np.round(flat, 5), axis=0, return_inverse=True)
    which = np.asarray(which).ravel()
    total = np.zeros((int(which.max()) + 1, 3))
    count = np.zeros(len(total))
    weight = np.repeat(stands.astype(float), 3)
    np.add.at(total, which, np.repeat(level, 3, axis=0))
    np.add.at(count, which, weight)
    mean = total / np.maximum(count, 1.0)[:, None]
    # where walls meet at a corner their common way is shorter than one: longer by its square, each is carried out by
    # one
    length = np.einsum("ij,ij->i", mean, mean)
    mean = np.where((length > 0.1)[:, None], mean / np.maximum(length, 0.1)[:, None], 0.0)
    return np.asarray(mean[which].reshape(-1, 3, 3) * stands[:, None, None])
