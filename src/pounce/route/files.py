"""Which files a build writes, by what they hang on: the build and the list on the bench are both made from this.
Imports nothing heavy.
"""

from dataclasses import dataclass

from pounce.pattern.values import PLYWOOD, Role
from pounce.route.results import PaperFile, Results
from pounce.route.stops import MOULD, PATTERN, stops
from pounce.solid.mesh import Mesh


@dataclass(frozen=True, eq=False)
class ModelFile:
    """A model of the pattern's making: the file's name without its ending, its role, what it is called; None for the
    test piece's mesh.
    """

    stem: str
    role: str
    name: str
    mesh: Mesh | None


# Gates and runner are written as formers of the mould, another job's pattern by that job.
ELSEWHERE = (Role.GATING, Role.OTHER)


def model_files(results: Results) -> tuple[ModelFile, ...]:
    """The pieces as they lie on the bed, else as they are built; boards; the test piece."""
    pattern = results.need(PATTERN)
    things: list[tuple[str, str, Mesh | None]] = [
        (core_print.role, core_print.name, core_print.mesh) for core_print in pattern.making.prints
    ]
    if things:
        things += [(piece.role, piece.name, piece.laid) for piece in pattern.pieces if piece.role in PLYWOOD]
    else:
        things = [(piece.role, piece.name, piece.laid) for piece in pattern.pieces if piece.role not in ELSEWHERE]
    if results.job.pattern.test_piece and pattern.making.kind == "printed":
        things.append(("test-piece", "Test piece", None))
    out = []
    for index, (role, name, mesh) in enumerate(things):
        alike = sum(other == role for other, _, _ in things[:index])
        # boards are known by what they carry
        stem = name.lower().replace(" ", "-") if role in PLYWOOD else role if not alike else f"{role}-{alike + 1}"
        # a part cut for the bed is still of its piece
        out.append(ModelFile(stem, role.split("-part-")[0], name, mesh))
    return (*out, *_formers(results))


def _formers(results: Results) -> list[ModelFile]:
    """Sprue, runner and gates to print and ram up; none where the mould could not be laid out."""
    made = results.get(MOULD)
    out = []
    halves = {} if made is None else {name: half for half, name, _ in made.halves}
    for name, mesh in () if made is None else made.formers:
        stem = halves.get(name) or name.partition(",")[0].lower().replace(" ", "-")
        out.append(ModelFile(f"former-{stem}", "former", name, mesh))
    return out


def paper_files(results: Results) -> tuple[PaperFile, ...]:
    """Every page, outline and table of the build, stop by stop; the sheet last."""
    sheet = PaperFile("shop-sheet.pdf", "sheet", "for the bench", "pounce.route.paper:sheet_bytes")
    return (*(paper for stop in stops() for paper in stop.papers(results)), sheet)
