"""How the demo jobs are made from their records, for ``make demo-data``."""

from pathlib import Path

import msgspec

from pounce.base.dying import own_folder
from pounce.base.files import write_whole
from pounce.base.progress import silent
from pounce.cores.parse import with_words
from pounce.job import edits, freeze_edits, log_edits, rig_edits
from pounce.job.choose import choose_word
from pounce.job.file import save
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.logbook.book import Book
from pounce.logbook.carry import take_in
from pounce.part.model import Model
from pounce.part.reading import read_model
from pounce.route.demo_jobs import job_file, part_file
from pounce.route.demos import SEASON, Demo
from pounce.route.opening import with_model
from pounce.route.paper import preview_png
from pounce.route.pipeline import Pipeline
from pounce.route.stops import DRAW, PART, POUR
from pounce.stock.parse import parse_addition


def made(demo: Demo) -> tuple[Job, Model]:
    """The demo's job as its record says it, and its part."""
    model = read_model(part_file(demo))
    job = edits.set_metal(with_model(Job(name=demo.name), model), demo.metal).job
    job = edits.set_pattern_kind(job, demo.pattern).job
    if demo.mould:
        job = edits.set_mould(job, demo.mould).job
    if model.unit is None:
        job = edits.set_unit(job, "mm").job
    if demo.draw:
        job = edits.set_draw(job, edits.parse_draw(demo.draw)).job
    for words in demo.add:
        job = add_line(job, parse_addition(words)).job
    for words in demo.core:
        job = msgspec.structs.replace(job, cores=with_words(job.cores, words))
    if demo.castings > 1:
        job = rig_edits.set_tiers(rig_edits.set_count(job, demo.castings).job, demo.tiers).job
    for words in demo.feeders:
        job = freeze_edits.feeder_word(job, words).job
    for words in demo.pour:
        key, _, word = words.partition("=")
        choice = next(one for one in POUR.choices if one.key == key)
        job = choose_word(job, POUR.id, choice, word).job
    return log_edits.link(job, demo.log_id).job, model


def save_shipped(demo: Demo) -> None:
    """Saves the demo's job beside its part, with its picture along its draw."""
    job, model = made(demo)
    results = Pipeline().run(job, model, silent, until=DRAW)
    picture = preview_png(results.need(PART), results.need(DRAW).direction)
    save(job_file(demo), job, model, picture)


def save_book(path: Path) -> None:
    """Makes the demo's logbook anew: the season, taken in. Its lock and its backups stay elsewhere."""
    with own_folder("book") as folder:
        with Book(folder / path.name) as book:
            take_in(book, SEASON)
        write_whole(path, (folder / path.name).read_bytes())
