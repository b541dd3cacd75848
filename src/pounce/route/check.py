"""What a check found, under the stable keys of ``pounce.check/1``: every stop says its part of it."""

from typing import Any

from pounce.base.finding import Severity
from pounce.part.model import Model
from pounce.route.results import Plain, Results, finding_keys
from pounce.route.stops import DRAW, METAL, PART, PARTING, steps, stops


def check(results: Results, model: Model) -> Plain:
    """The check as plain values. Raises the fault of a stop that it cannot do without."""
    for needed in (PART, METAL, DRAW, PARTING):
        results.need(needed)
    out: Plain = {"schema": "pounce.check/1"}
    for step in steps():
        out |= step.check(results, model)
    out["failed"] = failed_keys(results)
    out["findings"] = [finding_keys(finding) for stop in stops() for finding in stop.findings(results)]
    return out


def failed_keys(results: Results) -> list[Plain]:
    """Stops that could not work, each with its sentence and what to try; those that need them have no result either."""
    return [
        {"stop": stop.id, "title": stop.title.lower(), "what": fault.what, "try": fault.try_this}
        for stop in steps()
        if (fault := results.faults.get(stop.id)) is not None
    ]


def says_stop(content: dict[str, Any]) -> bool:
    """Whether a finding of this check or manifest says stop."""
    return any(finding["severity"] == Severity.STOP for finding in content["findings"])
