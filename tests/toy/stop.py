"""A toy stop after Pattern: the crate a casting is sent in. A room, a record; its view stands beside it."""

from dataclasses import dataclass

from pounce.base.choice import FigureChoice
from pounce.base.finding import Finding, Severity
from pounce.base.units import length
from pounce.job.choose import figure_of
from pounce.route.results import Given, Results, Stop
from pounce.route.stops import PART

ROOM = FigureChoice(
    key="room",
    title="Straw all round",
    help="Room for straw between casting and crate",
    unit="mm",
    low=5.0,
    high=100.0,
    usual=20.0,
    digits=0,
    source="core-practice",
)
HIGH = FigureChoice(
    key="high",
    title="Least height",
    help="Crates lower than this are not made",
    unit="mm",
    low=20.0,
    high=500.0,
    usual=50.0,
    digits=0,
    source="core-practice",
)


@dataclass(frozen=True)
class Crate:
    """Inside of the crate, mm."""

    size_mm: tuple[float, float, float]


def run(given: Given) -> Crate:
    """The part and some straw all round."""
    room = figure_of(given.job, "crate", ROOM)
    x, y, z = (float(side) + 2.0 * room for side in given.results.need(PART).mesh.size)
    return Crate((x, y, max(z, figure_of(given.job, "crate", HIGH))))


def findings(results: Results) -> tuple[Finding, ...]:
    """One word about it."""
    made = results.get(CRATE)
    if made is None:
        return ()
    return (
        Finding(
            "crate",
            Severity.NOTE,
            "It travels in a crate of {long_mm}.",
            noun="crate",
            figures={"long_mm": max(made.size_mm)},
        ),
    )


CRATE = Stop[Crate](
    "crate",
    "Crate",
    1,
    (PART,),
    (PART,),
    reads=lambda job: (job.more.get("crate", {}),),
    run=run,
    findings=findings,
    check=lambda results, _model: {"crate": {"size_mm": list(results.need(CRATE).size_mm)}},
    keys=lambda results: {"schema": "pounce.crate/1", "size_mm": list(results.need(CRATE).size_mm)},
    help="Say what crate it travels in.",
    sheet=lambda results, unit: (("Inside the crate", length(max(results.need(CRATE).size_mm), unit)),),
    view="tests.toy.view:VIEW",
    choices=(ROOM, HIGH),
)
