"""Core prints: the seat at every opening, as the pattern carries it and as the core fills it.

A print follows its opening's outline along an axis. In the joint it lies level with a leaned end; in the drag or
cope it stands with a taper; above or below the joint it gets a tail down to it, so that its half still draws. The
core's own print is less by the clearance all round and at its end.
"""

from dataclasses import dataclass
from itertools import product

import numpy as np
import shapely
import shapely.affinity
from shapely.geometry import Polygon

from pounce.base.errors import UserFault
from pounce.cores.drawn import WELD, leaned, less, loft, prism, seen_whole, share, without_necks
from pounce.cores.values import STEEPEST_DEG, WIDEST, Print
from pounce.metals.tables import limits
from pounce.parting.joint import Joint
from pounce.solid import boolean
from pounce.solid.boolean import Solid
from pounce.solid.hollow import Opening
from pounce.solid.mesh import Floats

# An opening that looks along the draw within this cosine gets an upright print.
UPRIGHT = 0.8
# How deep a print roots inside the rim, mm, so that no film stays; the core's own a little more.
ROOT = 0.01
# How far the neck of a print wider than its opening reaches into it, mm.
NECK = 0.5
# A flat keeps this far off the corners of an outline, mm.
HAIR = 0.02
# An outline this near to a circle (area over that of the circle as wide as it) is a round print; a square has 1.27.
ROUND = (0.93, 1.06)
# An outline turns back along itself where the cosine between its sides is more than this.
BACK = 0.9999


@dataclass(frozen=True)
class Wanted:
    """Figures of a print that somebody gave; None: by the table."""

    length_mm: float | None = None
    taper_deg: float | None = None
    clearance_mm: float | None = None
    least_mm: float = 0.0
    wide: float = 1.0


def way_of(opening: Opening, joint: Joint) -> tuple[str, Floats]:
    """What kind of print an opening gets, and along which axis: ``side``, ``tail``, ``cope`` or ``drag``."""
    d = joint.direction
    along = float(opening.normal @ d)
    if abs(along) > UPRIGHT:
        return joint.half(along > 0.0), (d if along > 0.0 else -d)
    axis = opening.normal - along * d
    axis = axis / np.linalg.norm(axis)
    above = joint.above(opening.loops[0], free=True)
    low, high = float(above.min()), float(above.max())
    slack = 0.02 * (high - low) + 1e-6
    return ("side" if low < -slack and high > slack else "tail"), np.asarray(axis)


def table_length(kind: str, width_mm: float) -> float:
    """Length of a print by the table: a share of the width, no less than the least and no more than the most."""
    share = limits()[
        {
            "side": "print_side_share",
            "tail": "print_side_share",
            "cope": "print_cope_share",
            "drag": "print_drag_share",
        }[kind]
    ]
    long = min(max(share.value * width_mm, limits()["print_least"].value), limits()["print_most"].value)
    return float(np.ceil(2.0 * long) / 2.0)


def table_clearance(width_mm: float) -> float:
    """Clearance by the table: from its least at small cores to its most at 100 mm."""
    figure = limits()["print_clearance"]
    return round(figure.low + (figure.high - figure.low) * min(width_mm / 100.0, 1.0), 2)


