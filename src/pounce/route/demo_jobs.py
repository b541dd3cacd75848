"""The demo jobs of the walled-garden glasshouse: parts that ship, and the choices they come with."""

import importlib
import shutil
from importlib import resources
from pathlib import Path

import msgspec

from pounce.base.errors import UserFault
from pounce.base.progress import silent
from pounce.cores.parse import with_words
from pounce.job import edits, file, freeze_edits, log_edits, rig_edits
from pounce.job.choose import choose_word
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.logbook.book import Book
from pounce.logbook.carry import take_in
from pounce.part.reading import read_model
from pounce.route.demos import DEMOS, SEASON, Demo, demo_folder
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import DRAW, PART, POUR
from pounce.stock.parse import parse_addition

__all__ = ["DEMOS", "Demo", "demo_folder", "lay_out", "part_file"]


def part_file(demo: Demo) -> Path:
    """Where the demo's part lies in the program."""
    return Path(str(resources.files("pounce.route"))) / "demo" / demo.part


def lay_out(folder: Path) -> list[Path]:
    """Puts the demo parts and jobs into the folder where they are missing; returns the job files, in order."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise UserFault(f"The demo folder cannot be made ({error.strerror}).", "Check your data folder.") from error
    _season(folder)
    jobs = []
    line = Pipeline()
    for demo in DEMOS:
        path = folder / (Path(demo.part).stem + ".pounce")
        jobs.append(path)
        source = part_file(demo)
        if not (folder / source.name).exists():
            shutil.copyfile(source, folder / source.name)
        if path.exists():
            continue
        model = read_model(source)
        job = edits.set_metal(with_model(Job(name=demo.name), model), demo.metal).job
        job = edits.set_pattern_kind(job, demo.pattern).job
        if model.unit is None:
            job = edits.set_unit(job, "mm").job
        if demo.draw:
            job = edits.set_draw(job, edits.parse_draw(demo.draw)).job
        for words in demo.add:
            job = add_line(job, parse_addition(words)).job
        for words in demo.core:
            job = msgspec.structs.replace(job, cores=with_words(job.cores, words))
        if demo.castings > 1:
            job = rig_edits.set_count(job, demo.castings).job
        for words in demo.feeders:
            job = freeze_edits.feeder_word(job, words).job
        for words in demo.pour:
            key, _, word = words.partition("=")
            choice = next(one for one in POUR.choices if one.key == key)
            job = choose_word(job, POUR.id, choice, word).job
        job = log_edits.link(job, demo.log_id).job
        results = line.run(job, model, silent, until=DRAW)
        picture = importlib.import_module("pounce.route.paper").preview_png(
            results.need(PART), results.need(DRAW).direction
        )
        file.save(path, job, model, picture)
    return jobs


def _season(folder: Path) -> None:
    """The demo's logbook, where it is missing."""
    path = folder / "logbook.sqlite"
    if path.exists():
        return
    with Book(path) as book:
        take_in(book, SEASON)
