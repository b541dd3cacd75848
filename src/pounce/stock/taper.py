"""Draft added by moving vertices: walls lean about the end their sand leaves by, fillets travel with them.

A wall's displacement along its normal falls evenly from D at the end nearest the parting to nothing at the far end
(metal added), or from nothing to -D (metal taken). Each vertex takes the least move that satisfies all faces round
it. Walls that meet at the parting share D, so both halves agree there. The result is taken only when no face is
turned over, no slice through it folds, and next to nothing stays tight; :mod:`pounce.stock.wedge` is the fall-back.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace

import manifold3d
import numpy as np

from pounce.parting.joint import Joint
from pounce.solid.features.patches import FLAT_DEG, Bends, bends_of, grouped, tilts
from pounce.solid.features.values import Feature
from pounce.solid.frame import across, unit
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.pick import behind
from pounce.solid.polygons import triangulated
from pounce.solid.rim import rim_loops
from pounce.solid.section import cut
from pounce.solid.sets import distinct, is_among
from pounce.solid.tags import FaceTags
from pounce.stock.body import simplified
from pounce.stock.guard import phantom
from pounce.stock.walls import SMOOTH_DEG, Walls, at_joint, over_the_joint, sides_of, walls_of, whole_planes
from pounce.stock.wedge import wedges

SLICES = 20
FOLD = 1e-7
PASSES = 3
TRIES = 6
# A further pass moves walls by less than this share of what the first moved them by.
SHARPENS = 0.3
# What lacks less than this share of what it was leaned by is not leaned once more.
LACKS = 0.05
FEW_TURNED, MENDINGS = 200, 12
# Moves longer than this many times those of the clearly different faces alone are noise.
WILD = 8.0
STAYS = 1e-4
# Slivers thinner than this share of the diagonal (a hundredth of a millimetre on 160 mm) may turn over.
THIN = 6e-5
NONE: Ints = np.zeros(0, np.int64)
CARRIED_ON_DEG = 1.0
EVEN_ROUNDS = 25


def hard_faces(body: Mesh, part: Mesh, features: tuple[Feature, ...], wall: Bools, bends: Bends) -> Bools:
    """(m,) faces that must stay where they are. Fillets travel with their wall, and free forms that run out of one
    smoothly.
    """
    kind = np.zeros(len(part.faces), np.int64)  # 0 free form, 1 fillet, 2 anything else with a shape of its own
    for feature in features:
        if feature.kind != "relief":
            kind[feature.faces] = 1 if feature.kind == "fillet" else 2
    face = body.tags.face
    own = np.where(face >= 0, kind[np.maximum(face, 0)], 0)
    one, two = bends.pairs.T
    smooth = bends.bend_deg < SMOOTH_DEG
    free = (own == 0) & ~wall
    inner = smooth & free[one] & free[two]
    group = grouped(len(own), bends.pairs[inner])
    meets = smooth & (wall[one] & free[two] | wall[two] & free[one])
    beside = np.zeros(int(group.max()) + 1, bool)
    beside[group[np.where(wall[one[meets]], two[meets], one[meets])]] = True
    soft = ~wall & ((own == 1) | (free & beside[group]))
    return np.asarray(~soft)


def moved(body: Mesh, walls: Walls, hard: Bools, bends: Bends) -> Floats:
    """(n, 3) where the vertices go."""
    count = len(body.vertices)
    wall = walls.of >= 0
    counts = wall | hard
    chosen = np.flatnonzero(counts & (tilts(body) < 1.0) & (body.areas > 0.0))
    corner = body.faces[chosen].ravel()
    normals = np.repeat(body.normals[chosen], 3, axis=0)
    of = np.repeat(walls.of[chosen], 3)
    side = np.repeat(walls.side[chosen], 3)
    aim = np.zeros(len(corner))
    on = of >= 0
    aim[on] = walls.moves(of[on], walls.up(of[on], corner[on], side[on]))
    angle = _angles(body, chosen).ravel()
    weight = angle * np.where(on, 1.0, 0.6)
    gram, right = _system(corner, normals, weight, aim, count)
    touched = np.zeros(count, bool)
    touched[body.faces[wall]] = True
    step = np.zeros((count, 3))
    rows = np.flatnonzero(touched)
    least, loose = _solved(gram[rows], right[rows])
    step[rows] = least
    _evened(body, step, rows, least, loose, bends)
    return body.vertices + _travelling(body, step, touched, hard, wall, bends)


def least_moves(body: Mesh, aim: Floats, bends: Bends) -> Floats:
    """(n, 3) the least moves that shift every face along its normal by ``aim`` (3 m,: one figure a corner)."""
    faces = np.flatnonzero((tilts(body) < 1.0) & (body.areas > 0.0))
    corner, count = body.faces[faces].ravel(), len(body.vertices)
    normals = np.repeat(body.normals[faces], 3, axis=0)
    weight = _angles(body, faces).ravel()
    goal = aim.reshape(-1, 3)[faces].ravel()
    gram, right = _system(corner, normals, weight, goal, count)
    step = np.zeros((count, 3))
    rows = distinct(corner)
    step[rows], loose = _solved(gram[rows], right[rows])
    _evened(body, step, rows, step[rows].copy(), loose, bends)
    return step


def _system(corner: Ints, normals: Floats, weight: Floats, aim: Floats, count: int) -> tuple[Floats, Floats]:
    """Normal equations of n.u = aim at every vertex: (count, 3, 3) and (count, 3)."""
    gram, right = np.zeros((count, 3, 3)), np.zeros((count, 3))
    for i in range(3):
        right[:, i] = np.bincount(corner, weight * aim * normals[:, i], count)
        for j in range(i, 3):
            gram[:, i, j] = gram[:, j, i] = np.bincount(corner, weight * normals[:, i] * normals[:, j], count)
    return gram, right


def _solved(gram: Floats, right: Floats) -> tuple[Floats, Floats]:
    """Least moves that satisfy the faces, and (k, 3, 3) the directions left free.

    Parts of nearly parallel faces that contradict each other are left out.
    """
    values, vectors = np.linalg.eigh(gram)
    turned = np.einsum("kij,ki->kj", vectors, right)

    def least_for(held: Bools) -> Floats:
        inverse = np.where(held, 1.0 / np.maximum(values, 1e-300), 0.0)
        return np.asarray(np.einsum("kij,kj->ki", vectors, inverse * turned))

    held, firm = values > 2e-3 * values[:, -1:], values > 5e-2 * values[:, -1:]
    least, calm = least_for(held), least_for(firm)
    # nearly parallel faces that want different moves would fling a vertex far along them
    wild = np.linalg.norm(least, axis=1) > WILD * np.linalg.norm(calm, axis=1) + 1e-9
    least[wild], held[wild] = calm[wild], firm[wild]
    kept = np.einsum("kij,kj,klj->kil", vectors, held.astype(np.float64), vectors)
    return least, np.eye(3) - kept


def _evened(body: Mesh, step: Floats, rows: Ints, least: Floats, loose: Floats, bends: Bends) -> None:
    """Lets vertices slide along what holds them with their neighbours, so that slender faces are not turned over."""
    free = np.zeros(len(step), bool)
    free[rows] = True
    both = np.concatenate([bends.ends, bends.ends[:, ::-1]])
    both = both[free[both[:, 0]]]
    size = np.linalg.norm(body.vertices[both[:, 0]] - body.vertices[both[:, 1]], axis=1)
    weight = 1.0 / np.maximum(size, 1e-6 * body.diagonal)
    total = np.maximum(np.bincount(both[:, 0], weight, len(step)), 1e-300)
    for _ in range(EVEN_ROUNDS):
        mean = np.stack(
            [np.bincount(both[:, 0], weight * step[both[:, 1], k], len(step)) / total for k in range(3)], axis=1
        )
        step[rows] = least + np.einsum("kij,kj->ki", loose, mean[rows])


def _angles(body: Mesh, faces: Ints) -> Floats:
    """(k, 3) the angle of each face at each corner: the weight that does not depend on how a plane is cut up."""
    corners = body.corners[faces]
    out = np.empty((len(faces), 3))
    for k in range(3):
        one, two = corners[:, (k + 1) % 3] - corners[:, k], corners[:, (k + 2) % 3] - corners[:, k]
        out[:, k] = np.arctan2(np.linalg.norm(np.cross(one, two), axis=1), np.einsum("ij,ij->i", one, two))
    return out


def _travelling(body: Mesh, step: Floats, touched: Bools, hard: Bools, wall: Bools, bends: Bends) -> Floats:
    """The moves carried on into fillets and free forms beside the walls, fading out with the way they go."""
    soft = ~hard & ~wall
    if not soft.any() or not touched.any():
        return step
    reach = max(4.0, 12.0 * float(np.linalg.norm(step[touched], axis=1).max()))
    ends = bends.ends[soft[bends.pairs].any(axis=1)]
    free = np.zeros(len(step), bool)
    free[body.faces[soft]] = True
    still = np.zeros(len(step), bool)
    still[body.faces[hard]] = True
    gone = np.where(touched, 0.0, np.inf)
    out = step.copy()
    both = np.concatenate([ends, ends[:, ::-1]])
    size = np.linalg.norm(body.vertices[both[:, 0]] - body.vertices[both[:, 1]], axis=1)
    for _ in range(400):
        known = np.isfinite(gone[both[:, 0]]) & ~np.isfinite(gone[both[:, 1]]) & free[both[:, 1]]
        if not known.any():
            break
        a, b = both[known].T
        count = np.bincount(b, minlength=len(step))
        far = np.bincount(b, gone[a] + size[known], len(step)) / np.maximum(count, 1)
        rows = np.flatnonzero(count)
        for k in range(3):
            out[rows, k] = np.bincount(b, out[a, k], len(step))[rows] / count[rows]
        gone[rows] = far[rows]
        if float(gone[rows].min()) > reach:
            break
    fade = np.clip(1.5 - np.where(np.isfinite(gone), gone, np.inf) / reach, 0.0, 1.0)
    out = np.where(touched[:, None], step, out * fade[:, None])
    return _kept_on_planes(body, out, hard, still & ~touched)


def _kept_on_planes(body: Mesh, step: Floats, hard: Bools, rows: Bools) -> Floats:
    """Vertices that also lie on a face that stays keep to it."""
    faces = np.flatnonzero(hard)
    out = step.copy()
    for k in range(3):
        corner = body.faces[faces, k]
        on = rows[corner]
        normals, at = body.normals[faces[on]], corner[on]
        for _ in range(2):
            off = np.einsum("ij,ij->i", out[at], normals)
            count = np.maximum(np.bincount(at, minlength=len(out)), 1)
            for i in range(3):
                out[:, i] -= np.bincount(at, off * normals[:, i], len(out)) / count
    return out


def turned_over(before: Mesh, after: Mesh) -> Ints:
    """Faces that look the other way after the move; slivers too thin to measure do not count, the slices watch them."""
    sides = [np.linalg.norm(before.corners[:, k] - before.corners[:, (k + 1) % 3], axis=1) for k in range(3)]
    thick = 2.0 * before.areas / np.maximum(np.maximum(np.maximum(sides[0], sides[1]), sides[2]), 1e-300)
    real = (tilts(before) < 1.0) & (thick > THIN * before.diagonal) & (after.areas > 1e-12 * after.area)
    return np.flatnonzero(real & (np.einsum("ij,ij->i", before.normals, after.normals) < 0.2))


def untwisted(before: Mesh, after: Mesh, turned: Ints) -> Mesh:
    """Turned slivers mended by laying the edge they share with a neighbour of the same face the other way across.

    Faces keep their numbers; the moved mesh comes back with other diagonals, or as it is where that does not help.
    """
    faces = after.faces.copy()
    points = after.vertices
    owner: dict[tuple[int, int], int] = {}
    near = is_among(faces, distinct(faces[turned])).any(axis=1)
    for index in np.flatnonzero(near).tolist():
        a, b, c = faces[index].tolist()
        owner[a, b] = owner[b, c] = owner[c, a] = index
    for index in turned.tolist():
        face = faces[index].tolist()
        normal = before.normals[index]
        for k in range(3):
            a, b, c = face[k], face[(k + 1) % 3], face[(k + 2) % 3]
            other = owner.get((b, a))
            if (
                other is None
                or float(before.normals[other] @ normal) < 0.9999
                or before.tags.group[other] != before.tags.group[index]
            ):
                continue
            far = next(v for v in faces[other].tolist() if v not in (a, b))
            one, two = np.array([a, far, c]), np.array([far, b, c])
            crosses = [np.cross(points[t[1]] - points[t[0]], points[t[2]] - points[t[0]]) for t in (one, two)]
            if min(float(cross @ normal) for cross in crosses) <= 0.0 or (far, c) in owner or (c, far) in owner:
                continue
            faces[index], faces[other] = one, two
            for key in ((a, b), (b, a)):
                owner.pop(key, None)
            for t, number in ((one, index), (two, other)):
                x, y, z = t.tolist()
                owner[x, y] = owner[y, z] = owner[z, x] = number
            break
    return Mesh.of(points, faces, after.tags)


def mended(before: Mesh, after: Mesh) -> tuple[Mesh, Ints]:
    """The moved mesh with turned faces laid over as long as that helps, and the faces that stay turned."""
    turned = turned_over(before, after)
    for _ in range(MENDINGS):
        if not 0 < len(turned) <= FEW_TURNED:
            break
        trial = untwisted(before, after, turned)
        left = turned_over(before, trial)
        if len(left) >= len(turned):
            break
        after, turned = trial, left
    return after, turned


def laid_anew(before: Mesh, after: Mesh, turned: Ints) -> Mesh:
    """Flat faces that hold turned triangles cut up anew between their moved outlines; the faces get other numbers."""
    bends = bends_of(before)
    flat = (bends.bend_deg < FLAT_DEG) & (before.tags.group[bends.pairs[:, 0]] == before.tags.group[bends.pairs[:, 1]])
    group = grouped(len(before.faces), bends.pairs[flat])
    keep = np.ones(len(before.faces), bool)
    faces, tags = [after.faces], [after.tags]
    for number in distinct(group[turned]).tolist():
        mine = np.flatnonzero(group == number)
        ids, opened = rim_loops(before.faces[mine])
        if opened:
            continue
        u, v = across(unit(before.crosses[mine].sum(axis=0)))
        cut_up = triangulated([np.stack([after.vertices[k] @ u, after.vertices[k] @ v], axis=1) for k in ids])
        keep[mine] = False
        faces.append(np.concatenate(ids)[cut_up])
        tags.append(before.tags.at(np.full(len(cut_up), mine[0], np.int64)))
    faces[0], tags[0] = after.faces[keep], after.tags.at(keep)
    return Mesh.of(after.vertices, np.concatenate(faces), FaceTags.joined(tags))


def folds(mesh: Mesh) -> bool:
    """Whether a slice through the mesh folds over itself."""
    return fold_area(mesh) >= FOLD * max(mesh.diagonal**2, 1e-9)


def fold_area(mesh: Mesh) -> float:
    """The largest difference, over slices in x, y and z, between the area by sign and the area filled: none where
    nothing folds.
    """
    worst = 0.0
    low, high = mesh.bounds
    for axis in range(3):
        u, v = np.eye(3)[(axis + 1) % 3], np.eye(3)[(axis + 2) % 3]
        for share in (np.arange(SLICES) + 0.4731) / SLICES:
            found = cut(mesh, u, v, float(low[axis] + share * (high[axis] - low[axis])))
            loops = [loop[:-1] for loop in found.loops if len(loop) > 3]
            if not loops:
                continue
            signed = (
                sum(float((p[:, 0] * np.roll(p[:, 1], -1) - np.roll(p[:, 0], -1) * p[:, 1]).sum()) for p in loops) / 2.0
            )
            section = manifold3d.CrossSection([np.ascontiguousarray(p) for p in loops], manifold3d.FillRule.Positive)
            worst = max(worst, abs(signed - section.area()))
    return worst


@dataclass(frozen=True, eq=False)
class Tapered:
    """What draft came to: the body, how many walls and how much of their area got it, and what stayed tight (mm2) and
    where.

    ``widest_mm`` the greatest move, ``wedged`` walls that got theirs by the fall-back, ``left`` places left as they
    were, ``range_deg`` the least and the most draft asked of them, ``why`` the walls left could not be helped by
    wedges.
    """

    body: Mesh
    walls: int
    area_mm2: float
    tight_mm2: float
    tight_at: tuple[float, float, float] | None
    widest_mm: float
    wedged: int = 0
    left: int = 0
    range_deg: tuple[float, float] = (0.0, 0.0)
    why: str = ""


@dataclass(frozen=True, eq=False)
class Start:
    """The body cut at the joint, with what does not change while its vertices move."""

    body: Mesh
    level: Floats
    side: Ints
    bends: Bends
    degrees: Floats
    takes: Floats
    direction: Floats
    flat_at: float | None


def tapered(
    body: Mesh,
    part: Mesh,
    features: tuple[Feature, ...],
    joint: Joint,
    asked: Floats,
    takes: Floats,
    line: int,
    only_adds: Iterable[int] = (),
    least_mm: float = 0.0,
) -> Tapered:
    """Draft on every wall that is short of it. ``asked`` and ``takes`` (mp,) for each face of the part: degrees, share
    taken.

    Faces made by the lines ``only_adds`` (stock to be machined off) get theirs by adding whatever was asked. Walls
    whose move would turn faces over or fold are taken out one after another and get wedges of metal instead. Walls
    that lack less than ``least_mm`` of taper are left.
    """
    start, walls, own = _begun(simplified(body), joint, asked, takes, only_adds, least_mm)
    if not len(own):
        return Tapered(body, 0, 0.0, 0.0, None, 0.0)
    cut_body, area, count = start.body, float(start.body.areas[own].sum()), len(walls.foot)
    made, skip = _moved_soundly(start, walls, part, features, line)
    widest, adds = float(walls.foot.max()), not (start.takes[own] > 0.0).any()
    if made is not None and phantom(cut_body, made, widest, adds) is not None:
        made = None
    done = cut_body if made is None else made
    if made is None:
        skip[:] = True
    done, wedged, left, why = _wedged(start, walls, own, skip, done, joint, line) if skip.any() else (done, 0, 0, "")
    tight, place = _tight(done, start, own, made is not None and not skip.any())
    leaned = start.degrees[own]
    return Tapered(
        done,
        count if made is not None or wedged else 0,
        area,
        tight,
        place,
        widest,
        wedged,
        left,
        (float(leaned.min()), float(leaned.max())),
        why,
    )


def _moved_soundly(
    start: Start, walls: Walls, part: Mesh, features: tuple[Feature, ...], line: int
) -> tuple[Mesh | None, Bools]:
    """The body with its walls moved, and which of them were taken out since they would fold; None where none can be
    moved.
    """
    count = len(walls.foot)
    skip = np.zeros(count, bool)
    # one that stays keeps those beside it over the joint, and they those beside them
    over = grouped(count, over_the_joint(walls, start.bends))
    made, bad = _attempt(start, walls, part, features, line, skip)
    for _ in range(TRIES):
        if not len(bad):
            break
        skip = skip | is_among(np.arange(count), bad)
        skip = is_among(over, distinct(over[skip]))
        if skip.all():
            break
        made, bad = _attempt(start, walls, part, features, line, skip)
    return (None if len(bad) else made), skip


def _wedged(
    start: Start, walls: Walls, own: Ints, skip: Bools, done: Mesh, joint: Joint, line: int
) -> tuple[Mesh, int, int, str]:
    """The body with wedges on the walls that could not be moved; how many got them, how many were left, and why."""
    chosen = own[skip[walls.of[own]]]

    def ghost(added: Mesh) -> str | None:  # better no draft than metal where none belongs
        return phantom(done, added, float(walls.foot.max()), True)

    added, wedged, left, why = wedges(done, start.level, walls, chosen, joint, line, ghost)
    return done if added is None else added, wedged, left, why


def _begun(
    cleaned: Mesh, joint: Joint, asked: Floats, takes: Floats, only_adds: Iterable[int], least_mm: float
) -> tuple[Start, Walls, Ints]:
    """The body cut at the joint with its walls, and the faces of these."""
    cut_body, level = at_joint(cleaned, joint)
    bends = bends_of(cut_body)
    side = whole_planes(cut_body, level, joint.direction, sides_of(cut_body, level, joint.direction), bends)
    share = per_face(cut_body, takes, bends)
    share[np.isin(cut_body.tags.line, list(only_adds))] = 0.0
    flat_at = joint.height_mm if joint.level else None
    degrees = per_face(cut_body, asked, bends)
    start = Start(cut_body, level, side, bends, degrees, share, joint.direction, flat_at)
    walls = walls_of(cut_body, level, joint.direction, degrees, start.takes, bends, side)
    short = (
        (walls.of >= 0) & (walls.foot < least_mm)[np.maximum(walls.of, 0)]
        if len(walls.foot)
        else np.zeros(len(side), bool)
    )
    if short.any():  # walls that lack so little that the sand does not feel it stay as they are
        degrees = np.where(short, 0.0, degrees)
        start = replace(start, degrees=degrees)
        walls = walls_of(cut_body, level, joint.direction, degrees, start.takes, bends, side)
    return start, walls, np.flatnonzero(walls.of >= 0)


def _one_a_wall(body: Mesh, walls: Walls, degrees: Floats) -> Floats:
    """(m,) the figures asked, each wall's faces by that of most of its area."""
    out = degrees.copy()
    own = np.flatnonzero(walls.of >= 0)
    kinds, which = np.unique(degrees[own], return_inverse=True)
    if len(kinds) < 2:
        return out
    share = np.zeros((len(walls.foot), len(kinds)))
    np.add.at(share, (walls.of[own], which), body.areas[own])
    out[own] = kinds[share.argmax(axis=1)][walls.of[own]]
    return out


