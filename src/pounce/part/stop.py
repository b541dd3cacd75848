"""The Part stop: unit, bodies and health."""

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.progress import Progress
from pounce.base.units import MM_PER, UNIT_NAMES, count_words, sizes
from pounce.part.changes import SetUnit
from pounce.part.model import BodyLine, Model, PartChoices, PartResult
from pounce.part.walls import least_wall
from pounce.part.words import guess_unit
from pounce.solid import boolean
from pounce.solid.features.patches import grouped
from pounce.solid.mesh import Floats, Mesh, joined
from pounce.solid.tags import FaceTags
from pounce.solid.tree import build

# A part whose largest extent reads this many mm is the size that such parts are.
USUAL_MM = 20.0


def part_stop(choices: PartChoices, model: Model, progress: Progress) -> PartResult:
    """The chosen bodies as one part in mm. UserFault when no body is chosen or the unit is unknown."""
    progress(0.0, "Taking the part")
    taken = tuple(range(len(model.bodies))) if choices.bodies is None else choices.bodies
    if not taken or any(index >= len(model.bodies) or index < 0 for index in taken):
        raise UserFault("No body of this model is chosen.", "Tick at least one body of the part.")
    unit, unit_from = _unit(choices, model)
    factor = MM_PER[unit] / MM_PER[model.applied]
    meshes = [model.bodies[index].mesh.scaled(factor) for index in taken]
    whole, closed, notes = _one(meshes, all(model.bodies[index].closed for index in taken))
    # from here on a face is told by its number in this mesh
    mesh = whole.tagged(whole.tags.changed(face=np.arange(len(whole.faces))))
    progress(0.4, "Looking for thin walls")
    wall = least_wall(mesh, build(mesh))
    lines = tuple(
        BodyLine(
            body.name,
            body.mesh.volume * factor**3 if body.closed else 0.0,
            body.closed,
            index in taken,
            len(body.mesh.faces),
        )
        for index, body in enumerate(model.bodies)
    )
    opened = [model.bodies[index].open_edges * factor for index in taken]
    mended = (*model.mended, *notes)
    result = PartResult(
        mesh=mesh,
        closed=closed,
        unit=unit,
        unit_from=unit_from,
        bodies=lines,
        mended=mended,
        volume_mm3=mesh.volume if closed else 0.0,
        area_mm2=mesh.area,
        least_wall_mm=None if wall is None else wall[0],
        least_wall_at=None if wall is None else (float(wall[1][0]), float(wall[1][1]), float(wall[1][2])),
        open_edges=np.concatenate(opened),
        findings=tuple(_findings(mesh, closed, unit, unit_from, mended, np.concatenate(opened))),
    )
    progress(1.0, "Part taken")
    return result


def _unit(choices: PartChoices, model: Model) -> tuple[str, str]:
    if choices.unit is not None:
        if choices.unit not in MM_PER:
            raise UserFault(f"'{choices.unit}' is not a unit.", "Choose one of mm, cm, m or in.")
        return choices.unit, "user"
    if model.unit is not None:
        return model.unit, "file"
    return guess_unit(model.largest / MM_PER[model.applied]), "guess"


def _one(meshes: list[Mesh], closed: bool) -> tuple[Mesh, bool, tuple[str, ...]]:
    """Several bodies as one part: united where they are closed, side by side where one is open."""
    if len(meshes) == 1:
        return meshes[0], closed, ()
    if not closed:
        return joined(meshes), False, ()
    shifts = np.cumsum([0, *[len(mesh.faces) for mesh in meshes]])
    solids = [boolean.closed_solid(mesh, int(shift)) for mesh, shift in zip(meshes, shifts[:-1], strict=True)]
    whole = boolean.united([solid for solid in solids if solid is not None])
    mesh = boolean.as_mesh(whole, FaceTags.joined([mesh.tags for mesh in meshes]))
    return mesh, True, (f"joined {len(meshes)} bodies into one part",)


def _holes(opened: Floats) -> tuple[int, Floats]:
    """How many holes open edges (k, 2, 3) run round, and a place (3,) on the rim of the longest."""
    ends = np.unique(opened.reshape(-1, 3), axis=0, return_inverse=True)[1].reshape(-1, 2)
    hole = grouped(int(ends.max()) + 1, ends)[ends[:, 0]]
    numbers, first, count = np.unique(hole, return_index=True, return_counts=True)
    return len(numbers), np.asarray(opened[first[int(np.argmax(count))]].mean(axis=0))


def _findings(
    mesh: Mesh, closed: bool, unit: str, unit_from: str, mended: tuple[str, ...], opened: np.ndarray
) -> list[Finding]:
    found: list[Finding] = []
    size = mesh.size
    if unit_from == "guess":
        others = [name for name in ("mm", "in", "cm", "m") if name != unit][:1]
        answers = [unit, *others] if unit != "in" else ["mm", "in"]
        found.append(
            Finding(
                "unit-not-stated",
                # a size that is usual in mm is only said; one that is guessed at another unit wants an answer
                Severity.NOTE if unit == "mm" and size.max() >= USUAL_MM else Severity.WARN,
                f"The file has no unit. Taken as {UNIT_NAMES[unit]} it is {sizes((size[0], size[1], size[2]))}.",
                noun="no unit",
                remedies=tuple(Remedy(f"unit-{u}", UNIT_NAMES[u].capitalize(), SetUnit(u)) for u in answers),
            )
        )
    if not closed:
        holes, at = _holes(opened) if len(opened) else (0, mesh.bounds.mean(axis=0))
        where = f"{len(opened)} edges round {count_words(holes)} {'hole' if holes == 1 else 'holes'}"
        found.append(
            Finding(
                "shell-open",
                Severity.STOP,
                f"The shell is open along {where}. It is shown and judged, but building needs it closed."
                if len(opened)
                else "The shell crosses or doubles itself. It is shown and judged, but building needs a clean solid.",
                noun="open" if len(opened) else "crosses or doubles itself",
                place_mm=(float(at[0]), float(at[1]), float(at[2])),
                figures={"open_edges": float(len(opened)), "holes": float(holes)},
                main="open_edges",
                remedies=(Remedy("mend-outside", "Close it where it is drawn, then read it again"),),
            )
        )
    if mended:
        text = ", ".join(mended)
        found.append(Finding("mended", Severity.NOTE, f"Mended: {text}.", noun="Mended"))
    return found
