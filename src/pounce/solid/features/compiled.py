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
        return float(np.sqrt(a * a + b * b + c * c) - s[6])
    height = a * s[0] + b * s[1] + c * s[2]
    out = np.sqrt(max(a * a + b * b + c * c - height * height, 0.0))
    if kind == 2:
        return float(np.hypot(out - s[6], height) - s[7])
    return float((out - s[6] - s[7] * height) / np.sqrt(1.0 + s[7] * s[7]))


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
    return float((a * nx + b * ny + c * nz) / long)


@njit(cache=True)
def _lies(kind: int, s: Floats, corners: Floats, middle: Floats, normal: Floats, near: float, lean: float) -> bool:
    for k in range(3):
        if not abs(_off(kind, s, corners[k, 0], corners[k, 1], corners[k, 2])) < near:
            return False
    facing = _facing(kind, s, middle[0], middle[1], middle[2], normal[0], normal[1], normal[2])
    return bool(abs(facing) > lean)


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
def _is_near(s: Floats, box: Floats, above: float, below: float) -> bool:
    """Whether something in a box (6,) may lie at most ``above`` outside and ``below`` inside a cylinder or cone."""
    half = 0.0
    for k in range(3):
        half += (0.5 * (box[3 + k] - box[k])) ** 2
    half = np.sqrt(half) * (1.0 + 1e-9)
    a, b, c = 0.5 * (box[0] + box[3]) - s[3], 0.5 * (box[1] + box[4]) - s[4], 0.5 * (box[2] + box[5]) - s[5]
    height = a * s[0] + b * s[1] + c * s[2]
    out = np.sqrt(max(a * a + b * b + c * c - height * height, 0.0))
    lean = np.sqrt(1.0 + s[7] * s[7])
    off, slack = (out - s[6] - s[7] * height) / lean, half + 1e-9 * (out + abs(height) + s[6])
    return bool(off - slack < above and off + slack > -below)


@njit(cache=True)
def strays_on(
    shape: Floats,
    free: Bools,
    corners: Floats,
    normals: Floats,
    boxes: Floats,
    order: Ints,
    leaf_of: int,
    above: float,
    below: float,
    facing: float,
    turn: float,
) -> Ints:
    """Free faces whose corners lie at most ``above`` outside and ``below`` inside the cylinder or cone and whose
    normals look along it (``turn`` 1) or against it (-1), by a cosine over ``facing``; in rising order. ``boxes``
    (2 p, 6) of the faces' tree, of whose leaves, from p on, each holds the next ``leaf_of`` faces of ``order`` (m,).
    """
    first, out, stack = len(boxes) // 2, [0 for _ in range(0)], [1]
    while len(stack) > 0:
        node = stack.pop()
        if not _is_near(shape, boxes[node], above, below):
            continue
        if node < first:
            stack.append(2 * node)
            stack.append(2 * node + 1)
            continue
        for slot in range((node - first) * leaf_of, min((node - first + 1) * leaf_of, len(order))):
            face = order[slot]
            good = free[face]
            for k in range(3):
                off = _off(0, shape, corners[face, k, 0], corners[face, k, 1], corners[face, k, 2])
                if not (good and off < above and off > -below):
                    good = False
                    break
            if not good:
                continue
            x, y, z = (corners[face, 0] + corners[face, 1] + corners[face, 2]) / 3.0
            if turn * _facing(0, shape, x, y, z, normals[face, 0], normals[face, 1], normals[face, 2]) > facing:
                out.append(face)
    found = np.empty(len(out), np.int64)
    for k in range(len(out)):
        found[k] = out[k]
    found.sort()
    return found


@njit(cache=True)
def solved(matrix: Floats, right: Floats, n: int) -> bool:
    """Solves the first ``n`` rows of the system in place by elimination with pivots: ``right`` becomes the answer.
    Whether it could be told.
    """
    for k in range(n):
        pivot = k
        for i in range(k + 1, n):
            if abs(matrix[i, k]) > abs(matrix[pivot, k]):
                pivot = i
        if not abs(matrix[pivot, k]) > 0.0:
            return False
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
    return True


