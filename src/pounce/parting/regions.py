"""Places a person would name: locked or tight faces grouped by connection, with what they are in words."""

from dataclasses import replace

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from pounce.base.units import count_words
from pounce.metals.tables import limits
from pounce.parting.values import Judged, Kind, Region, State
from pounce.solid import rounds
from pounce.solid.groove import groove_at, turned_about
from pounce.solid.mesh import Bools, Floats, Ints, Mesh, areas_of, edges

MOST_REGIONS = 24
MOST_PLACES = 240
# A place smaller than this share of the surface is a crumb: it is counted but not named.
CRUMB = 2e-4
BEND_DEG = 35.0
# Patches of one surface, for finding its shape: a countersink must part from its hole.
PATCH_DEG = 25.0
# A patch that turns less than this is a bent wall, not a round.
LEAST_TURNED_DEG = 70.0
# So much of a place tells nothing of its draft: triangles where a wall was cut and leaned.
SLIVERS = 0.02


def grouped(mesh: Mesh, judged: Judged, direction: Floats, asked: Floats) -> tuple[tuple[Region, ...], Ints]:
    """Regions, the locked first and the larger first, and the region of every piece (-1 for none)."""
    areas = areas_of(judged.corners)
    by_state = {
        state: np.bincount(judged.face, np.where(judged.state == state, areas, 0.0), len(mesh.faces))
        for state in (State.TIGHT, State.LOCKED)
    }
    regions: list[Region] = []
    piece_region = np.full(len(judged.face), -1, np.int64)
    for state in (State.LOCKED, State.TIGHT):
        members = by_state[state] > 1e-3 * mesh.areas
        label, count = _connected(mesh, members, BEND_DEG if state is State.TIGHT else None)
        if not count:
            continue
        area = np.bincount(label[members], by_state[state][members], count)
        for group in np.argsort(-area).tolist():
            if area[group] < CRUMB * mesh.area or len(regions) >= MOST_PLACES:
                break
            mine = (judged.state == state) & (label[judged.face] == group)
            piece_region[mine] = len(regions)
            faces = np.flatnonzero(members & (label == group))
            region = _region(mesh, judged, state, mine, faces, areas, direction)
            wanted = float(np.average(asked[judged.face[mine]], weights=np.maximum(areas[mine], 1e-300)))
            regions.append(replace(region, asked_deg=round(4.0 * wanted) / 4.0))
    return _merged(regions, piece_region)


def _connected(mesh: Mesh, members: Bools, bend_deg: float | None) -> tuple[Ints, int]:
    """(m,) group of each member face (-1 elsewhere) and the number of groups."""
    label = np.full(len(mesh.faces), -1, np.int64)
    own = np.flatnonzero(members)
    if not len(own):
        return label, 0
    pairs = edges(mesh.faces[own], len(mesh.vertices)).pairs
    if bend_deg is not None:
        one, two = mesh.normals[own[pairs[:, 0]]], mesh.normals[own[pairs[:, 1]]]
        pairs = pairs[np.einsum("ij,ij->i", one, two) > np.cos(np.radians(bend_deg))]
    graph = coo_matrix((np.ones(len(pairs), np.int8), (pairs[:, 0], pairs[:, 1])), shape=(len(own), len(own)))
    count, groups = connected_components(graph, directed=False)
    label[own] = groups
    return label, int(count)


