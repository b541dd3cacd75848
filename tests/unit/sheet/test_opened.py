"""The opened mould on paper: both halves, their cores, and why it cannot be shown."""

import numpy as np
import pytest

from pounce.route.paper import opened_of
from pounce.route.proof import as_rammed
from pounce.route.stops import CORES, PART, PARTING
from pounce.sheet.opened import opened_mould
from tests.worked import BEARING, ELBOW, FINIAL, demo


@pytest.mark.parametrize("stem", [BEARING, ELBOW, FINIAL])
def test_a_picture_with_its_labels_within_it(stem: str) -> None:
    results, _ = demo(stem)
    seen = opened_of(results, (480, 380))
    assert seen.pixels is not None and seen.pixels.shape == (380, 480, 4) and not seen.why
    words = [word for word, _, _ in seen.labels]
    assert len(words) == len(set(words)) >= 2
    for _, x, y in seen.labels:
        assert 0.0 <= x <= 1.0 and 0.0 <= y <= 1.0
    # it shows something: neither one colour nor empty
    assert len(np.unique(seen.pixels.reshape(-1, 4), axis=0)) > 50


def test_on_no_paper_the_ground_is_left_open() -> None:
    seen = opened_of(demo(BEARING)[0], (300, 240), None)
    assert seen.pixels is not None
    alpha = seen.pixels[..., 3]
    assert (alpha == 0).mean() > 0.1 and (alpha == 255).mean() > 0.3


def test_cores_lie_in_the_mould_that_is_opened() -> None:
    rammed = as_rammed(demo(BEARING)[0])
    part, parting = rammed.need(PART), rammed.need(PARTING)
    cores = tuple(core.mesh for core in rammed.need(CORES).cores)
    with_, without = (opened_mould(part.mesh, parting, some, 300, 240).pixels for some in (cores, ()))
    assert with_ is not None and without is not None
    assert (with_ != without).any(axis=2).mean() > 0.01
