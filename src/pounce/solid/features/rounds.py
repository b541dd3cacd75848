"""Cylinders, cones and balls grown over a mesh from small neighbourhoods, and rings between them."""

from dataclasses import dataclass

import numpy as np

from pounce.solid.features.compiled import cone_of, lying_on, ring_round, spread_from
from pounce.solid.features.facets import Facets
from pounce.solid.features.patches import grouped
from pounce.solid.features.shapes import Shape, ball, cylinder, refined, ring, shape_of
from pounce.solid.frame import across
from pounce.solid.mesh import Bools, Floats, Ints
from pounce.solid.sets import distinct, is_among

# A face belongs to a shape when its corners lie within this of it: share of the diagonal, and least, mm.
NEAR, LEAST_NEAR_MM = 2e-5, 0.002
ROUGH = (12.0,)
LEAN = float(np.cos(np.radians(30.0)))
RING_FACES = 48
# Tries, and how many in a row may bring less than this share of the surface before the rest is left as free-form.
MOST_TRIES, MOST_IDLE, WORTH = 600, 140, 1e-3
# As many more in a row over strips between parallel edges, as bores and bosses among free-form ground have them.
MOST_IDLE_STRIPS = 60
MOST_RINGS, MOST_AXES, RING_LOOKS = 40, 12, 400
# A round shorter than this is a guess, no feature.
LEAST_TURN_DEG, LEAST_ROUGH_DEG = 18.0, 60.0
ROUGH_WORTH, ROUGH_IDLE = 5e-3, 25
# A surface is free-form where so many small rounds are found, of which hardly any goes round: the rest of them, of
# which a lumpy ball has hundreds, are left. Small is what covers less than this share of it.
FREE_FORM, ROUGH_FREE_FORM, SMALL, HARDLY = 60, 20, 1e-2, 0.1
# A round that goes no further and runs out smoothly into its neighbours on both sides is a fillet or a rounded edge.
ARC_DEG = 185.0
# Corners of facets, degrees apart, between which nothing is open.
WIDEST_GAP = 45.0
LEAST_STRIPS = 3
# Facets wider than this share of a turn are sides of a polygon, not of a round.
WIDEST_DEG = 41.0


@dataclass(frozen=True, eq=False)
class Grown:
    """A shape with its faces."""

    shape: Shape
    faces: Ints
    misfit_mm: float


# One band of facets lies on a cone and on a ball alike: the plainer shape wins unless it covers clearly less.
_TRUST = {"cylinder": 1.1, "cone": 1.0, "ball": 0.7}


