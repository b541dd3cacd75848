"""The build: every file a maker needs, and its manifest. Nothing half-written is left behind."""

import importlib
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from pounce.base.dying import own_folder
from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.base.progress import Progress, silent
from pounce.cores.box import laid
from pounce.export.models import Written, write_model
from pounce.part.model import Model
from pounce.route.causes import causes_keys
from pounce.route.check import failed_keys
from pounce.route.files import model_files, paper_files
from pounce.route.paper import test_piece_mesh
from pounce.route.proof import proof_keys
from pounce.route.results import PaperFile, Results, finding_keys
from pounce.route.stops import CORES, PATTERN, STOCK, stops


def build(
    results: Results, model: Model, out: Path, progress: Progress = silent, shown_unit: str = "mm"
) -> dict[str, Any]:
    """Writes the pieces, the shop sheet and ``manifest.json`` into the folder ``out`` and returns the manifest.

    Files are made in a folder of their own beside ``out``, read back and checked, and only then moved in. UserFault
    or Cancelled leaves ``out`` as it was.
    """
    pattern = results.need(PATTERN)
    folder = _folder(out)
    try:
        with own_folder("build", folder.parent) as scratch:
            files: list[dict[str, Any]] = []
            things = model_files(results)
            suffixes = (".3mf", ".stl") if results.job.pattern.stl else (".3mf",)
            for index, one in enumerate(things):
                mesh = test_piece_mesh(results) if one.mesh is None else one.mesh
                for suffix in suffixes:
                    progress(0.55 * index / len(things), f"Writing the {one.name.lower()}")
                    written = write_model(
                        scratch / f"{one.stem}{suffix}", f"{results.job.name}, {one.name.lower()}", mesh
                    )
                    files.append({**_keys(written), "role": one.role, "count": 1})
            files += _cores(results, scratch, progress)
            papers = paper_files(results)
            for index, paper in enumerate(papers):
                progress(0.6 + 0.3 * index / len(papers), f"Drawing {paper.file}")
                (scratch / paper.file).write_bytes(drawn(paper, results, model, shown_unit))
                files.append(
                    {"file": paper.file, "role": paper.role, "format": paper.file.rsplit(".", 1)[1], "count": 1}
                )
            manifest = {
                "schema": "pounce.build/1",
                "job": results.job.name,
                "scale": list(pattern.factors),
                "files": files,
                "failed": failed_keys(results),
                "findings": [finding_keys(f) for stop in stops() for f in stop.findings(results)],
                "causes": causes_keys(results),
                "proof": proof_keys(results),
            }
            progress(0.95, "Writing the manifest")
            (scratch / "manifest.json").write_bytes(msgspec.json.format(msgspec.json.encode(manifest), indent=1))
            folder.mkdir(parents=True, exist_ok=True)
            for path in sorted(scratch.iterdir()):
                write_whole(folder / path.name, path.read_bytes())
    except OSError as error:
        raise UserFault(
            f"The build could not be written to '{out.name}' ({error.strerror}).",
            "Choose another folder, or make room.",
        ) from error
    progress(1.0, "Built")
    return manifest


def drawn(paper: PaperFile, results: Results, model: Model, unit: str) -> bytes:
    """What stands in a page, outline or table."""
    module, _, name = paper.drawn_by.partition(":")
    made: bytes = getattr(importlib.import_module(module), name)(results, model, unit)
    return made


def _cores(results: Results, scratch: Path, progress: Progress) -> list[dict[str, Any]]:
    """Every core box, and the plan of them at 1:1. The core itself goes along to look at and to measure."""
    cores = results.need(CORES).cores
    stock = results.need(STOCK)
    factors = np.array(stock.box_factors)
    files: list[dict[str, Any]] = []
    for number, core in enumerate(cores, 1):
        stem = "core" if len(cores) == 1 else f"core-{number}"
        progress(0.56, f"Writing {core.name.lower()}")
        things = [(stem, core.name, core.mesh.scaled(np.array(stock.rammed_factors)), "core")]
        for k, box in enumerate(core.boxes, 1):
            piece = "" if len(core.boxes) == 1 else f"-piece-{k}"
            things += [
                (
                    f"{stem}{piece}-box-{part.name.lower().replace(', ', '-').replace(' ', '-')}",
                    f"{core.name} box, {part.name.lower()}",
                    laid(part, factors),
                    f"core-box-{chr(ord('a') + nth)}",
                )
                for nth, part in enumerate(box.parts)
            ]
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
