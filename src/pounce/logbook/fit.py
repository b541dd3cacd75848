"""What sizes of pattern and casting say of a bench: a linear mixed model, solved exactly but for two scatters, which
are summed over a grid.

For a size of pattern P and casting C (mm) of one pour: P - C = (S - h H + u) P - sign x offsets + e, with S the
bench's contraction (a share of the pattern), H what a hindered section contracts less, u how this pour differs
(normal, sd tau), offsets what rapping, the sand's give and the joint's gap add to a size whatever its length (normal),
e what caliper and skin scatter (normal). Given tau and the skin's scatter all the rest is a conjugate normal model
(Gelman and others, Bayesian Data Analysis, chapters 14 and 15); both scatters have half-normal priors, taken at
equally likely points.
"""

from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.special import ndtr, ndtri

from pounce.logbook.said import Estimate
from pounce.logbook.values import Measure, Side, Way
from pounce.solid.mesh import Floats

# Unknowns: contraction free, what a hindered one is less, rapping, give along the draw, gap of the joint.
FREE, HINDERED, RAPPING, SWELL, GAP = range(5)
NAMES: Final = ("free", "hindered", "rapping", "swell", "joint_gap")
GRID: Final = 12
# Most measures whose being off is looked for one by one.
MOST_LOOKED: Final = 600
FLAT: Final = 1e-12


@dataclass(frozen=True, eq=False)
class Prior:
    """What is held before anything was measured: ``mean`` and ``sd`` (5,) of the unknowns (shares and mm), the scales
    of the half-normal scatters: ``pour`` (a share) and ``skin_mm``.
    """

    mean: Floats
    sd: Floats
    pour: float
    skin_mm: float


@dataclass(frozen=True, eq=False)
class Sizes:
    """Measures as the model takes them: ``pattern_mm`` and ``casting_mm`` (n,), ``rows`` (n, 5) of the unknowns, ``sd``
    (n,) of reading alone, mm, ``pour`` (n,) which pour each is of, from 0.
    """

    pattern_mm: Floats
    casting_mm: Floats
    rows: Floats
    sd: Floats
    pour: Floats

    @property
    def many(self) -> int:
        """How many pours."""
        return int(self.pour.max()) + 1 if len(self.pour) else 0


@dataclass(frozen=True, eq=False)
class Fitted:
    """The model after the measures: ``weights`` (g,) of the points of the grid, ``pours`` and ``skins`` (g,) their
    scatters, ``means`` (g, 5) and ``covers`` (g, 5, 5) of the unknowns at each.
    """

    weights: Floats
    pours: Floats
    skins: Floats
    means: Floats
    covers: Floats

    def of(self, which: Floats, held: float, next_pour: bool = False) -> Estimate:
        """A sum of unknowns, ``which`` (5,) how much of each; of the next pour, if it is asked: that differs, too."""
        middle = self.means @ which
        spread = np.einsum("i,gij,j->g", which, self.covers, which) + (self.pours**2 if next_pour else 0.0)
        sds = np.sqrt(np.maximum(spread, FLAT**2))
        mean = float(self.weights @ middle)
        sd = float(np.sqrt(self.weights @ (sds**2 + (middle - mean) ** 2)))
        low, high = (_quantile(self.weights, middle, sds, share) for share in ((1.0 - held) / 2.0, (1.0 + held) / 2.0))
        return Estimate(mean, sd, low, high)

    @property
    def best(self) -> int:
        """The likeliest point of the grid."""
        return int(np.argmax(self.weights))

    @property
    def mean(self) -> Floats:
        """(5,) of the unknowns."""
        return np.asarray(self.weights @ self.means)


def sizes_of(pours: "list[tuple[Measure, ...]]") -> Sizes:
    """Measures of several pours as the model takes them."""
    flat = [(k, one) for k, measures in enumerate(pours) for one in measures]
    pattern = np.array([one.pattern_mm for _, one in flat], float)
    return Sizes(
        pattern,
        np.array([one.casting_mm for _, one in flat], float),
        np.array([row_of(one) for _, one in flat], float).reshape(-1, len(NAMES)),
        np.array([reading_sd(one) for _, one in flat], float),
        np.array([k for k, _ in flat], float),
    )


