"""The compiled part of feature finding: which faces lie on a shape, which of them hang on a seed, and the fit itself.

A shape is passed as its kind's number and eight figures (axis, centre, radius and slope or arc), so that one kernel
serves all kinds; ``shapes.Shape`` says what they mean.
"""

import numpy as np

from pounce.solid.kernels import njit
from pounce.solid.mesh import Bools, Floats, Ints

# The kinds of shape by number; a cylinder is a cone of no slope.
CONE, BALL, RING = 0, 1, 2


@njit(cache=True)
def _off(kind: int, s: Floats, x: float, y: float, z: float) -> float:
    """Signed distance of a point from the shape ``s`` (axis 3, centre 3, radius, slope or arc)."""
    a, b, c = x - s[3], y - s[4], z - s[5]
    if kind == 1:
        return np.sqrt(a * a + b * b + c * c) - s[6]
    height = a * s[0] + b * s[1] + c * s[2]
    out = np.sqrt(max(a * a + b * b + c * c - height * height, 0.0))
    if kind == 2:
        return np.hypot(out - s[6], height) - s[7]
    return (out - s[6] - s[7] * height) / np.sqrt(1.0 + s[7] * s[7])


@njit(cache=True)
def _facing(kind: int, s: Floats, x: float, y: float, z: float, nx: float, ny: float, nz: float) -> float:
    """Cosine between the shape's outward normal at a point and a normal."""
    a, b, c = x - s[3], y - s[4], z - s[5]
    if kind != 1:
        height = a * s[0] + b * s[1] + c * s[2]
        a, b, c = a - height * s[0], b - height * s[1], c - height * s[2]
        long = max(np.sqrt(a * a + b * b + c * c), 1e-300)
        a, b, c = a / long, b / long, c / long
        if kind == 2:
            a, b, c = x - s[3] - a * s[6], y - s[4] - b * s[6], z - s[5] - c * s[6]
        else:
            a, b, c = a - s[7] * s[0], b - s[7] * s[1], c - s[7] * s[2]
    long = max(np.sqrt(a * a + b * b + c * c), 1e-300)
    return (a * nx + b * ny + c * nz) / long


@njit(cache=True)
def _lies(kind: int, s: Floats, corners: Floats, middle: Floats, normal: Floats, near: float, lean: float) -> bool:
    for k in range(3):
        if not abs(_off(kind, s, corners[k, 0], corners[k, 1], corners[k, 2])) < near:
            return False
    facing = _facing(kind, s, middle[0], middle[1], middle[2], normal[0], normal[1], normal[2])
    return abs(facing) > lean


@njit(cache=True)
def lying_on(
    kind: int, shape: Floats, faces: Ints, corners: Floats, middles: Floats, normals: Floats, near: float, lean: float
) -> Bools:
    """(k,) which of these faces have all corners within ``near`` of the shape and look along it or against it, by a
    cosine over ``lean``. ``corners`` (m, 3, 3), ``middles`` and ``normals`` (m, 3) of all faces.
    """
    out = np.zeros(len(faces), np.bool_)
    for row in range(len(faces)):
        face = faces[row]
        out[row] = _lies(kind, shape, corners[face], middles[face], normals[face], near, lean)
    return out


@njit(cache=True)
def spread_from(
    kind: int,
    shape: Floats,
    seed: int,
    free: Bools,
    first: Ints,
    beside: Ints,
    corners: Floats,
    middles: Floats,
    normals: Floats,
    near: float,
    lean: float,
) -> Ints:
    """The free faces that lie on the shape (as in ``lying_on``) and hang on the seed, in rising order. The neighbours
    of face f are ``beside[first[f]:first[f + 1]]``: a face far away is never looked at.
    """
    if not free[seed] or not _lies(kind, shape, corners[seed], middles[seed], normals[seed], near, lean):
        return np.zeros(0, np.int64)
    seen = np.zeros(len(free), np.bool_)
    out = [seed]
    seen[seed] = True
    at = 0
    while at < len(out):
        face = out[at]
        at += 1
        for k in range(first[face], first[face + 1]):
            other = beside[k]
            if seen[other]:
                continue
            seen[other] = True
            if free[other] and _lies(kind, shape, corners[other], middles[other], normals[other], near, lean):
                out.append(other)
    found = np.empty(len(out), np.int64)
    for k in range(len(out)):
        found[k] = out[k]
    found.sort()
    return found


