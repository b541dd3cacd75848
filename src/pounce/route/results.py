"""What a stop of the route is, and the results of one job together, keyed by stop. Imports nothing heavy: the bench
uses it too.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Generic, TypeVar, cast

from pounce.base.choice import Choice
from pounce.base.errors import UserFault
from pounce.base.finding import Finding, filled
from pounce.base.progress import Progress
from pounce.causes.values import CausesResult
from pounce.cores.values import CoresResult
from pounce.draw.values import DrawResult
from pounce.job.job import Job
from pounce.metals import tables
from pounce.metals.margins import SandRound, sand_round
from pounce.metals.method import Method, cautions_of
from pounce.part.model import Model, PartResult
from pounce.parting.values import PartingResult
from pounce.pattern.values import PatternResult
from pounce.proof.values import ProofResult
from pounce.stock.values import StockResult

R = TypeVar("R")
R_co = TypeVar("R_co", covariant=True)
# Plain values, as they go into JSON.
Plain = dict[str, object]


@dataclass(frozen=True, eq=False)
class PaperFile:
    """A page, outline or table that a build writes: its name, role, a word about it, and what draws it,
    ``module:function`` of (results, model, unit).
    """

    file: str
    role: str
    about: str
    drawn_by: str


@dataclass(frozen=True, eq=False)
class Given:
    """What a stop works from: the job, its model (None before there is one), what the stops before it found, and
    where to tell how far it is; ``light`` whether what a plan does not need may be left out; ``early`` takes a rougher
    result of the same kind to be looked at meanwhile (None: nobody looks).
    """

    job: Job
    model: Model | None
    results: "Results"
    progress: Progress
    light: bool = False
    early: Callable[[object], None] | None = None


@dataclass(frozen=True, eq=False)
class Stop(Generic[R_co]):
    """One stop of the route.

    ``title`` as it is called; ``version`` raised when its results change; ``needs`` the stops whose results it
    takes; ``keyed_by`` those of them whose keys its own hangs on, with what ``reads`` takes from the job; ``run``
    works it; ``findings`` what it has to say; ``check`` its keys in a check; ``keys`` all of it as plain values with
    their schema, None where it has no sub-command; ``help`` of that; ``papers`` the pages it has in a build;
    ``choices`` the table that its card's rows, its options and the job file's schema are made from; ``sheet`` its
    rows on the shop sheet, in the reader's unit; ``view`` the bench's part of it, ``module:name``; ``without_model``
    whether it works before there is a part; ``shown`` whether it is a stop of the route, with a card, or only a step
    between; ``hangs_on_all`` whether its key hangs on all steps before it; ``hears`` stops that it takes where they
    are there, and does without.
    """

    id: str
    title: str
    version: int
    needs: "tuple[Stop[object], ...]"
    keyed_by: "tuple[Stop[object], ...]"
    reads: Callable[[Job], tuple[object, ...]]
    run: Callable[[Given], R_co]
    findings: "Callable[[Results], tuple[Finding, ...]]" = lambda _results: ()
    check: "Callable[[Results, Model], Plain]" = lambda _results, _model: {}
    keys: "Callable[[Results], Plain] | None" = None
    help: str = ""
    command: str = ""
    papers: "Callable[[Results], tuple[PaperFile, ...]]" = lambda _results: ()
    choices: tuple[Choice, ...] = ()
    sheet: "Callable[[Results, str], tuple[tuple[str, str], ...]]" = lambda _results, _unit: ()
    view: str = ""
    without_model: bool = False
    shown: bool = True
    hangs_on_all: bool = False
    hears: "tuple[Stop[object], ...]" = ()


@dataclass(frozen=True)
class Results:
    """What the stops found for one job, by their ids; a stop that could not work has its fault instead of a result.

    ``wanted`` the same with the part as it is wanted, where the pattern stands for it.
    """

    job: Job
    found: Mapping[str, object] = field(default_factory=dict)
    faults: Mapping[str, UserFault] = field(default_factory=dict)
    wanted: "Results | None" = None

    def get(self, stop: Stop[R]) -> R | None:
        """The result of this stop; None while it has none."""
        # the one place where a stop's record says of what type its result is
        return cast("R | None", self.found.get(stop.id))

    def need(self, stop: Stop[R]) -> R:
        """The result of this stop; the first fault is raised when it has none."""
        found = self.get(stop)
        if found is None:
            for fault in self.faults.values():
                raise fault
            raise UserFault(f"The {stop.id} is not worked out yet.", "Wait a moment and try again.")
        return found

    @property
    def part(self) -> PartResult | None:
        """What Part found."""
        return cast("PartResult | None", self.found.get("part"))

    @property
    def metal(self) -> Method | None:
        """What Metal found."""
        return cast("Method | None", self.found.get("metal"))

    @property
    def draw(self) -> DrawResult | None:
        """What Draw found."""
        return cast("DrawResult | None", self.found.get("draw"))

    @property
    def parting(self) -> PartingResult | None:
        """What Parting found."""
        return cast("PartingResult | None", self.found.get("parting"))

    @property
    def stock(self) -> StockResult | None:
        """What Stock made."""
        return cast("StockResult | None", self.found.get("stock"))

    @property
    def cores(self) -> CoresResult | None:
        """What Cores made."""
        return cast("CoresResult | None", self.found.get("cores"))

    @property
    def pattern(self) -> PatternResult | None:
        """What Pattern made."""
        return cast("PatternResult | None", self.found.get("pattern"))

    @property
    def proof(self) -> ProofResult | None:
        """What is true of the pattern as it will be rammed."""
        return cast("ProofResult | None", self.found.get("proof"))

    @property
    def causes(self) -> CausesResult | None:
        """All findings by what causes them."""
        return cast("CausesResult | None", self.found.get("causes"))


def there(found: R | None) -> R:
    """A result that is there; UserFault where it is not."""
    if found is None:
        raise UserFault("That is not worked out yet.", "Wait a moment and try again.")
    return found


def stop_keys(stop: Stop[object], results: Results) -> Plain:
    """All that a stop found as plain values, its findings last. Raises the fault of a stop that it cannot do
    without.
    """
    results.need(stop)
    own = {"schema": f"pounce.{stop.command or stop.id}/1"} if stop.keys is None else stop.keys(results)
    return own | {"findings": [finding_keys(finding) for finding in stop.findings(results)]}


def finding_keys(finding: Finding) -> Plain:
    """A finding under its stable keys."""
    return {
        "code": finding.code,
        "severity": str(finding.severity),
        "text": finding.words(),
        "at_mm": None if finding.place_mm is None else list(finding.place_mm),
        "cured_by": finding.cured_by,
        "figures": {key: value for key, value in finding.figures.items() if key != "diameter_mm" or value},
        "remedies": [{"id": remedy.id, "text": filled(remedy.text, finding.figures)} for remedy in finding.remedies],
    }


def cautions_at(results: Results) -> tuple[str, ...]:
    """Every caution of metal, mould, pattern and, where there is a core, its sand: molten metal and damp first."""
    if results.metal is None:
        return ()
    made = results.cores is not None and bool(results.cores.cores)
    sand = [tables.mix(results.job.cores.mix)] if made else []
    return cautions_of(results.metal.metal, results.metal.mould, results.metal.pattern, *sand)


def sand_of(method: Method, results: Results) -> SandRound:
    """Sand wanted round the casting, by its metal and mass as it is poured; of the part itself where Stock could not
    work.
    """
    if results.stock is not None:
        return sand_round(method.metal_id, results.stock.cast.mass_kg)
    return sand_round(method.metal_id, 0.0 if results.part is None else method.mass_kg(results.part.volume_mm3))
