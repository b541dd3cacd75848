"""The trial draw on bench and section: the cope lifts, the pattern is drawn, and sand that tears stays behind."""

from PyQt6.QtCore import QObject, pyqtSignal

from pounce.bench.cards.card import Card
from pounce.bench.document import Document
from pounce.bench.section.sketch import Lifted
from pounce.bench.section.strip import SectionStrip
from pounce.bench.stops.trialwords import free_from, torn_by, trial_chips, trial_saying, trial_tags
from pounce.bench.widgets.benchview import BenchView
from pounce.bench.widgets.lift import LiftScale
from pounce.route.keys import keys
from pounce.route.stops import PARTING, RAMMED_PARTING


class TrialDraw(QObject):
    """``changed`` when it begins, ends, or its mould has come."""

    changed = pyqtSignal()

    def __init__(self, document: Document, bench: BenchView, section: SectionStrip, scale: LiftScale) -> None:
        super().__init__(bench)
        self.document, self.bench, self.section, self.scale = document, bench, section, scale
        self._lift: Lifted | None = None
        self._card: Card | None = None
        self._mould: tuple[str, str] | None = None
        self._asked = ""
        scale.moved.connect(self._by_hand)

    @property
    def under_way(self) -> bool:
        """Whether the cope is being lifted."""
        return self._lift is not None

    @property
    def mould_shown(self) -> bool:
        """Whether the blocks of the trial are there for the job as it is."""
        return self._mould is not None and self._mould[0] == self._key()

    def mould(self) -> str | None:
        """The packed blocks of a trial under way; asked for once while they are not there."""
        if not self.under_way:
            return None
        if self.mould_shown and self._mould is not None:
            return self._mould[1]
        if self._asked != self._key():
            self._asked = self._key()  # asking again would end the work under way
            self.document.worker.replace(
                "mould",
                self.document.job,
                self.bench.toward(),
                self.document.judging.as_wanted,
                text="Making the mould for the trial",
                on_answer=self._came,
            )
        return None

    def show(self, card: Card, lifted: Lifted | None) -> None:
        """The trial at another height: bench, section and headline follow."""
        if lifted is None:
            self._asked = ""
        began = (self._lift is None) != (lifted is None)
        self._lift, self._card = lifted, card
        self.section.show_lift(lifted or Lifted())
        self.bench.lift(lifted or Lifted())
        if began:
            self.changed.emit()
        elif lifted is not None:
            self.say()

    def say(self) -> None:
        """Headline, legend and labels of the trial, while it is under way."""
        results = self.document.judging.results()
        self.scale.setVisible(self.under_way)
        if results is None or self._lift is None or self._card is None:
            return
        unit = self.document.unit
        self.bench.say(trial_saying(results, self._lift, torn_by(results, self._lift), unit))
        self.bench.mark(trial_tags(results, self._lift, unit), trial_chips(results, self._lift, unit), (), True)
        self.scale.show_lift(self._lift.lift_mm, self._card.most(), unit, free_from(results))

    def _by_hand(self, lift_mm: float) -> None:
        if self._card is not None:
            self._card.set_lift(lift_mm)

    def _key(self) -> str:
        results = self.document.judging.results()
        if results is None:
            return ""
        return keys(results.job)[PARTING.id if results.wanted is None else RAMMED_PARTING.id]

    def _came(self, path: str | None) -> None:
        if path:
            self._mould = (self._key(), path)
            self.changed.emit()