@njit(cache=True)
def strays_on(
    kind: int,
    shape: Floats,
    free: Bools,
    corners: Floats,
    normals: Floats,
    above: float,
    below: float,
    facing: float,
    turn: float,
) -> Ints:
    """Free faces whose corners lie at most ``above`` outside and ``below`` inside the shape and whose normals look
    along it (``turn`` 1) or against it (-1), by a cosine over ``facing``; in rising order.
    """
    out = [0 for _ in range(0)]
    for face in range(len(free)):
        if not free[face]:
            continue
        good = True
        for k in range(3):
            off = _off(kind, shape, corners[face, k, 0], corners[face, k, 1], corners[face, k, 2])
            if not (off < above and off > -below):
                good = False
                break
        if not good:
            continue
        x, y, z = (corners[face, 0] + corners[face, 1] + corners[face, 2]) / 3.0
        if turn * _facing(kind, shape, x, y, z, normals[face, 0], normals[face, 1], normals[face, 2]) > facing:
            out.append(face)
    found = np.empty(len(out), np.int64)
    for k in range(len(out)):
        found[k] = out[k]
    return found


@njit(cache=True)
def solved(matrix: Floats, right: Floats) -> Bools:
    """Solves the small system in place by elimination with pivots: ``right`` becomes the answer. (1,) whether it could
    be told.
    """
    n = len(right)
    for k in range(n):
        pivot = k
        for i in range(k + 1, n):
            if abs(matrix[i, k]) > abs(matrix[pivot, k]):
                pivot = i
        if not abs(matrix[pivot, k]) > 0.0:
            return np.zeros(1, np.bool_)
        if pivot != k:
            for j in range(n):
                matrix[k, j], matrix[pivot, j] = matrix[pivot, j], matrix[k, j]
            right[k], right[pivot] = right[pivot], right[k]
        for i in range(k + 1, n):
            share = matrix[i, k] / matrix[k, k]
            if share != 0.0:
                for j in range(k, n):
                    matrix[i, j] -= share * matrix[k, j]
                right[i] -= share * right[k]
    for k in range(n - 1, -1, -1):
        for j in range(k + 1, n):
            right[k] -= matrix[k, j] * right[j]
        right[k] /= matrix[k, k]
    return np.ones(1, np.bool_)


@njit(cache=True)
def squared_off(kind: int, shape: Floats, points: Floats) -> float:
    """Sum of squared distances of points (n, 3) from the shape, mm2."""
    total = 0.0
    for k in range(len(points)):
        off = _off(kind, shape, points[k, 0], points[k, 1], points[k, 2])
        total += off * off
    return total


