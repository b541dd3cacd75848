"""The demo jobs of the walled-garden glasshouse: parts that ship, and the choices they come with."""

import importlib
import shutil
from dataclasses import dataclass
from importlib import resources
from pathlib import Path

import msgspec
import platformdirs

from pounce.base.errors import UserFault
from pounce.base.tick import silent
from pounce.cores.parse import with_words
from pounce.job import edits, file
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.part.reading import read_model
from pounce.route.line import Line
from pounce.stock.parse import parse_addition


@dataclass(frozen=True)
class Demo:
    """A demo job: its part's file, its name, one line about it, its metal, what is added at Stock and cored, in words."""

    part: str
    name: str
    about: str
    metal: str
    add: tuple[str, ...] = ()
    core: tuple[str, ...] = ()


DEMOS = (
    Demo("vent-shaft-pedestal-bearing.stl", "Vent-shaft pedestal bearing", "split pattern", "aluminium-silicon",
         ("fill", "machine@30,0,5:1.5", "machine@30,0,-5:1.5", "machine@-12.5,-42,5:1.5", "draft", "fillets"),
         ("-12.5,-42,5",)),
    Demo("vent-quadrant-arm.3mf", "Vent quadrant arm", "flat back, letters", "grey-iron",
         ("machine@8,0,10:F", "machine@12,0,20:F", "draft", "fillets:2")),
    Demo("ridge-finial.3mf", "Ridge finial", "joint that follows the leaves", "silicon-bronze"),
    Demo("gutter-elbow.3mf", "Gutter elbow", "a bent core in its box", "aluminium-silicon", ("draft", "fillets"), ("all", "mix=flour-molasses")),
)  # fmt: skip


def part_file(demo: Demo) -> Path:
    """Where the demo's part lies in the program."""
    return Path(str(resources.files("pounce.route"))) / "demo" / demo.part


def demo_folder() -> Path:
    """The demo jobs' own folder in the user's data."""
    return Path(platformdirs.user_data_dir("pounce")) / "demo"


def lay_out(folder: Path) -> list[Path]:
    """Puts the demo parts and jobs into the folder where they are missing; returns the job files, in order."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise UserFault(f"The demo folder cannot be made ({error.strerror}).", "Check your data folder.") from error
    jobs = []
    line = Line()
    for demo in DEMOS:
        path = folder / (Path(demo.part).stem + ".pounce")
        jobs.append(path)
        source = part_file(demo)
        if not (folder / source.name).exists():
            shutil.copyfile(source, folder / source.name)
        if path.exists():
            continue
        model = read_model(source)
        job = edits.set_metal(Job(name=demo.name), demo.metal).job
        if model.unit is None:
            job = edits.set_unit(job, "mm").job
        for words in demo.add:
            job = add_line(job, parse_addition(words)).job
        for words in demo.core:
            job = msgspec.structs.replace(job, cores=with_words(job.cores, words))
        results = line.run(job, model, silent)
        picture = importlib.import_module("pounce.route.paper").preview_png(
            results.need("part"), results.need("draw").direction
        )
        file.save(path, job, model, picture)
    return jobs
