"""Learning on the bench: illustrated pages, schools that one press takes, words explained, and why."""

import os
from collections.abc import Callable, Iterator

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt, QUrl
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtWidgets import QApplication, QProxyStyle, QPushButton, QStyle, QWidget
from pytestqt.qtbot import QtBot

from pounce.base.finding import Remedy
from pounce.bench.cards.lifting import Lifting
from pounce.bench.freeze.plan import FreezePlan
from pounce.bench.stops.view import Headline
from pounce.bench.widgets.causes import CauseRow, Causes
from pounce.bench.widgets.craft import CraftPage, DrawingView, pages
from pounce.bench.widgets.glossary import GlossaryPage
from pounce.bench.widgets.palette import Entry, Palette
from pounce.bench.widgets.parts import label
from pounce.bench.widgets.prose import Explains, Prose, WordTip
from pounce.causes.values import Cause, Harm, Rule
from pounce.craft.glossary import words
from pounce.job.edits import Edit
from pounce.job.job import Job

assert os.environ.get("QT_QPA_PLATFORM") or os.environ.get("DISPLAY"), "the window tests want a display"


@pytest.fixture
def ground(qtbot: QtBot) -> Iterator[QWidget]:
    window = QWidget()
    window.resize(1280, 800)
    qtbot.addWidget(window)
    window.show()
    yield window


class Kept:
    """A document as far as a page needs one."""

    def __init__(self) -> None:
        self.job: Job | None = Job()
        self.edits: list[Edit] = []
        self.job_changed = Signal()

    def edit(self, make: Callable[..., Edit], *arguments: object) -> bool:
        assert self.job is not None
        self.edits.append(make(self.job, *arguments))
        self.job = self.edits[-1].job
        self.job_changed.emit()
        return True


class Signal:
    def __init__(self) -> None:
        self.slots: list = []  # type: ignore[type-arg]

    def connect(self, slot: object) -> None:
        self.slots.append(slot)

    def emit(self) -> None:
        for slot in self.slots:
            slot()


@pytest.mark.parametrize("stop", pages())
def test_each_page_shows_its_drawings_and_leads_on(qtbot: QtBot, ground: QWidget, stop: str) -> None:
    page = CraftPage(stop, ground)
    qtbot.addWidget(page)
    page.show()
    assert page.width() <= ground.width() and page.height() <= ground.height()
    drawings = page.findChildren(DrawingView)
    assert len(drawings) >= 2 and all(one.accessibleName() for one in drawings)
    order = pages()
    k = order.index(stop)
    assert page.before.isHidden() == (k == 0) and page.after.isHidden() == (k == len(order) - 1)
    for prose in page.findChildren(Prose):  # nothing is cut off
        document = prose.document()
        assert document is not None and document.size().height() <= prose.height() + 1
    page.close()


def test_a_page_leads_to_the_next_and_back(qtbot: QtBot, ground: QWidget) -> None:
    page = CraftPage("draw", ground)
    qtbot.addWidget(page)
    page.show()
    page.after.click()
    assert page.stop == "parting" and "Parting" in page.windowTitle()
    page.before.click()
    assert page.stop == "draw"


def test_one_press_takes_the_other_school(qtbot: QtBot, ground: QWidget) -> None:
    document = Kept()
    page = CraftPage("metal", ground, document)  # type: ignore[arg-type]
    qtbot.addWidget(page)
    page.show()
    own, other = page.boxes
    assert own.use.isHidden() and not other.use.isHidden()
    other.use.click()
    assert document.job is not None and document.job.method.stated == "casting"
    assert page.boxes[0].use.isHidden() is False and page.boxes[1].use.isHidden()


def test_schools_are_only_told_where_there_is_no_job(qtbot: QtBot, ground: QWidget) -> None:
    page = CraftPage("metal", ground)
    qtbot.addWidget(page)
    assert all(box.use.isHidden() for box in page.boxes)


def test_it_opens_at_the_paragraph_with_what_is_said_of_this_part(qtbot: QtBot, ground: QWidget) -> None:
    page = CraftPage("mould", ground, None, "What holds it down", "It lifts with 48 N.")
    qtbot.addWidget(page)
    page.show()
    bar = page._scroll.verticalScrollBar()
    assert bar is not None
    qtbot.waitUntil(lambda: bar.value() > 0)
    assert any("It lifts with 48 N." in one.toPlainText() for one in page.findChildren(Prose))


def test_a_word_is_explained_on_hover_and_by_the_keyboard(qtbot: QtBot, ground: QWidget) -> None:
    prose = Prose("A **core** is set in its *core print* before the cope is closed.")
    prose.setParent(ground)
    prose.setGeometry(20, 20, 300, 60)
    prose.show()
    assert [one.word for one in prose.words] == ["core", "core print", "cope"]
    prose.highlighted.emit(QUrl("word:core print"))
    tip = ground.findChild(WordTip)
    assert tip is not None and tip.isVisible() and "leaves a seat" in tip.says.text()
    prose.highlighted.emit(QUrl(""))
    assert not tip.isVisible()
    assert prose.focusPolicy() == Qt.FocusPolicy.StrongFocus
    ground.activateWindow()
    prose.setFocus(Qt.FocusReason.TabFocusReason)
    qtbot.keyClick(prose, Qt.Key.Key_Tab)
    assert tip.isVisible() and tip.says.text().startswith("<b>Core</b>")
    qtbot.keyClick(prose, Qt.Key.Key_Tab)
    assert tip.says.text().startswith("<b>Core print</b>")