@njit(cache=True)
def _step(shape: Floats, u: Floats, v: Floats, points: Floats, sloped: bool, gram: Floats, down: Floats) -> float:
    """Fills ``gram`` and ``down`` of one Gauss-Newton step, with heights in units of the tallest, which is returned."""
    size, slope = (6 if sloped else 5), shape[7]
    gram[:], down[:] = 0.0, 0.0
    k = np.sqrt(1.0 + slope * slope)
    tall = 1e-9
    for i in range(len(points)):
        height = (
            (points[i, 0] - shape[3]) * shape[0]
            + (points[i, 1] - shape[4]) * shape[1]
            + (points[i, 2] - shape[5]) * shape[2]
        )
        tall = max(tall, abs(height))
    row = np.zeros(6)
    for i in range(len(points)):
        a, b, c = points[i, 0] - shape[3], points[i, 1] - shape[4], points[i, 2] - shape[5]
        height = a * shape[0] + b * shape[1] + c * shape[2]
        x, y = a * u[0] + b * u[1] + c * u[2], a * v[0] + b * v[1] + c * v[2]
        out = max(np.hypot(x, y), 1e-300)
        residual = (out - shape[6] - slope * height) / k
        # turning the axis by (p, q): a point at height h seems moved by -h p along u, and its height changes by
        # x p + y q
        row[0], row[1], row[2] = -(x / out) / k, -(y / out) / k, -1.0 / k
        row[3] = -(x / out * height + slope * x) / tall / k
        row[4] = -(y / out * height + slope * y) / tall / k
        row[5] = -height / tall / k
        for m in range(size):
            down[m] -= row[m] * residual
            for n in range(m, size):
                gram[m, n] += row[m] * row[n]
    for m in range(size):
        for n in range(m):
            gram[m, n] = gram[n, m]
        gram[m, m] *= 1.0 + 1e-12
    return tall


@njit(cache=True)
def fitted(shape: Floats, sloped: bool, points: Floats, rounds: int) -> Floats:
    """(8,) cylinder or cone moved until the squared distances of the points (n, 3) are least: Gauss-Newton over axis,
    centre, radius and, where ``sloped``, slope. It stays where a step would make it worse.
    """
    shape = shape.copy()
    size = 6 if sloped else 5
    gram, down = np.zeros((6, 6)), np.zeros(6)
    before = squared_off(0, shape, points)
    for _ in range(rounds):
        axis = shape[:3]
        helper = np.zeros(3)
        helper[0 if abs(axis[0]) < 0.9 else 1] = 1.0
        u = helper - axis * (helper[0] * axis[0] + helper[1] * axis[1])
        u = u / np.sqrt(u[0] * u[0] + u[1] * u[1] + u[2] * u[2])
        v = np.array(
            [axis[1] * u[2] - axis[2] * u[1], axis[2] * u[0] - axis[0] * u[2], axis[0] * u[1] - axis[1] * u[0]]
        )
        tall = _step(shape, u, v, points, sloped, gram, down)
        step = down[:size].copy()
        if not solved(gram[:size, :size].copy(), step)[0]:  # too little of it to tell
            return shape
        moved = shape.copy()
        turned = axis + (step[3] * u + step[4] * v) / tall
        moved[:3] = turned / np.sqrt(turned[0] * turned[0] + turned[1] * turned[1] + turned[2] * turned[2])
        moved[3:6] = shape[3:6] + step[0] * u + step[1] * v
        moved[6] = shape[6] + step[2]
        if sloped:
            moved[7] = shape[7] + step[5] / tall
        if not moved[6] > 0.0 or not np.isfinite(moved).all():
            return shape
        after = squared_off(0, moved, points)
        if after > before * (1.0 + 1e-9):
            return shape
        shape, before = moved, after
        if max(abs(step[0]), abs(step[1]), abs(step[2])) < 1e-9 * tall:
            break
    return shape


@njit(cache=True)
def _solved_least(columns: Floats, right: Floats, least: float) -> Floats:
    """(n,) the least-squares answer of ``columns`` (n, m) times it = ``right`` (m,), by modified Gram-Schmidt; NaN
    where a column is the others' within the share ``least`` of its length. Both are used up.
    """
    n = len(columns)
    r, q = np.zeros((n, n)), np.zeros(n)
    for k in range(n):
        whole = np.sqrt((columns[k] * columns[k]).sum())
        for j in range(k):
            r[j, k] = (columns[j] * columns[k]).sum()
            columns[k] -= r[j, k] * columns[j]
        r[k, k] = np.sqrt((columns[k] * columns[k]).sum())
        if not r[k, k] > least * whole:
            return np.full(n, np.nan)
        columns[k] /= r[k, k]
        q[k] = (columns[k] * right).sum()
        right -= q[k] * columns[k]
    for k in range(n - 1, -1, -1):
        for j in range(k + 1, n):
            q[k] -= r[k, j] * q[j]
        q[k] /= r[k, k]
    return q