@njit(cache=True)
def squared_off(kind: int, shape: Floats, points: Floats) -> float:
    """Sum of squared distances of points (n, 3) from the shape, mm2."""
    total = 0.0
    for k in range(len(points)):
        off = _off(kind, shape, points[k, 0], points[k, 1], points[k, 2])
        total += off * off
    return total


@njit(cache=True)
def _step(shape: Floats, s: Floats, points: Floats, size: int, gram: Floats, down: Floats) -> float:
    """Fills ``gram`` and ``down`` of one Gauss-Newton step, with heights in units of the tallest, which is returned."""
    slope, row = shape[7], np.zeros(6)
    for m in range(6):
        down[m] = 0.0
        for n in range(6):
            gram[m, n] = 0.0
    k = np.sqrt(1.0 + slope * slope)
    tall = 1e-9
    for i in range(len(points)):
        a, b, c = points[i, 0] - shape[3], points[i, 1] - shape[4], points[i, 2] - shape[5]
        tall = max(tall, abs(a * shape[0] + b * shape[1] + c * shape[2]))
    for i in range(len(points)):
        a, b, c = points[i, 0] - shape[3], points[i, 1] - shape[4], points[i, 2] - shape[5]
        height = a * shape[0] + b * shape[1] + c * shape[2]
        x, y = a * s[0] + b * s[1] + c * s[2], a * s[3] + b * s[4] + c * s[5]
        out = max(np.sqrt(x * x + y * y), 1e-300)
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
def _moved(shape: Floats, s: Floats, step: Floats, tall: float, sloped: bool) -> Floats:
    """The shape after one step: axis turned along the sides ``s``, centre, radius and slope changed."""
    out = np.empty(8)
    long = 0.0
    for j in range(3):
        out[j] = shape[j] + (step[3] * s[j] + step[4] * s[3 + j]) / tall
        long += out[j] * out[j]
        out[3 + j] = shape[3 + j] + step[0] * s[j] + step[1] * s[3 + j]
    for j in range(3):
        out[j] /= np.sqrt(long)
    out[6] = shape[6] + step[2]
    out[7] = shape[7] + (step[5] / tall if sloped else 0.0)
    return out


@njit(cache=True)
def fitted(shape: Floats, sloped: bool, points: Floats, rounds: int) -> Floats:
    """(8,) cylinder or cone moved until the squared distances of the points (n, 3) are least: Gauss-Newton over axis,
    centre, radius and, where ``sloped``, slope. It stays where a step would make it worse.
    """
    size = 6 if sloped else 5
    gram, step = np.zeros((6, 6)), np.zeros(6)
    before = squared_off(0, shape, points)
    for _ in range(rounds):
        s = _sides(shape)
        tall = _step(shape, s, points, size, gram, step)
        if not solved(gram, step, size):  # too little of it to tell
            return shape
        moved = _moved(shape, s, step, tall, sloped)
        if not (moved[6] > 0.0 and np.isfinite(moved[6])):
            return shape
        after = squared_off(0, moved, points)
        if not after <= before * (1.0 + 1e-9):
            return shape
        shape, before = moved, after
        if max(abs(step[0]), abs(step[1]), abs(step[2])) < 1e-9 * tall:
            break
    return shape


@njit(cache=True)
def _dot(one: Floats, two: Floats) -> float:
    total = 0.0
    for k in range(len(one)):
        total += one[k] * two[k]
    return total


@njit(cache=True)
def _solved_least(columns: Floats, right: Floats, least: float) -> Floats:
    """(n,) the least-squares answer of ``columns`` (n, m) times it = ``right`` (m,), by modified Gram-Schmidt; NaN
    where a column is the others' within the share ``least`` of its length. Both are used up.
    """
    n, m = columns.shape
    r, q = np.zeros((n, n)), np.zeros(n)
    for k in range(n):
        own = columns[k]
        whole = np.sqrt(_dot(own, own))
        for j in range(k):
            r[j, k] = _dot(columns[j], own)
            for i in range(m):
                own[i] -= r[j, k] * columns[j, i]
        r[k, k] = np.sqrt(_dot(own, own))
        if not r[k, k] > least * whole:
            for j in range(n):
                q[j] = np.nan
            return q
        for i in range(m):
            own[i] /= r[k, k]
        q[k] = _dot(own, right)
        for i in range(m):
            right[i] -= q[k] * own[i]
    for k in range(n - 1, -1, -1):
        for j in range(k + 1, n):
            q[k] -= r[k, j] * q[j]
        q[k] /= r[k, k]
    return q


