"""Sharp inside corners filled to a radius, outside edges eased: tubes swept along chains of edges.

Along a chain every vertex has one section, shared by the tube's pieces on both sides: the axis of the rolling ball
stands at the vertex plus u with n.u = r for every face beside the chain there, the arc runs between its feet on both
faces. A tube is the corner less that arc, united with the body (inside corners) or cut from it (outside edges).
"""

from dataclasses import dataclass, replace

import numpy as np

from pounce.base.errors import UserFault
from pounce.solid.features.patches import Bends, bends_of, tilts
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.tree import Tree, tree_of
from pounce.stock.body import joined_to

# Edges bent more than this are corners; less is a curve.
SHARP_DEG, MOST_DEG = 25.0, 165.0
ARC = 8
# Chains shorter than this many radii are left alone.
SHORT = 1.0
# Edges shorter than this share of the radius are passed over: two sections so near stand askew to one another by what
# the mesh is off, and leave slits in the fillet.
PASSED = 0.06
# How far an end may be laid over into the face it runs out at, over the tube's own width.
MOST_SLIP = 1.5
# Smaller than this a fillet is not worth its triangles.
LEAST_MM = 0.5
# A chain goes on round a corner whose two ways make no smaller angle than this (cosine): it is mitred there.
SHARPEST_TURN = 0.3
MOST_EDGES = 6000
# How deep tubes root in the body, mm.
ROOT_MM = 0.004
# And corner and roots of what fills an inside corner, of its radius.
ROOT_SHARE = 0.05


@dataclass(frozen=True, eq=False)
class Chain:
    """Edges one after another: ``points`` (k, 3) along it, ``left`` and ``right`` (k - 1, 3) normals of the faces
    beside each edge, ``closed`` when it ends where it began; ``ends`` normals of faces it may run out at, at its
    first and its last point; ``had_mm`` the radius it has already.
    """

    points: Floats
    left: Floats
    right: Floats
    closed: bool
    ends: tuple[tuple[Floats, ...], tuple[Floats, ...]] = ((), ())
    had_mm: float = 0.0

    @property
    def count(self) -> int:
        """Edges."""
        return len(self.left)


@dataclass(frozen=True, eq=False)
class Rounded:
    """What fillets came to: the body, how many chains got their radius, the least radius that fitted, and how many
    did not fit.
    """

    body: Mesh
    chains: int
    least_mm: float
    left: int
    length_mm: float
    at_mm: tuple[float, float, float] | None


def corner_chains(
    body: Mesh, concave: bool, barred: Bools, straight: bool = False, held: Bools | None = None
) -> list[Chain]:
    """Chains of sharp inside (or outside) edges; faces ``barred`` (m,) have none, nor edges between two vertices
    ``held`` (n,).

    ``straight``: only straight ones between planes.
    """
    bends = bends_of(body)
    sharp = (bends.bend_deg > SHARP_DEG) & (bends.bend_deg < MOST_DEG) & (bends.concave == concave)
    real = tilts(body) < 0.5
    sharp &= real[bends.pairs].all(axis=1) & ~barred[bends.pairs].any(axis=1)
    if held is not None:
        sharp &= ~held[bends.ends].all(axis=1)
    chosen = np.flatnonzero(sharp)
    if len(chosen) > MOST_EDGES:
        raise UserFault(
            "This part has more sharp edges than can be rounded one by one.", "Round them where it is drawn."
        )
    return _chained(body, bends, chosen, straight)


def _chained(body: Mesh, bends: Bends, chosen: Ints, straight: bool) -> list[Chain]:
    at: dict[int, list[int]] = {}
    for edge in chosen.tolist():
        for end in bends.ends[edge].tolist():
            at.setdefault(end, []).append(edge)
    used: set[int] = set()
    out: list[tuple[Ints, Floats, Floats, bool]] = []

    def onward(edge: int, vertex: int) -> int | None:
        """The edge that carries the chain on at this vertex: the only other one, and no sharp turn of the corner's
        own kind.
        """
        others = [other for other in at[vertex] if other != edge]
        if len(others) != 1 or others[0] in used:
            return None
        one, two = _way(body, bends, edge, vertex), _way(body, bends, others[0], vertex)
        limit = -0.9999 if straight else SHARPEST_TURN
        return others[0] if float(one @ two) < limit else None

    for first in chosen.tolist():
        if first in used:
            continue
        used.add(first)
        a, b = bends.ends[first].tolist()
        run = [first]
        line = [a, b]
        for forward in (True, False):
            while True:
                edge, vertex = (run[-1], line[-1]) if forward else (run[0], line[0])
                following = onward(edge, vertex)
                if following is None:
                    break
                used.add(following)
                p, q = bends.ends[following].tolist()
                other = q if p == vertex else p
                run.insert(len(run) if forward else 0, following)
                line.insert(len(line) if forward else 0, other)
                if line[0] == line[-1]:
                    break
            if len(line) > 2 and line[0] == line[-1]:
                break
        left, right = _beside(body, bends, run, line)
        closed = len(line) > 2 and line[0] == line[-1]
        out.append((np.array(line, np.int64), left, right, closed))
    open_ends = np.array([line[k] for line, _, _, closed in out if not closed for k in (0, -1)], np.int64)
    normals = _normals_at(body, open_ends)
    return [
        Chain(
            body.vertices[line],
            left,
            right,
            closed,
            (tuple(normals.get(int(line[0]), ())), tuple(normals.get(int(line[-1]), ()))),
        )
        for line, left, right, closed in out
    ]


