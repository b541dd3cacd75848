"""Which places and findings a core settles: those about walls and sand that its hollow holds."""

import numpy as np

from pounce.base.finding import Finding, Severity
from pounce.cores.values import FindingKey, key_of
from pounce.parting.values import PartingResult, State
from pounce.solid.hollow import Hollow
from pounce.solid.mesh import Bools, Floats, Mesh, areas_of
from pounce.solid.tree import Tree, build

Body = tuple[Mesh, Tree]
# Walls are looked at a little way into the air before them: stock may have moved them by some millimetres.
INTO_MM = (0.05, 1.0, 3.0)
# A region counts as a core's when this share of its area is.
MOST = 0.8
PIECES = 200


def cured_by(parting: PartingResult, cored: list[Hollow]) -> tuple[frozenset[int], frozenset[FindingKey]]:
    """The regions of the part that these hollows hold, and the keys of Parting's findings that are no matter any
    more once they are cores.
    """
    if not cored:
        return frozenset(), frozenset()
    bodies = [(one.mesh, build(one.mesh)) for one in cored]
    judged = parting.judged
    covered: set[int] = set()
    for number in range(len(parting.regions)):
        rows = np.flatnonzero(judged.region == number)
        rows = rows[:: max(1, len(rows) // PIECES)]
        corners = judged.corners[rows]
        areas = areas_of(corners)
        crosses = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        normals = crosses / np.maximum(np.linalg.norm(crosses, axis=1), 1e-300)[:, None]
        held = np.zeros(len(rows), bool)
        for step in INTO_MM:
            held |= _inside(bodies, corners.mean(axis=1) + step * normals)
        if float(areas[held].sum()) > MOST * float(areas.sum()):
            covered.add(number)
    locked = {k for k, region in enumerate(parting.regions) if region.state is State.LOCKED}
    out: set[FindingKey] = set()
    for finding in parting.findings:
        if finding.severity is Severity.NOTE:
            continue
        if _is_cured(finding, covered, locked, bodies):
            out.add(key_of(finding))
    return frozenset(covered), frozenset(out)


def _is_cured(finding: Finding, covered: set[int], locked: set[int], bodies: list[Body]) -> bool:
    if finding.region is not None:
        return finding.region in covered
    if finding.code == "no-joint-frees-all":
        return bool(locked) and locked <= covered
    if finding.code == "slender-sand" and finding.place_mm is not None:
        return bool(_inside(bodies, np.array([finding.place_mm]))[0])
    return False


def _inside(bodies: list[Body], points: Floats) -> Bools:
    """(k,) whether points lie in any of the closed bodies: what a ray meets first, it meets from behind."""
    out = np.zeros(len(points), bool)
    way = np.tile(np.array([0.36, 0.48, 0.8]), (len(points), 1))
    for mesh, tree in bodies:
        _, hit = tree.nearest(points, way)
        met = hit >= 0
        out[met] |= np.einsum("ij,ij->i", mesh.normals[hit[met]], way[met]) > 0.0
    return out