@njit(cache=True)
def _sides(axis: Floats) -> Floats:
    """(6,) two unit vectors across a direction, as ``frame.across`` gives them."""
    k = 0 if abs(axis[0]) < 0.9 else 1
    a, b, c = axis[0], axis[1], axis[2]
    x, y, z = -a * axis[k], -b * axis[k], -c * axis[k]
    if k == 0:
        x += 1.0
    else:
        y += 1.0
    long = np.sqrt(x * x + y * y + z * z)
    x, y, z = x / long, y / long, z / long
    out = np.empty(6)
    out[0], out[1], out[2] = x, y, z
    out[3], out[4], out[5] = b * z - c * y, c * x - a * z, a * y - b * x
    return out


@njit(cache=True)
def circle_through(x: Floats, y: Floats) -> Floats:
    """(3,) centre and radius of the circle through points (Kasa 1976); NaN where they lie on a line."""
    n, mx, my = len(x), 0.0, 0.0
    for k in range(n):
        mx += x[k]
        my += y[k]
    mx, my = mx / n, my / n
    out = np.full(3, np.nan)
    matrix, right = np.zeros((3, 3)), np.zeros(3)
    for k in range(n):
        u, v = x[k] - mx, y[k] - my
        square = u * u + v * v
        matrix[0, 0] += u * u
        matrix[0, 1] += u * v
        matrix[1, 1] += v * v
        matrix[0, 2] += u
        matrix[1, 2] += v
        right[0] += u * square
        right[1] += v * square
        right[2] += square
    a, b, c = matrix[0, 0], matrix[0, 1], matrix[1, 1]
    size = a + c
    if size <= 0.0 or a * c - b * b < 1e-10 * size * size:
        return out
    matrix[1, 0], matrix[2, 0], matrix[2, 1], matrix[2, 2] = b, matrix[0, 2], matrix[1, 2], float(n)
    if not solved(matrix, right, 3):
        return out
    squared = right[2] + 0.25 * (right[0] ** 2 + right[1] ** 2)
    if squared > 0.0:
        out[0], out[1], out[2] = mx + right[0] / 2.0, my + right[1] / 2.0, np.sqrt(squared)
    return out


@njit(cache=True)
def cylinder_through(points: Floats, axis: Floats) -> Floats:
    """(8,) the cylinder with this axis through points (n, 3), its centre half-way along; NaN where there is none."""
    s, n = _sides(axis), len(points)
    x, y = np.empty(n), np.empty(n)
    low, high = np.inf, -np.inf
    for k in range(n):
        a, b, c = points[k, 0], points[k, 1], points[k, 2]
        x[k] = a * s[0] + b * s[1] + c * s[2]
        y[k] = a * s[3] + b * s[4] + c * s[5]
        height = a * axis[0] + b * axis[1] + c * axis[2]
        low, high = min(low, height), max(high, height)
    found = circle_through(x, y)
    out = np.zeros(8)
    for j in range(3):
        out[j] = axis[j]
        out[3 + j] = found[0] * s[j] + found[1] * s[3 + j] + axis[j] * (low + high) / 2.0
    out[6] = found[2]
    return out


@njit(cache=True)
def _middle(points: Floats) -> Floats:
    out = np.zeros(3)
    for k in range(len(points)):
        for j in range(3):
            out[j] += points[k, j]
    for j in range(3):
        out[j] /= len(points)
    return out


