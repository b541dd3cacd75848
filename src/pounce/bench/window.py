"""The window: ticket, route, bench, strip, card and status, and every action by name. It knows stops by their views
only.
"""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QByteArray, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence
from PyQt6.QtWidgets import QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from pounce.base.finding import Finding
from pounce.base.log import log_file
from pounce.bench.document import Document
from pounce.bench.filing import Filing
from pounce.bench.freeze.section import FreezeSection
from pounce.bench.guide import Guide
from pounce.bench.headlines import headline
from pounce.bench.learning import Learning
from pounce.bench.log.desk import log_desk_of
from pounce.bench.log.writes import stands
from pounce.bench.look.style import LEAST
from pounce.bench.planning import Planning
from pounce.bench.section.making import MakingStrip
from pounce.bench.section.sizes import SizesStrip
from pounce.bench.section.strip import SectionStrip
from pounce.bench.stops.view import Action, Strip, title_of, views
from pounce.bench.tilting import Tilting
from pounce.bench.trialdraw import TrialDraw
from pounce.bench.view3d.client import RenderClient
from pounce.bench.widgets.benchview import BenchView
from pounce.bench.widgets.lift import LiftScale
from pounce.bench.widgets.measuring import MeasureDialog
from pounce.bench.widgets.notice import Notice
from pounce.bench.widgets.route import Route
from pounce.bench.widgets.start import StartBench, StartCard
from pounce.bench.widgets.status import HANDS, Status
from pounce.bench.widgets.ticket import Ticket
from pounce.route.stops import ids

# How long closing may wait for an unsaved job to be put aside.
CLOSE_MS = 8000
# Keys of the stops in their order: ten have one.
DIGITS = "1234567890"

# What a desktop lays over a window, pixels.
TITLE_BAR = 34


