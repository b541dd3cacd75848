"""Closing and turning shells, and saying what was done. A shell that cannot be closed is kept open."""

from dataclasses import dataclass, field

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from pounce.part.formats import RawBody
from pounce.part.model import Body
from pounce.solid import boolean
from pounce.solid.mesh import Edges, Floats, Ints, Mesh, edges, joined, merged_vertices
from pounce.solid.polygons import spanned
from pounce.solid.sets import is_among
from pounce.solid.tags import FaceTags
from pounce.solid.tree import build
from pounce.solid.weld import near_vertices_merged

# A hole of more edges than this is not a crack: it is a missing face the user should see.
MOST_HOLE_EDGES = 60
MOST_BODIES = 400
# Corners nearer than this share of the diagonal are one: files round them; some write them with more noise than that,
# still far under what is cast.
WELDS = (1e-6, 1e-5)
# ... and so is one whose rim has more edges than half the faces there are: a lone triangle has no crack.
LEAST_ROUND = 2
# A body that fills less than this share of the cube over its diagonal holds nothing.
LEAST_FILL = 1e-9
# ... and is a film that some solid operation left, where it has less than this share of the surface beside a body.
FILM_SHARE = 1e-3


@dataclass
class Notes:
    """What mending did, counted."""

    cracks: int = 0
    turned: int = 0
    doubled: int = 0
    welded: int = 0
    inside_out: int = 0
    films: int = 0
    lines: list[str] = field(default_factory=list)

    def words(self) -> tuple[str, ...]:
        """The notes as short sentences."""
        said = []
        counts = [
            (self.cracks, "closed {} crack", "closed {} cracks"),
            (self.turned, "turned {} face", "turned {} faces"),
            (self.doubled, "dropped {} doubled or empty face", "dropped {} doubled or empty faces"),
            (self.welded, "joined {} loose corner", "joined {} loose corners"),
            (self.inside_out, "turned {} body outside out", "turned {} bodies outside out"),
            (self.films, "dropped {} film of no thickness", "dropped {} films of no thickness"),
        ]
        for count, one, many in counts:
            if count:
                said.append((one if count == 1 else many).format(count))
        return (*said, *self.lines)


def imported(raw: RawBody) -> FaceTags:
    """Faces tagged with the model file's own, where it tells them."""
    own = FaceTags.own(len(raw.faces))
    return own if raw.imported is None else own.changed(imported=raw.imported)


def mend(raw: RawBody, notes: Notes) -> list[Body]:
    """The bodies in this raw body: welded, split by connection, turned outward and closed where possible."""
    vertices, faces = merged_vertices(raw.vertices, raw.faces, 0.0)
    whole = Mesh.of(vertices, faces, imported(raw))
    sound, table = boolean.closed_solid(whole) is not None, edges(whole.faces, len(whole.vertices))
    # doubled faces may close as a solid, but shells are told apart by edges of two faces
    if not sound or table.crowded:
        mended = _repaired(whole, notes)
        if mended is not whole:
            whole, sound, table = mended, False, edges(mended.faces, len(mended.vertices))
    return _separated(whole, raw.name, notes, sound, table)


def _repaired(mesh: Mesh, notes: Notes) -> Mesh:
    """On a copy: weld, drop doubles, turn, close small holes. Kept only if that brought it nearer to closed; corners
    are welded from farther where that joins more and the shell is still open.
    """
    best, least = mesh, _faults(mesh)
    done: Notes | None = None
    count = len(mesh.vertices)
    for share in WELDS:
        vertices, faces = near_vertices_merged(mesh.vertices, mesh.faces, share * mesh.diagonal)
        if done is not None and len(vertices) == count:
            continue  # nothing more is joined
        count = len(vertices)
        mended, own = _mended(mesh, vertices, faces)
        left = _faults(mended)
        if left < least:
            best, least, done = mended, left, own
        if not least:
            break
    if done is not None:
        notes.cracks += done.cracks
        notes.turned += done.turned
        notes.doubled += done.doubled
        notes.welded += done.welded
    return best


def _faults(mesh: Mesh) -> int:
    table = edges(mesh.faces, len(mesh.vertices))
    return len(table.open_ends) + table.crowded + table.misturned


