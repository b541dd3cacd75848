"""The Logbook stop: what was poured of a job, what that taught, and what to do about what went wrong."""

from collections.abc import Mapping
from dataclasses import dataclass

from pounce.base.errors import UserFault
from pounce.base.finding import Change
from pounce.base.progress import Progress
from pounce.logbook.compare import differs_of
from pounce.logbook.diagnose import diagnosed
from pounce.logbook.evidence import Case
from pounce.logbook.facts import Facts
from pounce.logbook.findings import Known, found
from pounce.logbook.keeping import book_file
from pounce.logbook.learn import contraction_of, figures_of
from pounce.logbook.report import report
from pounce.logbook.said import LogResult, Seen, Size
from pounce.logbook.season import season_of
from pounce.logbook.sizes import On, taken, usual_sizes
from pounce.logbook.values import Event, Line, LogChoices, Pour
from pounce.metals.grades import tolerance_grade
from pounce.metals.method import Method

# Pours of a list that the bench shows.
MOST_LINES = 400
# Pours that charts are drawn of.
MOST_DRAWN = 200


@dataclass(frozen=True, eq=False)
class Given:
    """What the stop works from: the job's name, method and chosen tolerance, where its sizes are taken (None: Stock
    could not work), the facts that speak of defects, what was chosen by name, its revision; ``used``, ``charge``,
    ``stocks``, ``lift_c`` and ``ways`` as the findings take them.
    """

    name: str
    method: Method
    tolerance: str | None
    on: On | None
    facts: Facts
    chosen: Mapping[str, str]
    revision: str
    used: Mapping[str, float]
    charge: str
    stocks: tuple[tuple[int, float], ...]
    lift_c: float | None
    ways: Mapping[str, tuple[Change, str]]


def log_stop(choices: LogChoices, given: Given, progress: Progress) -> LogResult:
    """What the logbook says to this job. UserFault for a logbook that cannot be read."""
    progress(0.0, "Reading the logbook")
    method = given.method
    read = _read(choices, given)
    progress(0.4, "Learning from what was measured")
    learned = contraction_of(read.of_metal, method.metal_id, method.mould_id)
    figures = figures_of(read.of_metal, method.metal_id)
    sizes, troubles = _sizes(choices, given)
    last = read.mine[0] if read.mine else None
    progress(0.8, "Looking for causes")
    seen = () if last is None else seen_of(last, given.facts)
    grade = tolerance_grade(given.tolerance, method.mould)
    rows = () if last is None else tuple((one.number, report(one, grade)) for one in last.castings if one.measures)
    differs = () if last is None else differs_of(last.chosen, given.chosen)
    made_percent = 100.0 * (1.0 - 1.0 / method.casting_factor)
    known = Known(
        learned,
        made_percent,
        figures,
        last,
        seen,
        rows,
        grade,
        differs,
        troubles,
        given.used,
        given.charge,
        given.stocks,
        given.lift_c,
        given.ways,
        read.said,
    )
    progress(1.0, "")
    return LogResult(
        learned,
        made_percent,
        figures,
        sizes,
        troubles,
        read.mine,
        read.lines,
        seen,
        rows,
        grade,
        differs,
        read.events,
        season_of(read.newest),
        given.revision,
        given.facts.aim_c,
        read.said,
        found(known),
    )


@dataclass(frozen=True, eq=False)
class _Read:
    """What of the book the stop looks at."""

    said: str = ""
    of_metal: tuple[Pour, ...] = ()
    mine: tuple[Pour, ...] = ()
    lines: tuple[Line, ...] = ()
    events: tuple[Event, ...] = ()
    newest: tuple[Pour, ...] = ()


def _read(choices: LogChoices, given: Given) -> _Read:
    """Nothing where there is no book yet: reading makes none, or the key of what was read would be another."""
    if not book_file().exists():
        return _Read()
    from pounce.logbook.book import Book  # noqa: PLC0415  the database's library takes its time to load

    with Book() as book:
        return _Read(
            book.said,
            book.pours(metal=given.method.metal_id),
            book.pours(job_id=choices.id) if choices.id else (),
            book.lines(most=MOST_LINES),
            book.events(given.name),
            book.pours(most=MOST_DRAWN),
        )


def seen_of(pour: Pour, facts: Facts) -> tuple[Seen, ...]:
    """The defects of a pour with their causes."""
    return tuple(
        Seen(pour.id, casting.number, k, defect, diagnosed(Case(defect, pour, facts)))
        for casting in pour.castings
        for k, defect in enumerate(casting.defects)
    )


def _sizes(choices: LogChoices, given: Given) -> tuple[tuple[Size, ...], tuple[str, ...]]:
    """The usual sizes and those taken on the model; those that cannot be, in words."""
    if given.on is None:
        return (), ()
    out, troubles = list(usual_sizes(given.on)), []
    for pair in choices.pairs:
        try:
            out.append(taken(pair, given.on))
        except UserFault as fault:
            troubles.append(str(fault))
    return tuple(out), tuple(troubles)
