"""What a casting would want of feeders as it lies, before its mould is laid out."""

import manifold3d
import numpy as np
import pytest

from pounce.base.progress import silent
from pounce.feeding.outlook import Lying, Outlook, outlook_of
from pounce.metals.method import MethodChoices, resolve
from pounce.solid.mesh import Floats
from tests.conftest import box, mesh_of

UP = np.array([0.0, 0.0, 1.0])


def seen(
    solid: manifold3d.Manifold,
    way: Floats = UP,
    joint_mm: float = 0.0,
    metal: str = "silicon-bronze",
    wanted: manifold3d.Manifold | None = None,
) -> Outlook:
    method = resolve(MethodChoices(metal=metal))
    part = None if wanted is None else mesh_of(wanted)
    return outlook_of(Lying(mesh_of(solid), (), way, joint_mm, part), method, None, True, silent)


def test_a_plate_wants_none_and_a_cube_one() -> None:
    assert seen(box(200, 150, 10)) == Outlook()
    cube = seen(box(50, 50, 50))
    assert cube.feeders == 1 and cube.uncured == 0 and 0.1 < cube.feeders_kg < 1.5


def test_iron_and_pewter_want_none_however_thick() -> None:
    assert seen(box(50, 50, 50), metal="pewter") == Outlook() == seen(box(50, 50, 50), metal="grey-iron")


@pytest.mark.parametrize("way", [(0.0, 0.0, 1.0), (0.0, 0.0, -1.0)])
def test_a_heavy_boss_is_fed_on_top_or_chilled_underneath(way: tuple[float, float, float]) -> None:
    """Up it takes a feeder; hung under a thin plate no liquid way leads to the top of it, and it is chilled."""
    boss = box(140, 140, 5) + manifold3d.Manifold.cylinder(34.0, 14.0, 14.0, 48).translate([70.0, 70.0, 0.0])
    out = seen(boss, np.array(way))
    assert out.feeders + out.chills >= 1
    if way[2] > 0.0:
        assert out.feeders == 1 and out.chills == 0


@pytest.mark.parametrize("way", [(0.0, 0.0, 1.0), (0.0, 1.0, 0.0)])
def test_a_hub_that_is_bored_out_wants_no_feeder(way: tuple[float, float, float]) -> None:
    """What sets last is its middle, and that is bored away; with a bore too small to hold the hole it is fed."""
    web = manifold3d.Manifold.cylinder(6, 90, 90, 96, True)
    whole = web + manifold3d.Manifold.cylinder(34, 20, 20, 96, True)
    fed = seen(whole, np.array(way), metal="aluminium-silicon")
    assert fed.feeders + fed.chills >= 1
    bored = {r: whole - manifold3d.Manifold.cylinder(60, r, r, 64, True) for r in (2, 12)}
    assert seen(whole, np.array(way), metal="aluminium-silicon", wanted=bored[12]) == Outlook()
    assert seen(whole, np.array(way), metal="aluminium-silicon", wanted=bored[2]) == fed
