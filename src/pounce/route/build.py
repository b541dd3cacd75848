"""The build: every file a maker needs, and its manifest. Nothing half-written is left behind."""

import shutil
import tempfile
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.base.tick import Tick, silent
from pounce.cores.box import laid
from pounce.export.drillplan import dimensions_csv
from pounce.export.models import Written, write_model
from pounce.export.outlines import cut_list_csv, outlines_dxf, outlines_svg
from pounce.export.templates import templates_pdf
from pounce.part.model import Model
from pounce.pattern.making.printed import BOARDS
from pounce.route.check import finding_keys
from pounce.route.keys import STOPS
from pounce.route.paper import (
    box_plan_bytes,
    cut_plan_bytes,
    drill_plan_bytes,
    rule_bytes,
    sheet_bytes,
    template_drawings,
    test_piece_mesh,
)
from pounce.route.results import Results, findings_at
from pounce.solid.mesh import Mesh


def build(results: Results, model: Model, out: Path, tick: Tick = silent, shown_unit: str = "mm") -> dict[str, Any]:
    """Writes the pieces, the shop sheet and ``manifest.json`` into the folder ``out`` and returns the manifest.

    Files are made in a folder of their own beside ``out``, read back and checked, and only then moved in. UserFault
    or Cancelled leaves ``out`` as it was.
    """
    pattern = results.need("pattern")
    folder = _folder(out)
    scratch = Path(tempfile.mkdtemp(prefix=".pounce-build-", dir=folder.parent))
    try:
        files: list[dict[str, Any]] = []
        things = _made(results)
        for index, (role, name, mesh) in enumerate(things):
            alike = sum(other == role for other, _, _ in things[:index])
            # boards are known by what they carry
            stem = name.lower().replace(" ", "-") if role in BOARDS else role if not alike else f"{role}-{alike + 1}"
            for suffix in (".3mf", ".stl") if results.job.pattern.stl else (".3mf",):
                tick(0.65 * index / len(things), f"Writing the {name.lower()}")
                written = write_model(scratch / f"{stem}{suffix}", f"{results.job.name}, {name.lower()}", mesh)
                files.append({**_keys(written), "role": role, "count": 1})
        files += _templates(results, scratch, tick)
        parting = results.need("parting")
        if parting.cut_down is not None and parting.moulded == "cut-down":
            tick(0.72, "Drawing the contour plan")
            (scratch / "cut-down-plan.pdf").write_bytes(cut_plan_bytes(results))
            files.append({"file": "cut-down-plan.pdf", "role": "template", "format": "pdf", "count": 1})
        stock = results.need("stock")
        if stock.lines or len(set(stock.made_factors)) > 1:
            (scratch / "dimensions.csv").write_bytes(dimensions_csv(stock.dimensions))
            files.append({"file": "dimensions.csv", "role": "sheet", "format": "csv", "count": 1})
        if stock.drill:
            tick(0.73, "Drawing the drilling plan")
            page, table = drill_plan_bytes(results)
            (scratch / "drilling-plan.pdf").write_bytes(page)
            (scratch / "drilling-plan.csv").write_bytes(table)
            files.append({"file": "drilling-plan.pdf", "role": "template", "format": "pdf", "count": 1})
            files.append({"file": "drilling-plan.csv", "role": "template", "format": "csv", "count": 1})
        files += _cores(results, scratch, tick)
        tick(0.75, "Drawing the shop sheet")
        (scratch / "shop-sheet.pdf").write_bytes(sheet_bytes(results, model, shown_unit))
        files.append({"file": "shop-sheet.pdf", "role": "sheet", "format": "pdf", "count": 1})
        manifest = {
            "schema": "pounce.build/1",
            "job": results.job.name,
            "scale": list(pattern.factors),
            "files": files,
            "findings": [finding_keys(f) for stop in STOPS for f in findings_at(stop, results)],
        }
        tick(0.95, "Writing the manifest")
        (scratch / "manifest.json").write_bytes(msgspec.json.format(msgspec.json.encode(manifest), indent=1))
        folder.mkdir(parents=True, exist_ok=True)
        for path in sorted(scratch.iterdir()):
            write_whole(folder / path.name, path.read_bytes())
    except OSError as error:
        raise UserFault(
            f"The build could not be written to '{out.name}' ({error.strerror}).", "Choose another folder, or make room."
        ) from error
    finally:
        shutil.rmtree(scratch, ignore_errors=True)
    tick(1.0, "Built")
    return manifest


