"""What really holds: a place that locks tears the mould only where sand can be in it, and where hands that rap the
pattern do not free it.

The sand of a film left by a boolean, of a chamfer's rim or of the noise of a mesh is thinner than what sand can form,
or leaves once the pattern is rapped. Such places are crumbs: counted, never a decision.
"""

from dataclasses import replace

import numpy as np

from pounce.draw.reachability import LIFT
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.parting.joint import Joint
from pounce.parting.values import Judged, Region, State
from pounce.solid.frame import across
from pounce.solid.mesh import Bools, Floats, Mesh, areas_of
from pounce.solid.sample import spread_on
from pounce.solid.tree import Tree, tree_of

WITNESSES = 48
ROUND = 8


def held_regions(
    mesh: Mesh, judged: Judged, regions: tuple[Region, ...], joint: Joint, method: Method, rap_mm: float
) -> tuple[Region, ...]:
    """The regions, those that lock with the share of their area that really holds sand."""
    fine = limits()["grains_across_detail"].value * method.mould.grain.value
    out = []
    for number, region in enumerate(regions):
        if region.state is not State.LOCKED:
            out.append(region)
            continue
        own = np.flatnonzero((judged.region == number) & (judged.state == State.LOCKED))
        out.append(replace(region, held=held_share(mesh, judged, own, joint, fine, rap_mm)))
    return tuple(out)


def held_share(mesh: Mesh, judged: Judged, own: np.ndarray, joint: Joint, fine_mm: float, rap_mm: float) -> float:
    """Share (0 to 1) of these locked pieces (their rows) at which sand is held: high and wide enough for sand to be
    there (``fine_mm``), and not freed by rapping ``rap_mm`` each way.
    """
    corners = judged.corners[own]
    points, rows = spread_on(corners, areas_of(corners), WITNESSES)
    if not len(points):
        return 0.0
    tree = tree_of(mesh)
    normals = mesh.normals[judged.face[own][rows]]
    start = points + LIFT * mesh.diagonal * normals
    ways = np.where(judged.above[own][rows][:, None], joint.direction, -joint.direction)
    over, _ = tree.nearest(start, ways)
    under, _ = tree.nearest(start, -ways)
    under = np.minimum(under, np.abs(joint.above(start)))  # the half's own sand ends at the joint
    wide, other = tree.nearest(start, normals)
    # a film thinner than the lift has been jumped: what is looked at from there is metal, seen from within
    within = (other >= 0) & (np.einsum("ij,ij->i", mesh.normals[other], normals) > 0.0)
    held = np.isfinite(over) & (over + under > fine_mm) & (wide > fine_mm) & ~within
    held[held] = ~_freed(tree, start[held], ways[held], rap_mm)
    return float(held.mean())


def _freed(tree: Tree, start: Floats, ways: Floats, rap_mm: float) -> Bools:
    """(k,) whether sand there can leave once the pattern has moved sideways by no more than the rapping."""
    free = np.zeros(len(start), bool)
    if rap_mm <= 0.0 or not len(start):
        return free
    u, v = across(ways[0])
    for step in (0.25, 0.5, 1.0):
        for turn in 2.0 * np.pi * np.arange(ROUND) / ROUND:
            asked = np.flatnonzero(~free)
            if not len(asked):
                return free
            side = np.cos(turn) * u + np.sin(turn) * v
            there = tree.nearest(start[asked], np.tile(side, (len(asked), 1)))[0] > step * rap_mm
            leaves = ~tree.blocked(start[asked] + step * rap_mm * side, ways[asked])
            free[asked[there & leaves]] = True
    return free