@njit(cache=True)
def sloped_through(points: Floats, axis: Floats, slope: float) -> Floats:
    """(8,) the cone with this axis and slope through points (n, 3); NaN where there is none.

    One algebraic step: x2 + y2 = 2 a x + 2 b y + 2 r s h + (s h)2 + rest.
    """
    s, n, middle = _sides(axis), len(points), _middle(points)
    columns, right = np.empty((4, n)), np.empty(n)
    for k in range(n):
        a, b, c = points[k, 0] - middle[0], points[k, 1] - middle[1], points[k, 2] - middle[2]
        x = a * s[0] + b * s[1] + c * s[2]
        y = a * s[3] + b * s[4] + c * s[5]
        h = a * axis[0] + b * axis[1] + c * axis[2]
        columns[0, k], columns[1, k], columns[2, k], columns[3, k] = 2.0 * x, 2.0 * y, 2.0 * slope * h, 1.0
        right[k] = x * x + y * y - (slope * h) ** 2
    found = _solved_least(columns, right, 1e-10)
    out = np.empty(8)
    there = found[2] > 0.0
    for j in range(3):
        out[j] = axis[j]
        out[3 + j] = middle[j] + found[0] * s[j] + found[1] * s[3 + j]
    out[6], out[7] = (found[2] if there else np.nan), slope
    return out


@njit(cache=True)
def ball_through(points: Floats) -> Floats:
    """(8,) the ball through points (n, 3); NaN where there is none."""
    n, middle = len(points), _middle(points)
    columns, right = np.empty((4, n)), np.empty(n)
    for k in range(n):
        square = 0.0
        for j in range(3):
            aside = points[k, j] - middle[j]
            columns[j, k] = 2.0 * aside
            square += aside * aside
        columns[3, k] = 1.0
        right[k] = square
    found = _solved_least(columns, right, 1e-9)
    out = np.zeros(8)
    out[2] = 1.0
    squared = found[3]
    for j in range(3):
        out[3 + j] = middle[j] + found[j]
        squared += found[j] * found[j]
    out[6] = np.sqrt(squared) if squared > 0.0 else np.nan
    return out


@njit(cache=True)
def cone_of(corners: Floats, normals: Floats, axis: Floats) -> Floats:
    """(8,) the cone with this axis through faces with corners (k, 3, 3) and normals (k, 3), before it is fitted; NaN
    where there is none. Its slope is told by how the faces lean; of the two ways it may open the nearer is taken.
    """
    k, lean = len(corners), 0.0
    points = corners.reshape(3 * k, 3)
    for i in range(k):
        lean += normals[i, 0] * axis[0] + normals[i, 1] * axis[1] + normals[i, 2] * axis[2]
    lean /= k
    best, least = np.full(8, np.nan), np.inf
    if abs(lean) > 0.996 or abs(lean) < 0.004:
        return best
    for turn in range(2):
        sign = 1.0 - 2.0 * turn
        shape = sloped_through(points, axis, -sign * lean / np.sqrt(1.0 - lean * lean))
        if not np.isfinite(shape[6]):
            continue
        far = 0.0
        for i in range(k):
            x = (corners[i, 0, 0] + corners[i, 1, 0] + corners[i, 2, 0]) / 3.0
            y = (corners[i, 0, 1] + corners[i, 1, 1] + corners[i, 2, 1]) / 3.0
            z = (corners[i, 0, 2] + corners[i, 1, 2] + corners[i, 2, 2]) / 3.0
            far = max(far, abs(_off(0, shape, x, y, z)))
        if far < least:
            best, least = shape, far
    return best


@njit(cache=True)
def _among(numbers: Ints, count: int, wanted: int) -> bool:
    # a few hundred at most: looking through them costs less than keeping them in order
    for k in range(count):  # noqa: SIM110  (a generator is not compiled)
        if numbers[k] == wanted:
            return True
    return False


@njit(cache=True)
def ring_round(
    seed: int, free: Bools, first: Ints, beside: Ints, group: Ints, most_patches: int, most_faces: int
) -> Ints:
    """Free faces round the seed, nearest first, until there are so many patches or faces."""
    out, patches = np.empty(most_faces + 64, np.int64), np.empty(most_patches + 64, np.int64)
    out[0], patches[0] = seed, group[seed]
    count, many, at = 1, 1, 0
    while at < count and many < most_patches and count < most_faces:
        face = out[at]
        at += 1
        for k in range(first[face], first[face + 1]):
            other = beside[k]
            if count == len(out) or not free[other] or _among(out, count, other):
                continue
            out[count] = other
            count += 1
            if many < len(patches) and not _among(patches, many, group[other]):
                patches[many] = group[other]
                many += 1
    return out[:count].copy()