def _made(results: Results) -> list[tuple[str, str, Mesh]]:
    """Role, name and mesh of every model file: prints as they lie on the bed, else the pieces as they are built."""
    pattern = results.need("pattern")
    things = [(one.role, one.name, one.mesh) for one in pattern.making.prints]
    if things:
        things += [(piece.role, piece.name, piece.laid) for piece in pattern.pieces if piece.role in BOARDS]
    else:
        things = [(piece.role, piece.name, piece.laid) for piece in pattern.pieces]
    if results.job.pattern.test_piece and pattern.making.kind == "printed":
        things.append(("test-piece", "Test piece", test_piece_mesh(results)))
    return things


def _templates(results: Results, scratch: Path, tick: Tick) -> list[dict[str, Any]]:
    """Templates, outlines and cut list of a pattern built by hand, and the contraction rule."""
    making, choices = results.need("pattern").making, results.job.pattern
    out: list[tuple[str, str, bytes]] = []
    drawings = template_drawings(results)
    if drawings:
        tick(0.66, "Drawing the templates")
        page, sheets = templates_pdf(results.job.name, drawings, choices.paper)
        out += [("templates.pdf", f"template, {sheets} sheets", page), ("outlines.dxf", "template", outlines_dxf(drawings)),
                ("outlines.svg", "template", outlines_svg(drawings))]  # fmt: skip
    if making.blanks:
        out.append(("cut-list.csv", "sheet", cut_list_csv(making)))
    if choices.rule and making.kind not in ("", "original"):
        out.append(("contraction-rule.pdf", "template", rule_bytes(results)))
    for name, _, content in out:
        (scratch / name).write_bytes(content)
    return [
        {"file": name, "role": role.split(",")[0], "format": name.rsplit(".", 1)[1], "count": 1} for name, role, _ in out
    ]


def _cores(results: Results, scratch: Path, tick: Tick) -> list[dict[str, Any]]:
    """Every core box, and the plan of them at 1:1. The core itself goes along to look at and to measure."""
    cores = results.need("cores").cores
    factors = np.array(results.need("stock").made_factors)
    files: list[dict[str, Any]] = []
    for number, core in enumerate(cores, 1):
        stem = "core" if len(cores) == 1 else f"core-{number}"
        tick(0.7, f"Writing {core.name.lower()}")
        things = [(stem, core.name, core.mesh.scaled(factors), "core")]
        for k, box in enumerate(core.boxes, 1):
            piece = "" if len(core.boxes) == 1 else f"-piece-{k}"
            things += [
                (f"{stem}{piece}-box-{part.name.lower().replace(', ', '-').replace(' ', '-')}", f"{core.name} box, {part.name.lower()}",
                 laid(part, factors), "core-box")
                for part in box.parts
            ]  # fmt: skip
        for name, title, mesh, role in things:
            for suffix in (".3mf", ".stl") if results.job.pattern.stl else (".3mf",):
                written = write_model(scratch / f"{name}{suffix}", f"{results.job.name}, {title}", mesh)
                files.append({**_keys(written), "role": role, "count": 1})
    if cores:
        tick(0.73, "Drawing the core boxes")
        (scratch / "core-boxes.pdf").write_bytes(box_plan_bytes(results))
        files.append({"file": "core-boxes.pdf", "role": "template", "format": "pdf", "count": 1})
    return files


def _keys(written: Written) -> dict[str, Any]:
    return {
        "file": written.file,
        "format": written.format,
        "size_mm": list(written.size_mm),
        "volume_mm3": written.volume_mm3,
        "closed": written.closed,
    }


def _folder(out: Path) -> Path:
    folder = out.resolve()
    if folder.exists() and not folder.is_dir():
        raise UserFault(f"'{out.name}' is a file, not a folder.", "Name a folder to build into.")
    try:
        folder.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise UserFault(f"The folder '{out.name}' cannot be made ({error.strerror}).", "Choose another.") from error
    return folder
