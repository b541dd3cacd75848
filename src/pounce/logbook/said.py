"""What the logbook says: estimates, causes, sizes, the result of its stop. Holds no computation, so that the window can
look at it.
"""

from dataclasses import dataclass
from enum import StrEnum

from pounce.base.finding import Finding
from pounce.logbook.values import Defect, Event, Line, Pour, Side, Way
from pounce.metals.learn import learn
from pounce.metals.tables import Figure


@dataclass(frozen=True)
class Estimate:
    """A figure with the interval that holds the truth so often as was asked."""

    value: float
    sd: float
    low: float
    high: float

    @property
    def give(self) -> float:
        """Half the interval: give or take."""
        return (self.high - self.low) / 2.0


@dataclass(frozen=True)
class PourSays:
    """What one pour says of its contraction, %; ``size_mm`` the longest of its sizes."""

    pour: str
    job: str
    size_mm: float
    percent: Estimate


@dataclass(frozen=True)
class Odd:
    """A measure that lies off what all others say: by how many standard deviations, and what is learned without it."""

    pour: str
    job: str
    casting: int
    name: str
    off: float
    without_percent: float


@dataclass(frozen=True)
class Contraction:
    """Contraction of a metal in a kind of mould on this bench, %, stated on the pattern as the table is: ``free`` to
    shrink and ``hindered``, of the ``next`` pour, what was added to sizes whatever their length (mm), what each pour
    says, what is odd; the table's typical and range.
    """

    metal: str
    mould: str
    free: Estimate
    hindered: Estimate
    next: Estimate
    rapping_mm: Estimate
    swell_mm: Estimate
    gap_mm: Estimate
    says: tuple[PourSays, ...]
    odd: tuple[Odd, ...]
    measures: int
    typical: float
    low: float
    high: float
    most: float

    @property
    def learned(self) -> bool:
        """Whether anything was measured."""
        return self.measures > 0

    @property
    def told(self) -> bool:
        """Whether it says more than the table does: half its width or less."""
        return self.learned and self.free.give < 0.5 * (self.high - self.low) / 2.0

    @property
    def apart(self) -> bool:
        """Whether this bench differs from the table's typical figure for sure."""
        return self.learned and not self.free.low <= self.typical <= self.free.high


@dataclass(frozen=True)
class Learned:
    """A figure of the bench beside the table's (None: no table knows it): its key, what it is in words, how many
    readings.
    """

    key: str
    name: str
    unit: str
    estimate: Estimate
    readings: int
    table: Figure | None
    digits: int = 1


@dataclass(frozen=True)
class Size:
    """A size to measure, mm: on the finished part, on the casting as it leaves the sand, on the pattern that is rammed;
    how it lies; ``tolerance_mm`` total by ISO 8062 (None: outside the table); ``machined`` whether a line of Stock
    lies on it.
    """

    name: str
    finished_mm: float
    wanted_mm: float
    pattern_mm: float
    way: Way
    side: Side
    hindered: bool = False
    tolerance_mm: float | None = None
    machined: bool = False

    @property
    def stock_mm(self) -> float:
        """What is machined off it, both sides together."""
        gone = self.wanted_mm - self.finished_mm
        return gone if self.side is Side.OUTSIDE else -gone


@dataclass(frozen=True)
class Word:
    """One line of evidence: its key in the table, whether it speaks for the cause, and what it says."""

    key: str
    pro: bool
    text: str


class Grade(StrEnum):
    """How much a cause is worth."""

    LIKELY = "likely"
    POSSIBLE = "possible"
    UNLIKELY = "unlikely"


class Verdict(StrEnum):
    """Whether the first cause stands out, shares its place with the next, or none stands out."""

    CLEAR = "clear"
    TIE = "tie"
    UNCLEAR = "unclear"