@njit(cache=True)
def _sides(axis: Floats) -> Floats:
    """(2, 3) two unit vectors across a direction, as ``frame.across`` gives them."""
    out = np.zeros((2, 3))
    k = 0 if abs(axis[0]) < 0.9 else 1
    for j in range(3):
        out[0, j] = -axis[j] * axis[k]
    out[0, k] += 1.0
    u = out[0] / np.sqrt(out[0, 0] ** 2 + out[0, 1] ** 2 + out[0, 2] ** 2)
    out[0] = u
    out[1, 0] = axis[1] * u[2] - axis[2] * u[1]
    out[1, 1] = axis[2] * u[0] - axis[0] * u[2]
    out[1, 2] = axis[0] * u[1] - axis[1] * u[0]
    return out


@njit(cache=True)
def circle_through(x: Floats, y: Floats) -> Floats:
    """(3,) centre and radius of the circle through points (Kasa 1976); NaN where they lie on a line."""
    n, none = len(x), np.full(3, np.nan)
    mx, my = x.mean(), y.mean()
    a, b, c, su, sv = 0.0, 0.0, 0.0, 0.0, 0.0
    pu, pv, ps = 0.0, 0.0, 0.0
    for k in range(n):
        u, v = x[k] - mx, y[k] - my
        square = u * u + v * v
        a += u * u
        b += u * v
        c += v * v
        su += u
        sv += v
        pu += u * square
        pv += v * square
        ps += square
    size = a + c
    if size <= 0.0 or a * c - b * b < 1e-10 * size * size:
        return none
    matrix = np.array([[a, b, su], [b, c, sv], [su, sv, float(n)]])
    right = np.array([pu, pv, ps])
    if not solved(matrix, right)[0]:
        return none
    squared = right[2] + 0.25 * (right[0] ** 2 + right[1] ** 2)
    if not squared > 0.0:
        return none
    return np.array([mx + right[0] / 2.0, my + right[1] / 2.0, np.sqrt(squared)])


@njit(cache=True)
def cylinder_through(points: Floats, axis: Floats) -> Floats:
    """(8,) the cylinder with this axis through points (n, 3), its centre half-way along; NaN where there is none."""
    across = _sides(axis)
    n = len(points)
    x, y = np.empty(n), np.empty(n)
    low, high = np.inf, -np.inf
    for k in range(n):
        p = points[k]
        x[k] = p[0] * across[0, 0] + p[1] * across[0, 1] + p[2] * across[0, 2]
        y[k] = p[0] * across[1, 0] + p[1] * across[1, 1] + p[2] * across[1, 2]
        height = p[0] * axis[0] + p[1] * axis[1] + p[2] * axis[2]
        low, high = min(low, height), max(high, height)
    round_ = circle_through(x, y)
    out = np.zeros(8)
    out[:3] = axis
    out[3:6] = round_[0] * across[0] + round_[1] * across[1] + axis * (low + high) / 2.0
    out[6] = round_[2]
    return out