def _attempt(
    start: Start, first: Walls, part: Mesh, features: tuple[Feature, ...], line: int, skip: Bools
) -> tuple[Mesh, Ints]:
    """The body with all walls moved but the skipped, and the walls (of ``first``) that came out bad."""
    current = start.body
    skipped = np.zeros(len(current.faces), bool)
    skipped[first.of >= 0] = skip[first.of[first.of >= 0]]
    degrees = np.where(skipped, 0.0, start.degrees)
    whole = 0.0
    everything = np.arange(len(first.foot))
    bends, before = start.bends, current
    for index in range(PASSES):
        walls = walls_of(current, start.level, start.direction, degrees, start.takes, bends, start.side)
        if index:
            walls = _sharpened(walls, first)
        own = np.flatnonzero(walls.of >= 0)
        size = float(current.areas[own].sum())
        whole = size if index == 0 else whole
        if size < 2e-3 * whole or not len(own):
            break
        hard = hard_faces(current, part, features, (walls.of >= 0) | skipped, bends)
        vertices = moved(current, walls, hard | skipped, bends)
        if start.flat_at is not None:  # what lay in the joint and was hardly moved off it stays in it
            off = vertices @ start.direction - start.flat_at
            back = (start.level == 0.0) & (np.abs(off) < STAYS * current.diagonal)
            vertices = np.where(back[:, None], vertices - np.outer(off, start.direction), vertices)
        shifted = np.zeros(len(current.faces), bool)
        shifted[own] = True
        current = Mesh.of(vertices, current.faces, current.tags.changed(shifted, line=line))
        if not np.isfinite(vertices).all():
            return (before, NONE) if index else (current, everything[~skip])
        moved_only = current
        current, bad = mended(start.body, current)
        if current is not moved_only:
            bends = bends_of(current)
        if len(bad):  # a further pass only sharpens: what was sound before it stands
            return (before, NONE) if index else (current, _walls_at(start, first, bad, skip))
        if index and folds(current):
            return before, NONE
        before = current
    if folds(current):
        return current, everything[~skip]
    return current, NONE


