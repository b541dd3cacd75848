"""A job that differs in its last lines is worked on from where it differs, and comes out the same."""

from collections.abc import Iterator

import manifold3d as m3
import numpy as np
import pytest

from pounce.job import edits
from pounce.job.core_edits import set_hollow
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.route.pipeline import Pipeline
from pounce.route.stops import STOCK
from pounce.solid.mesh import Mesh
from pounce.stock import additions, memory, taper
from pounce.stock.values import Addition, Draft, Fill, Fillets, Machining, StockResult
from tests.conftest import model_of
from tests.unit.stock.helpers import UP

M = m3.Manifold
MODEL = model_of(M.cube([60, 40, 20]) + M.cube([20, 40, 40]) - M.cylinder(80, 3, 3, 48, True).translate([40, 20, 10]))
FIRST: tuple[Addition, ...] = (Machining(at_mm=(40.0, 30.0, 20.0), own_mm=1.0), Fill(), Draft())


@pytest.fixture(autouse=True)
def emptied() -> Iterator[None]:
    """No lines of other tests."""
    memory._KEPT.clear()
    memory._LEANED.clear()
    yield
    memory._KEPT.clear()
    memory._LEANED.clear()


def stocked(line: Pipeline, *lines: Addition) -> StockResult:
    job = edits.set_draw(edits.set_height(Job(), 0.0).job, UP).job
    for one in lines:
        job = add_line(job, one).job
    return line.run(job, MODEL, until=STOCK).need(STOCK)


def same(one: StockResult, two: StockResult) -> bool:
    return (
        np.array_equal(one.mesh.vertices, two.mesh.vertices)
        and np.array_equal(one.mesh.faces, two.mesh.faces)
        and np.array_equal(one.mesh.tags.line, two.mesh.tags.line)
        and [line.words() + line.about_words() for line in one.lines]
        == [line.words() + line.about_words() for line in two.lines]
        and one.drill == two.drill
        and one.dimensions == two.dimensions
        and one.joint_mm == two.joint_mm
    )


def test_a_line_at_the_end_is_worked_alone_and_comes_out_as_if_all_were(monkeypatch: pytest.MonkeyPatch) -> None:
    worked: list[str] = []
    real = additions.worked

    def counted(work: object, index: int, line: Addition, *rest: object) -> object:
        worked.append(type(line).__name__)
        return real(work, index, line, *rest)  # type: ignore[arg-type]

    monkeypatch.setattr(additions, "worked", counted)
    line = Pipeline()
    before = stocked(line, *FIRST)
    worked.clear()
    longer = stocked(line, *FIRST, Fillets(radius_mm=3.0))
    assert worked == ["Fillets"] and longer.lines[-1].added_mm3 > 0.0
    # another figure in the middle is worked from there on
    worked.clear()
    other = stocked(line, FIRST[0], FIRST[1], Draft(degrees=4.0), Fillets(radius_mm=3.0))
    assert worked == ["Draft", "Fillets"]
    # what is machined is known to the lines before: nothing of them is taken over
    worked.clear()
    stocked(line, *FIRST, Machining(at_mm=(60.0, 20.0, 10.0), own_mm=1.0))
    assert len(worked) == 4
    monkeypatch.undo()
    for result, lines in ((before, FIRST), (longer, (*FIRST, Fillets(radius_mm=3.0)))):
        memory._KEPT.clear()
        assert same(result, stocked(Pipeline(), *lines))
    assert not same(longer, other)


def test_what_is_kept_is_little() -> None:
    line = Pipeline()
    for degrees in range(20):
        stocked(line, Draft(degrees=1.0 + 0.1 * degrees))
    assert len(memory._KEPT) <= memory.KEPT


def test_walls_are_leaned_once_where_a_line_before_found_nothing_or_a_core_was_not_made(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """The body is the very same, so draft is: only the number of its line is another one."""
    leaned: list[int] = []
    real = taper.tapered

    def counted(body: Mesh, *rest: object) -> taper.Tapered:
        leaned.append(len(body.faces))
        return real(body, *rest)  # type: ignore[arg-type]

    monkeypatch.setattr(taper, "tapered", counted)
    line = Pipeline()  # it keeps what stands before Stock, as the search for plans does
    idle = stocked(line, Fill(under_mm=1.0), Draft())
    plain = stocked(line, Draft())
    job = set_hollow(edits.set_draw(edits.set_height(Job(), 0.0).job, UP).job, (60.0, 20.0, 10.0), "core").job
    uncored = line.run(add_line(job, Draft()).job, MODEL, until=STOCK).need(STOCK)
    assert len(leaned) == 1 and same(uncored, plain)
    assert np.array_equal(plain.mesh.vertices, idle.mesh.vertices)
    assert set(plain.mesh.tags.line.tolist()) == {-1, 0} and set(idle.mesh.tags.line.tolist()) == {-1, 1}
    memory._KEPT.clear()
    memory._LEANED.clear()
    assert same(stocked(Pipeline(), Draft()), plain) and len(leaned) == 2


def test_a_part_with_nothing_to_do_stays_as_it_was_read() -> None:
    """What lines are worked on is merged into fewer triangles; without lines the part's own are needed."""
    model = model_of(M.cube([60, 40, 20]).refine(4))
    job = edits.set_draw(edits.set_height(Job(), 0.0).job, UP).job
    touched, bare = (
        Pipeline().run(one, model, until=STOCK).need(STOCK) for one in (add_line(job, Fill(under_mm=1.0)).job, job)
    )
    assert len(touched.mesh.faces) < len(bare.mesh.faces) == 12 * 16