@dataclass(frozen=True)
class Suspect:
    """A cause: its share of all causes together, what speaks for and against it, the test that would tell, and what
    is done about it.
    """

    cause: str
    name: str
    says: str
    share: float
    words: tuple[Word, ...]
    test: str
    advice: str

    @property
    def grade(self) -> Grade:
        """In one word."""
        c = learn().common
        if self.share >= c.likely.value:
            return Grade.LIKELY
        return Grade.UNLIKELY if self.share < c.unlikely.value else Grade.POSSIBLE

    @property
    def boxes(self) -> int:
        """Of five, how many are filled."""
        return max(1, round(5.0 * self.share))

    @property
    def word(self) -> str:
        """What speaks loudest: for it where it is likely, else against it; empty: nothing does."""
        likely = self.grade is not Grade.UNLIKELY
        first = [one for one in self.words if one.pro is likely]
        if first:
            return first[0].text
        against = self.words[0].text if self.words else ""
        return f"But: {against[0].lower()}{against[1:]}" if against and likely else against


@dataclass(frozen=True)
class Diagnosis:
    """The causes, the likeliest first; whether one stands out; in one sentence; and the test that would tell the first
    two apart.
    """

    suspects: tuple[Suspect, ...]
    verdict: Verdict
    said: str
    test: str


@dataclass(frozen=True)
class Row:
    """One size, mm: on the finished part, expected and measured on the casting, how far off; half the tolerance of the
    grade (None: outside its table); ``left_mm`` stock left to machine (None: it is not machined).
    """

    name: str
    finished_mm: float
    expected_mm: float
    measured_mm: float
    half_mm: float | None
    left_mm: float | None
    resolution_mm: float

    @property
    def off_mm(self) -> float:
        """Measured less expected."""
        return self.measured_mm - self.expected_mm

    @property
    def within(self) -> bool | None:
        """Whether it lies within the grade; None outside the table."""
        return None if self.half_mm is None else abs(self.off_mm) <= self.half_mm + 1e-9

    @property
    def cleans_up(self) -> bool:
        """Whether there is metal left to cut, where it is machined."""
        return self.left_mm is None or self.left_mm > 0.0


@dataclass(frozen=True)
class Seen:
    """A defect of a casting of this job with its causes: in which pour, casting and place of its list."""

    pour: str
    casting: int
    number: int
    defect: Defect
    diagnosis: Diagnosis


@dataclass(frozen=True)
class Differs:
    """What was chosen otherwise than for the last pour: its name, what it was and what it is."""

    name: str
    was: str
    now: str


@dataclass(frozen=True)
class Bar:
    """A row of a chart: its name, value and the value in words; an interval, and a range it is held beside (None:
    none).
    """

    name: str
    value: float
    said: str
    low: float | None = None
    high: float | None = None
    first: float | None = None
    last: float | None = None


@dataclass(frozen=True)
class Season:
    """Charts of many pours: contraction by metal (%), yield (%), castings by what was wrong, minutes a piece."""

    metals: tuple[Bar, ...] = ()
    yields: tuple[Bar, ...] = ()
    wrongs: tuple[Bar, ...] = ()
    times: tuple[Bar, ...] = ()


@dataclass(frozen=True, eq=False)
class LogResult:
    """The logbook as this job sees it.

    ``contraction`` of its metal and mould, ``made_percent`` what its pattern is made for, both stated on the pattern;
    ``figures`` of the bench; ``sizes`` to measure, ``troubles`` of those that cannot be; ``pours`` of this job, the
    newest first, ``lines`` of its metal and ``others`` of any; ``seen`` defects of its last pour with their causes,
    ``rows`` the dimension report of the last pour by casting, ``grade`` of its tolerance; ``differs`` what was chosen
    otherwise since; ``events`` of its pattern; ``season`` charts of all pours; ``revision`` of its choices;
    ``planned_c`` as its card has it; ``said`` what happened to the book.
    """

    contraction: Contraction
    made_percent: float
    figures: tuple[Learned, ...]
    sizes: tuple[Size, ...]
    troubles: tuple[str, ...]
    pours: tuple[Pour, ...]
    lines: tuple[Line, ...]
    seen: tuple[Seen, ...]
    rows: tuple[tuple[int, tuple[Row, ...]], ...]
    grade: str
    differs: tuple[Differs, ...]
    events: tuple[Event, ...]
    season: Season
    revision: str
    planned_c: float | None
    said: str
    findings: tuple[Finding, ...]

    @property
    def last(self) -> Pour | None:
        """The last pour of this job."""
        return self.pours[0] if self.pours else None

    @property
    def pulls(self) -> int:
        """How many moulds were made of its pattern."""
        return sum(one.count for one in self.events if one.kind == "pulled")
