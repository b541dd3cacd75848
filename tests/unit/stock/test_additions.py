"""Volumes and dimensions of analytic solids after each addition, and that additions add."""

import itertools

import manifold3d as m3
import numpy as np
import pytest

from pounce.route.stops import STOCK
from pounce.stock.values import Draft, Fill, Fillets, Finish, Level, Machining
from tests.conftest import law
from tests.unit.stock.helpers import change, is_closed, lost, stocked

M = m3.Manifold
BLOCK = M.cube([60, 40, 30])


def test_a_worn_place_is_levelled() -> None:
    worn = BLOCK - M.sphere(20, 96).translate([30, 20, 48])
    results = stocked(worn, Level((30.0, 20.0, 28.0), 12.0), height=0.0)
    assert change(results) == pytest.approx(60 * 40 * 30 - worn.volume(), rel=2e-2)
    assert results.need(STOCK).mesh.bounds[1][2] == pytest.approx(30.0, abs=1e-3)


def test_finish_makes_every_side_smaller_and_rapping_only_the_upright_ones() -> None:
    mesh = stocked(BLOCK, Finish(paint_mm=0.2, sanding_mm=0.05, rap_mm=0.4), height=0.0).need(STOCK).mesh
    assert mesh.size.tolist() == pytest.approx([60 - 2 * 0.55, 40 - 2 * 0.55, 30 - 2 * 0.15], abs=1e-6)


@law(4, 40)
def test_additions_keep_any_part_closed_and_lose_no_metal(seed: int) -> None:
    """Random blocks, pockets, bosses and bores: stock, fills, draft and fillets only ever add."""
    noise = np.random.default_rng(seed)
    part = M.cube([float(v) for v in noise.uniform(40, 90, 3)])
    size = np.array(part.bounding_box()[3:])
    for _ in range(int(noise.integers(1, 4))):
        at = noise.uniform(0.2, 0.7, 3) * size
        pick = int(noise.integers(3))
        if pick == 0:
            part -= M.cube([float(v) for v in noise.uniform(8, 20, 2)] + [200.0]).translate([at[0], at[1], at[2]])
        elif pick == 1:
            part += M.cylinder(float(size[2] + 12), 9, 9, 40).translate([at[0], at[1], 0])
        else:
            part -= M.cylinder(300, 4, 4, 32).translate([at[0], at[1], -10])
    top = max(part.to_mesh64().vert_properties[:, 2])
    results = stocked(
        part,
        Fill(mark=False),
        Machining((float(size[0]), float(size[1]) / 2, 3.0), own_mm=1.0),
        Draft(degrees=1.5),
        Fillets(radius_mm=2.0),
        height=0.0,
    )
    stock = results.need(STOCK)
    assert is_closed(stock.mesh)
    assert stock.added_mm3 > 0.0
    assert lost(part, stock.mesh) < 2e-5 * part.volume()
    assert stock.mesh.bounds[1][2] == pytest.approx(top, abs=0.01)
    volumes = [body.volume for body in stock.bodies]
    assert all(after >= before * (1 - 1e-9) for before, after in itertools.pairwise(volumes))
    # every face knows where it came from
    assert ((stock.mesh.tags.line >= 0) | (stock.mesh.tags.face >= 0)).all()
