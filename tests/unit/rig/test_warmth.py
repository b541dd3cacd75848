"""Where a casting sets and fills late, before its mould is laid out: plain shapes, and what Mould makes of it."""

import manifold3d
import numpy as np
import pytest

from pounce.metals.heat import heat
from pounce.rig.places import places_of
from pounce.rig.warmth import late_ends, warmth_of
from tests.conftest import box
from tests.unit.rig.helpers import item_like, mould_of, worked


def hub_and_arm() -> manifold3d.Manifold:
    """A heavy block with a thin arm to +x."""
    return box(40, 40, 40).translate([-20.0, -20.0, 0.0]) + box(120, 16, 8).translate([10.0, -8.0, 0.0])


def test_the_block_is_late_and_the_arm_early() -> None:
    item = item_like(hub_and_arm(), 0.0)
    warm = warmth_of(item, "aluminium-silicon", "green-sand")
    x0 = float(item.metal_mesh.bounds[0, 0])
    block, arm = warm.at(np.array([[x0 + 20.0, 0.0, 20.0], [x0 + 100.0, 0.0, 4.0]]))
    assert block > 0.95 and arm < 0.35
    assert warmth_of(item, "aluminium-silicon", "green-sand") is warm
    assert warmth_of(item, "grey-iron", "green-sand") is not warm


def test_gates_keep_off_the_hottest_and_those_that_feed_seek_it() -> None:
    item = item_like(hub_and_arm(), 0.0)
    warm = warmth_of(item, "aluminium-silicon", "green-sand")
    x0 = float(item.metal_mesh.bounds[0, 0])
    cool, fed = (places_of(item, school, 20.0, warm)[0] for school in ("snap-off", "feeding"))
    assert fed.at[0] < x0 + 40.0
    heats = warm.at(np.array([[cool.at[0] - 3.0 * cool.out[0], cool.at[1] - 3.0 * cool.out[1], 2.0]]))
    assert heats[0] < 0.85


@pytest.mark.parametrize("gate_x", [0.0, 1.0])
def test_what_fills_last_lies_far_from_the_gate(gate_x: float) -> None:
    """A bar filled from one end: its other end is last; no vent is asked where one stands already."""
    item = item_like(box(160, 20, 12), 0.0)
    warm = warmth_of(item, "aluminium-silicon", "green-sand")
    low, high = item.metal_mesh.bounds
    gate = np.array([[low[0] + gate_x * (high[0] - low[0]), 0.0, 0.0]])
    ends = late_ends(item, warm, gate, np.zeros((0, 3)))
    assert len(ends) >= 1 and abs(ends[0, 0] - gate[0, 0]) > 140.0
    assert ends[0, 2] == pytest.approx(12.0, abs=0.01)  # on top of the metal
    assert not len(late_ends(item, warm, gate, ends))


def test_mould_pricks_a_vent_over_every_late_end() -> None:
    """Two horns off a block: an end far from the gate gets a vent within reach."""
    horns = (
        box(40, 40, 20) + box(120, 14, 20).translate([40.0, 13.0, 0.0]) + box(14, 120, 20).translate([13.0, 40.0, 0.0])
    )
    made = mould_of(worked(horns))
    vents = np.array([one[:2] for one in made.vents])
    model, casting = made.models[0], made.castings[0]
    turn = np.radians(casting.turn_deg)
    rot = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    gates = np.array([one.at_mm[:2] for one in made.gates])
    looked = 0
    for tip in ((160.0, 20.0, 20.0), (20.0, 160.0, 20.0)):
        at = rot @ (model.turn @ np.array(tip) + model.shift)[:2] + casting.at_mm
        if np.linalg.norm(gates - at, axis=1).min() > 40.0:
            looked += 1
            assert np.linalg.norm(vents - at, axis=1).min() < heat().common.vent_reach.value
    assert looked
