"""``python -m pounce.route.warm``: compiles and caches every kernel by running the line on a demo part.

A stamp in the user's cache says for which version, at which place, that was done: later starts only load them.
"""

from pounce.base.progress import Progress, silent
from pounce.base.ready import mark_ready, ready
from pounce.route.demo_jobs import DEMOS, part_file
from pounce.route.opening import open_any
from pounce.route.pipeline import Pipeline
from pounce.route.stops import DRAW


def warm(progress: Progress = silent, anew: bool = False) -> None:
    """Runs every stop once; where that was done before only the first four, which loads what the first picture of a
    part needs, unless it is to be done ``anew``: the stamp does not know that a folder was emptied since.
    """
    from pounce.route.paper import preview_png  # noqa: PLC0415  a third of a second, of the first start only

    job, model = open_any(part_file(DEMOS[0]))
    line = Pipeline()
    if ready() and not anew:
        line.run(job, model, progress, until=DRAW)
        return
    results = line.run(job, model, progress)
    assert results.part is not None and results.draw is not None
    preview_png(results.part, results.draw.direction, 64, 48)
    mark_ready()


if __name__ == "__main__":
    warm(anew=True)