def test_a_word_is_dotted_once_a_page() -> None:
    seen: set[str] = set()
    assert [one.word for one in Prose("The core floats.", seen=seen).words] == ["core"]
    assert Prose("The core floats.", seen=seen).words == ()


def test_a_tip_stays_in_its_window(ground: QWidget) -> None:
    low = label("An undercut")
    low.setParent(ground)
    low.setGeometry(1200, 780, 80, 20)
    low.show()
    assert Explains(low, low.text).show()
    tip = ground.findChild(WordTip)
    assert tip is not None and ground.rect().contains(tip.geometry())
    assert not Explains(low, lambda: "nothing of the trade").show()


def test_a_cause_is_asked_why(qtbot: QtBot) -> None:
    remedy = Remedy("lean", "lean the walls")
    cause = Cause(1, Rule.DRAFT, Harm.SCARS, "The walls have no draft.", "draft", "draw", remedies=(remedy,))
    shown = Causes()
    qtbot.addWidget(shown)
    shown.show_causes((cause,), (), (), "mm", True)
    (row,) = shown.rows
    assert isinstance(row, CauseRow) and "Draft: The lean of a wall" in row.accessibleDescription()
    assert row.focusPolicy() == Qt.FocusPolicy.TabFocus
    with qtbot.waitSignal(shown.why) as asked:
        next(one for one in row.findChildren(QPushButton) if one.text() == "Why?").click()
    assert asked.args == [cause]


def test_the_glossary_opens_at_a_word_and_finds_by_letters(qtbot: QtBot, ground: QWidget) -> None:
    page = GlossaryPage("vent", ground)
    qtbot.addWidget(page)
    page.show()
    assert page.page.toPlainText().count("\n") >= len(words())
    page.field.setText("riser")
    assert page.page.toPlainText().startswith("Feeder")
    page.field.setText("xyz<")
    assert "No word like 'xyz<'" in page.page.toPlainText()


def test_the_search_finds_words_only_when_something_is_typed(qtbot: QtBot, ground: QWidget) -> None:
    done: list[str] = []
    entries = [
        Entry("Save the job", "Ctrl+S", lambda: done.append("save")),
        Entry("What it means: feeder", "", lambda: done.append("feeder"), ("feeder", "riser")),
    ]
    palette = Palette(entries, ground)
    qtbot.addWidget(palette)
    assert palette.list.count() == 1
    palette.field.setText("riser")
    assert palette.list.count() == 1
    qtbot.keyClick(palette.field, Qt.Key.Key_Return)
    assert done == ["feeder"]


def test_a_headline_that_a_board_paints_explains_its_words(ground: QWidget) -> None:
    plan = FreezePlan()
    plan.setParent(ground)
    plan.setGeometry(0, 0, 700, 500)
    plan.show()
    plan.show_made(None, None, Headline("Two places draw hollow without a feeder.", "The gate sets first."))
    assert "Feeder: A lump of metal" in plan.accessibleDescription()

    def hover(y: int) -> None:
        at = QPoint(100, y)
        QApplication.sendEvent(plan, QHelpEvent(QEvent.Type.ToolTip, at, plan.mapToGlobal(at)))

    hover(30)
    tip = ground.findChild(WordTip)
    assert tip is not None and tip.isVisible() and "<b>Feeder</b>" in tip.says.text()
    QApplication.sendEvent(plan, QEvent(QEvent.Type.Leave))
    assert not tip.isVisible()
    hover(300)
    assert not tip.isVisible()


def test_with_reduced_motion_the_trial_draw_is_there_at_once(qtbot: QtBot) -> None:
    """The desktop's own wish, as Qt's style tells it."""

    class Still(QProxyStyle):
        def styleHint(  # type: ignore[override]
            self, hint: QStyle.StyleHint, option: object = None, widget: object = None, returns: object = None
        ) -> int:
            if hint == QStyle.StyleHint.SH_Widget_Animate:
                return 0
            return super().styleHint(hint, option, widget, returns)  # type: ignore[arg-type]

    lifting = Lifting(Kept())  # type: ignore[arg-type]
    qtbot.addWidget(lifting)
    still = Still()
    lifting.setStyle(still)
    lifting.most = lambda: 40.0  # type: ignore[method-assign]
    told: list[float] = []
    lifting.lifted.connect(lambda lifted: told.append(lifted.lift_mm))
    lifting.lift_slowly()
    assert told == [40.0] and not lifting._play.isActive()
