"""Which hollows become cores on the pattern, after Stock has worked on it."""

import manifold3d as m3
import pytest

from pounce.job import core_edits, edits
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.route.pipeline import Pipeline
from pounce.route.stops import CORES, STOCK
from pounce.stock.values import Draft
from tests.conftest import model_of
from tests.shapes import bollard
from tests.unit.cores.helpers import solid_of

AT = (-21.0, -6.5, 46.7)


@pytest.mark.parametrize("drafted", [False, True])
def test_a_flared_hollow_is_still_found_when_the_end_it_opens_at_has_draft(drafted: bool) -> None:
    """On its side the foot's face stands along the draw and leans: a cut through the drafted body ran to and fro over
    the flare, and the core that the bare part had was gone.
    """
    job = edits.set_height(edits.set_draw(Job(), (0.0, 1.0, 0.0)).job, 0.0).job
    job = core_edits.set_hollow(job, AT, "core").job
    if drafted:
        job = add_line(job, Draft()).job
    results = Pipeline().run(job, model_of(bollard()), until=CORES)
    stock, cores = results.need(STOCK), results.need(CORES)
    assert [line.added_mm3 > 1e3 for line in stock.lines] == [True] * drafted
    (core,) = cores.cores
    assert not [said for said in cores.findings if said.code in ("core-failed", "core-lost")]
    # the whole inside: what the core leaves of the block that the part was turned from, to its chords
    inside = m3.Manifold.revolve(m3.CrossSection([[(0, 0), (40, 0), (26, 20), (20, 60), (23, 92), (0, 94)]]), 96)
    assert float((inside - solid_of(core.mesh)).volume()) < 2e-3 * float(inside.volume())
    assert solid_of(cores.mesh).volume() > solid_of(stock.mesh).volume() + 0.99 * inside.volume()
