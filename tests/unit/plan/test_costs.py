"""Costs of plans by hand from the table's figures."""

from types import SimpleNamespace
from typing import Any, cast

import numpy as np
import pytest

from pounce.metals.tables import limits
from pounce.plan.costs import Made, cost_of, fed


def parting(kind: str = "split", cope: float = 30.0, drag: float = 20.0, **more: Any) -> Any:
    shown = {"loose": (), "regions": (), "area_mm2": 1e4, "clean_mm2": 1e4, "tight_mm2": 0.0, "locked_mm2": 0.0}
    shown |= {"slope_deg": 0.0, "ringed": None, "on_plain_board": False}
    return SimpleNamespace(kind=kind, cope_depth_mm=cope, drag_depth_mm=drag, **(shown | more))


def made(of: Any, **more: Any) -> Made:
    plain = {"cores": None, "drilled": 0, "bored": 0, "milled": 0, "milled_mm3": 0.0, "metal_kg": 0.0}
    plain |= {"tilted": False, "left": ()}
    return Made(parting=of, **cast(Any, plain | more))


def test_a_split_pattern_of_50_mm_with_two_holes_costs_what_the_table_says() -> None:
    cost = cost_of(made(parting(), drilled=2), 3)
    assert cost.pattern == limits()["plan_joint_split"].value
    assert cost.each == pytest.approx(0.5 * limits()["plan_flask"].value + 2 * limits()["plan_drill"].value)
    assert cost.risk == 0.0 and cost.hours == pytest.approx(cost.pattern + 3 * cost.each)


def test_cores_cost_their_box_and_their_risk_and_a_bend_costs_more() -> None:
    def core(*axes: tuple[float, float, float]) -> Any:
        return SimpleNamespace(prints=tuple(SimpleNamespace(axis=np.array(axis)) for axis in axes))

    straight = cost_of(made(parting(), cores=SimpleNamespace(cores=(core((1, 0, 0), (-1, 0, 0)),))), 1)
    bend = cost_of(made(parting(), cores=SimpleNamespace(cores=(core((1, 0, 0), (0, 1, 0)),))), 1)
    assert bend.pattern - straight.pattern == limits()["plan_box_bend"].value - limits()["plan_box"].value
    assert straight.risk == limits()["plan_core_risk"].value
    alone = cost_of(made(parting(), cores=SimpleNamespace(cores=(core((1, 0, 0)),))), 1)
    assert alone.risk == limits()["plan_core_risk_one"].value


def test_a_large_filling_costs_its_milling_beside_setting_it_up() -> None:
    """80 cm3 at 40 cm3 an hour: two hours a casting more than a small one."""
    small, large = (cost_of(made(parting(), milled=1, milled_mm3=mm3), 1) for mm3 in (0.0, 80e3))
    assert small.each - cost_of(made(parting()), 1).each == pytest.approx(limits()["plan_mill"].value)
    assert large.each - small.each == pytest.approx(80.0 / limits()["plan_mill_rate"].value)


def test_a_cheek_costs_its_frame_and_its_ramming() -> None:
    """It cost nothing, and a groove made by one came before a groove that is turned."""
    plain, cheek = (cost_of(made(parting(ringed=ringed)), 3) for ringed in (None, SimpleNamespace(cheek_mm=12.0)))
    assert cheek.pattern - plain.pattern == limits()["plan_cheek"].value
    assert cheek.each - plain.each == pytest.approx(limits()["plan_cheek_each"].value)
    assert cheek.risk == limits()["plan_cheek_risk"].value


def test_a_mould_that_is_lost_costs_more_than_any_joint() -> None:
    steep = cost_of(made(parting("natural", slope_deg=70.0)), 3)
    plain = cost_of(made(parting("natural")), 3)
    assert steep.hours > plain.hours and plain.pattern == limits()["plan_joint_shaped"].value
    # what lies on its rim wants no board made
    assert cost_of(made(parting("natural", on_plain_board=True)), 3).pattern == limits()["plan_joint_back"].value
    assert cost_of(made(parting(), tilted=True), 3).pattern - limits()["plan_joint_split"].value == 1.0


def test_feeders_cost_their_sawing_and_their_metal_for_each_casting() -> None:
    bare = cost_of(made(parting()), 3)
    more = fed(bare, 2, 1, 0.4)
    each = 2 * limits()["plan_feeder"].value + limits()["plan_chill"].value + 0.4 * limits()["plan_metal"].value
    assert more.each == pytest.approx(bare.each + each) and more.hours == pytest.approx(bare.hours + 3 * each)
    assert more.pattern == bare.pattern and fed(bare, 0, 0, 0.0) == bare
