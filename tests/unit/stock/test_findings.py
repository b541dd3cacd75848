"""What Stock has to say of a part, and what cures it."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.finding import Finding, Severity
from pounce.job.changes import take_remedy
from pounce.metals.tables import limits
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import STOCK
from pounce.stock.findings import thin_places
from pounce.stock.values import Draft, Fill, Fillets, Machining
from tests.conftest import box, mesh_of, model_of
from tests.unit.stock.helpers import stocked

M = m3.Manifold


def by_code(results: Results) -> dict[str, Finding]:
    return {finding.code: finding for finding in results.need(STOCK).findings}


@pytest.mark.parametrize("wall", [1.0, 2.0, 5.0])
def test_a_wall_is_thin_by_its_thickness_alone(wall: float) -> None:
    """A fin on a block: thin under three millimetres, over its whole two sides, whatever its own size."""
    mesh = mesh_of(box(60, 40, 20) + box(60, wall, 45).translate([0, 10, 19]))
    faces, area, at = thin_places(mesh, 3.0)
    if wall > 3.0:
        assert not faces.any() and area == 0.0 and at is None
        return
    assert area == pytest.approx(2 * 60 * 44, rel=0.06)
    assert at is not None and 10.0 - 1e-6 <= at[1] <= 10.0 + wall + 1e-6 and at[2] > 20.0
    normals = mesh.normals[faces]
    assert (np.abs(normals[:, 1]) > 0.9).all()


def test_draft_is_offered_taken_and_no_longer_offered() -> None:
    bare = stocked(box(60, 40, 30), height=0.0)
    offer = by_code(bare)["draft-wanted"]
    assert offer.remedies
    job = take_remedy(bare.job, offer.remedies[0]).job
    assert any(isinstance(line, Draft) for line in job.stock.lines)
    after = by_code(Pipeline().run(job, model_of(box(60, 40, 30)), until=STOCK))
    assert "draft-wanted" not in after and "walls-still-tight" not in after


def test_a_part_with_its_own_draft_is_offered_none() -> None:
    tapered = M.extrude(m3.CrossSection.square((60, 40), True), 30, 0, 0, (0.9, 0.9))
    assert "draft-wanted" not in by_code(stocked(tapered, height=0.0))


def test_small_holes_are_cast_solid() -> None:
    limit = limits()["bore_solid"].value
    small, wide = 0.3 * limit, 1.5 * limit
    plate = box(120, 60, 15) - M.cylinder(40, small, small, 48).translate([25, 30, -5])
    plate -= M.cylinder(40, wide, wide, 48).translate([80, 30, -5])
    offer = by_code(stocked(plate, height=0.0))["small-holes"]
    job = take_remedy(stocked(plate, height=0.0).job, offer.remedies[0]).job
    after = Pipeline().run(job, model_of(plate), until=STOCK).need(STOCK)
    assert [round(point.diameter_mm, 1) for point in after.drill] == [round(2 * small, 1)]
    assert "small-holes" not in {finding.code for finding in after.findings}


def test_sharp_corners_are_offered_a_fillet_and_filled() -> None:
    angle = box(60, 30, 10) + box(10, 30, 50)
    found = by_code(stocked(angle, height=0.0))["corners-sharp"]
    assert found.severity is not Severity.STOP
    job = take_remedy(stocked(angle, height=0.0).job, found.remedies[0]).job
    assert any(isinstance(line, Fillets) for line in job.stock.lines)
    after = Pipeline().run(job, model_of(angle), until=STOCK).need(STOCK)
    assert "corners-sharp" not in {finding.code for finding in after.findings}
    assert after.added_mm3 > 0.0


def test_stock_that_a_casting_out_of_shape_would_eat_is_said_with_its_cure() -> None:
    """Across the joint of a large casting half a millimetre is nothing: the halves shift by more."""
    results = stocked(box(200, 120, 60), Machining((100.0, 60.0, 60.0), own_mm=0.3), height=30.0)
    thin = next(f for f in results.need(STOCK).findings if f.code.startswith("stock-thin"))
    assert thin.figures["left_mm"] < limits()["stock_left"].value
    again = Pipeline().run(take_remedy(results.job, thin.remedies[0]).job, model_of(box(200, 120, 60)), until=STOCK)
    assert not any(f.code.startswith("stock-thin") for f in again.need(STOCK).findings)


def test_a_line_that_failed_says_why_and_leaves_the_body() -> None:
    results = stocked(box(60, 40, 30), Fill((30.0, 20.0, 30.0)), height=0.0)
    found = by_code(results)
    failed = [finding for code, finding in found.items() if code.startswith("line-failed")]
    assert len(failed) == 1 and failed[0].severity is Severity.WARN
    assert results.need(STOCK).mesh.volume == pytest.approx(60 * 40 * 30)


def test_an_open_shell_with_a_line_is_told_once() -> None:
    from pounce.job import edits  # noqa: PLC0415
    from pounce.job.job import Job  # noqa: PLC0415
    from pounce.job.stock_edits import add_line  # noqa: PLC0415
    from pounce.part.model import Body, Model  # noqa: PLC0415
    from pounce.solid.mesh import Mesh  # noqa: PLC0415

    cube = mesh_of(box(30, 30, 30))
    body = Body("Body 1", Mesh.of(cube.vertices, cube.faces[1:]), False, np.zeros((1, 2, 3)))
    model = Model("Thing", "thing.stl", "stl", "mm", (body,), ())
    job = add_line(edits.set_draw(Job(), (0.0, 0.0, 1.0)).job, Draft()).job
    results = Pipeline().run(job, model, until=STOCK)
    stock = results.get(STOCK)
    codes = [] if stock is None else [finding.code for finding in stock.findings]
    assert codes.count("shell-open") == 1


def test_a_rim_on_a_thin_web_is_a_heavy_section() -> None:
    """The wheel's rim is three and a half times its web: it draws hollow where they meet, or wants feeding."""
    rim = M.cylinder(16, 80, 80, 96) - M.cylinder(20, 66, 66, 96).translate([0, 0, -2])
    wheel = rim + M.cylinder(4, 70, 70, 96).translate([0, 0, 6])
    found = [f for code, f in by_code(stocked(wheel, height=8.0)).items() if code.startswith("section-jump")]
    assert found
    assert found[0].place_mm is not None and 60.0 < np.hypot(*found[0].place_mm[:2]) < 80.0