def _sharpened(walls: Walls, first: Walls) -> Walls:
    """The walls of a further pass, less those that would be moved by much of what the ``first`` moved them by: one
    facet that a neighbour has turned upright is no reason to lean its whole wall once more. Nor is one that lacks next
    to nothing: moved by that little it would tilt slender triangles beside it by far more.
    """
    own = np.flatnonzero(walls.of >= 0)
    if not len(own):
        return walls
    had, leaned = np.zeros(len(walls.foot)), np.zeros(len(walls.foot))
    np.maximum.at(had, walls.of[own], np.where(first.of[own] >= 0, first.foot[first.of[own]], 0.0))
    np.maximum.at(leaned, walls.of[own], np.where(first.of[own] >= 0, first.slope[first.of[own]], 0.0))
    again = (walls.foot > SHARPENS * had) | (walls.slope < LACKS * leaned)
    return replace(walls, of=np.where((walls.of >= 0) & again[walls.of], -1, walls.of))


def _walls_at(start: Start, walls: Walls, faces: Ints, skip: Bools) -> Ints:
    """The walls that these faces or their corners belong to; every wall left when there is none."""
    corners = np.zeros(len(start.body.vertices), bool)
    corners[start.body.faces[faces]] = True
    near = corners[start.body.faces].any(axis=1) & (walls.of >= 0)
    own = distinct(walls.of[faces][walls.of[faces] >= 0])
    found = own if len(own) else distinct(walls.of[near])
    found = found[~skip[found]]
    if len(found):
        return found
    found = distinct(walls.of[near])
    found = found[~skip[found]]
    return found if len(found) else np.flatnonzero(~skip)