def _region(
    mesh: Mesh, judged: Judged, state: State, mine: Bools, faces: Ints, areas: Floats, direction: Floats
) -> Region:
    own = areas[mine]
    total = float(own.sum())
    middles = judged.corners[mine].mean(axis=1)
    centre = (own[:, None] * middles).sum(axis=0) / total
    nearest = middles[int(np.argmin(np.linalg.norm(middles - centre, axis=1)))]
    normal = (mesh.areas[faces][:, None] * mesh.normals[faces]).sum(axis=0)
    size = float(np.linalg.norm(normal))
    flat = size > 0.995 * float(mesh.areas[faces].sum())
    heights, above = judged.corners[mine] @ direction, judged.above[mine]
    least = _least_draft(judged.draft_deg[mine], own)
    name, note, diameter, kind = _named(mesh, faces, normal / size if size > 0 else normal, flat, direction, state)
    ring = None
    if state is State.LOCKED and kind in (Kind.HOLLOW, Kind.ROUND, Kind.HOLE):
        middle = turned_about(mesh, faces, direction)
        ring = None if middle is None else groove_at(mesh, middle, direction, nearest)
    if ring is not None:
        name, note, kind = "groove round the outside", "undercut", Kind.GROOVE
        inside = middles[ring.holds(middles)]
        # a hole that runs into it may be nearer to the middle: what is done is done at this place
        nearest = inside[int(np.argmin(np.linalg.norm(inside - centre, axis=1)))] if len(inside) else nearest
    return Region(
        ring_mm3=0.0 if ring is None else ring.ring_mm3,
        groove_mm=(0.0, 0.0) if ring is None else (ring.level(ring.low_mm), ring.level(ring.high_mm)),
        neck_mm=0.0 if ring is None else ring.level(ring.neck_mm),
        state=state,
        area_mm2=total,
        centre_mm=(float(nearest[0]), float(nearest[1]), float(nearest[2])),
        normal=_triple(normal / size if size > 0.05 * float(mesh.areas[faces].sum()) else mesh.normals[faces[0]]),
        least_draft_deg=least,
        depth_mm=_depth(heights, above) if state is State.TIGHT else float(np.ptp(heights)),
        name=name,
        note=note,
        kind=kind,
        diameter_mm=diameter,
    )


def _least_draft(draft_deg: Floats, areas: Floats) -> float:
    """The least draft of pieces (k,), but for that of slivers: the last of a place counts by what it is of it, up to
    what drags over too little to be felt.
    """
    order = np.argsort(draft_deg)
    slivers = min(SLIVERS * float(areas.sum()), 0.1 * limits()["tight_crumb_most"].value)
    first = int(np.searchsorted(np.cumsum(areas[order]), slivers, side="right"))
    return float(draft_deg[order[min(first, len(order) - 1)]])


def _depth(heights: Floats, above: Bools) -> float:
    """How deep a wall stands in the sand, of ``heights`` (k, 3): each half of a mould leaves its own side of it."""
    return max(float(np.ptp(heights[side])) for side in (above, ~above) if side.any())


def _triple(v: Floats) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])


def _named(
    mesh: Mesh, faces: Ints, normal: Floats, flat: bool, direction: Floats, state: State
) -> tuple[str, str, float, Kind]:
    """A short name, how it lies to the draw, a diameter where the name speaks of one, and what it is."""
    if flat:
        return f"face {_toward(normal, direction)}", "flat", 0.0, Kind.FACE
    found = _round(mesh, faces)
    if found is None:
        if state is State.LOCKED:
            return "hollow", "undercut", 0.0, Kind.HOLLOW
        name = f"wall {_toward(normal, direction)}" if np.linalg.norm(normal) > 0.3 else "wall all round"
        return name, "wall", 0.0, Kind.WALL
    along = abs(float(found.axis @ direction))
    size, across_mm = "Ø {diameter_mm}", 2.0 * found.radius_mm
    lies = "upright" if along > 0.94 else "across" if along < 0.34 else "slanting"
    if found.hollow and found.turned_deg > 200.0:
        kind = Kind.BORE if lies == "upright" else Kind.HOLE
        return f"{kind} {size}", lies, across_mm, kind
    if found.hollow:
        return f"hollow {size}", lies, across_mm, Kind.HOLLOW
    return f"round {size}", lies, across_mm, Kind.ROUND


def _round(mesh: Mesh, faces: Ints) -> rounds.Round | None:
    """The cylinder this place is, or that its largest smooth patch is."""
    found = rounds.fit(mesh, faces)
    if found is not None and found.misfit < 0.02 and found.turned_deg > LEAST_TURNED_DEG:
        return found
    members = np.zeros(len(mesh.faces), bool)
    members[faces] = True
    label, count = _connected(mesh, members, PATCH_DEG)
    if count < 2:
        return None
    area = np.bincount(label[faces], mesh.areas[faces], count)
    for patch in np.argsort(-area)[:4].tolist():
        found = rounds.fit(mesh, np.flatnonzero(label == patch))
        if found is not None and found.misfit < 0.02 and found.turned_deg > LEAST_TURNED_DEG:
            return found
    return None


