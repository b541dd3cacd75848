"""From results to files: what each paper is, and what is said where there is none."""

import io

import numpy as np
import pypdf
import pytest
from PIL import Image

from pounce.base.errors import UserFault
from pounce.route.paper import (
    box_plan_bytes,
    casting_share,
    cut_plan_bytes,
    drill_plan_bytes,
    opened_png,
    preview_png,
    rule_bytes,
    rule_for,
    spot_png,
    template_drawings,
    template_sheets,
    test_piece_mesh,
)
from pounce.route.stops import DRAW, PART, STOCK
from pounce.solid.boolean import closed_solid
from tests.unit.sheet.helpers import words_of
from tests.worked import ARM, BEARING, ELBOW, FINIAL, LATCH, demo

test_piece_mesh.__test__ = False  # type: ignore[attr-defined]


def picture(content: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(content)).convert("RGBA"))


def test_plans_are_of_those_that_have_one() -> None:
    assert words_of(cut_plan_bytes(demo(FINIAL)[0]))
    with pytest.raises(UserFault, match="flat joint"):
        cut_plan_bytes(demo(BEARING)[0])
    assert words_of(box_plan_bytes(demo(ELBOW)[0]))
    with pytest.raises(UserFault, match="no core"):
        box_plan_bytes(demo(ARM)[0])


def test_a_drilling_plan_and_its_table_hold_the_same_holes() -> None:
    results = demo(ARM)[0]
    pdf, table = drill_plan_bytes(results)
    names = [point.name for point in results.need(STOCK).drill]
    assert [row.split(",")[0] for row in table.decode().splitlines()[1:]] == names
    assert all(name in words_of(pdf) for name in names)
    with pytest.raises(UserFault, match="nothing to drill"):
        drill_plan_bytes(demo(ELBOW)[0])


def test_rules_of_the_job_and_of_the_command_are_one() -> None:
    results = demo(ARM)[0]
    assert results.metal is not None
    one, two = words_of(rule_bytes(results)), words_of(rule_for([results.metal.metal_id], None))
    assert "% over" in one and [w for w in one.split("\n") if "% over" in w] == [
        w for w in two.split("\n") if "% over" in w
    ]
    both = words_of(rule_for(["grey-iron"], "aluminium-silicon"))
    assert both != words_of(rule_for(["grey-iron"], None))
    for metals, paper in ((["grey-iron"], "A7"), ([], "A4"), (["cheese"], "A4")):
        with pytest.raises(UserFault):
            rule_for(metals, None, paper)


def test_a_casting_of_an_original_comes_out_smaller() -> None:
    assert casting_share(demo(BEARING)[0]) == pytest.approx(np.ones(3), abs=2e-3)
    assert (casting_share(demo(LATCH)[0]) < 0.995).all()


def test_pictures_have_their_size_and_no_paper() -> None:
    results = demo(BEARING)[0]
    for content, size in (
        (preview_png(results.need(PART), results.need(DRAW).direction, 200, 120), (120, 200)),
        (opened_png(results, 240, 190), (190, 240)),
    ):
        pixels = picture(content)
        assert pixels.shape[:2] == size
        assert (pixels[..., 3] == 0).any() and (pixels[..., 3] == 255).any()


def test_a_place_is_turned_to_the_eye_wherever_it_lies() -> None:
    results = demo(BEARING)[0]
    mesh = results.need(PART).mesh
    middle = mesh.bounds.mean(axis=0)
    for at in (mesh.corners[0].mean(axis=0), mesh.bounds[0], middle - np.array([0.0, 0.0, 100.0])):
        content, (x, y) = spot_png(results, tuple(at.tolist()), 220, 165)
        assert picture(content).shape[:2] == (165, 220)
        assert np.isfinite([x, y]).all()
    face = int(np.argmin(mesh.normals[:, 2]))  # one that looks down
    at = tuple(mesh.corners[face].mean(axis=0).tolist())
    content, (x, y) = spot_png(results, at, 220, 165)
    assert 0.0 <= x <= 1.0 and 0.0 <= y <= 1.0
    assert picture(content)[min(int(y * 165), 164), min(int(x * 220), 219), 3] > 0


def test_templates_and_their_sheets() -> None:
    results = demo(LATCH)[0]
    assert len(template_sheets(results)) >= len(template_drawings(results))


def test_a_test_piece_is_a_solid_of_its_own() -> None:
    made = test_piece_mesh(demo(BEARING)[0])
    assert closed_solid(made) is not None and made.size.max() < 200.0
    assert pypdf.PdfReader(io.BytesIO(rule_bytes(demo(BEARING)[0]))).pages
