"""The guided first pattern on the bench: one strip under the ticket asks, judges and leads on.

It works on an ordinary job by ordinary edits. It can be left at any time and taken up again where it was.
"""

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer

from pounce.base.errors import UserFault
from pounce.bench.view3d.asks import Spot
from pounce.bench.widgets.guidestrip import GuideStrip
from pounce.guide.steps import STEPS, Answer, By, Told, where_joint
from pounce.job.changes import take_remedy
from pounce.parting.values import State
from pounce.route.demo_jobs import part_file
from pounce.route.demos import DEMOS

if TYPE_CHECKING:
    from pounce.bench.window import Window

# So long nothing runs before a question is held not to come.
PATIENCE_MS = 3000
# Said where a step has nothing to ask of: a shell that is open, a stop that could not work.
STUCK = "This part cannot be asked about here: the card says why. Mend it where it is drawn, or go on."
# The demo's part that a first pattern is made of: flat on its back, with a bore, upright walls and raised letters.
FIRST = "vent-quadrant-arm.3mf"


class Guide(QObject):
    """Leads through :data:`STEPS`."""

    def __init__(self, window: "Window") -> None:
        super().__init__(window)
        self._window = window
        self._document = window.document
        self.strip = GuideStrip()
        self.strip.hide()
        self.at = -1
        self._was: Answer | None = None
        self._told: Told | None = None
        self._begin_with: int | None = None
        self.strip.taken.connect(lambda nth: self._judge(Answer(nth)))
        self.strip.next.connect(self._next)
        self.strip.done.connect(self._do)
        self.strip.left.connect(self.leave)
        self._document.opened.connect(self._opened)
        self._document.results_changed.connect(lambda _: self._refresh())
        self._document.judging.changed.connect(lambda _: self._refresh())
        self._document.built.connect(lambda *_: self._built())
        self._document.worker.trouble.connect(lambda _: self._not_begun())
        # the worker rests between two requests: only a rest that lasts says that a question never comes
        self._patience = QTimer(self)
        self._patience.setSingleShot(True)
        self._patience.setInterval(PATIENCE_MS)
        self._patience.timeout.connect(self._stuck)
        self._document.worker.idle.connect(self._patience.start)
        window.bench.clicked.connect(self._pointed)

    # --- beginning and ending ------------------------------------------------------------------------------------

    @property
    def under_way(self) -> bool:
        """Whether a step is asked."""
        return self.at >= 0

    @property
    def offered(self) -> bool:
        """Whether the first screen offers it: until it was gone through or left once."""
        return self._document.settings.values.guide in ("", "under-way")

    @property
    def waits(self) -> bool:
        """Whether it was begun and may be taken up again."""
        kept = self._document.settings.values
        return kept.guide in ("under-way", "left") and self._kept_file() is not None

    def _kept_file(self) -> Path | None:
        """The first that is there of the files it may be taken up from."""
        settings = self._document.settings
        return next((one for one in map(Path, settings.values.guide_files) if settings.is_there(one)), None)

    def on_the_demo(self) -> None:
        """Begins on the demo's part."""
        demo = next(one for one in DEMOS if one.part == FIRST)
        self._begin_with = 0
        self._window.open(part_file(demo))

    def on_own(self) -> None:
        """Begins on the job that is on the bench, or on a model that is asked for."""
        if self._document.job is not None and self._window.on_job:
            self._begin(0)
        else:
            # only where a file was chosen: whatever is opened later is no first pattern
            self._begin_with = 0 if self._window.filing.ask_open() else None

    def go_on(self) -> None:
        """Takes it up where it was left."""
        path = self._kept_file()
        if not self.waits or path is None:
            self.on_own()
            return
        self._begin_with = min(self._document.settings.values.guide_step, len(STEPS) - 1)
        self._window.open(path)

    def leave(self) -> None:
        """Leaves it where it is; the job stays on the bench."""
        if not self.under_way:
            return
        if self.at + 1 == len(STEPS) and self._told is not None:  # all was asked and answered
            self._built()
            return
        self._keep("left", self.at)
        self.at = -1
        self.strip.hide()
        self._document.said.emit("The first pattern waits: Ctrl+K, 'go on with the first pattern'")

    def _not_begun(self) -> None:
        """The file could not be opened: nothing begins with the next one."""
        self._begin_with = None

    def _opened(self) -> None:
        if self._begin_with is not None:
            at, self._begin_with = self._begin_with, None
            self._begin(at)
        elif self.under_way:  # another job has come on the bench
            self.leave()

    def _begin(self, at: int) -> None:
        self.at = at
        self._told = None
        self._keep("under-way", at)
        self.strip.show()
        self._enter()

    def _keep(self, state: str, at: int) -> None:
        kept = self._document.settings.values
        kept.guide, kept.guide_step = state, at
        job, document = self._document.job, self._document
        aside = document.settings.aside_file(job.part.model) if job is not None and job.part.model else None
        kept.guide_files = tuple(str(one) for one in (document.path or aside, document.aside.source) if one is not None)
        document.settings.save()

    # --- a step --------------------------------------------------------------------------------------------------

    def _enter(self) -> None:
        self._was, self._told = None, None
        self._window.go(STEPS[self.at].stop)
        self._refresh()

    def _refresh(self) -> None:
        """Asks as soon as what the step needs is there; what was told stays."""
        if not self.under_way or self._told is not None:
            return
        step = STEPS[self.at]
        results = self._document.judging.results() or self._document.results()
        if results is None or not step.ready(results):
            self.strip.wait(self.at, len(STEPS))
            self._patience.start()
            return
        if self._was is None and step.by is By.JOINT:
            self._was = where_joint(results)
        self.strip.ask(self.at, len(STEPS), step.ask(results, self._document.unit))

    def _stuck(self) -> None:
        """Nothing runs, and the step has still nothing to ask of: says so, and offers the next."""
        if self.under_way and self._told is None and not self.strip.answers and not self._document.worker.busy:
            self.strip.wait(self.at, len(STEPS), STUCK)

    def _pointed(self, spot: Spot) -> None:
        if self.under_way and self._told is None and STEPS[self.at].by is By.FACE and spot.state in list(State):
            self._judge(Answer(state=State(spot.state)))

    def _judge(self, answer: Answer) -> None:
        step, results = STEPS[self.at], self._document.judging.results() or self._document.results()
        if results is None or not step.ready(results):
            return
        if step.by is By.JOINT and self._was is not None:
            answer = self._was
        self._told = step.judge(results, answer, self._document.unit)
        last = self.at + 1 == len(STEPS)
        self.strip.tell(self._told, "Write the files" if last else self._told.do, last)
        if step.trial:
            self._window.cards[self._window.stop].play()

    def _do(self) -> None:
        """Does what was told: takes the cures, or writes the files."""
        if self.at + 1 == len(STEPS):
            self._window.filing.ask_build()
            return
        job = self._document.job
        if self._told is None or job is None:
            return
        edits = []
        try:
            for remedy in self._told.remedies:
                edits.append(take_remedy(job, remedy))
                job = edits[-1].job
        except UserFault as fault:
            self._document.fault.emit(str(fault))
            return
        self._document.take(tuple(edits), self._told.do)
        self._next()

    def _next(self) -> None:
        if self.at + 1 < len(STEPS):
            self.at += 1
            self._keep("under-way", self.at)
            self._enter()
        else:
            self._built()

    def _built(self) -> None:
        """The files are written: that was all of it."""
        if self.at + 1 == len(STEPS):
            self._keep("done", 0)
            self.at = -1
            self.strip.hide()
            self._document.said.emit("That was your first pattern. The job stays: it is an ordinary one.")
