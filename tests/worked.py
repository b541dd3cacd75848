"""Demo jobs worked to the end, once for all tests that look at them."""

from functools import cache
from pathlib import Path

from pounce.part.model import Model
from pounce.route.demo_jobs import job_file
from pounce.route.demos import DEMOS
from pounce.route.opening import open_any
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.store import result_store

STEMS = tuple(Path(demo.part).stem for demo in DEMOS)
BEARING, ARM, FINIAL, ELBOW, FRAME, LATCH, BUSH, FOOT = STEMS


@cache
def demo(stem: str) -> tuple[Results, Model]:
    """The demo job of this part with all that its stops found, and its model."""
    job, model = open_any(job_file(DEMOS[STEMS.index(stem)]))
    return Pipeline(store=result_store()).run(job, model), model


# Stops behind the pattern: what looks at the pattern alone leaves them out.
UNPOURED = frozenset({"mould", "freeze", "pour", "logbook"})
