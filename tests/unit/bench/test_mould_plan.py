"""Hands on the mould's plan: what is under the pointer, and where a piece that is dragged or nudged is put."""

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from pounce.bench.mould.plan import FEEDER, GATE, NOTHING, SPRUE, MouldPlan
from pounce.bench.stops.view import Headline
from pounce.rig.hands import from_part
from pounce.rig.values import FeederChoice, RigChoices, RigResult
from tests.conftest import box
from tests.unit.rig.helpers import worked
from tests.unit.rig.test_hands import fed

SAYING = Headline("Two castings.", "Pour it.")


@pytest.fixture(scope="module")
def rig() -> RigResult:
    """Two plates with a feeder on each."""
    return fed(worked(box(120.0, 80.0, 20.0)), FeederChoice((30.0, 40.0, 0.0), 30.0, 36.0, 24.0))


@pytest.fixture
def plan(qtbot: QtBot, rig: RigResult) -> MouldPlan:
    plan = MouldPlan()
    qtbot.addWidget(plan)
    plan.resize(900, 600)
    plan.show_rig(rig, SAYING, "mm")
    plan.show()
    plan.grab()  # painted once: it knows where things are
    return plan


def gate_spot(rig: RigResult, number: int) -> tuple[float, float]:
    """Where a gate is taken hold of."""
    one = rig.gates[number]
    turn = np.radians(one.way_deg)
    return one.at_mm[0] + 5.0 * float(np.cos(turn)), one.at_mm[1] + 5.0 * float(np.sin(turn))


def drag(plan: MouldPlan, at: tuple[float, float], by: tuple[float, float]) -> None:
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    start, end = plan._frame.map(QPointF(*at)), plan._frame.map(QPointF(at[0] + by[0], at[1] + by[1]))
    for kind, spot in (
        (QEvent.Type.MouseButtonPress, start),
        (QEvent.Type.MouseMove, end),
        (QEvent.Type.MouseButtonRelease, end),
    ):
        QApplication.sendEvent(plan, QMouseEvent(kind, spot, plan.mapToGlobal(spot), left, left, none))
        plan.grab()  # the hand is drawn at every moment


def press(plan: MouldPlan, key: Qt.Key, shift: bool = False) -> None:
    held = Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier
    QApplication.sendEvent(plan, QKeyEvent(QEvent.Type.KeyPress, key, held))


def test_each_piece_is_found_under_the_pointer(plan: MouldPlan, rig: RigResult) -> None:
    def under(at: tuple[float, ...]) -> int:
        return plan._under(plan._frame.map(QPointF(*at[:2])))

    assert rig.sprue is not None and under(rig.sprue.at_mm) == SPRUE
    assert [under(one.foot_mm) for one in rig.feeders] == [FEEDER, FEEDER - 1]
    assert [under(gate_spot(rig, k)) for k in range(len(rig.gates))] == [GATE - k for k in range(len(rig.gates))]
    corner = from_part(rig, rig.castings[1], np.array([110.0, 70.0, 0.0]))
    assert under(tuple(corner.tolist())) == 1
    assert under((rig.flask.long_mm, rig.flask.wide_mm)) == NOTHING


def test_tab_goes_through_all_pieces_and_on(plan: MouldPlan, rig: RigResult) -> None:
    seen = []
    for _ in range(3 + len(rig.gates) + 3):
        press(plan, Qt.Key.Key_Tab)
        seen.append(plan._chosen)
        plan.grab()
    gates = [GATE - k for k in range(len(rig.gates))]
    assert seen == [0, 1, SPRUE, *gates, FEEDER, FEEDER - 1, NOTHING]


def test_a_gate_that_is_dragged_is_told_on_the_part(qtbot: QtBot, plan: MouldPlan, rig: RigResult) -> None:
    turn = np.radians(rig.gates[0].way_deg)
    along = 9.0 * np.array([-np.sin(turn), np.cos(turn)])
    with qtbot.waitSignal(plan.gated) as told:
        drag(plan, gate_spot(rig, 0), (float(along[0]), float(along[1])))
    (place,) = told.args[0]
    there = from_part(rig, rig.castings[0], np.array(place))[:2]
    at = np.array(rig.gates[0].at_mm[:2])
    assert abs(float(np.linalg.norm(there - at)) - 9.0) < 6.0 and float((there - at) @ along) > 0.0
    # straight out of the casting it goes nowhere
    out = (15.0 * float(np.cos(turn)), 15.0 * float(np.sin(turn)))
    with qtbot.assertNotEmitted(plan.gated, wait=50):
        drag(plan, gate_spot(rig, 0), out)


def test_a_feeder_is_dragged_over_metal_only(qtbot: QtBot, plan: MouldPlan, rig: RigResult) -> None:
    x, y, _ = rig.feeders[1].foot_mm
    with qtbot.waitSignal(plan.fed) as told:
        drag(plan, (x, y), (6.0, 0.0))
    number, place = told.args
    assert number == 0
    assert from_part(rig, rig.castings[1], np.array(place))[:2] == pytest.approx((x + 6.0, y), abs=1e-6)
    with qtbot.assertNotEmitted(plan.fed, wait=50):
        drag(plan, (x, y), (400.0, 0.0))
    with qtbot.waitSignal(plan.fed) as told:  # still the one that is chosen
        press(plan, Qt.Key.Key_Up)
    assert from_part(rig, rig.castings[1], np.array(told.args[1]))[:2] == pytest.approx((x, y + 1.0), abs=1e-6)


@pytest.mark.parametrize(("shift", "by"), [(False, 1.0), (True, 10.0)])
def test_castings_and_sprue_go_by_keys(qtbot: QtBot, plan: MouldPlan, rig: RigResult, shift: bool, by: float) -> None:
    press(plan, Qt.Key.Key_Tab)
    with qtbot.waitSignal(plan.moved) as told:
        press(plan, Qt.Key.Key_Left, shift)
    moved = told.args[0]
    assert moved.placed[0].at_mm == pytest.approx((rig.castings[0].at_mm[0] - by, rig.castings[0].at_mm[1]))
    assert moved.placed[1].at_mm == rig.castings[1].at_mm and moved.label == "Casting 1 moved"
    with qtbot.waitSignal(plan.moved) as told:
        press(plan, Qt.Key.Key_Comma)
    assert told.args[0].placed[0].turn_deg == pytest.approx(rig.castings[0].turn_deg + 15.0)
    press(plan, Qt.Key.Key_Tab)
    press(plan, Qt.Key.Key_Tab)
    assert plan._chosen == SPRUE and rig.sprue is not None
    with qtbot.waitSignal(plan.moved) as told:
        press(plan, Qt.Key.Key_Down, shift)
    assert told.args[0].sprue_mm == pytest.approx((rig.sprue.at_mm[0], rig.sprue.at_mm[1] - by))


def test_without_a_mould_nothing_is_under_the_hand(qtbot: QtBot, plan: MouldPlan) -> None:
    plan.show_rig(None, Headline("The mould follows.", ""), "mm")
    with qtbot.assertNotEmitted(plan.moved, wait=50):
        drag(plan, (0.0, 0.0), (5.0, 5.0))
        press(plan, Qt.Key.Key_Left)
    assert plan._chosen == NOTHING
    assert RigChoices().gates_mm == ()
