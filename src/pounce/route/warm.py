"""``python -m pounce.route.warm``: compiles and caches every kernel by running the line on a demo part."""

from pounce.route.demo_jobs import DEMOS, part_file
from pounce.route.opening import open_any
from pounce.route.paper import preview_png
from pounce.route.pipeline import Pipeline
from pounce.route.stops import DRAW, PART


def warm() -> None:
    """Runs every stop and a picture once; later starts load the compiled kernels from the cache."""
    job, model = open_any(part_file(DEMOS[0]))
    results = Pipeline().run(job, model)
    preview_png(results.need(PART), results.need(DRAW).direction, 64, 48)


if __name__ == "__main__":
    warm()