def _toward(normal: Floats, direction: Floats) -> str:
    """Which way a face looks, in words: up and down along the draw, else the model's own axes."""
    if float(normal @ direction) > 0.85:
        return "on top"
    if float(normal @ direction) < -0.85:
        return "underneath"
    index = int(np.argmax(np.abs(normal)))
    sides = (("left", "right"), ("front", "back"), ("underneath", "on top"))[index]
    upright = abs(float(direction[2])) > 0.9
    if upright and index < 2:
        return f"at the {sides[int(normal[index] > 0)]}"
    return f"on the model's {'−+'[int(normal[index] > 0)]}{'xyz'[index]} side"


def _merged(regions: list[Region], piece_region: Ints) -> tuple[tuple[Region, ...], Ints]:
    """Places that are alike become one region of several; the largest of each state are named, the rest is one."""
    groups: dict[tuple[object, ...], list[int]] = {}
    for index, region in enumerate(regions):
        shape = (
            round(np.log(region.area_mm2) / 0.05),
            round(region.depth_mm, 1),
            round(region.least_draft_deg, 1),
            region.asked_deg,
        )
        if region.note == "flat":  # alike though they look another way: the teeth of a wheel
            key: tuple[object, ...] = (region.state, "flat", shape)
        else:
            key = (region.state, region.words(), region.note, shape)
        groups.setdefault(key, []).append(index)
    out: list[Region] = []
    becomes = np.full(len(regions) + 1, -1, np.int64)
    for state in (State.LOCKED, State.TIGHT):  # many small places of one are no reason to leave out the other
        alike = [members for members in groups.values() if regions[members[0]].state is state]
        for members in alike[:MOST_REGIONS]:
            becomes[members] = len(out)
            out.append(_together([regions[index] for index in members]))
        rest = [index for members in alike[MOST_REGIONS:] for index in members]
        if rest:
            becomes[rest] = len(out)
            out.append(_smaller([regions[index] for index in rest]))
    return tuple(_told_apart(out)), becomes[piece_region]


def _together(alike: list[Region]) -> Region:
    """Places that are alike, as one of several."""
    first = alike[0]
    if len(alike) == 1:
        return first
    return replace(_sum(alike), name=_several(first, len(alike)))


def _smaller(rest: list[Region]) -> Region:
    """All that is left beside the places that are named, so that nothing is lost of it: as it is in the mean, for a
    place of the least draft here and one of the greatest depth there are no wall that drags.
    """
    whole, areas = _sum(rest), [region.area_mm2 for region in rest]
    what = "wall" if whole.state is State.TIGHT else "hollow"

    def mean(values: list[float]) -> float:
        return float(np.average(values, weights=areas))

    return replace(
        whole,
        name=f"{count_words(whole.count)} small {what}s" if whole.count > 1 else f"small {what}",
        note="wall" if whole.state is State.TIGHT else "undercut",
        kind=Kind.WALL if whole.state is State.TIGHT else Kind.HOLLOW,
        asked_deg=mean([region.asked_deg for region in rest]),
        least_draft_deg=mean([region.least_draft_deg for region in rest]),
        depth_mm=mean([region.depth_mm for region in rest]),
        diameter_mm=0.0,
    )


def _sum(regions: list[Region]) -> Region:
    """The first, with the area, the sand and the number of all."""
    return replace(
        regions[0],
        area_mm2=sum(region.area_mm2 for region in regions),
        ring_mm3=sum(region.ring_mm3 for region in regions),
        count=sum(region.count for region in regions),
    )


def _several(region: Region, count: int) -> str:
    if region.kind is Kind.GROOVE:
        return "grooves round the outside"
    number = count_words(count)
    word, _, rest = region.name.partition(" ")
    if region.note == "flat":
        return f"{number} flat faces"
    plural = {"hollow": "hollows", "round": "rounds"}.get(word, f"{word}s")
    return f"{number} {plural} {rest}".strip()


def _told_apart(regions: list[Region]) -> list[Region]:
    """Names that stand more than once are counted off, the largest first."""
    seen: dict[str, int] = {}
    out = []
    for region in regions:
        said = region.words()
        seen[said] = nth = seen.get(said, 0) + 1
        if nth == 1:
            out.append(region)
            continue
        ordinal = _ORDINALS[min(nth, len(_ORDINALS)) - 1]
        out.append(replace(region, name=f"{ordinal} {region.name}"))
    return out


_ORDINALS = ("first", "second", "third", "other")
