"""Hollows of a body that cores, or nothing but sand, can make: found by what locks, stands too slender, or was
pointed at.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from pounce.base.errors import UserFault
from pounce.draw.values import Reach
from pounce.hollows.small import holes_into
from pounce.hollows.values import Place
from pounce.metals.tables import Bond, held, limits
from pounce.parting.joint import Joint
from pounce.parting.values import LoosePiece
from pounce.solid.features.patches import bends_of
from pounce.solid.features.values import Feature
from pounce.solid.frame import across
from pounce.solid.groove import Groove
from pounce.solid.hollow import OPEN, RIM_DEG, Hollow, hollow_of, reached, regions
from pounce.solid.mesh import Bools, Floats, Ints, Mesh
from pounce.solid.pick import nearest_face
from pounce.solid.ringed import groove_of, ring_hollow
from pounce.solid.sets import distinct
from pounce.solid.sky import openness

# Hollows looked at, largest first; and the least share of the surface that is worth a word.
MOST_HOLLOWS, LEAST_SHARE = 24, 1e-4
# How far round the faces that lock a hollow is looked for, as a share of the diagonal.
AROUND = 0.15
# A hollow locks when more than this share of its wall does.
LOCKS_SHARE = 0.02
# A hollow nobody asked for is offered when so much of the part's surface locks in it and it holds so much of its
# volume; less is a mark or a countersink.
LEAST_LOCKED, LEAST_HELD = 2e-3, 3e-4
# Openings that look away from each other within this cosine are the ends of a straight bore.
STRAIGHT = -0.95
# Places and faces are brought together within this share of the diagonal.
NEAR = 0.02
# A groove whose axis stands along the draw within this cosine gets a ring core.
ABOUT_DRAW = 0.9998
# A wall of a flare looks toward the middle of its mouth by so much (cosine); the flat top of a lip does not.
TOWARD = 0.02
# How often a hollow may grow by bores it ends in.
MOST_GROWN = 3


@dataclass(frozen=True, eq=False)
class Given:
    """What hollows are looked for in: the mesh, which feature each face is of (-1 none), reach along the draw,
    joint, loose pieces, what bonds the sand.
    """

    mesh: Mesh
    feature: Ints
    features: tuple[Feature, ...]
    reach: Reach
    direction: Floats
    joint: Joint
    loose: tuple[LoosePiece, ...] = ()
    bond: Bond = "damp"


@dataclass(frozen=True, eq=False)
class Found:
    """A hollow: its faces, itself (None where it cannot be closed, and ``trouble`` why), how much of it locks, whether
    its sand would stand too slender, and which of the places pointed at lies on it (-1 none). ``holes`` the small ones
    (features by number) that run into it, ``only_holes`` whether nothing of it but these locks.
    """

    faces: Ints
    hollow: Hollow | None
    locked_mm2: float
    slender: bool
    pointed: int
    trouble: UserFault | None
    holes: tuple[int, ...] = ()
    only_holes: bool = False

    @property
    def locks(self) -> bool:
        """Whether it locks along the draw."""
        return self.locked_mm2 > LOCKS_SHARE * max(self.area_mm2, 1e-12)

    @property
    def is_bore(self) -> bool:
        """Whether it goes straight through, with two openings."""
        if self.hollow is None or len(self.hollow.openings) != 2:
            return False
        near, far = (opening.normal for opening in self.hollow.openings)
        return float(near @ far) < STRAIGHT

    @property
    def width_mm(self) -> float:
        """Across its widest opening, as a circle of the same area; 0 where it has none."""
        if self.hollow is None:
            return 0.0
        return max((float(np.sqrt(4.0 * opening.area_mm2 / np.pi)) for opening in self.hollow.openings), default=0.0)

    @property
    def too_thin(self) -> bool:
        """Whether a core of it would be so thin that it is better cast solid, marked and drilled."""
        return self.is_bore and self.width_mm < limits()["bore_solid"].high

    def worth(self, mesh: Mesh) -> bool:
        """Whether it is worth a core that nobody pointed at."""
        small = self.locked_mm2 < LEAST_LOCKED * mesh.area and not self.slender
        return self.hollow is not None and not small and self.hollow.volume_mm3 >= LEAST_HELD * abs(mesh.volume)

    @property
    def area_mm2(self) -> float:
        """Its wall."""
        return 0.0 if self.hollow is None else self.hollow.wall_mm2


def hollows_in(given: Given, pointed: Sequence[Place]) -> list[Found]:
    """Every hollow that locks, is too slender or was pointed at, largest first."""
    mesh, reach = given.mesh, given.reach
    locked = ~reach.up & ~reach.down
    seeds = locked.copy()
    rings = _rings(given, pointed)
    # a groove round the outside sees the sky: it is closed by a band, not by caps
    groups = [np.zeros(len(seeds), bool) if k in rings else _round(given, place) for k, place in enumerate(pointed)]
    once = {round(groove.level(groove.low_mm), 3): (k, groove) for k, groove in reversed(rings.items())}
    out = [_ring(given, k, groove, locked) for k, groove in once.values()]
    shown = np.any(groups, axis=0) if groups else np.zeros(len(seeds), bool)
    slender = _slender(given)
    seeds |= slender
    for piece in given.loose:
        seeds &= ~_in_piece(mesh, piece, given.joint)
    if not seeds.any() and not shown.any():
        return out
    middles = mesh.corners.mean(axis=1)
    near = seeds | shown
    low, high = (getattr(mesh.corners[near], end)(axis=(0, 1)) for end in ("min", "max"))
    reach_mm = AROUND * mesh.diagonal
    sky = openness(mesh, ((middles > low - reach_mm) & (middles < high + reach_mm)).all(axis=1))
    # an outside face that was pointed at is no hollow, nor is one that locks in the open (an undercut) and was not; a
    # wall counts as a whole, for a narrow facet at its rim sees more sky than the wall does
    seeds &= (sky < OPEN) | slender
    for group in groups:
        if group.any() and float(np.average(sky[group], weights=np.maximum(mesh.areas[group], 1e-12))) < OPEN:
            seeds |= group
        elif (group & locked).any():
            # a pocket too shallow to be found hollow, which holds sand all the same: all of it that does
            seeds |= reached(bends_of(mesh), group & locked, locked)
    at = [-1 if k in rings else nearest_face(mesh, place) for k, place in enumerate(pointed)]
    whole = [_flared(given, faces, locked) for faces in _whole_bores(given, sky, seeds)[:MOST_HOLLOWS]]
    # a place may have been pointed at in the air of a hollow; one on a wall is of that hollow alone
    within = np.concatenate([*whole, np.zeros(0, np.int64)])
    aloft = [k for k in range(len(pointed)) if k not in rings and not np.isin(at[k], within)]
    for faces in whole:
        if float(mesh.areas[faces].sum()) < LEAST_SHARE * mesh.area:
            continue
        index = next((k for k, face in enumerate(at) if np.isin(face, faces)), -1)
        if index < 0:
            index = next((k for k in aloft if _distance(mesh, faces, pointed[k]) < NEAR * mesh.diagonal), -1)
        hollow, trouble = None, None
        try:
            hollow = hollow_of(mesh, faces)
        except UserFault as fault:
            trouble = fault
        shut = float(mesh.areas[faces][locked[faces]].sum())
        holes = holes_into(mesh, given.feature, given.features, faces, hollow)
        beside = faces[~np.isin(given.feature[faces], holes)]
        free = float(mesh.areas[beside][locked[beside]].sum()) <= LOCKS_SHARE * float(mesh.areas[beside].sum())
        only = bool(holes) and free and not slender[beside].any()
        out.append(Found(faces, hollow, shut, bool(slender[faces].any()), index, trouble, holes, only))
    return out


def _rings(given: Given, pointed: Sequence[Place]) -> dict[int, Groove]:
    """The grooves round the outside, about the draw, that were pointed at."""
    out = {}
    for k, place in enumerate(pointed):
        found = groove_of(given.mesh, given.features, given.feature, np.array(place))
        if found is not None and abs(float(found.axis @ given.direction)) > ABOUT_DRAW:
            out[k] = found
    return out


def _ring(given: Given, pointed: int, groove: Groove, locked: Bools) -> Found:
    try:
        hollow = ring_hollow(given.mesh, groove)
    except UserFault as fault:
        at = (
            groove.centre
            + groove.axis * (0.5 * (groove.low_mm + groove.high_mm))
            + across(groove.axis)[0] * groove.floor_mm
        )
        face = nearest_face(given.mesh, (float(at[0]), float(at[1]), float(at[2])))
        return Found(np.array([face], np.int64), None, float(given.mesh.areas[face]), False, pointed, fault)
    return Found(
        hollow.faces, hollow, float(given.mesh.areas[hollow.faces][locked[hollow.faces]].sum()), False, pointed, None
    )


def _whole_bores(given: Given, sky: Floats, seeds: Bools) -> list[Ints]:
    """The faces of each hollow. A bore that a hollow ends in at its inner rim belongs to it as a whole, out to its
    mouth: a short one that draws by itself would else be left with a print standing in it. So does a round of which it
    has some.
    """
    mesh, bends = given.mesh, bends_of(given.mesh)
    found = regions(mesh, bends, sky, seeds)
    for _ in range(MOST_GROWN):
        grown = False
        for faces in found:
            corners = np.zeros(len(mesh.vertices), bool)
            corners[mesh.faces[faces]] = True
            touching = corners[mesh.faces].any(axis=1)
            for number in distinct(given.feature[touching & (given.feature >= 0)]).tolist():
                feature, own = given.features[number], given.feature == number
                inside = np.isin(np.flatnonzero(own), faces)
                # the few rays of one facet differ from its neighbour's, and a rim would run to and fro over a flare
                if inside.all() or not (feature.is_hole or (inside.any() and feature.kind != "plane")):
                    continue
                if (
                    float(np.average(sky[own], weights=np.maximum(mesh.areas[own], 1e-12))) < OPEN
                    and not seeds[own].all()
                ):
                    seeds = seeds | own
                    grown = True
        if not grown:
            break
        found = regions(mesh, bends, sky, seeds)
    return found


def _flared(given: Given, faces: Ints, locked: Bools) -> Ints:
    """The faces of a hollow, with the walls of its mouth that see the sky and lock all the same, as the flare of a bell
    on its side, or that of a vase over its neck: a print within them would hold their sand. As it was where the mouth
    would not close.
    """
    mesh, bends = given.mesh, bends_of(given.mesh)
    of_it = np.zeros(len(mesh.faces), bool)
    of_it[faces] = True
    one, two = bends.pairs.T
    if not ((of_it[one] & ~of_it[two] & locked[two]) | (of_it[two] & ~of_it[one] & locked[one])).any():
        return faces
    try:
        was = hollow_of(mesh, faces)
    except UserFault:
        return faces
    smooth = bends.concave | (bends.bend_deg < RIM_DEG)
    within = of_it | (locked & _round_a_mouth(mesh, was))
    for allowed, over in ((of_it | locked, smooth), (within, None)):
        grown = np.flatnonzero(reached(bends, of_it, allowed, over))
        if len(grown) == len(faces):
            continue
        try:
            now = hollow_of(mesh, grown)
        except UserFault:
            continue
        if len(now.openings) <= len(was.openings):
            return grown
    return faces


def _round_a_mouth(mesh: Mesh, hollow: Hollow) -> Bools:
    """(m,) faces before a mouth of the hollow that look toward the line through its middle: a flare beyond a sharp
    neck, and nothing of the outside.
    """
    out = np.zeros(len(mesh.faces), bool)
    for opening in hollow.openings:
        off = mesh.corners.mean(axis=1) - opening.centre
        along = off @ opening.normal
        toward = np.outer(along, opening.normal) - off
        looks = np.einsum("ij,ij->i", toward, mesh.normals) > TOWARD * np.linalg.norm(toward, axis=1)
        out |= looks & (along > -opening.reach_mm[0] - NEAR * mesh.diagonal)
    return out


def _round(given: Given, place: Place) -> Bools:
    """(m,) the faces of what lies at a place: the whole feature there, else the face."""
    face = nearest_face(given.mesh, place)
    out = np.zeros(len(given.mesh.faces), bool)
    out[face] = True
    number = int(given.feature[face])
    if number >= 0 and given.features[number].kind != "plane":
        out |= given.feature == number
    return out


def _in_piece(mesh: Mesh, piece: LoosePiece, joint: Joint) -> Bools:
    """(m,) faces inside the box that cuts a loose piece off, whose walls leave with it."""
    flat = joint.flat_points(mesh.corners.mean(axis=1))
    shape = shapely.Polygon(piece.corners).buffer(1e-3 * mesh.diagonal, join_style="mitre")
    level = (flat[:, 2] >= piece.from_mm) & (flat[:, 2] <= piece.to_mm)
    return np.asarray(level & shapely.contains_xy(shape, flat[:, 0], flat[:, 1]))


def _slender(given: Given) -> Bools:
    """(m,) walls of bores along the draw whose sand would stand or hang as a cone more slender than it holds."""
    out = np.zeros(len(given.mesh.faces), bool)
    limit = held("core_slender", given.bond).value
    for number, feature in enumerate(given.features):
        if not feature.is_hole or abs(float(feature.axis @ given.direction)) < 0.98:
            continue
        if _cone_depth(feature, given.joint) > limit * 2.0 * feature.radius_mm:
            out |= given.feature == number
    return out


def _cone_depth(feature: Feature, joint: Joint) -> float:
    """How deep the longer of its sand cones is: a through bore is parted where the joint crosses it."""
    ends = [feature.centre + feature.axis * h for h in (feature.low_mm, feature.high_mm)]
    over = [float(joint.above(end, free=True)) for end in ends]
    if feature.through and min(over) < 0.0 < max(over):
        return max(abs(min(over)), abs(max(over)))
    return abs(over[1] - over[0])


def _distance(mesh: Mesh, faces: Ints, place: Place) -> float:
    """From a place to the box round these faces, mm: a wish is made at the middle of a region, which may lie in the
    air.
    """
    points = mesh.corners[faces].reshape(-1, 3)
    at = np.array(place)
    return float(np.linalg.norm(np.maximum(np.maximum(points.min(axis=0) - at, at - points.max(axis=0)), 0.0)))
