"""Which files a build writes, by what they hang on: the build and the list on the bench are both made from this. Imports nothing heavy."""

from dataclasses import dataclass

from pounce.pattern.values import PLYWOOD
from pounce.route.results import Results
from pounce.solid.mesh import Mesh


@dataclass(frozen=True, eq=False)
class ModelFile:
    """A model of the pattern's making: the file's name without its ending, its role, what it is called; None for the test piece's mesh."""

    stem: str
    role: str
    name: str
    mesh: Mesh | None


@dataclass(frozen=True)
class PaperFile:
    """A page, outline or table: its name, role, and a word about it."""

    file: str
    role: str
    about: str


def model_files(results: Results) -> tuple[ModelFile, ...]:
    """The pieces as they lie on the bed, else as they are built; boards; the test piece."""
    pattern = results.need("pattern")
    things: list[tuple[str, str, Mesh | None]] = [(one.role, one.name, one.mesh) for one in pattern.making.prints]
    if things:
        things += [(piece.role, piece.name, piece.laid) for piece in pattern.pieces if piece.role in PLYWOOD]
    else:
        things = [(piece.role, piece.name, piece.laid) for piece in pattern.pieces]
    if results.job.pattern.test_piece and pattern.making.kind == "printed":
        things.append(("test-piece", "Test piece", None))
    out = []
    for index, (role, name, mesh) in enumerate(things):
        alike = sum(other == role for other, _, _ in things[:index])
        # boards are known by what they carry
        stem = name.lower().replace(" ", "-") if role in PLYWOOD else role if not alike else f"{role}-{alike + 1}"
        # a part cut for the bed is still of its piece
        out.append(ModelFile(stem, role.split("-part-")[0], name, mesh))
    return tuple(out)


def has_templates(results: Results) -> bool:
    """Whether anything is drawn at 1:1 for making the pattern."""
    pattern = results.need("pattern")
    return pattern.making.kind in ("wood", "foam") or pattern.mount is not None or pattern.making.clay is not None


def paper_files(results: Results) -> tuple[PaperFile, ...]:
    """Every page, outline and table of the build, in order; the core boxes' plan and the sheet last."""
    pattern, stock, parting, cores = (results.need(stop) for stop in ("pattern", "stock", "parting", "cores"))
    out: list[PaperFile] = []
    if has_templates(results):
        out += [
            PaperFile("templates.pdf", "template", "at 1:1"),
            PaperFile("outlines.dxf", "template", "mm"),
            PaperFile("outlines.svg", "template", "mm"),
        ]
    if pattern.making.blanks:
        out.append(PaperFile("cut-list.csv", "cut-list", "the table"))
    if results.job.pattern.rule and pattern.making.kind not in ("", "original"):
        out.append(PaperFile("contraction-rule.pdf", "template", "at 1:1"))
    if parting.cut_down is not None and parting.moulded == "cut-down":
        out.append(PaperFile("cut-down-plan.pdf", "template", "at 1:1"))
    if stock.lines or len(set(stock.made_factors)) > 1:
        out.append(PaperFile("dimensions.csv", "sheet", "the table"))
    if stock.drill:
        out += [
            PaperFile("drilling-plan.pdf", "template", "at 1:1"),
            PaperFile("drilling-plan.csv", "template", "the table"),
        ]
    if cores.cores:
        out.append(PaperFile("core-boxes.pdf", "template", "at 1:1"))
    out.append(PaperFile("shop-sheet.pdf", "sheet", "for the bench"))
    return tuple(out)
