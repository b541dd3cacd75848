"""A gap too thin for sand and core alike, filled from the card of Parting."""

from pathlib import Path

import manifold3d as m3
import pytest
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from pounce.bench.app import Session
from pounce.bench.cards.card import Card
from pounce.job import edits
from tests.conftest import mesh_of, write_stl
from tests.journeys.windows import click, cut_off, opened, settled


def test_gaps_between_fins_are_filled_by_one_press(qtbot: QtBot, session: Session, tmp_path: Path) -> None:
    fins = m3.Manifold.cube([76, 60, 12])
    for k in range(6):
        fins += m3.Manifold.cube([6, 60, 17]).translate([10 * k + 10, 0, 11])
    window = opened(qtbot, session, write_stl(tmp_path / "cooling-fins.stl", mesh_of(fins)))
    window.resize(1280, 800)
    window.document.edit(edits.set_draw, (0.0, 0.0, 1.0))
    settled(qtbot, window, whole=True)
    window.go("parting")
    qtbot.wait(50)
    cards = [card for card in window.findChildren(Card) if card.isVisible()]
    assert cards and all(cut_off(card) == 0 for card in cards), "no cure is wider than its card"
    buttons = [one for one in window.findChildren(QPushButton) if one.isVisible() and "saw it later" in one.text()]
    click(qtbot, buttons[0])
    settled(qtbot, window, whole=True)
    stock = window.document.results().stock  # type: ignore[union-attr]
    assert stock.lines[0].name == "Five gaps filled" and not stock.lines[0].trouble
    assert stock.lines[0].added_mm3 == pytest.approx(5 * 4 * 60 * 16, rel=1e-6)
    window.go("parting")
    qtbot.wait(50)
    assert not [one for one in window.findChildren(QPushButton) if one.isVisible() and "saw it later" in one.text()]
