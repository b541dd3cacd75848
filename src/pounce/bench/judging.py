"""What is judged on the bench: the pattern once it is proved, or the bare part as it is wanted, and what causes."""

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QObject, pyqtSignal

from pounce.base.finding import Finding
from pounce.bench.asking import Sections
from pounce.causes.values import Cause
from pounce.parting.insection import CutAsked
from pounce.route.proof import STANDS_FOR, as_rammed, as_wanted
from pounce.route.results import Results
from pounce.route.stops import PROOF


class Judging(QObject):
    """Results with the pattern standing for the part. ``changed`` when the bare part is looked at, or no more."""

    changed = pyqtSignal(str)

    def __init__(
        self,
        results: Callable[[], Results | None],
        paths: Callable[[], dict[str, str]],
        sections: Sections,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self._results, self._paths, self._sections = results, paths, sections
        self.as_wanted = False
        self._cut: Callable[[CutAsked], CutAsked] | None = None

    def results(self) -> Results | None:
        """What is known, with the pattern in the place of the part where it is proved and the bare part is not asked
        for.
        """
        found = self._results()
        if found is None:
            return None
        if self.as_wanted:
            return as_wanted(found)
        return as_rammed(found) if found.proof is not None and found.proof.changed else found

    def seen(self, judges: bool) -> Results | None:
        """What a stop shows: one that ``judges`` shows the pattern."""
        return self.results() if judges else self._results()

    def paths(self, judges: bool) -> dict[str, str]:
        """Where the packed results lie, those of the pattern in the place of the part's where it stands for it."""
        paths, judged = self._paths(), self.seen(judges)
        if judged is None or judged.wanted is None:
            return paths
        return paths | {stop: paths[step] for stop, step in STANDS_FOR.items() if step in paths}

    def show_wanted(self, wanted: bool) -> None:
        """Looks at the bare part in the place of the pattern, or at the pattern again."""
        self.as_wanted = wanted
        self.changed.emit("")

    def causes(self, stop: str | None) -> tuple[tuple[Cause, ...], tuple[Cause, ...], tuple[Finding, ...]] | None:
        """Open causes, cured ones and notes that are told at a stop, None: at all of them. None while they are not
        worked out, and where the bare part is looked at.
        """
        results = self._results()
        found = None if results is None or self.as_wanted else results.causes
        if found is None:
            return None
        return (
            tuple(one for one in found.open if stop in (None, one.stop)),
            tuple(one for one in found.cured if stop in (None, one.stop)),
            tuple(finding for of, finding in found.notes if stop in (None, of)),
        )

    def cut(self, wanted: Callable[[CutAsked], CutAsked]) -> None:
        """Asks for the section that a stop shows, as ``wanted`` makes it of the one before."""
        self._cut = wanted
        asked = wanted(self._sections.asked)
        self._sections.cut(replace(asked, rammed=asked.rammed and not self.as_wanted))

    def came(self, step: str) -> None:
        """A result has come; with the proof the section shows the pattern."""
        if step in ("", PROOF.id) and self._cut is not None and self._cut(self._sections.asked).rammed:
            self.cut(self._cut)