def _way(body: Mesh, bends: Bends, edge: int, start: int) -> Floats:
    a, b = bends.ends[edge].tolist()
    end = b if a == start else a
    step = body.vertices[end] - body.vertices[start]
    return np.asarray(step / max(float(np.linalg.norm(step)), 1e-300))


def _beside(body: Mesh, bends: Bends, run: list[int], line: list[int]) -> tuple[Floats, Floats]:
    """Normals left and right of each edge as the chain runs: the left face runs along it the same way."""
    left, right = np.empty((len(run), 3)), np.empty((len(run), 3))
    for index, edge in enumerate(run):
        a, b = line[index], line[index + 1]
        one, two = bends.pairs[edge].tolist()
        face = body.faces[one].tolist()
        same = any(face[k] == a and face[(k + 1) % 3] == b for k in range(3))
        left[index], right[index] = body.normals[one if same else two], body.normals[two if same else one]
    return left, right


def _less_short(chain: Chain, least_mm: float) -> Chain:
    """The chain without the edges shorter than this; its ends stay."""
    if chain.count < 3:
        return chain
    kept, edges = [0], []
    for k in range(chain.count):
        last = k == chain.count - 1
        if float(np.linalg.norm(chain.points[k + 1] - chain.points[kept[-1]])) >= least_mm:
            kept.append(k + 1)
            edges.append(k)
        elif last and edges:  # the last place is the end: what stood too near before it goes
            kept[-1] = k + 1
            if len(kept) == 1:
                return chain
    if (len(edges) < 3 and chain.closed) or not edges:
        return chain
    return replace(chain, points=chain.points[kept], left=chain.left[edges], right=chain.right[edges])


def _sections(chain: Chain, radius: float, sign: float) -> Floats:
    """(k, ARC + 4, 3): at each vertex of the chain the corner, the root under the one foot, the arc from foot to foot,
    the root under the other.

    ``sign`` 1 for inside corners, -1 for outside edges. Feet lie a hair inside the material; corner and roots of what
    is added lie deeper, so that no room stays shut in where a chain passes over a short edge.
    """
    out = np.empty((len(chain.points), ARC + 4, 3))
    deep = ROOT_SHARE * radius if sign > 0.0 else ROOT_MM
    t = np.linspace(0.0, 1.0, ARC + 1)[:, None]
    for index in range(len(chain.points)):
        before, after = index - 1, index
        if chain.closed:
            before, after = (index - 1) % chain.count, index % chain.count
        near = [k for k in dict.fromkeys((before, after)) if 0 <= k < chain.count]
        left, right = chain.left[near], chain.right[near]
        both = np.concatenate([left, right])
        middle = _least(both, sign * radius)
        one, two = _least(left, sign * radius), _least(right, sign * radius)
        size = float(np.linalg.norm(one) * np.linalg.norm(two))
        angle = float(np.arccos(np.clip(one @ two / max(size, 1e-300), -1.0, 1.0)))
        arc = (np.sin((1.0 - t) * angle) * one + np.sin(t * angle) * two) / max(np.sin(angle), 1e-9)
        at = chain.points[index]
        out[index, 0] = at + _least(both, -sign * deep)
        out[index, 2:-1] = at + middle - arc
        for foot, root, side in ((2, 1, left), (-2, -1, right)):
            inward = -sign * side.mean(axis=0)
            out[index, root] = out[index, foot] + deep * inward
            out[index, foot] += ROOT_MM * inward
    return out


def _least(normals: Floats, amount: float) -> Floats:
    """The least u with n.u = amount for all normals; what nearly parallel ones contradict is left out."""
    values, vectors = np.linalg.eigh(normals.T @ normals)
    turned = vectors.T @ (normals.T @ np.full(len(normals), amount))
    held = values > 1e-3 * values[-1]
    return np.asarray(vectors @ np.where(held, turned / np.maximum(values, 1e-300), 0.0))


