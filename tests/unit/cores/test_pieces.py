"""Long cores in pieces: together they are the core, less the play of their cones."""

import manifold3d as m3
import numpy as np
import pytest

from pounce.cores.pieces import MOST_PIECES, pieces_of
from pounce.cores.values import HollowChoice
from pounce.metals.tables import limits
from pounce.route.stops import CORES
from pounce.solid.mesh import Mesh
from tests.conftest import mesh_of
from tests.unit.cores.helpers import SIDES, M, cored, solid_of


def rod(long: float, radius: float, turn: list[float]) -> Mesh:
    return mesh_of(M.cylinder(long, radius, radius, SIDES, True).rotate(turn))


@pytest.mark.parametrize("turn", [[0, 0, 0], [0, 90, 0], [90, 0, 0]])
@pytest.mark.parametrize(("longest", "count"), [(300.0, 1), (150.0, 2), (100.0, 3), (70.0, 5)])
def test_pieces_are_equal_and_no_longer_than_asked(turn: list[float], longest: float, count: int) -> None:
    core = rod(300, 20, turn)
    found = pieces_of(core, (), longest)
    assert len(found) == count
    along = int(np.argmax(core.size))
    if count == 1:
        assert found[0][0] is core
        return
    lows = [float(mesh.bounds[0][along]) for mesh, _ in found]
    assert np.diff(lows) == pytest.approx(np.full(count - 1, 300.0 / count), abs=0.01)
    # its length, and the cone that goes into the next
    cone = limits()["core_cone"].value * limits()["core_cone_tall"].value * 20.0
    for mesh, _ in found[:-1]:
        assert float(mesh.size[along]) == pytest.approx(300.0 / count + cone, rel=0.01)
    assert float(found[-1][0].size[along]) == pytest.approx(300.0 / count)


def test_they_fit_together_and_fill_the_core_but_for_their_play() -> None:
    core = rod(300, 20, [0, 90, 0])
    solids = [solid_of(mesh) for mesh, _ in pieces_of(core, (), 100.0)]
    for k, one in enumerate(solids):
        for other in solids[k + 1 :]:
            assert float((one ^ other).volume()) < 1e-6 * core.volume
    whole = m3.Manifold.batch_boolean(solids, m3.OpType.Add)
    body = solid_of(core)
    assert float((whole - body).volume()) < 1e-6 * core.volume
    gap = float((body - whole).volume())
    assert 0.0 < gap < 0.02 * core.volume


def test_no_more_pieces_than_a_hand_would_glue() -> None:
    assert len(pieces_of(rod(300, 20, [0, 0, 0]), (), 5.0)) == MOST_PIECES


def test_each_print_stays_on_its_own_piece() -> None:
    long = m3.Manifold.cube([200, 60, 60], True) - M.cylinder(220, 15, 15, SIDES, True).rotate([0, 90, 0])
    core = cored(long, height=0.0).need(CORES).cores[0]
    found = pieces_of(core.mesh, core.prints, 100.0)
    assert sum(len(prints) for _, prints in found) == len(core.prints) == 2
    assert found[0][1] and found[-1][1] and found[0][1] != found[-1][1]
    parted = cored(long, height=0.0, longest_mm=100.0, hollows=(HollowChoice(core.place_mm),)).need(CORES).cores[0]
    assert len(parted.boxes) == len(found)
