"""The door for a library's users: a part in, a job said in words, what the stops found, and files out.

part = pounce.read("bush.stl", unit="mm")
job = pounce.Job.on(part).cast("grey-iron").draw("+z").add("draft:2")
result = pounce.run(job)
result.parting.locked_mm2
result.write("out")
"""

from dataclasses import dataclass, replace
from pathlib import Path

from pounce.base.progress import Progress, silent
from pounce.cores.values import CoresResult
from pounce.draw.values import DrawResult
from pounce.job.job import Job as Choices
from pounce.metals.method import Method
from pounce.part.model import Model, PartResult
from pounce.part.reading import read_model
from pounce.parting.values import PartingResult
from pounce.pattern.values import PatternResult
from pounce.route.build import build
from pounce.route.check import check
from pounce.route.opening import chosen, new_job
from pounce.route.pipeline import Pipeline
from pounce.route.results import Plain, Results
from pounce.route.stops import CORES, DRAW, METAL, PART, PARTING, PATTERN, STOCK, stops
from pounce.stock.values import StockResult

Word = str | float | tuple[str, ...] | None


def read(path: str | Path, unit: str | None = None, progress: Progress = silent) -> "Part":
    """A part from a model file (STL, OBJ, PLY, OFF, 3MF, STEP); ``unit`` mm, cm, m or in where the file does not
    say. UserFault for what cannot be read.
    """
    return Part(read_model(Path(path), progress), unit)


@dataclass(frozen=True, eq=False)
class Part:
    """A model with the unit its figures stand in (None: as the file says, or guessed)."""

    model: Model
    unit: str | None = None


@dataclass(frozen=True, eq=False)
class Job:
    """All choices for one part. Every call gives a new job; each raises UserFault for a word that makes no sense."""

    part: Part
    choices: Choices

    @staticmethod
    def on(part: Part, name: str | None = None) -> "Job":
        """A new job on this part, by the tables."""
        made, _ = new_job(part.model)
        job = Job(part, made)
        if part.unit is not None:
            job = job.choose(unit=part.unit)
        return job if name is None else replace(job, choices=_named(job.choices, name))

    def choose(self, **words: Word) -> "Job":
        """Any choice of the command, by its option's name: ``choose(parting="flat:12", rammed="cope")``."""
        return replace(self, choices=chosen(self.choices, words))

    def cast(self, metal: str, mould: str | None = None) -> "Job":
        """The metal, and the mould it is poured in."""
        return self.choose(metal=metal, mould=mould)

    def made(self, pattern: str) -> "Job":
        """How the pattern is made."""
        return self.choose(pattern=pattern)

    def draw(self, way: str) -> "Job":
        """The draw: auto, an axis such as ``+z``, or ``X,Y,Z``."""
        return self.choose(draw=way)

    def part_at(self, joint: str) -> "Job":
        """The joint: auto, flat, ``flat:HEIGHT``, natural or stepped."""
        return self.choose(parting=joint)

    def add(self, *lines: str) -> "Job":
        """Additions such as ``draft:2`` or ``machine@0,0,30``."""
        return self.choose(add=lines)

    def core(self, *words: str) -> "Job":
        """Cores such as ``all`` or ``X,Y,Z:side=20``."""
        return self.choose(core=words)


def _named(choices: Choices, name: str) -> Choices:
    from pounce.job.edits import rename  # noqa: PLC0415  the one edit that is no option of the command

    return rename(choices, name).job


@dataclass(frozen=True, eq=False)
class Result:
    """What the stops found. Each raises the UserFault of the stop that could not work."""

    results: Results
    model: Model

    @property
    def part(self) -> PartResult:
        """The part, measured and mended."""
        return self.results.need(PART)

    @property
    def metal(self) -> Method:
        """Metal, mould and contraction."""
        return self.results.need(METAL)

    @property
    def draw(self) -> DrawResult:
        """The draw and its rivals."""
        return self.results.need(DRAW)

    @property
    def parting(self) -> PartingResult:
        """The joint and what every face does."""
        return self.results.need(PARTING)

    @property
    def stock(self) -> StockResult:
        """What is added, and the table of dimensions."""
        return self.results.need(STOCK)

    @property
    def cores(self) -> CoresResult:
        """Cores with their prints and boxes."""
        return self.results.need(CORES)

    @property
    def pattern(self) -> PatternResult:
        """The pieces, and how they are made."""
        return self.results.need(PATTERN)

    @property
    def findings(self) -> tuple[str, ...]:
        """Everything there is to say, in words, stop by stop."""
        return tuple(finding.words() for stop in stops() for finding in stop.findings(self.results))

    def check(self) -> Plain:
        """The check under its stable keys, as ``pounce check --json`` gives it."""
        return check(self.results, self.model)

    def write(self, folder: str | Path, progress: Progress = silent) -> Plain:
        """Every file of the build into this folder; returns the manifest."""
        return build(self.results, self.model, Path(folder), progress)


def run(job: Job, progress: Progress = silent) -> Result:
    """Every stop of the job. Cancelled passes through from ``progress``."""
    return Result(Pipeline().run(job.choices, job.part.model, progress), job.part.model)