@njit(cache=True)
def sloped_through(points: Floats, axis: Floats, slope: float) -> Floats:
    """(8,) the cone with this axis and slope through points (n, 3); NaN where there is none.

    One algebraic step: x2 + y2 = 2 a x + 2 b y + 2 r s h + (s h)2 + rest.
    """
    across, n = _sides(axis), len(points)
    middle = np.array([points[:, 0].mean(), points[:, 1].mean(), points[:, 2].mean()])
    columns, right = np.empty((4, n)), np.empty(n)
    for k in range(n):
        a, b, c = points[k, 0] - middle[0], points[k, 1] - middle[1], points[k, 2] - middle[2]
        x = a * across[0, 0] + b * across[0, 1] + c * across[0, 2]
        y = a * across[1, 0] + b * across[1, 1] + c * across[1, 2]
        h = a * axis[0] + b * axis[1] + c * axis[2]
        columns[0, k], columns[1, k], columns[2, k], columns[3, k] = 2.0 * x, 2.0 * y, 2.0 * slope * h, 1.0
        right[k] = x * x + y * y - (slope * h) ** 2
    found = _solved_least(columns, right, 1e-10)
    out = np.full(8, np.nan)
    if not found[2] > 0.0:
        return out
    out[:3] = axis
    out[3:6] = middle + found[0] * across[0] + found[1] * across[1]
    out[6], out[7] = found[2], slope
    return out


@njit(cache=True)
def ball_through(points: Floats) -> Floats:
    """(8,) the ball through points (n, 3); NaN where there is none."""
    n = len(points)
    middle = np.array([points[:, 0].mean(), points[:, 1].mean(), points[:, 2].mean()])
    columns, right = np.empty((4, n)), np.empty(n)
    for k in range(n):
        square = 0.0
        for j in range(3):
            one = points[k, j] - middle[j]
            columns[j, k] = 2.0 * one
            square += one * one
        columns[3, k] = 1.0
        right[k] = square
    found = _solved_least(columns, right, 1e-9)
    out = np.full(8, np.nan)
    squared = found[3] + found[0] ** 2 + found[1] ** 2 + found[2] ** 2
    if not squared > 0.0:
        return out
    out[:3] = np.array([0.0, 0.0, 1.0])
    out[3:6] = middle + found[:3]
    out[6], out[7] = np.sqrt(squared), 0.0
    return out


@njit(cache=True)
def cone_of(corners: Floats, normals: Floats, axis: Floats) -> Floats:
    """(8,) the cone with this axis through faces with corners (k, 3, 3) and normals (k, 3), before it is fitted; NaN
    where there is none. Its slope is told by how the faces lean; of the two ways it may open the nearer is taken.
    """
    k = len(corners)
    middles, lean = np.empty((k, 3)), 0.0
    for i in range(k):
        for j in range(3):
            middles[i, j] = (corners[i, 0, j] + corners[i, 1, j] + corners[i, 2, j]) / 3.0
        lean += normals[i, 0] * axis[0] + normals[i, 1] * axis[1] + normals[i, 2] * axis[2]
    lean /= k
    best, least = np.full(8, np.nan), np.inf
    if abs(lean) > 0.996 or abs(lean) < 0.004:
        return best
    points = corners.reshape(-1, 3)
    for sign in (1.0, -1.0):
        shape = sloped_through(points, axis, -sign * lean / np.sqrt(1.0 - lean * lean))
        if not np.isfinite(shape[6]):
            continue
        far = 0.0
        for i in range(k):
            far = max(far, abs(_off(0, shape, middles[i, 0], middles[i, 1], middles[i, 2])))
        if far < least:
            best, least = shape, far
    return best


@njit(cache=True)
def ring_round(
    seed: int, free: Bools, first: Ints, beside: Ints, group: Ints, most_patches: int, most_faces: int
) -> Ints:
    """Free faces round the seed, nearest first, until there are so many patches or faces."""
    seen = {seed}
    patches = {group[seed]}
    out = [seed]
    at = 0
    while at < len(out) and len(patches) < most_patches and len(out) < most_faces:
        face = out[at]
        at += 1
        for k in range(first[face], first[face + 1]):
            other = beside[k]
            if free[other] and other not in seen:
                seen.add(other)
                out.append(other)
                patches.add(group[other])
    found = np.empty(len(out), np.int64)
    for k in range(len(out)):
        found[k] = out[k]
    return found
