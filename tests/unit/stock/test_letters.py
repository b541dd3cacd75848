"""Text on faces of the pattern."""

import manifold3d as m3
import pytest

from pounce.route.stops import STOCK
from pounce.stock.values import Lettering
from tests.unit.stock.helpers import change, stocked

M = m3.Manifold
BLOCK = M.cube([60, 40, 30])


def test_text_stands_on_its_face_and_is_refused_where_sand_cannot_show_it() -> None:
    plate = M.cube([120, 40, 15])
    results = stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 10.0, 1.2), height=0.0)
    added = change(results)
    assert results.need(STOCK).mesh.bounds[1][2] == pytest.approx(16.2, abs=1e-6)
    sunk = -stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 10.0, -1.2), height=0.0).need(STOCK).added_mm3
    assert sunk == pytest.approx(added, rel=1e-3)
    fine = stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 3.0, 1.2), height=0.0).need(STOCK)
    assert "shows nothing finer" in fine.lines[0].trouble and fine.added_mm3 == pytest.approx(0.0, abs=1e-9)
    turned = stocked(plate, Lettering("GLASSHOUSE 3", (60.0, 20.0, 15.0), 10.0, 1.2, turn_deg=90.0), height=0.0).need(
        STOCK
    )
    assert "longer than its face" in turned.lines[0].trouble