def print_for_opening(opening: Opening, joint: Joint, wanted: Wanted, keyed: bool) -> Print:
    """The print of an opening, with its two solids. UserFault for figures that cannot be."""
    kind, axis = way_of(opening, joint)
    frame = _Frame.of(axis, joint, opening.centre)
    rim = opening.loops[0] - opening.centre
    flat = np.stack([rim @ frame.s, rim @ frame.t], axis=1)
    outline = _outline_of(flat)
    upright = kind in ("cope", "drag")
    if not 1.0 <= wanted.wide <= WIDEST:
        raise UserFault(f"A print {wanted.wide:g} times as wide as its opening cannot be used.", "1.2 to 2 times.")
    own = outline
    if wanted.wide > 1.0 and not upright:
        outline = shapely.affinity.scale(
            outline, wanted.wide, wanted.wide, origin=(float(outline.centroid.x), frame.level)
        )
    heights = rim @ axis
    near, far = float(heights.min()), float(heights.max())
    width = float(np.sqrt(4.0 * outline.area / np.pi))
    clear = table_clearance(width) if wanted.clearance_mm is None else wanted.clearance_mm
    if not 0.0 <= clear <= 0.2 * width:
        raise UserFault(
            f"A clearance of {clear:g} mm cannot be on a print of {width:.0f} mm.", "0.2 to 0.8 mm is usual."
        )
    length = max(table_length(kind, width), wanted.least_mm) if wanted.length_mm is None else wanted.length_mm
    if not 1.0 <= length <= 20.0 * width + 50.0:
        raise UserFault(f"A print of {length:g} mm cannot be used.", "Half to one diameter is usual.")
    taper = (
        limits()[f"print_{kind}_taper" if upright else "print_side_lean"].value
        if wanted.taper_deg is None
        else wanted.taper_deg
    )
    if not 0.0 <= taper <= STEEPEST_DEG:
        raise UserFault(f"A taper of {taper:g}° cannot be used.", "2 to 10 degrees.")
    made = _upright if upright else _lying
    begin = far if outline is not own else near
    pattern, core, bearing = made(frame, outline, begin, far, length, taper, clear, keyed, joint)
    if outline is not own:  # a neck as wide as the hollow roots the wide print in it
        pattern += frame.placed(prism(own, near - ROOT, far + NECK))
        core += frame.placed(prism(less(own, 0.0), near - 2.0 * ROOT, far + NECK + clear))
    if kind == "tail":
        pattern, core = _tailed(pattern, core, frame, joint, clear, taper)
    return Print(
        kind,
        axis,
        opening.centre + axis * far,
        length,
        width,
        bearing,
        taper,
        clear,
        keyed,
        boolean.bare_mesh(boolean.checked(pattern, "Making the print")),
        boolean.bare_mesh(boolean.checked(core, "Making the print")),
    )


def _outline_of(flat: Floats) -> Polygon:
    """The outline that a rim (k, 2) has along its print. One that crosses itself there, for its opening runs over an
    edge, has the outline of all that it covers. UserFault where that is nothing.
    """
    flat = _without_spurs(flat)
    outline = Polygon(flat)
    if not outline.is_valid:
        covered = shapely.union_all(
            list(shapely.get_parts(shapely.polygonize([shapely.union_all(shapely.LineString([*flat, flat[0]]))])))
        )
        outline = max(getattr(covered, "geoms", [covered]), key=lambda part: part.area, default=outline)
    if outline.geom_type != "Polygon" or outline.area <= 0.0:
        raise UserFault(
            "The rim of this opening covers nothing along its print, so no print can follow it.",
            "Close it flush, or point at one bore.",
        )
    return shapely.geometry.polygon.orient(Polygon(outline.exterior))


def _without_spurs(flat: Floats) -> Floats:
    """A rim (k, 2) less the corners at which it turns back along itself, as a rim does round a sliver of a face: drawn
    up with leaned sides they would be slits.
    """
    points = flat
    while len(points) > 3:
        points = points[np.linalg.norm(np.roll(points, -1, axis=0) - points, axis=1) > WELD]
        before, after = np.roll(points, 1, axis=0) - points, np.roll(points, -1, axis=0) - points
        long = np.linalg.norm(before, axis=1) * np.linalg.norm(after, axis=1)
        back = np.einsum("ij,ij->i", before, after) > BACK * long
        if not back.any():
            break
        points = np.delete(points, int(np.argmax(back)), axis=0)
    return points if len(points) > 2 else flat


@dataclass(frozen=True, eq=False)
class _Frame:
    """``s`` and ``t`` across the print, ``axis`` along it, at ``origin``; ``t`` is the draw's own way where the
    print lies.
    """

    s: Floats
    t: Floats
    axis: Floats
    origin: Floats
    level: float

    @staticmethod
    def of(axis: Floats, joint: Joint, origin: Floats) -> "_Frame":
        d = joint.direction
        lying = abs(float(axis @ d)) < 0.5
        t = d if lying else joint.v
        s = np.cross(t, axis)
        t = np.cross(axis, s)
        return _Frame(s, t, axis, origin, -float(joint.above(origin, free=True)))

    def placed(self, solid: Solid) -> Solid:
        """A solid drawn along z over (s, t), put where it belongs."""
        matrix = np.column_stack([self.s, self.t, self.axis, self.origin])
        return solid.transform(matrix)


