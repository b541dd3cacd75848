"""Cures for a locked place, each tried before it is offered: tilting the draw, moving the joint, following the part,
a loose piece.
"""

import numpy as np

from pounce.base.finding import Remedy
from pounce.base.units import degrees, length
from pounce.draw.candidates import opened
from pounce.draw.changes import SetDraw
from pounce.draw.scan import Pieces, locked_at, scan
from pounce.draw.values import DrawResult
from pounce.draw.ways import ring_round
from pounce.parting.changes import MakeLoose, SetHeight, SetJoint
from pounce.parting.choose import Chosen
from pounce.parting.values import Judged, LoosePiece, Region, State
from pounce.solid.mesh import Floats, Mesh, areas_of
from pounce.solid.sample import spread
from pounce.solid.tree import tree_of

TILTS_DEG = (2.0, 4.0, 7.0, 11.0, 16.0)
ROUND = 8
POINTS, WHOLE = 250, 900
# A cure is worth a word when it frees this share of the place, and the rest locks no more than a little.
CURED, BETTER = 0.97, 0.3
MOST = 5


def cures_for(
    mesh: Mesh,
    draw: DrawResult,
    chosen: Chosen,
    judged: Judged,
    regions: tuple[Region, ...],
    loose: dict[int, LoosePiece | None],
    flat: Pieces,
) -> dict[int, tuple[Remedy, ...]]:
    """Cures of the largest locked regions, by their index, in the order to try them."""
    out: dict[int, tuple[Remedy, ...]] = {}
    everywhere = spread(mesh, WHOLE)
    for index, region in enumerate(regions):
        if region.state is not State.LOCKED or len(out) >= MOST:
            continue
        found: list[Remedy] = []
        own = np.flatnonzero((judged.region == index) & (judged.state == State.LOCKED))
        tilted = _tilt(mesh, draw, judged, own, everywhere)
        if tilted is not None:
            found.append(tilted)
        moved = _move(draw, chosen, judged, own, flat)
        if moved is not None:
            found.append(moved)
        if chosen.joint.level and _one_way_share(draw, judged, own) > BETTER:
            found.append(Remedy("parting-natural", "Let the joint follow the part", SetJoint("natural")))
        if loose.get(index) is not None:
            found.append(Remedy("loose-piece", "Make it a loose piece", MakeLoose(region.centre_mm)))
        out[index] = tuple(found)
    return out


def _one_way_share(draw: DrawResult, judged: Judged, own: np.ndarray) -> float:
    """Share of a locked place that could leave by the other side."""
    face = judged.face[own]
    areas = areas_of(judged.corners[own])
    free = draw.reach.up[face] | draw.reach.down[face]
    return float(areas[free].sum() / max(areas.sum(), 1e-300))


def _tilt(
    mesh: Mesh, draw: DrawResult, judged: Judged, own: np.ndarray, everywhere: tuple[Floats, np.ndarray]
) -> Remedy | None:
    """The least tilt of the draw that frees the place and locks no more elsewhere."""
    tree = tree_of(mesh)
    areas = areas_of(judged.corners[own])
    order = np.argsort(-areas)[:POINTS]
    corners = judged.corners[own][order]
    points, weight = corners.mean(axis=1), areas[order]
    normals = mesh.normals[judged.face[own][order]]
    all_points, all_faces = everywhere
    all_normals = mesh.normals[all_faces]

    def never(at: Floats, normal: Floats, way: Floats) -> np.ndarray:
        slope = normal @ way
        up = opened(tree, at, normal, slope, way, mesh.diagonal)
        down = opened(tree, at, normal, -slope, -way, mesh.diagonal)
        return np.asarray(~up & ~down)

    now = float(never(all_points, all_normals, draw.direction).mean())
    if float((weight * never(points, normals, draw.direction)).sum()) < 0.3 * weight.sum():
        return None  # it locks by the joint, not by the draw
    for tilt in TILTS_DEG:
        for way in ring_round(draw.direction, tilt, ROUND):
            if float((weight * never(points, normals, way)).sum()) > (1.0 - CURED) * weight.sum():
                continue
            if float(never(all_points, all_normals, way).mean()) < now - 0.3 * weight.sum() / mesh.area:
                turned = way / np.linalg.norm(way)
                return Remedy(
                    "tilt-draw",
                    f"Tilt the draw {degrees(tilt)}: cured",
                    SetDraw((round(float(turned[0]), 6), round(float(turned[1]), 6), round(float(turned[2]), 6))),
                )
    return None


def _move(draw: DrawResult, chosen: Chosen, judged: Judged, own: np.ndarray, flat: Pieces) -> Remedy | None:
    """A flat joint at another height that frees most of the place and locks no more in all."""
    if not chosen.joint.level:
        return None
    face = judged.face[own]
    corners = judged.corners[own]
    pieces = Pieces(corners @ draw.direction, areas_of(corners), draw.reach.up[face], draw.reach.down[face])
    heights, values = scan(pieces)
    inside = (heights > draw.low_mm + chosen.slack_mm) & (heights < draw.high_mm - chosen.slack_mm)
    if not inside.any():
        return None
    best = float(heights[inside][int(np.argmin(values[inside]))])
    now, then = float(pieces.areas.sum()), float(values[inside].min())
    if now <= 0.0 or then > (1.0 - BETTER) * now:
        return None
    if locked_at(flat, best, chosen.slack_mm) > locked_at(flat, chosen.joint.height_mm, chosen.slack_mm):
        return None
    less = "cured" if then < 0.03 * now else f"{100.0 * (1.0 - then / now):.0f} % less"
    return Remedy("move-parting", f"Part at {length(best)}: {less}", SetHeight(best))


def said(found: LoosePiece) -> str:
    """A loose piece in words."""
    return f"drawn sideways {length(found.travel_mm)}"
