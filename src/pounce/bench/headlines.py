"""What the bench says in words of any stop: headlines, route lines and states. Formatting only; what a stop says of
itself stands in its view.
"""

from pounce.bench.stops.view import Headline, StopView, shows, view_of
from pounce.job.job import Job
from pounce.route.proof import as_rammed
from pounce.route.results import Results
from pounce.route.stops import stop_of


def headline(stop: str, results: Results, unit: str, busy: bool = True, view: StopView | None = None) -> Headline:
    """The true sentence about this job that the stop, or another ``view`` of it, opens with; ``busy`` whether the rest
    is being worked out.
    """
    fault = results.faults.get(stop)
    if fault is not None:
        return Headline(fault.what, fault.try_this)
    said = (view or view_of(stop)).headline(results, unit)
    if said is None:
        earlier = next(iter(results.faults.values()), None)
        if earlier is not None:
            return Headline(earlier.what, earlier.try_this)
        if not busy:
            return Headline("Stopped before this was worked out.", "Press F5 to look at the part again.")
        return Headline("Looking at the part.", "The first figures come in a moment.")
    return said


def route_line(stop: str, results: Results | None, unit: str) -> str:
    """The one-line result of a stop on the route."""
    if results is None:
        return view_of(stop).first_line
    if stop in results.faults:
        return "Cannot be worked out"
    seen = as_rammed(results) if view_of(stop).judges and results.proof is not None else results
    return view_of(stop).line(seen, unit) or "Not reached"


def route_state(stop: str, results: Results | None, job: Job | None) -> tuple[str, int]:
    """Ring of a stop (open, half, filled) and how many findings are open."""
    if results is None or job is None:
        return "open", 0
    if stop in results.faults:
        return "half", 1
    if not shows(stop, results):
        return "open", 0
    count = _open_at(stop, results)
    if stop in job.accepted:
        return "filled", 0
    return ("half", count) if count else ("filled", 0)


def _open_at(stop: str, results: Results) -> int:
    """How many causes are told at a stop; findings while they are not grouped yet."""
    if results.causes is not None:
        return sum(cause.stop == stop for cause in results.causes.open)
    return sum(not finding.informational for finding in stop_of(stop).findings(results))