def _tube(sections: Floats, closed: bool) -> Mesh:
    """The closed solid between the sections (k, s, 3), capped at its ends where it does not close."""
    if closed:
        sections = sections[:-1]
    count, size = sections.shape[:2]
    number = np.arange(count * size).reshape(count, size)
    rows = count if closed else count - 1
    faces = []
    for k in range(rows):
        a, b = number[k], number[(k + 1) % count]
        c, d = np.roll(b, -1), np.roll(a, -1)
        faces += [np.stack([a, b, c], 1), np.stack([a, c, d], 1)]
    if not closed:
        fan = np.stack([np.zeros(size - 2, np.int64), np.arange(1, size - 1), np.arange(2, size)], axis=1)
        faces += [number[0][fan], number[-1][fan[:, ::-1]]]
    made = Mesh.of(sections.reshape(-1, 3), np.concatenate(faces))
    return made if made.volume >= 0.0 else Mesh.of(made.vertices, made.faces[:, ::-1])


def _ends_sheared(chain: Chain, sections: Floats) -> Floats:
    """The sections at open ends laid into the face the chain runs out at, so that nothing stands out there or is
    missing.
    """
    if chain.closed:
        return sections
    out = sections.copy()
    for index, inner in ((0, 1), (-1, -2)):
        at = chain.points[index]
        way = at - chain.points[inner]
        way = way / max(float(np.linalg.norm(way)), 1e-300)
        own = (chain.left[index], chain.right[index])
        best: Floats | None = None
        for normal in chain.ends[index]:
            beside = any(float(normal @ mine) > 0.99 for mine in own)
            if not beside and abs(float(normal @ way)) > 0.3 and (best is None or abs(normal @ way) > abs(best @ way)):
                best = normal
        if best is None:
            continue
        slip = ((at - out[index]) @ best) / float(best @ way)
        if float(np.abs(slip).max()) > MOST_SLIP * float(np.linalg.norm(out[index, 2] - out[index, 0])):
            continue
        out[index] = out[index] + slip[:, None] * way
    return out


def _normals_at(body: Mesh, vertices: Ints) -> dict[int, list[Floats]]:
    wanted = np.zeros(len(body.vertices), bool)
    wanted[vertices] = True
    rows = np.flatnonzero(wanted[body.faces].any(axis=1) & (tilts(body) < 1.0))
    out: dict[int, list[Floats]] = {}
    for row in rows.tolist():
        for vertex in body.faces[row].tolist():
            if wanted[vertex]:
                out.setdefault(vertex, []).append(body.normals[row])
    return out


def _fits(tree: Tree, sections: Floats, chain: Chain) -> bool:
    """Whether the feet of the arc lie on the body all along, and no section folds over the next."""
    lift = 0.05 + 4.0 * ROOT_MM
    points = np.concatenate([(side[:-1] + side[1:]) / 2.0 for side in (sections[:, 2], sections[:, -2])])
    ways = np.concatenate([chain.left, chain.right])
    # a ray down on the foot from just above must meet the body at once
    distance, hit = tree.nearest(points + ways * lift, -ways)
    if not bool(((hit >= 0) & (distance < lift + 0.1)).all()):
        return False
    along = np.diff(chain.points, axis=0)
    return bool((np.einsum("ksi,ki->ks", np.diff(sections, axis=0), along) > -1e-9).all())


def rounded(
    body: Mesh,
    radius_mm: float,
    concave: bool,
    barred: Bools,
    line: int,
    straight: bool = False,
    held: Bools | None = None,
    narrow: tuple[Chain, ...] = (),
) -> Rounded:
    """Inside corners filled to the radius (or less where there is no room), or outside edges eased by it.

    ``narrow``: corners besides the sharp ones, whose radius is too small.
    """
    chains = [*corner_chains(body, concave, barred, straight, held), *narrow]
    tree = tree_of(body)
    sign = 1.0 if concave else -1.0
    tools: list[Mesh] = []
    least, left, size = radius_mm, 0, 0.0
    at: tuple[float, float, float] | None = None
    for sharp in chains:
        chain = _less_short(sharp, PASSED * radius_mm)
        radius = radius_mm
        made = None
        long = float(np.linalg.norm(np.diff(chain.points, axis=0), axis=1).sum())
        if long < SHORT * radius_mm:  # no corner a hand would round
            continue
        while radius >= max(LEAST_MM, 1.02 * chain.had_mm):
            sections = _ends_sheared(chain, _sections(chain, radius, sign))
            if np.isfinite(sections).all() and _fits(tree, sections, chain):
                made = _tube(sections, chain.closed)
                over = np.maximum(body.bounds[0] - made.bounds[0], made.bounds[1] - body.bounds[1]).max()
                if not concave or float(over) < 2.0 * ROOT_MM:
                    break
                made = None
            radius *= 0.7
        if made is None or made.volume <= 0.0:
            left += 1
            continue
        tools.append(made)
        least = min(least, radius)
        size += long
        if at is None:
            x, y, z = chain.points[len(chain.points) // 2]
            at = (float(x), float(y), float(z))
    if not tools:
        return Rounded(body, 0, 0.0, left, 0.0, None)
    return Rounded(joined_to(body, tools, line, cut=not concave), len(tools), least, left, size, at)
