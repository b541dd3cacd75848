"""What each face of a mesh is of, by name: the model file's face, the part's face, the line of Stock, the core print,
the feature, the hollow.

Solid operations carry all of them by one way: every face of the result takes the tags of the face that it is a piece
of, and what a tool or a cut made has none. A tag that is the same all over takes no room.
"""

from collections.abc import Sequence
from dataclasses import dataclass, fields
from functools import cached_property
from typing import Final

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]

NONE: Final = -1
# The print of a face that closes, flush, the mouth of a hollow whose core has no print there.
FLUSH: Final = -2


@dataclass(frozen=True, eq=False)
class FaceTags:
    """(m,) int64 each, -1 for none.

    ``face`` the part's face that it is, or stands for: stock on a machined face stands for that face; ``imported``
    the face of the model file (STEP); ``line`` the line of Stock that made it; ``print`` the core print it is on;
    ``feature`` of the part; ``hollow`` whose wall it is.
    """

    face: Ints
    imported: Ints
    line: Ints
    print: Ints
    feature: Ints
    hollow: Ints

    @staticmethod
    def of(
        count: int,
        face: Ints | int = NONE,
        imported: Ints | int = NONE,
        line: Ints | int = NONE,
        print: Ints | int = NONE,
        feature: Ints | int = NONE,
        hollow: Ints | int = NONE,
    ) -> "FaceTags":
        """Tags of ``count`` faces, each given for all at once or one a face. ValueError where one has another
        length.
        """
        return FaceTags(*(_spread(one, count) for one in (face, imported, line, print, feature, hollow)))

    @staticmethod
    def own(count: int) -> "FaceTags":
        """Every face is itself: those of a part."""
        return FaceTags.of(count, face=np.arange(count, dtype=np.int64))

    def __len__(self) -> int:
        return len(self.face)

    def at(self, rows: Ints | Bools) -> "FaceTags":
        """The tags of these faces, by number or by mask."""
        count = int(np.count_nonzero(rows)) if rows.dtype == np.bool_ else len(rows)
        return FaceTags(*(_taken(one, rows, count) for one in self._all))

    def or_none(self, rows: Ints) -> "FaceTags":
        """The tags of these faces by number; where the number is -1 there are none."""
        if not len(self):
            return FaceTags.of(len(rows))
        found = self.at(np.maximum(rows, 0))
        return found.changed(rows < 0, **dict.fromkeys(NAMES, NONE)) if (rows < 0).any() else found

    def changed(self, where: Bools | None = None, **values: Ints | int) -> "FaceTags":
        """The same with some tags set, all over or ``where`` (m,) the mask holds; a value may be one a face (m,)."""
        made = {name: getattr(self, name) for name in NAMES}
        for name, value in values.items():
            made[name] = value if where is None else np.where(where, value, made[name]).astype(np.int64)
        return FaceTags.of(len(self), **made)

    @staticmethod
    def joined(parts: "Sequence[FaceTags]") -> "FaceTags":
        """The tags of several meshes one after another."""
        return FaceTags(*(np.concatenate([getattr(part, name) for part in parts]) for name in NAMES))

    @property
    def made_by_tools(self) -> Bools:
        """(m,) faces that carry nothing of the part, its stock or its prints: a cut or a tool made them."""
        return np.asarray((self.face < 0) & (self.line < 0) & (self.print == NONE))

    @cached_property
    def group(self) -> Ints:
        """(m,) equal numbers from 0 where part's face and line are equal."""
        most = np.int64(self.line.max(initial=NONE)) + 2
        _, number = np.unique((self.face + 1) * most + self.line + 1, return_inverse=True)
        return np.asarray(number.reshape(-1), np.int64)

    @property
    def _all(self) -> tuple[Ints, ...]:
        return tuple(getattr(self, name) for name in NAMES)


NAMES: Final = tuple(field.name for field in fields(FaceTags))


def _spread(value: Ints | int, count: int) -> Ints:
    if not isinstance(value, np.ndarray):
        return np.broadcast_to(np.int64(value), (count,))
    if value.shape != (count,):
        raise ValueError(f"{len(value)} tags for {count} faces")
    if value.dtype != np.int64:
        value = value.astype(np.int64)
    value.setflags(write=False)
    return value


def _taken(tags: Ints, rows: Ints | Bools, count: int) -> Ints:
    if len(tags) and tags.strides == (0,):
        return np.broadcast_to(tags[0], (count,))
    found: Ints = tags[rows]
    found.setflags(write=False)
    return found
