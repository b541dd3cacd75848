"""Splitting long edges of a mesh at their middles, so that it stays closed."""

from collections.abc import Callable

import numpy as np

from pounce.solid.mesh import Bools, Floats, Ints

# Edges long enough to be split: asked of both ends, (e, 3) and (e, 3), the answer is (e,).
TooLong = Callable[[Floats, Floats], Bools]


def refined(vertices: Floats, faces: Ints, too_long: TooLong, rounds: int = 12) -> tuple[Floats, Ints, Ints]:
    """Vertices, faces and the old face of each new one, after splitting every edge that is too long.

    An edge is judged by its ends alone, so both its faces split it alike and no gap opens; and one that was short
    enough stays so, so only the faces that were divided last are looked at again.
    """
    source = np.arange(len(faces))
    done: list[Ints] = []
    whence: list[Ints] = []
    for _ in range(rounds):
        table = np.stack([faces, faces[:, [1, 2, 0]]], axis=2).reshape(-1, 2)
        ends = np.sort(table, axis=1)
        keys, inverse = np.unique(ends[:, 0] * np.int64(len(vertices)) + ends[:, 1], return_inverse=True)
        low, high = keys // len(vertices), keys % len(vertices)
        split = too_long(vertices[low], vertices[high])
        if not split.any():
            break
        number = np.full(len(keys), -1, np.int64)
        number[split] = len(vertices) + np.arange(int(split.sum()))
        vertices = np.concatenate([vertices, (vertices[low[split]] + vertices[high[split]]) / 2.0])
        middle = number[inverse.reshape(-1, 3)]
        count = int((middle < 0).all(axis=1).sum())
        faces, old = divided(faces, middle, vertices)
        source = source[old]
        done.append(faces[:count])  # those that were not divided come first
        whence.append(source[:count])
        faces, source = faces[count:], source[count:]
    return vertices, np.concatenate([*done, faces]), np.concatenate([*whence, source])


def divided(faces: Ints, middle: Ints, vertices: Floats) -> tuple[Ints, Ints]:
    """New faces and the old face of each, for new vertices ``middle`` (m, 3) on the edges 01, 12, 20 (-1: none)."""
    count = (middle >= 0).sum(axis=1)
    rows = np.arange(len(faces))
    out, old = [faces[count == 0]], [rows[count == 0]]
    # turn each face so that its split edges come in one known order
    for n in (1, 2):
        chosen = rows[count == n]
        first = np.argmax(middle[chosen] >= 0, axis=1) if n == 1 else (np.argmin(middle[chosen] >= 0, axis=1) + 1) % 3
        order = (first[:, None] + np.arange(3)) % 3
        a, b, c = faces[chosen[:, None], order].T
        m, n2, _ = middle[chosen[:, None], order].T
        if n == 1:  # only ab
            out += [np.stack([a, m, c], 1), np.stack([m, b, c], 1)]
            old += [chosen, chosen]
        else:  # ab and bc
            out.append(np.stack([m, b, n2], 1))
            short = np.linalg.norm(vertices[m] - vertices[c], axis=1) <= np.linalg.norm(
                vertices[a] - vertices[n2], axis=1
            )
            one = np.where(short[:, None], np.stack([a, m, c], 1), np.stack([a, m, n2], 1))
            two = np.where(short[:, None], np.stack([m, n2, c], 1), np.stack([a, n2, c], 1))
            out += [one, two]
            old += [chosen, chosen, chosen]
    chosen = rows[count == 3]
    a, b, c = faces[chosen].T
    m, n3, k = middle[chosen].T
    out += [np.stack(three, 1) for three in ((a, m, k), (m, b, n3), (k, n3, c), (m, n3, k))]
    old += [chosen] * 4
    return np.concatenate(out), np.concatenate(old)