def _mended(mesh: Mesh, vertices: Floats, faces: Ints) -> tuple[Mesh, Notes]:
    """The mesh on welded vertices, less doubled and empty faces, turned alike and with its cracks closed."""
    notes = Notes(welded=len(mesh.vertices) - len(vertices))
    keep = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
    ordered = np.sort(faces, axis=1)
    _, first = np.unique(ordered, axis=0, return_index=True)
    single = np.zeros(len(faces), bool)
    single[first] = True
    keep &= single
    notes.doubled = int((~keep).sum())
    faces, tags = faces[keep], mesh.tags.at(keep)
    faces, notes.turned = _turned_alike(faces, len(vertices))
    faces, tags, notes.cracks = _holes_closed(vertices, faces, tags)
    return Mesh.of(vertices, faces, tags), notes


def _turned_alike(faces: Ints, vertex_count: int) -> tuple[Ints, int]:
    """Faces turned so that neighbours agree, the fewer ones turned in each shell."""
    table = edges(faces, vertex_count)
    if not table.misturned or not len(table.pairs):
        return faces, 0
    count = len(faces)
    a, b = table.pairs[:, 0], table.pairs[:, 1]
    low = table.pair_ends[:, 0]
    disagree = _runs_up(faces[a], low, table.pair_ends[:, 1]) == _runs_up(faces[b], low, table.pair_ends[:, 1])
    # each face stands twice, as it is and turned; neighbours that agree are tied as they are, others crosswise. What
    # hangs on a shell's first face as it is stays.
    over = np.where(disagree, count, 0)
    ties = np.concatenate([np.stack([a, b + over], axis=1), np.stack([a + count, b + count - over], axis=1)])
    label = connected_components(_graph(ties, 2 * count), directed=False)[1]
    _, shell = connected_components(_graph(table.pairs, count), directed=False)
    first = np.unique(shell, return_index=True)[1]
    flip = label[:count] != label[first][shell]
    # the fewer ones are turned
    most = 2 * np.bincount(shell, flip) > np.bincount(shell)
    flip ^= most[shell]
    out = faces.copy()
    out[flip] = out[flip][:, ::-1]
    return out, int(flip.sum())


def _graph(pairs: Ints, count: int) -> coo_matrix:
    return coo_matrix((np.ones(len(pairs), np.int8), (pairs[:, 0], pairs[:, 1])), shape=(count, count))


def _runs_up(faces: Ints, low: Ints, high: Ints) -> Floats:
    up = np.zeros(len(faces), bool)
    for k in range(3):
        up |= (faces[:, k] == low) & (faces[:, (k + 1) % 3] == high)
    return up