def per_face(body: Mesh, values: Floats, bends: Bends) -> Floats:
    """(m,) a figure of the part's faces on the body's. Added metal takes that of the faces it carries on, or the
    most there is.
    """
    face = body.tags.face
    most = float(values.max()) if len(values) else 0.0
    out = np.where(face >= 0, values[np.maximum(face, 0)], most)
    added = face < 0
    if not added.any():
        return out
    level = bends.pairs[bends.bend_deg < CARRIED_ON_DEG]
    group = grouped(len(face), level)
    known = np.full(int(group.max()) + 1, np.inf)
    np.minimum.at(known, group[~added], out[~added])
    return np.where(added & np.isfinite(known[group]), known[group], out)


def _tight(done: Mesh, start: Start, own: Ints, same: bool) -> tuple[float, tuple[float, float, float] | None]:
    """Area still short of its draft, and where most of it is. ``same``: the faces are those of the start, only
    moved.
    """
    direction, asked = start.direction, start.degrees
    if same:
        draft = np.degrees(np.arcsin(np.clip((done.normals @ direction) * start.side, -1.0, 1.0)))
        left = own[(draft[own] < asked[own] - 0.05) & (tilts(done)[own] < 1.0)]
    else:  # wedges made new faces: each is asked for what the wall was that it was cut from or laid on
        wanted = _asked_of(done, start, own)
        draft = np.degrees(np.arcsin(np.clip(np.abs(done.normals @ direction), 0.0, 1.0)))
        left = np.flatnonzero((draft < wanted - 0.05) & (tilts(done) < 1.0))
    if not len(left):
        return 0.0, None
    worst = left[int(np.argmax(done.areas[left]))]
    x, y, z = done.corners[worst].mean(axis=0)
    return float(done.areas[left].sum()), (float(x), float(y), float(z))


def _asked_of(done: Mesh, start: Start, own: Ints) -> Floats:
    """(m,) degrees asked of each face of a body with wedges; 0 where it stands for no wall."""
    out = np.zeros(len(done.faces))
    kept = done.tags.face >= 0
    table = np.zeros(max(int(done.tags.face.max(initial=-1)), int(start.body.tags.face.max(initial=-1))) + 1)
    walls = own[start.body.tags.face[own] >= 0]
    table[start.body.tags.face[walls]] = start.degrees[walls]
    out[kept] = table[done.tags.face[kept]]
    laid = np.flatnonzero(~kept & (done.areas > 0.0))
    face = behind(start.body, done, laid)
    is_wall = np.zeros(len(start.body.faces) + 1, bool)
    is_wall[own] = True
    on = is_wall[face]  # the last, that of -1, is none
    out[laid[on]] = start.degrees[face[on]]
    return out