class Window(QMainWindow):
    """One job on one bench."""

    def __init__(self, document: Document, client: RenderClient, demo_about: dict[str, str] | None = None) -> None:
        super().__init__()
        self.document = document
        self._client = client
        self._about = demo_about or {}
        self.views = views()
        self.stop = next(iter(self.views))
        self.setWindowTitle("Pounce")
        self.setMinimumSize(*LEAST)
        self.resize(1280, 800)
        self.setAcceptDrops(True)
        self.notice = Notice()
        self.filing = Filing(document, self.notice, self)
        self.cards = {stop: view.card(document) for stop, view in self.views.items()}
        self.actions_by_name: dict[str, QAction] = {}
        self._make_actions()
        self.ticket = Ticket(document, self.actions_by_name["Undo"], self.actions_by_name["Redo"])
        self.route = Route(document)
        self.bench = BenchView(client)
        self.lift_scale = LiftScale(self.bench)
        self.lift_scale.hide()
        self.bench.beside = self.lift_scale
        self._pointed = -1
        self.section, self.sizes, self.making = SectionStrip(), SizesStrip(), MakingStrip()
        self.freezing = FreezeSection()
        self.freezing.told.connect(self.bench.tell)
        self.trial = TrialDraw(document, self.bench, self.section, self.lift_scale)
        self.tilting = Tilting(document, self.bench)
        self.planning = Planning(document, self)
        self.start = StartBench()
        self.start_card = StartCard(not document.settings.values.hints_away)
        self.status = Status(document)
        self.learning = Learning(self)
        self.guide = Guide(self)
        self._lay_out()
        self._repaint_later = QTimer(self)
        self._repaint_later.setSingleShot(True)
        self._repaint_later.setInterval(0)
        self._repaint_later.timeout.connect(self.refresh)
        self._wire()
        kept = document.settings.values.geometry
        if kept:
            self.restoreGeometry(QByteArray.fromHex(kept.encode()))
        self._keep_on_screen()
        self.show_start()
        self.bench.setFocus()

    def _keep_on_screen(self) -> None:
        """Never larger than the screen's free space, title bar and all, nor beside it."""
        screen = self.screen()
        if screen is None or self.isMaximized() or self.isFullScreen():
            return
        room = screen.availableGeometry()
        self.resize(min(self.width(), room.width()), min(self.height(), room.height() - TITLE_BAR))
        self.move(
            max(min(self.x(), room.right() + 1 - self.width()), room.left()),
            max(min(self.y(), room.bottom() + 1 - self.height()), room.top()),
        )

    def _lay_out(self) -> None:
        self._strips = QStackedWidget()
        for strip in (self.section, self.sizes, self.making, self.freezing):
            self._strips.addWidget(strip)
        self._strips.setFixedHeight(self.section.height())
        self._job = QWidget()
        middle = QVBoxLayout(self._job)
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.bench, 1)
        middle.addWidget(self._strips)
        self._middle = QStackedWidget()
        self._middle.addWidget(self.start)
        self._middle.addWidget(self._job)
        self.boards = {stop: view.board(self.document) for stop, view in self.views.items() if view.board is not None}
        for board in self.boards.values():
            self._middle.addWidget(board)
        self._right = QStackedWidget()
        self._right.addWidget(self.start_card)
        for card in self.cards.values():
            self._right.addWidget(card)
        self.planning.lay_into(self._middle, self._right)
        self._right.setFixedWidth(self.start_card.width())
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(1)
        row.addWidget(self.route)
        row.addWidget(self._middle, 1)
        row.addWidget(self._right)
        whole = QWidget()
        whole.setObjectName("whole")
        whole.setStyleSheet("QWidget#whole { background: #D9CFBD; }")
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        column.addWidget(self.ticket)
        column.addWidget(self.notice)
        column.addWidget(self.guide.strip)
        column.addLayout(row, 1)
        column.addWidget(self.status)
        self.setCentralWidget(whole)

    def _wire(self) -> None:
        document, bench = self.document, self.bench
        self.ticket.search.connect(self.learning.search)
        self.route.went.connect(self.go)
        self.route.planned.connect(lambda: self.planning.show(self._middle, self._right))
        self.planning.closed.connect(self.go)
        self.planning.opened.connect(self.route.show_plan)
        self.planning.told.connect(self.route.flag.tell)
        for wanted in (self.route.wanted, self.start.wanted):
            wanted.connect(self.open)
        self.start.open_model.connect(self.filing.ask_open)
        self.start.measure.connect(self.ask_measures)
        self.start_card.put_away.connect(document.settings.put_hints_away)
        self.start_card.guided.connect(self.guide.on_the_demo)
        self.start_card.guided_own.connect(self.guide.on_own)
        self.start_card.guided_on.connect(self.guide.go_on)
        self.status.cancel.connect(lambda: document.worker.cancel())
        document.opened.connect(self._opened)
        document.job_changed.connect(self.refresh_soon)
        document.results_changed.connect(lambda _: self.refresh_soon())
        document.sections.ready.connect(
            lambda cut: self.section.show_cut(cut, document.unit, self.cards[self.stop].stop_view.sand)
        )
        document.fault.connect(self.notice.say)
        document.sheets_ready.connect(self._show_strip)
        document.worker.idle.connect(self.refresh_soon)
        document.worker.trouble.connect(self.notice.say)
        document.built.connect(self.filing.built)
        document.shelf_changed.connect(self._show_shelf)
        self.section.asked.connect(document.sections.cut)
        self.tilting.let_go.connect(self.refresh)
        self.trial.changed.connect(self.refresh)
        bench.heightened.connect(lambda moved_mm: self.cards[self.stop].move_joint(moved_mm))
        for lights in (self.section.hovered, bench.hovered):
            lights.connect(self.light)
        bench.clicked.connect(lambda spot: self.cards[self.stop].point_at(spot))
        bench.name_of = lambda region: self.cards[self.stop].name_of(region)
        for card in self.cards.values():
            for signal, slot in (
                (card.lit, self.light),
                (card.pointed, self.light),
                (card.show_place, self._show_place),
                (card.go, self.go),
                (card.tilt, self.tilting.a_little),
                (card.shown, self.refresh),
                (card.turned, self._turned),
                (card.write, self.filing.ask_build),
                (card.why, self.learning.why),
            ):
                signal.connect(slot)
            card.lifted.connect(lambda lifted, card=card: self.trial.show(card, lifted))

    def _make_actions(self) -> None:
        made: list[tuple[str, str, Callable[[], object]]] = [
            ("Open a model or job", "Ctrl+O", self.filing.ask_open),
            ("Save the job", "Ctrl+S", self.filing.save),
            ("Save the job as", "Ctrl+Shift+S", self.filing.ask_save),
            ("Undo", "Ctrl+Z", self.document.undo),
            ("Redo", "Ctrl+Shift+Z", self.document.redo),
            ("Write the pattern's files", "Ctrl+B", self.filing.ask_build),
            ("Write the shop sheet", "Ctrl+P", self.filing.ask_sheet),
            ("Back to the shelf", "Ctrl+H", self.show_start),
            ("Measure a part you have", "", self.ask_measures),
            ("Plan it for me", "Ctrl+L", lambda: self.planning.show(self._middle, self._right)),
            ("Find a command", "Ctrl+K", lambda: self.learning.search()),
            ("The craft behind this stop", "F1", lambda: self.learning.craft()),
            ("A guided first pattern, on the demo's arm", "", lambda: self.guide.on_the_demo()),
            ("A guided first pattern, on a part of your own", "", lambda: self.guide.on_own()),
            ("Go on with the first pattern", "", lambda: self.guide.go_on()),
            ("The handbook", "", lambda: self.learning.handbook()),
            ("Words of the trade", "Shift+F1", lambda: self.learning.word()),
            ("Measure on the part", "M", self._measure),
            ("Usual view", "", lambda: self.bench.home()),
            ("Fold the section away", "Ctrl+J", self._fold),
            ("Lengths in millimetres", "", lambda: self.document.set_unit("mm")),
            ("Lengths in inches", "", lambda: self.document.set_unit("in")),
            (
                "High contrast, from the next start",
                "",
                lambda: self.document.said.emit(self.document.settings.turn_contrast()),
            ),
            ("Look at the part again", "F5", self.document.work),
            (
                "Where the log of faults lies",
                "",
                lambda: self.notice.say(f"Faults of the program itself are kept in {log_file()}.", good=True),
            ),
            ("Cancel what runs", "Esc", lambda: self.document.worker.cancel()),
            ("Close Pounce", "Ctrl+Q", self.close),
        ]
        for stop, view in self.views.items():
            made += [(action.name, action.key, self._does(stop, action)) for action in view.actions]
        made += [
            (f"Go to {title_of(stop)}", DIGITS[index : index + 1], self._goer(stop)) for index, stop in enumerate(ids())
        ]
        for name, key, act in made:
            action = QAction(name, self)
            if key:
                action.setShortcut(QKeySequence(key))
            action.triggered.connect(lambda _=False, act=act: act())
            self.addAction(action)
            self.actions_by_name[name] = action

    def _goer(self, stop: str) -> Callable[[], None]:
        return lambda: self.go(stop)

    def _does(self, stop: str, action: Action) -> Callable[[], None]:
        def act() -> None:
            if self.document.job is not None and action.goes:
                self.go(stop)
            if self.document.job is not None and self.stop == stop:
                action.act(self.cards[stop])

        return act

    def _fold(self) -> None:
        self.document.settings.values.section_folded = self._strips.isVisible()
        self._strips.setVisible(not self._strips.isVisible())

    def open(self, path: Path) -> None:
        """Opens a model or a job."""
        self.filing.open(path)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Takes files."""
        self.filing.entered(event)

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Opens the first file dropped."""
        self.filing.dropped(event)

    def ask_measures(self) -> None:
        """Asks for the measures of a part that has no model."""
        metal = "aluminium-silicon" if self.document.job is None else self.document.job.method.metal
        dialog = MeasureDialog(self, self.document.unit, metal)
        dialog.wanted.connect(self.document.measure)
        dialog.open()

    @property
    def on_job(self) -> bool:
        """Whether a job is on the bench, not the shelf."""
        return self._middle.currentIndex() > 0

    def show_start(self) -> None:
        """The shelf."""
        self._show_shelf()
        self.start_card.offer(self.guide.offered, self.guide.waits)
        self._middle.setCurrentIndex(0)
        self._right.setCurrentWidget(self.start_card)

    def _show_shelf(self) -> None:
        entries = [
            (path, name, self._about.get(path.stem, path.name)) for path, name in self.document.settings.recent()
        ]
        self.start.show_shelf(entries)
        log_desk_of(self.document).writes.do(stands, self.start.show_stands)

    def _opened(self) -> None:
        self.notice.hide()
        self.bench.clear()
        asks = self.document.job is not None and self.document.job.part.unit is None
        self.go(next(iter(self.views)) if asks else self.stop)

    def go(self, stop: str) -> None:
        """Visits a stop."""
        if self.document.job is None:
            return
        self.planning.leave()
        if stop != self.stop:
            self.cards[self.stop].leave()
        self.stop = stop
        self.route.show_stop(stop)
        self._right.setCurrentWidget(self.cards[stop])
        self._turned()

    def _turned(self) -> None:
        """Another stop is visited, or another view of the same."""
        board = self.boards.get(self.stop) if self.cards[self.stop].on_board else None
        self._middle.setCurrentWidget(board or self._job)
        self.status.hands.setText(board.hands if board is not None else HANDS)
        self._show_strip()
        self.document.judging.cut(self.cards[self.stop].stop_view.cut)
        self.refresh()

    def refresh_soon(self) -> None:
        """One refresh for many changes."""
        self._repaint_later.start()

    def refresh(self) -> None:
        """Shows job and results as they are now."""
        self.actions_by_name["Undo"].setEnabled(bool(self.document.history and self.document.history.before))
        self.actions_by_name["Redo"].setEnabled(bool(self.document.history and self.document.history.undone))
        results = self.document.results()
        if results is None or self.document.job is None or self.bench.tilting:
            return
        self.setWindowTitle(f"{self.document.job.name} - Pounce")
        self.ticket.refresh()
        card, unit = self.cards[self.stop], self.document.unit
        view = card.stop_view
        card.refresh()
        # at Draw and Parting the pattern stands for the part once it is proved
        seen = self.document.judging.seen(view.judges) or results
        paths = self.document.judging.paths(view.judges)
        saying = headline(self.stop, seen, unit, self.document.worker.busy, view)
        if self.stop in self.boards and card.on_board:
            self.boards[self.stop].show_results(results, saying, unit)
            return
        self.bench.say(saying)
        shown = replace(card.scene_shown(), mould=self.trial.mould(), pointed=self._pointed)
        self.bench.picks = shown.picks
        scene = view.scene(view.kind, seen, paths, shown)
        self.bench.labels.handle = None if self.trial.under_way else view.handle(seen)
        self.bench.can_tilt = view.tilts and results.draw is not None
        self.bench.set_unit(unit)
        if scene.part is not None:
            points = None if seen.part is None else view.points(scene, seen)
            self.bench.show_scene(scene, points, refit=True)
        self.bench.mark(
            view.tags(seen, scene, unit),
            view.chips(seen, unit, shown),
            view.measures(seen, unit),
            view.flask and results.draw is not None,
            view.note,
            view.scaled,
        )
        self.trial.say()
        self._show_strip()

    def _show_strip(self) -> None:
        """What the stop shows under the bench."""
        results, job, unit = self.document.results(), self.document.job, self.document.unit
        strip: Strip = "section" if results is None or job is None else self.cards[self.stop].stop_view.strip(results)
        if results is not None and strip == "sizes":
            self.sizes.show_sizes(results, unit)
        if strip == "making" and results is not None and results.pattern is not None and job is not None:
            self.making.show_making(results.pattern.making, job.pattern, unit, self.document.sheets())
        if strip == "freeze" and results is not None:
            self.freezing.show_results(results)
        shown = {"section": self.section, "sizes": self.sizes, "making": self.making, "freeze": self.freezing}
        self._strips.setCurrentWidget(shown[strip])

    def _measure(self) -> None:
        on = not self.bench.measuring
        self.bench.measure(on)
        self.document.said.emit(
            "Measuring: click a point for its thickness, two for a distance, three for an angle. M ends it."
            if on
            else "Measured"
        )

    def light(self, region: int) -> None:
        """Lights a region on bench, section and card."""
        self.bench.light(region)
        self.section.light(region)
        card, results = self.cards[self.stop], self.document.judging.seen(self.cards[self.stop].stop_view.judges)
        card.light(region)
        if results is not None and region != self._pointed:
            self._pointed = region
            if not self.trial.under_way:
                self.bench.live_legend(
                    self.cards[self.stop].stop_view.chips(
                        results, self.document.unit, replace(card.scene_shown(), pointed=region)
                    )
                )

    def _show_place(self, finding: object) -> None:
        if not isinstance(finding, Finding):
            return
        results = self.document.judging.seen(self.cards[self.stop].stop_view.judges)
        if finding.region is not None and results is not None and results.parting is not None:
            self.bench.look_at(results.parting.regions[finding.region].normal)
            self.light(finding.region)
        else:
            self.bench.home()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Remembers the window, keeps an unsaved job aside, ends the other processes."""
        values = self.document.settings.values
        values.geometry = bytes(self.saveGeometry().toHex().data()).decode()
        self.document.settings.save()
        self.document.worker.cancel()
        self.document.aside.put()
        self.document.worker.finish(CLOSE_MS)
        self.document.aside.finish()
        self.document.worker.shutdown()
        self._client.shutdown()
        for board in self.boards.values():
            board.let_go()
        super().closeEvent(event)