class Rounds:
    """Grows shapes over the faces that are still free."""

    def __init__(self, facets: Facets, near_mm: float, rough: bool = False) -> None:
        self.facets, self.near = facets, near_mm
        self.mesh, self.group, self.middles, self.pairs = facets.mesh, facets.group, facets.middles, facets.pairs
        self.least_turn = LEAST_ROUGH_DEG if rough else LEAST_TURN_DEG
        self.worth, self.idle = (ROUGH_WORTH, ROUGH_IDLE) if rough else (WORTH, MOST_IDLE)
        self.free_form = ROUGH_FREE_FORM if rough else FREE_FORM
        self.first, self.beside = facets.beside
        self.free = facets.curved.copy()

    def ring_of(self, seed: int) -> Ints:
        """Free faces round the seed, nearest first; whole flat patches together count as one step."""
        most = RING_FACES // 3, 6 * RING_FACES
        return np.asarray(ring_round(seed, self.free, self.first, self.beside, self.group, *most))

    def fits(self, shape: Shape, faces: Ints, near: float) -> Bools:
        """(k,) which faces lie on the shape and look its way."""
        mesh, figures = self.mesh, shape.figures
        return np.asarray(lying_on(shape.number, figures, faces, mesh.corners, self.middles, mesh.normals, near, LEAN))

    def guesses(self, ring_faces: Ints) -> list[Shape]:
        """Shapes that may run through the seed's neighbourhood."""
        normals = self.mesh.normals[ring_faces]
        own = normals[0]
        different = np.abs(normals @ own) < np.cos(np.radians(0.2))
        axes: list[Floats] = []
        spread = np.einsum("ij,ik->jk", normals, normals)
        axes.append(np.linalg.eigh(spread)[1][:, 0])
        # the seed with each of its first different neighbours
        for other in np.flatnonzero(different)[:3]:
            cross, size = crossed(own, normals[other])
            if size > 5e-3:
                axes.append(cross / size)
        out: list[Shape] = []
        for axis in axes:
            across_axis = np.abs(normals @ axis) < 0.02
            chosen = ring_faces[across_axis]
            if across_axis[0] and across_axis.sum() >= 3:
                # the nearest different facets alone: tangent flats further out would spoil it
                found = cylinder(self.mesh.corners[chosen[:8]].reshape(-1, 3), axis)
                if found is not None:
                    out.append(found)
        points = self.mesh.corners[ring_faces].reshape(-1, 3)
        out += self.cones(ring_faces, normals)
        found = ball(points)
        if found is not None:
            out.append(found)
        return out

    def cones(self, ring_faces: Ints, normals: Floats) -> list[Shape]:
        """Cones through the seed's flat patch and two of its nearest different neighbours: their normals have one
        lean to the axis.
        """
        patches = self.group[ring_faces]
        _, first = np.unique(patches, return_index=True)
        near = np.sort(first)[:6].tolist()
        out: list[Shape] = []
        for i, j in ((1, 2), (1, 3), (2, 3)):
            if j >= len(near):
                break
            cross, size = crossed(normals[near[i]] - normals[0], normals[near[j]] - normals[0])
            if size < 1e-5:
                continue
            chosen = ring_faces[is_among(patches, patches[[near[0], near[i], near[j]]])]
            corners = self.mesh.corners[chosen]
            found = shape_of("cone", cone_of(corners, self.mesh.normals[chosen], cross / size))
            if (
                found is not None
            ):  # facets lean a little less than the cone through their corners: let the corners decide
                out.append(refined(found, corners.reshape(-1, 3)))
        return out

    def grow(self, seed: int) -> Grown | None:
        """The shape through this face that covers most, or None."""
        ring_faces = self.ring_of(seed)
        if len(distinct(self.group[ring_faces])) < LEAST_STRIPS:
            return None
        best: dict[str, tuple[float, Shape, Ints]] = {}
        for guess in self.guesses(ring_faces):
            if guess.radius > 1.5 * self.mesh.diagonal:
                continue
            inside = ring_faces[self.fits(guess, ring_faces, self.near)]
            if not len(inside) or seed not in inside or len(distinct(self.group[inside])) < LEAST_STRIPS:
                continue
            size = float(self.mesh.areas[inside].sum())
            if guess.kind not in best or size > best[guess.kind][0] * (1.0 + 1e-9):
                best[guess.kind] = (size, guess, inside)
        grown = [self.grown(shape, seed, inside) for _, shape, inside in best.values()]
        sizes = [
            (0.0 if round_ is None else float(self.mesh.areas[round_.faces].sum()) * _TRUST[round_.shape.kind])
            for round_ in grown
        ]
        return grown[int(np.argmax(sizes))] if sizes else None

    def grown(self, shape: Shape, seed: int, faces: Ints) -> Grown | None:
        """The guess fitted and spread in turns until it takes no more in; None where that is no round."""
        shape = refined(shape, self.mesh.corners[faces].reshape(-1, 3))
        for _ in range(5):
            wider = self.spread(shape, seed, self.near)
            if len(wider) < LEAST_STRIPS:
                return None
            more = len(wider) > len(faces)
            faces = wider
            points = self.mesh.corners[faces].reshape(-1, 3)
            shape = ball(points) or shape if shape.kind == "ball" else refined(shape, points)
            if not more:
                break
        if not self.round_enough(shape, faces):
            return None
        off = shape.off(self.mesh.corners[faces].reshape(-1, 3))
        return Grown(shape, faces, float(np.sqrt(np.mean(off * off))))

    def spread(self, shape: Shape, seed: int, near: float) -> Ints:
        """All free faces on the shape that hang together with the seed."""
        mesh = self.mesh
        by = (self.free, self.first, self.beside, mesh.corners, self.middles, mesh.normals)
        return np.asarray(spread_from(shape.number, shape.figures, seed, *by, near, LEAN))

    def round_enough(self, shape: Shape, faces: Ints) -> bool:
        """Whether there are enough facets round it, none much wider than the rest."""
        if shape.kind == "ball":
            return len(distinct(self.group[faces])) >= 8 and shape.radius < 0.6 * self.mesh.diagonal
        u, v = across(shape.axis)
        corners = self.mesh.corners[faces] - shape.centre
        angle = np.arctan2(corners @ v, corners @ u)
        turned = (angle - angle[:, :1] + np.pi) % (2.0 * np.pi) - np.pi
        width = np.degrees(np.ptp(turned, axis=1))
        strips = distinct(self.group[faces])
        if len(strips) < LEAST_STRIPS or float(width.max()) > WIDEST_DEG:
            return False
        ends = np.sort(angle.ravel())
        gap = float(np.diff(np.r_[ends, ends[0] + 2.0 * np.pi]).max())
        if 2.0 * np.pi - gap < np.radians(self.least_turn):
            return False
        return float(width.max()) < 3.0 * float(np.median(width)) + 1.0

    def all(self) -> list[Grown]:
        """Every shape found, largest seeds first."""
        order = self.facets.seeds(self.free)
        # large facets first, then a spread over the rest: on free-form ground most seeds lead nowhere
        seeds = np.concatenate([order[:400], order[400 :: max(len(order) // 500, 1)]])
        tried = np.zeros(len(self.free), bool)
        out = self._from(seeds, tried, MOST_TRIES, self.idle)
        # a small bore in such ground would never have its turn
        return out + self._from(self.facets.strips(order), tried, MOST_TRIES, min(self.idle, MOST_IDLE_STRIPS))

    def _from(self, seeds: Ints, tried: Bools, most: int, most_idle: int) -> list[Grown]:
        """What grows from these seeds, no more than ``most`` of them and ``most_idle`` in a row that bring little; less
        where it shows that the surface is free-form.
        """
        out: list[Grown] = []
        tries = idle = bits = 0
        for seed in seeds.tolist():
            if not self.free[seed] or tried[seed]:
                continue
            if tries >= most or idle >= most_idle:
                break
            tries += 1
            grown = self.grow(seed)
            tried[seed] = True
            if grown is None:
                idle += 1
                tried[self.group == self.group[seed]] = True
                continue
            share = float(self.mesh.areas[grown.faces].sum()) / self.mesh.area
            idle = 0 if share > self.worth else idle + 1
            self.free[grown.faces] = False
            out.append(grown)
            bits += share < SMALL and not self.goes_round(grown)
            if bits >= self.free_form and bits > (1.0 - HARDLY) * len(out):
                break
        return out

    def goes_round(self, one: Grown) -> bool:
        """Whether a bore, a boss or a cone stands well round its axis, as no patch of a free form does."""
        points = self.mesh.corners[one.faces].reshape(-1, 3)
        return one.shape.kind != "ball" and turned_deg(one.shape, points) > ARC_DEG

    def rings(self, found: list[Grown]) -> list[Grown]:
        """Rings (fillets and rounded edges that run round) on what is left, about the axes of the rounds found."""
        left = np.flatnonzero(self.free)
        if not len(left) or not found:
            return []
        number = np.full(len(self.free), -1, np.int64)
        number[left] = np.arange(len(left))
        inner = self.free[self.pairs].all(axis=1)
        group = grouped(len(left), number[self.pairs[inner]])
        axes = axes_of(found, MOST_AXES)
        out: list[Grown] = []
        for index in np.argsort(-np.bincount(group))[:MOST_RINGS].tolist():
            faces = left[group == index]
            if len(faces) < 8:
                break
            points = self.mesh.corners[faces].reshape(-1, 3)
            for axis, centre in axes:
                shape = ring(points, axis, centre)
                if shape is None or shape.ring > self.mesh.diagonal:
                    continue
                # a few of many tell that it is far from all of them
                some = faces[:: max(len(faces) // RING_LOOKS, 1)]
                if len(faces) > 4 * RING_LOOKS and self.fits(shape, some, self.near).mean() < 0.5:
                    continue
                good = self.fits(shape, faces, self.near)
                if good.mean() > 0.9:
                    off = shape.off(points)
                    out.append(Grown(shape, faces[good], float(np.sqrt(np.mean(off * off)))))
                    self.free[faces[good]] = False
                    break
        return out


def turned_deg(shape: Shape, points: Floats) -> float:
    """Degrees that points (k, 3) go round the axis of the shape."""
    u, v = across(shape.axis)
    rel = points - shape.centre
    angles = np.sort(np.arctan2(rel @ v, rel @ u))
    gaps = np.diff(np.r_[angles, angles[0] + 2.0 * np.pi])
    widest = float(gaps.max())
    # corners of a full turn stand one facet apart; that gap is no opening
    usual = float(np.median(gaps[gaps > 1e-6])) if (gaps > 1e-6).any() else 0.0
    return 360.0 if widest < np.radians(WIDEST_GAP) or widest < 1.5 * usual else float(np.degrees(2.0 * np.pi - widest))


def crossed(one: Floats, two: Floats) -> tuple[Floats, float]:
    """The cross product of two vectors (3,) and its length."""
    (a, b, c), (x, y, z) = one.tolist(), two.tolist()  # np.cross costs twenty times this on single vectors
    p, q, r = b * z - c * y, c * x - a * z, a * y - b * x
    return np.array([p, q, r]), float(np.sqrt(p * p + q * q + r * r))


def axes_of(found: list[Grown], most: int) -> list[tuple[Floats, Floats]]:
    """Each axis once, those of the most faces first, and no more than ``most``."""
    out: list[tuple[Floats, Floats]] = []
    for grown in sorted(found, key=lambda one: -len(one.faces)):
        if grown.shape.kind == "ball":
            continue
        if len(out) == most:
            break
        axis, centre = grown.shape.axis, grown.shape.centre
        for other, at in out:
            if abs(float(axis @ other)) <= 0.9999:
                continue
            gap = centre - at
            aside = gap - other * float(gap @ other)
            if float(np.linalg.norm(aside)) < 0.02:
                break
        else:
            out.append((axis, centre))
    return out
