"""Planning on the bench: asks the worker for plans, shows them as they come, and takes one as edits of the job."""

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QStackedWidget

from pounce.bench.document import Document
from pounce.bench.widgets.causes import MOST
from pounce.bench.widgets.planpage import PlanBench, PlanCard
from pounce.bench.workerclient import Request
from pounce.causes.values import Cause, Harm, Rule
from pounce.job.job import Job
from pounce.plan.edits import bare, edits_of
from pounce.plan.values import Plan


class Planning(QObject):
    """``opened`` when the plans are shown, ``closed`` with the stop to go to when they are not any more, ``told`` how
    the job stands to the plan that was taken.
    """

    opened = pyqtSignal()
    closed = pyqtSignal(str)
    told = pyqtSignal(str)

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self.bench, self.card = PlanBench(), PlanCard()
        self.plans: tuple[Plan, ...] = ()
        self._pictures: list[bytes] = []
        self._causes: tuple[Cause, ...] = ()
        self._for: Job | None = None
        self._chosen = 0
        self._left_out: frozenset[str] = frozenset()
        self._request: Request | None = None
        # the job before a plan was taken, after it, and how many lines it was
        self._taken: tuple[Job, Job, int] | None = None
        document.opened.connect(self._forget)
        document.job_changed.connect(lambda: self.told.emit(self.taken_words()))
        self.bench.looked.connect(self._look)
        self.bench.ticked.connect(self._tick)
        self.card.taken.connect(self.take)
        self.card.closed.connect(lambda: self.closed.emit("draw"))

    @property
    def shown(self) -> bool:
        """Whether the plans are on the bench."""
        return self.bench.isVisible()

    def lay_into(self, middle: QStackedWidget, right: QStackedWidget) -> None:
        """Puts bench and card where they are shown."""
        middle.addWidget(self.bench)
        right.addWidget(self.card)

    def leave(self) -> None:
        """The plans are left: what is still searched is cancelled, for the stops want the worker."""
        if self._request is not None:
            self._document.worker.cancel(self._request)

    def show(self, middle: QStackedWidget, right: QStackedWidget) -> None:
        """Shows the plans; asks for them where none are known of the job as it is."""
        job = self._document.job
        if job is None:
            return
        middle.setCurrentWidget(self.bench)
        right.setCurrentWidget(self.card)
        if self._for is None or bare(job) != self._for:
            self._ask(job)
        self.opened.emit()
        self._refresh()

    def _ask(self, job: Job) -> None:
        self.plans, self._chosen, self._left_out = (), 0, frozenset()
        self.bench.wait("Every way is worked, proved and costed; the first comes in a moment.")
        self._request = self._document.worker.replace(
            "plan",
            job,
            text="Planning",
            yields=True,
            on_result=self._found,
            on_answer=lambda _: self._done(),
            on_fault=self._failed,
            on_cancel=lambda: self._failed("Planning was stopped.", "Press Ctrl+L to plan again."),
        )
        self._for = bare(job)

    def _found(self, plans: tuple[Plan, ...], pictures: list[bytes], causes: tuple[Cause, ...]) -> None:
        self.plans, self._pictures, self._causes = plans, pictures, causes
        self._chosen, self._left_out = 0, frozenset()
        self._refresh()

    def _done(self) -> None:
        self._request = None
        self._refresh()

    def _failed(self, what: str, try_this: str) -> None:
        self._request, self._for = None, None
        self.bench.head.setText(what)
        self.bench.under.setText(try_this)

    def _look(self, nth: int) -> None:
        self._chosen, self._left_out = nth, frozenset()
        self._refresh()

    def _tick(self, line: str, on: bool) -> None:
        self._left_out = self._left_out - {line} if on else self._left_out | {line}
        self._card()

    def _refresh(self) -> None:
        if self.plans:
            self.bench.show_plans(
                self.plans, self._pictures, self._chosen, self._left_out, self._document.unit, self._request is not None
            )
        self._card()

    def _card(self) -> None:
        results = self._document.results()
        plan = self.plans[self._chosen] if self.plans else None
        volume = 0.0 if results is None or results.part is None else results.part.volume_mm3
        here = tuple(one for one in self._causes if one.harm >= Harm.SCARS or one.rule is Rule.HOLES)[:MOST]
        self.card.show_plan(plan, len(self.plans), here, self._left_out, volume, self._document.unit)

    def take(self) -> None:
        """Takes the chosen plan: one edit a line, each to be undone by itself, and from then on the user's own."""
        job = self._document.job
        if job is None or not self.plans:
            return
        plan = self.plans[self._chosen]
        lines = len(plan.lines) - len(self._left_out)
        self._document.take(edits_of(job, plan, self._left_out), f"Plan taken, {lines} lines")
        after = self._document.job
        self._taken = None if after is None else (job, after, lines)
        self.told.emit(self.taken_words())
        self.closed.emit("draw")

    def _forget(self) -> None:
        """Another job: no plan of it was taken here."""
        self._taken = None
        self.told.emit("")

    def taken_words(self) -> str:
        """How the job stands to the plan that was taken: taken, changed since, or nothing."""
        job = self._document.job
        if job is None or self._taken is None:
            return ""
        before, after, lines = self._taken
        now, then, was = (_planned(one) for one in (job, after, before))
        if now == then:
            return f"Taken, {lines} lines"
        return "" if now == was else "Taken, then changed"


def _planned(job: Job) -> tuple[object, ...]:
    """What of a job a plan decides."""
    return job.draw, job.parting, job.stock, job.cores