def row_of(one: Measure) -> list[float]:
    """How much of each unknown a size holds of what it is shorter than its pattern."""
    row = [one.pattern_mm, -one.pattern_mm if one.hindered else 0.0, 0.0, 0.0, 0.0]
    # what widens the mould makes an outer size larger, a hole of the same sand smaller, and moves no centres
    sign = {Side.OUTSIDE: -1.0, Side.INSIDE: 1.0, Side.CENTRES: 0.0}[one.side]
    if one.way is Way.ACROSS:
        row[RAPPING] = sign
    else:
        row[SWELL] = sign
        row[GAP] = sign if one.way is Way.JOINT else 0.0
    return row


def reading_sd(one: Measure) -> float:
    """What reading alone scatters, mm: a reading to a step lies evenly within half of it either way, sd step/sqrt(12);
    repeats average; the pattern counts too where it was read and not worked out.
    """
    step = one.resolution_mm / np.sqrt(12.0)
    casting = step**2 / max(one.repeats, 1)
    return float(np.sqrt(casting + (step**2 if one.pattern_read else 0.0)))


def fit(sizes: Sizes, prior: Prior) -> Fitted:
    """The model after these measures; the prior itself where there are none."""
    points = (np.arange(GRID) + 0.5) / GRID
    unit = ndtri(0.5 + points / 2.0)  # of the half normal
    pours, skins = prior.pour * unit, prior.skin_mm * unit
    tau, skin = (grid.ravel() for grid in np.meshgrid(pours, skins, indexing="ij"))
    base = np.diag(1.0 / prior.sd**2)
    if not len(sizes.pattern_mm):
        covers = np.broadcast_to(np.diag(prior.sd**2), (len(tau), 5, 5))
        return Fitted(np.full(len(tau), 1.0 / len(tau)), tau, skin, np.broadcast_to(prior.mean, (len(tau), 5)), covers)
    inner, crossed, rest, log_size = _summed(sizes, prior, pours, skins)
    precision = inner + base
    covers = np.asarray(np.linalg.inv(precision), float)
    shift = np.einsum("gij,gj->gi", covers, crossed)
    evidence = -0.5 * (log_size + np.linalg.slogdet(precision)[1] + rest - np.einsum("gi,gi->g", crossed, shift))
    weights = np.exp(evidence - evidence.max())
    return Fitted(weights / weights.sum(), tau, skin, prior.mean + shift, covers)


def _summed(sizes: Sizes, prior: Prior, pours: Floats, skins: Floats) -> tuple[Floats, Floats, Floats, Floats]:
    """At each point of the grid: X'V^-1 X (g, 5, 5), X'V^-1 r (g, 5), r'V^-1 r and log det V (g,), with r what is left
    of the sizes after the prior's means. V is one block a pour, diagonal and one square more: Sherman and Morrison.
    """
    left = sizes.pattern_mm - sizes.casting_mm - sizes.rows @ prior.mean
    member = np.zeros((sizes.many, len(left)))
    member[sizes.pour.astype(int), np.arange(len(left))] = 1.0
    w = 1.0 / (sizes.sd[None] ** 2 + skins[:, None] ** 2)  # (s, n)
    x, p = sizes.rows, sizes.pattern_mm

    def by_pour(values: Floats) -> Floats:
        return np.asarray(values @ member.T)

    inner = np.einsum("sn,ni,nj->sij", w, x, x)
    crossed = np.einsum("sn,ni,n->si", w, x, left)
    rest = w @ left**2
    q = by_pour(w * p**2)  # (s, m)
    g = np.stack([by_pour(w * p * x[:, k]) for k in range(x.shape[1])], axis=-1)  # (s, m, 5)
    gr = by_pour(w * p * left)
    shrink = pours[:, None, None] ** 2 / (1.0 + pours[:, None, None] ** 2 * q[None])  # (t, s, m)
    inner = inner[None] - np.einsum("tsm,smi,smj->tsij", shrink, g, g)
    crossed = crossed[None] - np.einsum("tsm,smi,sm->tsi", shrink, g, gr)
    rest = rest[None] - np.einsum("tsm,sm->ts", shrink, gr**2)
    log_size = -np.log(w).sum(axis=1)[None] + np.log1p(pours[:, None, None] ** 2 * q[None]).sum(axis=2)
    many = len(pours) * len(skins)
    return inner.reshape(many, 5, 5), crossed.reshape(many, 5), rest.ravel(), log_size.ravel()