def _upright(
    frame: _Frame,
    outline: Polygon,
    near: float,
    far: float,
    length: float,
    taper: float,
    clear: float,
    keyed: bool,
    joint: Joint,
) -> tuple[Solid, Solid, tuple[float, float]]:
    end = far + length
    inner = less(outline, clear)
    chamfer = min(limits()["print_lead_in"].value, 0.3 * length)
    stop = end - clear
    if seen_whole(outline):
        # where the rim is not flat its lower side stands out of the wall as a stem: that draws too
        stem = 2.0 - share(outline, far - near + ROOT, min(taper, limits()["print_stem_lean"].value))
        pattern = loft(outline, [(near - ROOT, stem), (far, 1.0), (end, share(outline, length, taper))])
        slim = share(inner, length - clear - chamfer, taper)
        lead = max(0.3, 1.0 - chamfer / max(slim * 2.0 * inner.area / inner.length, 1e-9))
        core = loft(inner, [(near - 2.0 * ROOT, 1.0), (far, 1.0), (stop - chamfer, slim), (stop, slim * lead)])
    else:
        slope = float(np.tan(np.radians(taper)))
        outline = without_necks(outline, slope * length)
        inner = less(outline, clear)
        pattern = leaned(outline, near - ROOT, [(far, 0.0), (end, slope * length)])
        slim = slope * (stop - chamfer - far)
        core = leaned(inner, near - 2.0 * ROOT, [(far, 0.0), (stop - chamfer, slim), (stop, slim + chamfer)])
    if keyed:
        middle = float(outline.centroid.x)
        edge = float(outline.bounds[2]) - middle
        at = middle + limits()["print_flat"].value * edge * share(outline, length, taper)
        lean = float(np.tan(np.radians(taper)))
        # a flat that leans with the taper, so that it draws
        normal = np.array([-1.0, 0.0, -lean])
        pattern = _trimmed(pattern, normal, -(at + lean * end))
        core = _beyond(core, far, normal, -(at + lean * end) + clear * float(np.linalg.norm(normal)))
    seat = pattern.slice(end - HAIR).area()
    holds = (seat, 0.0) if float(frame.axis @ joint.up) > 0.0 else (0.0, seat)
    return frame.placed(pattern), frame.placed(core), holds


def _clear_of(at: float, heights: Floats) -> float:
    """A height near ``at`` that passes no corner of the outline by a hair: such a cut leaves a film."""
    while float(np.abs(heights - at).min()) < HAIR:
        at -= 1.5 * HAIR
    return at


def _over_flat(solid: Solid, at: float, top: float, far: float, slope: float) -> Solid:
    """What is taken off over a flat at a height ``at``, from the rim ``far`` on: its near side leans away from the rim
    by ``slope`` from ``top`` down.
    """
    low, high = np.reshape(solid.bounding_box(), (2, 3)) + np.array([[-1.0], [1.0]])
    foot, head = far + slope * (top - at), far - slope * (high[1] - top)
    corners = [(x, y, z) for x in (low[0], high[0]) for y, z in ((at, foot), (high[1], head))]
    corners += [(x, y, high[2]) for x in (low[0], high[0]) for y in (at, high[1])]
    return boolean.hull_tool(np.array(corners))


def _beyond(core: Solid, far: float, normal: Floats, offset: float) -> Solid:
    """Trimmed by the plane beyond the rim only: inside it the hollow's own wall counts. One cut: two halves put
    together again keep a film between them.
    """
    low, high = np.reshape(core.bounding_box(), (2, 3)) + np.array([[-1.0], [1.0]])
    low[2] = far
    wide = boolean.hull_tool(np.array(list(product(*zip(low, high, strict=True)))))
    return core - _trimmed(wide, -normal, -offset)


def _trimmed(solid: Solid, normal: Floats, offset: float) -> Solid:
    """What lies where normal . x is no less than the offset; manifold3d itself takes the offset along a unit normal."""
    long = float(np.linalg.norm(normal))
    return solid.trim_by_plane(normal / long, offset / long)


