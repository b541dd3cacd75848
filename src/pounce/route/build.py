"""The build: every file a maker needs, and its manifest. Nothing half-written is left behind."""

import shutil
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.base.tick import Tick, silent
from pounce.cores.box import laid
from pounce.export.drawing import Drawing
from pounce.export.drillplan import dimensions_csv
from pounce.export.models import Written, write_model
from pounce.export.outlines import cut_list_csv, outlines_dxf, outlines_svg
from pounce.export.templates import templates_pdf
from pounce.part.model import Model
from pounce.route.check import finding_keys
from pounce.route.files import model_files, paper_files
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
        things = model_files(results)
        suffixes = (".3mf", ".stl") if results.job.pattern.stl else (".3mf",)
        for index, one in enumerate(things):
            mesh = test_piece_mesh(results) if one.mesh is None else one.mesh
            for suffix in suffixes:
                tick(0.55 * index / len(things), f"Writing the {one.name.lower()}")
                written = write_model(scratch / f"{one.stem}{suffix}", f"{results.job.name}, {one.name.lower()}", mesh)
                files.append({**_keys(written), "role": one.role, "count": 1})
        files += _cores(results, scratch, tick)
        papers = paper_files(results)
        drawn = _drawn(results, model, shown_unit)
        for index, paper in enumerate(papers):
            tick(0.6 + 0.3 * index / len(papers), f"Drawing {paper.file}")
            (scratch / paper.file).write_bytes(drawn[paper.file]())
            files.append({"file": paper.file, "role": paper.role, "format": paper.file.rsplit(".", 1)[1], "count": 1})
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


def _drawn(results: Results, model: Model, unit: str) -> dict[str, Callable[[], bytes]]:
    """What draws each page, outline and table."""
    stock, choices = results.need("stock"), results.job.pattern

    def drawings() -> tuple[Drawing, ...]:
        return template_drawings(results)

    return {
        "templates.pdf": lambda: templates_pdf(results.job.name, drawings(), choices.paper)[0],
        "outlines.dxf": lambda: outlines_dxf(drawings()), "outlines.svg": lambda: outlines_svg(drawings()),
        "cut-list.csv": lambda: cut_list_csv(results.need("pattern").making), "contraction-rule.pdf": lambda: rule_bytes(results),
        "cut-down-plan.pdf": lambda: cut_plan_bytes(results), "dimensions.csv": lambda: dimensions_csv(stock.dimensions),
        "drilling-plan.pdf": lambda: drill_plan_bytes(results)[0], "drilling-plan.csv": lambda: drill_plan_bytes(results)[1],
        "core-boxes.pdf": lambda: box_plan_bytes(results), "shop-sheet.pdf": lambda: sheet_bytes(results, model, unit),
    }  # fmt: skip


def _cores(results: Results, scratch: Path, tick: Tick) -> list[dict[str, Any]]:
    """Every core box, and the plan of them at 1:1. The core itself goes along to look at and to measure."""
    cores = results.need("cores").cores
    stock = results.need("stock")
    factors = np.array(stock.box_factors)
    files: list[dict[str, Any]] = []
    for number, core in enumerate(cores, 1):
        stem = "core" if len(cores) == 1 else f"core-{number}"
        tick(0.56, f"Writing {core.name.lower()}")
        things = [(stem, core.name, core.mesh.scaled(np.array(stock.rammed_factors)), "core")]
        for k, box in enumerate(core.boxes, 1):
            piece = "" if len(core.boxes) == 1 else f"-piece-{k}"
            things += [
                (f"{stem}{piece}-box-{part.name.lower().replace(', ', '-').replace(' ', '-')}", f"{core.name} box, {part.name.lower()}",
                 laid(part, factors), f"core-box-{chr(ord('a') + nth)}")
                for nth, part in enumerate(box.parts)
            ]  # fmt: skip
        for name, title, mesh, role in things:
            for suffix in (".3mf", ".stl") if results.job.pattern.stl else (".3mf",):
                written = write_model(scratch / f"{name}{suffix}", f"{results.job.name}, {title}", mesh, 1)
                files.append({**_keys(written), "role": role, "count": 1})
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