def _holes_closed(vertices: Floats, faces: Ints, tags: FaceTags) -> tuple[Ints, FaceTags, int]:
    """Small holes filled, each in the plane nearest to its rim."""
    table = edges(faces, len(vertices))
    if not len(table.open_ends):
        return faces, tags, 0
    directed = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    keys = np.sort(directed, axis=1) @ np.array([len(vertices), 1])
    wanted = is_among(keys, table.open_ends @ np.array([len(vertices), 1]))
    following: dict[int, list[int]] = {}
    for start, end in directed[wanted].tolist():
        following.setdefault(end, []).append(start)
    new: list[list[int]] = []
    closed = 0
    while following:
        head = next(iter(following))
        loop, place = [head], {head: 0}
        node = head
        while True:
            after = following.get(node)
            if not after:
                loop = []
                break
            step = after.pop()
            if not after:
                del following[node]
            node = step
            if node == head:
                break
            if node in place:
                loop = loop[place[node] :]
                break
            place[node] = len(loop)
            loop.append(node)
        if 3 <= len(loop) <= min(MOST_HOLE_EDGES, len(faces) // LEAST_ROUND):
            new += np.array(loop)[spanned(vertices[loop])].tolist()
            closed += 1
        elif not loop:
            following.pop(head, None)
    if not new:
        return faces, tags, 0
    return (np.concatenate([faces, np.array(new, np.int64)]), FaceTags.joined([tags, FaceTags.of(len(new))]), closed)


def _separated(mesh: Mesh, name: str, notes: Notes, sound: bool, table: Edges) -> list[Body]:
    """One body a connected shell; a hollow inside another shell stays with the shell round it, films of no thickness
    beside a body are dropped. ``sound``: all of it is known to close; ``table`` its edges.
    """
    count = len(mesh.faces)
    parts, label = connected_components(_graph(table.pairs, count), directed=False)
    if parts > MOST_BODIES:
        return [_body(mesh, name, table)]
    shells = [mesh.part(rows) for rows in _members(label)] if parts > 1 else [mesh]
    # the edges are asked first: a solid of every shell takes far longer
    solid = [sound or _edge_closed(shell) or boolean.closed_solid(shell) is not None for shell in shells]
    film = [closed and not _holds(shell, abs(shell.volume)) for shell, closed in zip(shells, solid, strict=True)]
    small = FILM_SHARE * mesh.area
    films = [k for k, shell in enumerate(shells) if film[k] and shell.area < small]
    if films and not all(film):
        shells = [shell for k, shell in enumerate(shells) if k not in films]
        solid = [closed for k, closed in enumerate(solid) if k not in films]
        notes.films += len(films)
    hosts: dict[int, list[Mesh]] = {}
    for index, shell in enumerate(shells):
        if solid[index] and shell.volume < 0.0:
            host = _host(shell, [s if solid[k] and s.volume > 0 and k != index else None for k, s in enumerate(shells)])
            if host is not None:
                hosts.setdefault(host, []).append(shell)
                shells[index] = Mesh.of(np.zeros((0, 3)), np.zeros((0, 3), np.int64))
            else:
                shells[index] = Mesh.of(shell.vertices, shell.faces[:, ::-1], shell.tags)
                notes.inside_out += 1
    bodies: list[Body] = []
    for index, shell in enumerate(shells):
        if not len(shell.faces):
            continue
        full = joined([shell, *hosts[index]]) if index in hosts else shell
        own = table if full is mesh else edges(full.faces, len(full.vertices))
        bodies.append(_body(full, name, own, sound and parts == 1))
    if len(bodies) > 1:
        bodies = [Body(f"{name} {k}", b.mesh, b.closed, b.open_edges) for k, b in enumerate(bodies, 1)]
    return bodies


def _members(label: Ints) -> list[Ints]:
    """The rows of each number, in rising order."""
    order = np.argsort(label, kind="stable")
    return np.split(order, np.flatnonzero(np.diff(label[order])) + 1)


def _edge_closed(mesh: Mesh) -> bool:
    table = edges(mesh.faces, len(mesh.vertices))
    return not len(table.open_ends) and not table.crowded and not table.misturned


def _host(hollow: Mesh, shells: list[Mesh | None]) -> int | None:
    """Index of the smallest shell that holds a corner of the hollow, by counting crossings along a slanted ray."""
    point = hollow.corners[0].mean(axis=0)
    ray = np.array([[0.577, 0.211, 0.789]])
    best: tuple[float, int] | None = None
    for index, shell in enumerate(shells):
        if shell is None or (point < shell.bounds[0]).any() or (point > shell.bounds[1]).any():
            continue
        tree, origin, crossings = build(shell), point[None, :].copy(), 0
        while True:
            distance, face = tree.nearest(origin, ray)
            if face[0] < 0:
                break
            crossings += 1
            origin = origin + ray * (distance[0] + 1e-9 * shell.diagonal)
        if crossings % 2 and (best is None or shell.volume < best[0]):
            best = (shell.volume, index)
    return None if best is None else best[1]


def _holds(mesh: Mesh, volume: float) -> bool:
    return volume > LEAST_FILL * max(mesh.diagonal, 1e-300) ** 3


def _body(mesh: Mesh, name: str, table: Edges, sound: bool = False) -> Body:
    # what holds next to nothing, or runs inside out, is no body that metal could fill
    closed = _holds(mesh, mesh.volume) and (sound or boolean.closed_solid(mesh) is not None)
    return Body(name, mesh, closed, np.array(mesh.vertices[table.open_ends]).reshape(-1, 2, 3))


def as_body(raw: RawBody, name: str) -> Body:
    """A body that was mended before it was kept: taken as it is."""
    mesh = Mesh.of(raw.vertices, raw.faces, imported(raw))
    return _body(mesh, name, edges(mesh.faces, len(mesh.vertices)))