def off(sizes: Sizes, prior: Prior, fitted: Fitted) -> Floats:
    """(n,) how many standard deviations each measure lies off what all the others say of it, at the likeliest scatters;
    0 where there are too many to look at each. Leave-one-out by the inverse of the covariance (Sundararajan and
    Keerthi 2001).
    """
    n = len(sizes.pattern_mm)
    if n > MOST_LOOKED or n < 2:
        return np.zeros(n)
    tau, skin = fitted.pours[fitted.best], fitted.skins[fitted.best]
    p = sizes.pattern_mm
    same = sizes.pour[:, None] == sizes.pour[None]
    cover = np.diag(sizes.sd**2 + skin**2) + np.where(same, tau**2 * np.outer(p, p), 0.0)
    cover += (sizes.rows * prior.sd**2) @ sizes.rows.T
    inverse = np.linalg.inv(cover)
    left = p - sizes.casting_mm - sizes.rows @ prior.mean
    return np.asarray((inverse @ left) / np.sqrt(np.diag(inverse)))


def of_pour(sizes: Sizes, fitted: Fitted, pour: int, held: float) -> Estimate | None:
    """What one pour's own sizes say of its contraction free to shrink, nothing of it taken from the prior but the
    offsets that all pours say; None where it has no sizes.
    """
    mine = sizes.pour == pour
    if not mine.any():
        return None
    mean, cover = fitted.mean, fitted.covers[fitted.best]
    x, p = sizes.rows[mine], sizes.pattern_mm[mine]
    w = 1.0 / (sizes.sd[mine] ** 2 + fitted.skins[fitted.best] ** 2)
    other = x[:, HINDERED:]
    left = p - sizes.casting_mm[mine] - other @ mean[HINDERED:]
    size = float(w @ p**2)
    value = float(w @ (p * left)) / size
    lean = (w * p) @ other / size
    spread = float(np.sqrt(1.0 / size + lean @ cover[HINDERED:, HINDERED:] @ lean))
    give = spread * _normal(held)
    return Estimate(value, spread, value - give, value + give)


def one_size(pattern_mm: float, casting_mm: float, resolution_mm: float, held: float) -> Estimate:
    """What a single size says, both ends read to the same step, with nothing known before: (P - C)/P. Each reading lies
    evenly within half a step of what it says, so their difference spreads as a triangle of a step's half-width 2.
    """
    value = (pattern_mm - casting_mm) / pattern_mm
    # of a triangle from -a to a the middle share q reaches to a (1 - sqrt(1 - q))
    give = resolution_mm * (1.0 - np.sqrt(1.0 - held)) / pattern_mm
    sd = resolution_mm / np.sqrt(6.0) / pattern_mm
    return Estimate(value, float(sd), value - float(give), value + float(give))


def _normal(held: float) -> float:
    """Half-width of the middle share of a normal, in its sd."""
    return float(ndtri(0.5 + held / 2.0))


def _quantile(weights: Floats, means: Floats, sds: Floats, share: float) -> float:
    """Of a mixture of normals, by halving."""
    low, high = float((means - 9.0 * sds).min()), float((means + 9.0 * sds).max())
    for _ in range(60):
        middle = 0.5 * (low + high)
        if float(weights @ ndtr((middle - means) / sds)) < share:
            low = middle
        else:
            high = middle
    return 0.5 * (low + high)
