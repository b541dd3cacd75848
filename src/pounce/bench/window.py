"""The window: ticket, route, bench, section strip, card and status, and every action by name."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtCore import QByteArray, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from pounce.base.finding import Finding
from pounce.bench.desk import Desk
from pounce.bench.marking import (
    GROWTH,
    chips_of,
    core_tags,
    handle_of,
    live_chips,
    measures_of,
    points_of,
    scene_of,
    tags_of,
    torn_by,
    trial_chips,
    trial_tags,
)
from pounce.bench.sayings import TITLES, Saying, saying, trial_saying, way
from pounce.bench.section.making import MakingStrip
from pounce.bench.section.sizes import SizesStrip
from pounce.bench.section.sketch import Lifted
from pounce.bench.section.strip import SectionStrip
from pounce.bench.stops.card import Card
from pounce.bench.stops.cores import CoresCard
from pounce.bench.stops.draw import DrawCard
from pounce.bench.stops.metal import MetalCard
from pounce.bench.stops.part import PartCard
from pounce.bench.stops.parting import PartingCard
from pounce.bench.stops.pattern import PatternCard, usual_folder
from pounce.bench.stops.stock import StockCard
from pounce.bench.view3d.asks import Spot, Tinted
from pounce.bench.view3d.client import RenderClient
from pounce.bench.widgets.benchview import BenchView
from pounce.bench.widgets.craft import CraftPage
from pounce.bench.widgets.lift import LiftScale
from pounce.bench.widgets.measuring import MeasureDialog
from pounce.bench.widgets.notice import Notice
from pounce.bench.widgets.palette import Palette
from pounce.bench.widgets.route import Route
from pounce.bench.widgets.start import StartBench, StartCard
from pounce.bench.widgets.status import Status
from pounce.bench.widgets.ticket import Ticket
from pounce.job import edits
from pounce.route.keys import STOPS, keys

MODELS = "Models and jobs (*.stl *.3mf *.obj *.ply *.off *.step *.stp *.pounce);;All files (*)"
# How long closing may wait for an unsaved job to be put aside.
CLOSE_MS = 8000
MOULD_STOPS = ("draw", "parting", "stock", "cores")
TILT_DEG = 2.0
# A live answer within this of where the hand let go is the draw that was meant.
SNAP_DEG = 6.0


class Window(QMainWindow):
    """One job on one bench."""

    def __init__(self, desk: Desk, client: RenderClient, demo_about: dict[str, str] | None = None) -> None:
        super().__init__()
        self.desk = desk
        self._client = client
        self._about = demo_about or {}
        self.stop = "part"
        self.setWindowTitle("Pounce")
        self.setMinimumSize(1100, 700)
        self.resize(1280, 800)
        self.setAcceptDrops(True)
        self.actions_by_name: dict[str, QAction] = {}
        self._make_actions()
        self.ticket = Ticket(desk, self.actions_by_name["Undo"], self.actions_by_name["Redo"])
        self.ticket.search.connect(self._search)
        self.route = Route(desk)
        self.route.went.connect(self.go)
        self.route.wanted.connect(self.open)
        self.bench = BenchView(client)
        self.lift_scale = LiftScale(self.bench)
        self.lift_scale.hide()
        self.bench.beside = self.lift_scale
        self._lift: Lifted | None = None
        self._mould: tuple[str, str] | None = None
        self._mould_asked = ""
        self._tilt_ready = ""
        self._pointed = -1
        self._live_way: tuple[float, float, float] | None = None
        self.section = SectionStrip()
        self.sizes = SizesStrip()
        self.start = StartBench()
        self.start.open_model.connect(self._ask_open)
        self.start.wanted.connect(self.open)
        self.start.measure.connect(self.ask_measures)
        self.start_card = StartCard(not desk.memory.values.hints_away)
        self.start_card.put_away.connect(self._hints_away)
        self.cards: dict[str, Card] = {
            "part": PartCard(desk), "metal": MetalCard(desk), "draw": DrawCard(desk), "parting": PartingCard(desk),
            "stock": StockCard(desk), "cores": CoresCard(desk), "pattern": PatternCard(desk),
        }  # fmt: skip
        self.notice = Notice()
        self.status = Status(desk)
        self.status.cancel.connect(lambda: desk.hands.cancel())
        self._lay_out()
        self._wire()
        self._repaint_later = QTimer(self)
        self._repaint_later.setSingleShot(True)
        self._repaint_later.setInterval(0)
        self._repaint_later.timeout.connect(self.refresh)
        kept = desk.memory.values.geometry
        if kept:
            self.restoreGeometry(QByteArray.fromHex(kept.encode()))
        self.show_start()
        self.bench.setFocus()

    def _lay_out(self) -> None:
        self._strips = QStackedWidget()
        self._strips.addWidget(self.section)
        self._strips.addWidget(self.sizes)
        self.making = MakingStrip()
        self._strips.addWidget(self.making)
        self._strips.setFixedHeight(self.section.height())
        job = QWidget()
        middle = QVBoxLayout(job)
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.bench, 1)
        middle.addWidget(self._strips)
        self._middle = QStackedWidget()
        self._middle.addWidget(self.start)
        self._middle.addWidget(job)
        self._right = QStackedWidget()
        self._right.addWidget(self.start_card)
        for card in self.cards.values():
            self._right.addWidget(card)
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
        column.addLayout(row, 1)
        column.addWidget(self.status)
        self.setCentralWidget(whole)

    def _wire(self) -> None:
        desk = self.desk
        desk.opened.connect(self._opened)
        desk.job_changed.connect(self.refresh_soon)
        desk.results_changed.connect(lambda _: self.refresh_soon())
        desk.cut_ready.connect(lambda cut: self.section.show_cut(cut, desk.unit, self.stop in MOULD_STOPS))
        desk.fault.connect(self.notice.say)
        desk.sheets_ready.connect(self._show_strip)
        desk.hands.idle.connect(self.refresh_soon)
        desk.hands.trouble.connect(self.notice.say)
        desk.built.connect(self._built)
        desk.shelf_changed.connect(self._show_shelf)
        self.section.asked.connect(desk.cut)
        self.bench.tilted.connect(desk.tilt)
        self.bench.tilt_done.connect(self._tilt_done)
        self.bench.tilt_near.connect(self._tilt_near)
        self.bench.heightened.connect(self._height_by_hand)
        desk.tilted.connect(self._tilted)
        desk.mould_ready.connect(self._mould_came)
        self.lift_scale.moved.connect(self._lift_by_hand)
        self.section.hovered.connect(self.light)
        self.bench.hovered.connect(self.light)
        for card in self.cards.values():
            card.lit.connect(self.light)
            card.show_place.connect(self._show_place)
            card.go.connect(self.go)
        draw, parting = self.cards["draw"], self.cards["parting"]
        if isinstance(draw, DrawCard):
            draw.tilt.connect(self._tilt_a_little)
        if isinstance(parting, PartingCard):
            parting.lifted.connect(self._lifted)
        stock = self.cards["stock"]
        if isinstance(stock, StockCard):
            stock.pointed.connect(self.light)
            stock.shown.connect(self.refresh)
        self.bench.clicked.connect(self._clicked)
        self.bench.name_of = self._name_of
        cores = self.cards["cores"]
        if isinstance(cores, CoresCard):
            cores.shown.connect(self.refresh_soon)
        pattern = self.cards["pattern"]
        if isinstance(pattern, PatternCard):
            pattern.write.connect(self._ask_build)
            pattern.shown.connect(self.refresh_soon)

    # --- actions -------------------------------------------------------------------------------------------------

    def _make_actions(self) -> None:
        made: list[tuple[str, str, Callable[[], object]]] = [
            ("Open a model or job", "Ctrl+O", self._ask_open),
            ("Save the job", "Ctrl+S", self._save),
            ("Save the job as", "Ctrl+Shift+S", self._ask_save),
            ("Undo", "Ctrl+Z", self.desk.undo),
            ("Redo", "Ctrl+Shift+Z", self.desk.redo),
            ("Write the pattern's files", "Ctrl+B", self._ask_build),
            ("Write the shop sheet", "Ctrl+P", self._ask_sheet),
            ("Back to the shelf", "Ctrl+H", self.show_start),
            ("Measure a part you have", "", self.ask_measures),
            ("Find a command", "Ctrl+K", self._search),
            ("The craft behind this stop", "F1", self._craft),
            ("Measure on the part", "M", self._measure),
            ("Tilt the draw left", "Alt+Left", lambda: self._tilt_a_little(-1.0, 0.0)),
            ("Tilt the draw right", "Alt+Right", lambda: self._tilt_a_little(1.0, 0.0)),
            ("Tilt the draw away", "Alt+Up", lambda: self._tilt_a_little(0.0, -1.0)),
            ("Tilt the draw nearer", "Alt+Down", lambda: self._tilt_a_little(0.0, 1.0)),
            ("Lift the cope", "L", self._play_trial),
            ("Usual view", "", lambda: self.bench.home()),
            ("Fold the section away", "Ctrl+J", self._fold),
            ("Lengths in millimetres", "", lambda: self.desk.set_unit("mm")),
            ("Lengths in inches", "", lambda: self.desk.set_unit("in")),
            ("High contrast, from the next start", "", self._contrast),
            ("Look at the part again", "F5", self.desk.work),
            ("Cancel what runs", "Esc", lambda: self.desk.hands.cancel()),
            ("Close Pounce", "Ctrl+Q", self.close),
        ]
        made += [(f"Go to {TITLES[stop][0]}", str(index), self._goer(stop)) for index, stop in enumerate(STOPS, 1)]
        for name, key, act in made:
            action = QAction(name, self)
            if key:
                action.setShortcut(QKeySequence(key))
            action.triggered.connect(lambda _=False, act=act: act())
            self.addAction(action)
            self.actions_by_name[name] = action

    def _goer(self, stop: str) -> Callable[[], None]:
        return lambda: self.go(stop)

    def _search(self) -> None:
        self.palette_dialog = Palette(list(self.actions_by_name.values()), self)
        corner = self.mapToGlobal(self.rect().topRight())
        self.palette_dialog.move(corner.x() - 474, corner.y() + 46)
        self.palette_dialog.show()
        self.palette_dialog.field.setFocus()

    def _craft(self) -> None:
        self.craft_page = CraftPage(self.stop, self)
        self.craft_page.show()

    def _fold(self) -> None:
        self.desk.memory.values.section_folded = self._strips.isVisible()
        self._strips.setVisible(not self._strips.isVisible())

    def _contrast(self) -> None:
        values = self.desk.memory.values
        values.contrast = not values.contrast
        self.desk.memory.save()
        self.desk.said.emit("High contrast from the next start" if values.contrast else "Usual colours from the next start")

    def _hints_away(self) -> None:
        self.desk.memory.values.hints_away = True
        self.desk.memory.save()

    # --- files ---------------------------------------------------------------------------------------------------

    def open(self, path: Path) -> None:
        """Opens a model or a job."""
        self.notice.hide()
        self.desk.open(Path(path))

    def _ask_open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a model or a job", str(self.desk.folder), MODELS)
        if name:
            self.open(Path(name))

    def _save(self) -> None:
        if self.desk.path is None:
            self._ask_save()
        else:
            self.desk.save(self.desk.path)

    def _ask_save(self) -> None:
        if self.desk.job is None:
            return
        start = self.desk.folder / f"{self.desk.job.name}.pounce"
        name, _ = QFileDialog.getSaveFileName(self, "Save the job", str(start), "Jobs (*.pounce)")
        if name:
            path = Path(name)
            self.desk.save(path if path.suffix == ".pounce" else path.with_name(path.name + ".pounce"))

    def _ask_build(self) -> None:
        results = self.desk.results()
        if self.desk.job is None or results is None or results.pattern is None:
            self.notice.say("There is no pattern to write yet. Open a closed part first.")
            return
        start = usual_folder(self.desk.job.name, self.desk.folder)
        name, _ = QFileDialog.getSaveFileName(self, "Folder to write into (made if it is not there)", str(start))
        if name:
            self.desk.build(Path(name))

    def _ask_sheet(self) -> None:
        if self.desk.job is None:
            return
        start = self.desk.folder / f"{self.desk.job.name} shop sheet.pdf"
        name, _ = QFileDialog.getSaveFileName(self, "Write the shop sheet", str(start), "PDF (*.pdf)")
        if name:
            self.desk.sheet(Path(name) if name.endswith(".pdf") else Path(name + ".pdf"))

    def _built(self, manifest: dict[str, object], out: str) -> None:
        files = manifest["files"]
        count = len(files) + 1 if isinstance(files, list) else 1
        things = [("Open the folder", Path(out))]
        names = [str(one["file"]) for one in files if isinstance(one, dict)] if isinstance(files, list) else []
        for suffix, text in (
            ("3mf", "Open the model"),
            ("templates.pdf", "Open the templates"),
            ("shop-sheet.pdf", "Open the sheet"),
        ):
            found = next((name for name in names if name.endswith(suffix)), None)
            things += [] if found is None else [(text, Path(out) / found)]
        self.notice.say(
            f"{count} files written to {out}. Every model was read back and is closed.", good=True, things=things
        )

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Takes files."""
        data = None if event is None else event.mimeData()
        if event is not None and data is not None and any(url.isLocalFile() for url in data.urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Opens the first file dropped."""
        data = None if event is None else event.mimeData()
        if data is not None:
            for url in data.urls():
                if url.isLocalFile():
                    self.open(Path(url.toLocalFile()))
                    return

    # --- showing -------------------------------------------------------------------------------------------------

    def ask_measures(self) -> None:
        """Asks for the measures of a part that has no model."""
        metal = "aluminium-silicon" if self.desk.job is None else self.desk.job.method.metal
        dialog = MeasureDialog(self, self.desk.unit, metal)
        dialog.wanted.connect(self.desk.measure)
        dialog.open()

    def show_start(self) -> None:
        """The shelf."""
        self._show_shelf()
        self._middle.setCurrentIndex(0)
        self._right.setCurrentWidget(self.start_card)

    def _show_shelf(self) -> None:
        entries = [(path, name, self._about.get(path.stem, path.name)) for path, name in self.desk.memory.recent()]
        self.start.show_shelf(entries)

    def _opened(self) -> None:
        self.notice.hide()
        self.bench.clear()
        asks = self.desk.job is not None and self.desk.job.part.unit is None
        self._middle.setCurrentIndex(1)
        self.go("part" if asks else self.stop)

    def go(self, stop: str) -> None:
        """Visits a stop."""
        if self.desk.job is None:
            return
        if stop != "parting" and self._lift is not None:
            card = self.cards["parting"]
            if isinstance(card, PartingCard):
                card.lower()
        self.stop = stop
        self._middle.setCurrentIndex(1)
        self.route.show_stop(stop)
        self._right.setCurrentWidget(self.cards[stop])
        self._show_strip()
        self.desk.cut(replace(self.desk.cut_asked, pattern=stop == "pattern", stock=stop == "stock", cores=stop == "cores"))
        self.refresh()

    def refresh_soon(self) -> None:
        """One refresh for many changes."""
        self._repaint_later.start()

    def refresh(self) -> None:
        """Shows job and results as they are now."""
        self.actions_by_name["Undo"].setEnabled(bool(self.desk.history and self.desk.history.before))
        self.actions_by_name["Redo"].setEnabled(bool(self.desk.history and self.desk.history.undone))
        results = self.desk.results()
        if results is None or self.desk.job is None or self.bench.tilting:
            return
        self.setWindowTitle(f"{self.desk.job.name} - Pounce")
        self.ticket.refresh()
        self.cards[self.stop].refresh()
        unit = self.desk.unit
        self.bench.say(saying(self.stop, results, unit, self.desk.hands.busy))
        trial = self.stop == "parting" and self._lift is not None
        mould = self._mould[1] if trial and self._mould is not None and self._mould[0] == self._mould_key() else None
        if trial and mould is None and self._mould_asked != self._mould_key():
            self._mould_asked = self._mould_key()  # asked once: asking again would end the work under way
            self.desk.ask_mould(self.bench.toward())
        stock = self.cards["stock"]
        cores = self.cards["cores"]
        apart = (cores.core_number(), cores.apart) if isinstance(cores, CoresCard) else (0, 1.0)
        pattern = self.cards["pattern"]
        if self.stop == "pattern" and isinstance(pattern, PatternCard):
            apart = (0, pattern.apart)
        scene = scene_of(self.stop, results, self.desk.paths(), mould, isinstance(stock, StockCard) and stock.bare, apart)
        self.bench.labels.handle = None if trial else handle_of(self.stop, results)
        self.bench.can_tilt = self.stop == "draw" and results.draw is not None
        self.bench.set_unit(unit)
        if scene.part is not None:
            self.bench.show_scene(scene, points_of(scene, results), refit=True)
        flask = self.stop in ("draw", "parting") and results.draw is not None
        self.bench.mark(
            core_tags(results, scene, unit) if self.stop == "cores" else tags_of(self.stop, results, unit, apart[1]), chips_of(self.stop, results, unit, self._pointed), measures_of(self.stop, results, unit), flask,
            f"growth drawn × {GROWTH:g}" if self.stop == "metal" else "",
        )  # fmt: skip
        if trial and self._lift is not None:
            self._say_trial()
        self.lift_scale.setVisible(trial)
        if self.stop == "metal":
            self.sizes.show_sizes(results, unit)
        self._show_strip()

    def _show_strip(self) -> None:
        """Sizes at Metal, what is made at Pattern, else the sand section."""
        results = self.desk.results()
        made = results.pattern.making if results is not None and results.pattern is not None else None
        shown: QWidget = self.sizes if self.stop == "metal" else self.section
        if self.stop == "pattern" and made is not None and made.kind and self.desk.job is not None:
            shown = self.making
            self.making.show_making(made, self.desk.job.pattern, self.desk.unit, self.desk.sheets())
        self._strips.setCurrentWidget(shown)

    # --- turning the draw by hand ---------------------------------------------------------------------------------

    def _tilt_a_little(self, right: float, nearer: float) -> None:
        """Two degrees, from the card or the keyboard; the whole part is judged at once."""
        results = self.desk.results()
        if results is None or results.draw is None or self.stop != "draw":
            return
        step = float(np.tan(np.radians(TILT_DEG)))
        x, y, z = self.bench.leaned(results.draw.direction, right * step, nearer * step)
        self.desk.edit(edits.set_draw, (round(x, 9), round(y, 9), round(z, 9)))

    def _tilt_near(self, direction: tuple[float, float, float]) -> None:
        """The pointer came to the arrow: what tilting needs is made ready, once a draw."""
        key = "" if self.desk.job is None else keys(self.desk.job)["draw"]
        if key and key != self._tilt_ready and self.desk.results() is not None:
            self._tilt_ready = key
            self.desk.tilt(direction)

    def _tilted(self, found: dict[str, Any] | None) -> None:
        if found is None:
            return
        if not self.bench.tilting:
            self.bench.ready_live(Tinted(found["among"], found["states"], ready_only=True))
            return
        self._live_way = found["direction"]
        self.bench.show_live(Tinted(found["among"], found["states"]))
        self.bench.live_chips(live_chips(found, self.desk.unit))
        way_said = way(np.array(found["direction"]))
        self.bench.say(Saying(f"Draws {way_said} while you hold it.", "Let go, and the whole part is judged."))

    def _tilt_done(self, direction: tuple[float, float, float]) -> None:
        """Let go: the draw is what was shown last, snapped to an own axis where that was near."""
        near = self._live_way is not None and float(np.dot(self._live_way, direction)) > np.cos(np.radians(SNAP_DEG))
        taken = self._live_way if near and self._live_way is not None else direction
        self._live_way = None
        self.bench.show_live(None)
        if not self.desk.edit(edits.set_draw, taken):
            self.refresh()

    # --- the trial draw -------------------------------------------------------------------------------------------

    def _mould_key(self) -> str:
        return "" if self.desk.job is None else keys(self.desk.job)["parting"]

    @property
    def mould_shown(self) -> bool:
        """Whether the blocks of the trial are there for the job as it is."""
        return self._mould is not None and self._mould[0] == self._mould_key()

    def _mould_came(self, path: str) -> None:
        if path:
            self._mould = (self._mould_key(), path)
            self.refresh()

    def _play_trial(self) -> None:
        card = self.cards["parting"]
        if self.desk.job is not None and isinstance(card, PartingCard):
            self.go("parting")
            if card.lift_button.isEnabled():
                card.lift_slowly()
            else:
                self.notice.say("There is no trial draw: it needs a closed part and a pattern that is drawn from the sand.")

    def _height_by_hand(self, moved_mm: float) -> None:
        """The joint's handle on the bench was moved by this much along the draw."""
        results, card = self.desk.results(), self.cards["parting"]
        if results is None or results.parting is None or not isinstance(card, PartingCard):
            return
        card.move_joint(moved_mm)

    def _lift_by_hand(self, lift_mm: float) -> None:
        card = self.cards["parting"]
        if isinstance(card, PartingCard):
            card.set_lift(lift_mm)

    def _lifted(self, lifted: Lifted | None) -> None:
        """The trial at another height: bench, section and headline follow."""
        if lifted is None:
            self._mould_asked = ""
        began = (self._lift is None) != (lifted is None)
        self._lift = lifted
        self.section.show_lift(lifted or Lifted())
        self.bench.lift(lifted or Lifted())
        if began:
            self.refresh()
        elif lifted is not None:
            self._say_trial()

    def _say_trial(self) -> None:
        results, card = self.desk.results(), self.cards["parting"]
        if results is None or self._lift is None or not isinstance(card, PartingCard):
            return
        unit = self.desk.unit
        self.bench.say(trial_saying(results, self._lift, torn_by(results, self._lift), unit))
        self.bench.mark(trial_tags(results, self._lift, unit), trial_chips(results, self._lift, unit), (), True)
        self.lift_scale.show_lift(self._lift.lift_mm, card.most(), unit)

    def _measure(self) -> None:
        on = not self.bench.measuring
        self.bench.measure(on)
        self.desk.said.emit(
            "Measuring: click a point for its thickness, two for a distance, three for an angle. M ends it."
            if on
            else "Measured"
        )

    def light(self, region: int) -> None:
        """Lights a region on bench, section and card."""
        self.bench.light(region)
        self.section.light(region)
        card = self.cards[self.stop]
        card.findings.light(region)
        if isinstance(card, StockCard):
            card.light(region)
            results = self.desk.results()
            if results is not None and region != self._pointed:
                self._pointed = region
                self.bench.live_legend(chips_of("stock", results, self.desk.unit, region))

    def _clicked(self, spot: Spot) -> None:
        """A place on the part was clicked: Stock and Cores take it."""
        card = self.cards[self.stop]
        if isinstance(card, (StockCard, CoresCard)):
            card.point_at(spot)

    def _name_of(self, region: int) -> str:
        card = self.cards[self.stop]
        return card.name_of(region) if isinstance(card, (StockCard, CoresCard)) else ""

    def _show_place(self, finding: object) -> None:
        if not isinstance(finding, Finding):
            return
        results = self.desk.results()
        if finding.region is not None and results is not None and results.parting is not None:
            self.bench.look_at(results.parting.regions[finding.region].normal)
            self.light(finding.region)
        else:
            self.bench.home()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Remembers the window, keeps an unsaved job aside, ends the other processes."""
        values = self.desk.memory.values
        values.geometry = bytes(self.saveGeometry().toHex().data()).decode()
        self.desk.memory.save()
        self.desk.hands.cancel()
        self.desk.put_aside()
        self.desk.hands.finish(CLOSE_MS)
        self.desk.hands.shutdown()
        self._client.shutdown()
        super().closeEvent(event)
