"""Padding: a wall that is thickened so that a feeder reaches past it, tried as a true solid."""

import numpy as np
import pytest

from pounce.feeding.changes import PadWall
from pounce.feeding.cures import Bounds, Found, cured
from pounce.feeding.judge import counted, law_of
from pounce.feeding.pads import padded, walls_of
from pounce.freeze.heats import Poured, frozen
from pounce.freeze.lay import laid
from pounce.freeze.values import Mould
from pounce.job.changes import made
from pounce.job.job import Job
from pounce.metals.method import Method, MethodChoices, resolve
from pounce.rig.values import FeederChoice
from pounce.solid.features.find import features_of
from pounce.solid.mesh import Mesh
from pounce.stock.values import Machining
from tests.conftest import box, mesh_of

WEB_MM = 8.0


def two_lumps(web_mm: float) -> Mesh:
    """A block of 44 and one of 34 joined by a web, whose top lies 30 over the joint."""
    near, far = box(44.0, 44.0, 44.0).translate([0.0, 0.0, -14.0]), box(34.0, 34.0, 34.0).translate([80.0, 5.0, -12.0])
    web = box(42.0, 34.0, web_mm).translate([40.0, 5.0, 0.0])
    return mesh_of(near + web + far)


@pytest.fixture(scope="module")
def method() -> Method:
    return resolve(MethodChoices())


def mould(mesh: Mesh) -> Mould:
    """With a core over the far lump: no feeder can stand on it."""
    core = mesh_of(box(60.0, 60.0, 40.0).translate([68.0, -8.0, 22.0]))
    return Mould((mesh,), None, (core,), (), (), 100.0, (200.0, 120.0), 80.0, tight=True)


def test_a_feeder_reaches_a_lump_under_a_core_through_a_padded_web(method: Method) -> None:
    poured = Poured(method.metal_id, method.mould_id, method.metal.pouring.value)
    law = law_of(method, poured, None, True)
    mesh = two_lumps(WEB_MM)
    bare = mould(mesh)

    def search(tried: Mould, bounds: Bounds) -> Found:
        return cured(tried, poured, law, lambda _share: None, (), None, bounds)

    without = search(bare, Bounds())
    assert without.chills or without.uncured  # the lump under the core wants more than a feeder on the other
    walls = walls_of(mesh, features_of(mesh), lambda point: point)
    run = frozen(laid(bare, 2.0, 20.0), poured, lambda _share, _at: None)
    about = tuple((one.at_mm, one.seconds) for one in counted(run, law)[0])
    pad = padded(bare, walls, about, law, without, search)
    assert pad is not None
    # the web it is, and the feeder on the near block alone does
    assert abs(pad.wall.normal[2]) == pytest.approx(1.0)
    assert 1.0 <= pad.thick_mm <= 2.0 * WEB_MM
    assert len(pad.found.chills) < max(len(without.chills), 1) and pad.found.proved
    # its metal is the prism's, by hand
    assert pad.metal_mm3 == pytest.approx(pad.wall.area_mm2 * pad.thick_mm, rel=0.02)


def test_taking_it_is_one_step_with_stock_and_feeder() -> None:
    feeder = FeederChoice((10.0, 20.0, 30.0), 30.0, 36.0, 24.0)
    job = made(PadWall((1.0, 2.0, 3.0), 4.0, (feeder,), ()), Job(name="Two lumps")).job
    assert job.stock.lines == (Machining((1.0, 2.0, 3.0), own_mm=4.0),)
    assert job.rig.feeders == (feeder,) and job.rig.chills == ()


def test_a_pad_stands_on_its_wall_however_that_is_turned() -> None:
    mesh = two_lumps(WEB_MM)
    turn = np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
    plain = walls_of(mesh, features_of(mesh), lambda point: point)
    turned = walls_of(mesh, features_of(mesh), lambda point: turn @ point + 5.0)
    assert len(plain) >= 10
    for one, other in zip(plain, turned, strict=True):
        assert other.normal == pytest.approx(turn @ one.normal, abs=1e-9)
        assert other.area_mm2 == pytest.approx(one.area_mm2)
        assert one.at_mm == other.at_mm  # on the part as it was modelled
