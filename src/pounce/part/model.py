"""The values of this room: a model as read, and the part taken from it."""

from dataclasses import dataclass

import msgspec
import numpy as np

from pounce.base.digest import digest
from pounce.base.finding import Finding
from pounce.solid.mesh import Floats, Mesh


@dataclass(frozen=True, eq=False)
class Body:
    """One body of a model, in the model's own unit. ``open_edges`` (k, 2, 3) are the ends of its open edges."""

    name: str
    mesh: Mesh
    closed: bool
    open_edges: Floats


@dataclass(frozen=True, eq=False)
class Model:
    """What a file held.

    ``unit`` is the unit the file states, or None; ``applied`` is the unit that was already turned into mm when
    the model was kept in a job file ("mm" for a model fresh from a file).
    """

    name: str
    file: str
    format: str
    unit: str | None
    bodies: tuple[Body, ...]
    mended: tuple[str, ...]
    applied: str = "mm"

    @property
    def triangles(self) -> int:
        """Triangles of all bodies."""
        return sum(len(body.mesh.faces) for body in self.bodies)

    @property
    def largest(self) -> float:
        """The largest extent over all bodies, in the model's unit."""
        boxes = np.array([body.mesh.bounds for body in self.bodies])
        return float((boxes[:, 1].max(axis=0) - boxes[:, 0].min(axis=0)).max())

    def fingerprint(self) -> str:
        """A digest of the geometry, names, unit and mending notes."""
        arrays = [a for body in self.bodies for a in (body.mesh.vertices, body.mesh.faces)]
        names = [body.name for body in self.bodies]
        return digest(self.name, self.file, self.unit, self.applied, names, list(self.mended), *arrays)


class PartChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What the user chose about the part.

    ``model`` is the fingerprint of the model; ``unit`` None means not answered yet (the guess serves meanwhile);
    ``bodies`` None means all. ``scale_kg`` what the part weighs on the scale, and ``scale_metal`` what it is made of
    (None: the metal it is to be cast in).
    """

    model: str = ""
    unit: str | None = None
    bodies: tuple[int, ...] | None = None
    scale_kg: float | None = None
    scale_metal: str | None = None


@dataclass(frozen=True, eq=False)
class BodyLine:
    """A body as the list shows it: name, volume (0 when open), whether closed, whether taken."""

    name: str
    volume_mm3: float
    closed: bool
    taken: bool
    triangles: int


@dataclass(frozen=True, eq=False)
class PartResult:
    """The part in mm with its health.

    ``unit_from`` says whether the unit is the file's own, the user's or a guess. ``least_wall_mm`` is None for a
    part whose walls cannot be measured (no opposite face). ``open_edges`` (k, 2, 3) in mm.
    """

    mesh: Mesh
    closed: bool
    unit: str
    unit_from: str
    bodies: tuple[BodyLine, ...]
    mended: tuple[str, ...]
    volume_mm3: float
    area_mm2: float
    least_wall_mm: float | None
    least_wall_at: tuple[float, float, float] | None
    open_edges: Floats
    findings: tuple[Finding, ...]
