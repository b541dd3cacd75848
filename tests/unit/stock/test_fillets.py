"""Inside corners filled and outside edges eased."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.route.stops import STOCK
from pounce.stock.values import Fillets
from tests.unit.stock.helpers import change, section_area, stocked

M = m3.Manifold
BLOCK = M.cube([60, 40, 30])


def corner(r: float, steps: int = 8) -> float:
    """Area of a corner less its arc of chords."""
    return r * r * (1.0 - 0.5 * steps * np.sin(np.pi / (2 * steps)))


def test_an_inside_corner_is_filled_to_its_radius() -> None:
    angle = M.cube([40, 30, 10]) + M.cube([10, 30, 40])
    assert change(stocked(angle, Fillets(radius_mm=5.0), height=0.0)) == pytest.approx(30 * corner(5.0), rel=2e-3)


def test_outside_edges_are_eased_but_not_at_the_joint() -> None:
    results = stocked(BLOCK, Fillets(radius_mm=0.0, ease_mm=2.0), height=0.0)
    eased = 2 * (60 + 40) * corner(2.0) + 4 * 30 * corner(2.0)
    assert -results.need(STOCK).added_mm3 == pytest.approx(eased, rel=0.05)
    assert section_area(results.need(STOCK).mesh, 1e-4) == pytest.approx(60 * 40 - 4 * corner(2.0), rel=1e-3)
