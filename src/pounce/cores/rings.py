"""The print of a ring core: a belt round the outside from rim to rim of a groove, leaned away from the joint that
passes through it.
"""

import manifold3d
import numpy as np

from pounce.base.errors import UserFault
from pounce.base.units import length
from pounce.cores.prints import ROOT, Wanted, table_clearance, table_length
from pounce.cores.values import Print, Vent
from pounce.metals.tables import limits
from pounce.parting.joint import Joint
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.frame import across, three
from pounce.solid.hollow import Hollow
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.tree import Tree

# Sides of a belt, and how much wider than the groove the pattern's is, mm, so that no film stays at the rims.
SIDES, OVER = 256, 0.02
# Vent ways of a ring, and how far in they go of what there is.
VENTS, INWARD = int(limits()["ring_vents"].value), 0.85
# How many times the clearance the core's belt may be drawn in from the flanges until it is free of them.
DRAWN_IN = (1.0, 1.5, 2.0, 3.0)


def ring_print(hollow: Hollow, joint: Joint, wanted: Wanted, part: Mesh) -> Print:
    """The belt that a ring core lies by. UserFault where the joint does not pass through it, or its figures cannot
    be.
    """
    groove, opening = hollow.groove, hollow.openings[0]
    assert groove is not None
    d = joint.direction
    sign = 1.0 if float(groove.axis @ d) > 0.0 else -1.0
    low, high = sorted(float(groove.centre @ d) + sign * h for h in (groove.low_mm, groove.high_mm))
    if not joint.level or not low - OVER <= joint.height_mm <= high + OVER:
        raise UserFault(
            f"A ring core lies in the joint, so it must part between {length(low)} and {length(high)} along the draw.",
            "Part it in the middle of the groove.",
        )
    width = high - low
    clear = table_clearance(width) if wanted.clearance_mm is None else wanted.clearance_mm
    if not 0.0 <= clear <= 0.2 * width:
        raise UserFault(
            f"A clearance of {clear:g} mm cannot be on a print of {width:.0f} mm.", "0.2 to 0.8 mm is usual."
        )
    long = table_length("side", width) if wanted.length_mm is None else wanted.length_mm
    if not 1.0 <= long <= 10.0 * width + 50.0:
        raise UserFault(f"A print of {long:g} mm cannot be used.", "Half to one width of the groove is usual.")
    slope = float(np.tan(np.radians(limits()["print_side_lean"].value)))
    rims = [_away(loop, groove.centre, groove.axis) for loop in opening.loops][:: int(sign)]
    rim = max(float(one.max()) for one in rims)
    # along the band between the rims, whose facets lie further in than their corners
    inner = [float(one.min()) * float(np.cos(np.pi / len(one))) - 2.0 * ROOT for one in rims]
    at = joint.height_mm
    outer = rim + long + slope * max(high - at, at - low)
    frame = np.column_stack([*across(d), d])
    middle = groove.centre - d * float(groove.centre @ d)
    pattern = _placed(_belt(inner, outer, low - OVER, high + OVER, at, slope), frame, middle)
    body = boolean.closed_solid(part)
    core: Solid | None = None
    for times in DRAWN_IN:
        share = times * clear / width
        held = [(1.0 - share) * inner[0] + share * inner[1], share * inner[0] + (1.0 - share) * inner[1]]
        made = _placed(_belt(held, outer - clear, low + times * clear, high - times * clear, at, slope), frame, middle)
        if body is None or float((made ^ body).volume()) < 1e-6 * float(made.volume()):
            core = made
            break
    if core is None:
        raise UserFault("The flanges of this groove lean in on its ring core.", "Fill the groove and turn it.")
    seat = float(np.pi * ((rim + long) ** 2 - rim**2))
    return Print(
        "ring",
        np.asarray(d),
        opening.centre,
        long,
        width,
        (seat, seat),
        limits()["print_side_lean"].value,
        clear,
        False,
        boolean.bare_mesh(boolean.checked(pattern, "Making the print")),
        boolean.bare_mesh(boolean.checked(core, "Making the print")),
        rim,
    )


def _away(points: Floats, centre: Floats, axis: Floats) -> Floats:
    return np.asarray(np.linalg.norm(np.cross(points - centre, axis), axis=1))


def _belt(inner: list[float], outer: float, low: float, high: float, at: float, slope: float) -> Solid:
    """A ring about z whose outside leans in away from the height ``at``; ``inner`` (2,) radii below and above."""
    levels = [low, at, high] if low + 1e-6 < at < high - 1e-6 else [low, high]
    profile = [(inner[0], low), *((outer - slope * abs(h - at), h) for h in levels), (inner[1], high)]
    return manifold3d.Manifold.revolve(manifold3d.CrossSection([profile]), SIDES)


def _placed(solid: Solid, frame: Floats, middle: Floats) -> Solid:
    return solid.transform(np.column_stack([frame, middle]))


def ring_vents(one: Print, tree: Tree) -> list[Vent]:
    """Ways from the outside of the belt inward, at the height of its middle."""
    u, v = across(one.axis)
    out: list[Vent] = []
    for turn in np.arange(VENTS) * 2.0 * np.pi / VENTS + np.pi / VENTS:
        way = np.cos(turn) * u + np.sin(turn) * v
        far = one.at_mm + way * (one.rim_mm + 2.0 * one.length_mm + 10.0)
        reach, hit = tree.nearest(far[None], -way[None])
        if int(hit[0]) < 0:
            continue
        start = far - way * float(reach[0])
        depth, hit = tree.nearest((start - way * 0.05)[None], -way[None])
        if int(hit[0]) >= 0:
            out.append((three(start), three(start - way * INWARD * float(depth[0])), False))
    return out