def _lying(
    frame: _Frame,
    outline: Polygon,
    near: float,
    far: float,
    length: float,
    lean: float,
    clear: float,
    keyed: bool,
    _joint: Joint,
) -> tuple[Solid, Solid, tuple[float, float]]:
    slope = float(np.tan(np.radians(lean)))
    points = _with_points_at(np.array(outline.exterior.coords)[:-1], frame.level)
    over = points[:, 1] - frame.level
    tall = float(np.abs(over).max())
    left, low, right, high = outline.bounds
    is_round = ROUND[0] < outline.area / (np.pi / 4.0 * max(right - left, high - low) ** 2) < ROUND[1]
    # a flat oblong can hold a circle's area, not within its length of outline
    is_round = is_round and 4.0 * np.pi * outline.area > ROUND[0] * outline.length**2
    seat = outline
    if not is_round:
        # sides that stand upright get narrower away from the joint; never wider than the opening, or the core could not
        # pass it
        middle = float(outline.centroid.x)
        leaned = np.stack([points[:, 0] - np.sign(points[:, 0] - middle) * slope * np.abs(over), points[:, 1]], axis=1)
        drawn = Polygon(leaned)
        inside = shapely.make_valid(drawn).intersection(outline)
        parts = [part for part in getattr(inside, "geoms", [inside]) if part.geom_type == "Polygon"]
        largest = max(parts, key=lambda part: part.area, default=outline)
        # what leaning leaves in pieces, or less than half of, has no seat that leans
        seat = shapely.geometry.polygon.orient(Polygon(largest.exterior))
        if seat.area < 0.5 * outline.area:
            seat = outline
    end = far + length + tall * slope
    pattern = prism(seat, near - ROOT, end)
    for sign in (1.0, -1.0):
        # the end leans away from the joint both ways, so that both halves draw
        normal = np.array([0.0, -sign * slope, -1.0])
        pattern = _trimmed(pattern, normal, -(end + sign * slope * frame.level))
    core = prism(less(seat, clear), near - 2.0 * ROOT, far + length - clear)
    if keyed:
        top = float(points[:, 1].max())
        at = frame.level + limits()["print_flat"].value * (top - frame.level)
        at = _clear_of(at, np.r_[points[:, 1], np.array(less(seat, clear).exterior.coords)[:, 1] + clear])
        # on the pattern the step down to it leans as the print's own sides do, and so draws
        pattern = pattern - _over_flat(pattern, at, top, far, slope)
        core = _beyond(core, far, np.array([0.0, -1.0, 0.0]), -at + clear)
    wide = float(seat.bounds[2] - seat.bounds[0])
    return frame.placed(pattern), frame.placed(core), (wide * length, wide * length)


def _with_points_at(points: Floats, level: float) -> Floats:
    """A closed outline (k, 2) with a point wherever it crosses a height, so that it can lean from there."""
    after = np.roll(points, -1, axis=0)
    one, two = points[:, 1] - level, after[:, 1] - level
    rows = np.flatnonzero(one * two < 0.0)
    share = (one[rows] / (one[rows] - two[rows]))[:, None]
    return np.asarray(np.insert(points, rows + 1, points[rows] + share * (after[rows] - points[rows]), axis=0))


def _tailed(pattern: Solid, core: Solid, frame: _Frame, joint: Joint, clear: float, lean: float) -> tuple[Solid, Solid]:
    """Both drawn on to the joint: hulls between the print and itself moved so that its far side reaches it, wider and
    longer there by the lean, so that the tail's sides and end draw.
    """
    d = joint.direction
    out = []
    for solid, gap in ((pattern, 0.0), (core, clear)):
        points = np.asarray(solid.to_mesh64().vert_properties)[:, :3]
        above = joint.above(points, free=True)
        by = -float(above.min()) if float(above.mean()) > 0.0 else -float(above.max())
        by -= np.sign(by) * gap
        if abs(by) < 1e-6:
            out.append(solid)
            continue
        # from its highest point down to the joint: a seat too narrow to lean stands upright, and so would its image
        fallen = np.abs(above).max() - np.abs(above + by)
        wider = fallen * float(np.tan(np.radians(lean)))
        across, along = points @ frame.s, points @ frame.axis
        left, right = float(across.min()), float(across.max())
        near, far = float(along.min()), float(along.max())
        moved = points + d * by
        moved += np.outer(wider * (2.0 * across - left - right) / max(right - left, 1e-9), frame.s)
        moved += np.outer(wider * (along - near) / max(far - near, 1e-9), frame.axis)
        out.append(boolean.hull_tool(np.concatenate([points, moved])))
    return out[0], out[1]
