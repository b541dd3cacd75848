"""The results of one job together, and the findings each stop shows. Imports nothing heavy: the bench uses it too."""

from dataclasses import dataclass, field
from typing import Any

from pounce.base.errors import UserFault
from pounce.base.finding import Finding
from pounce.cores.values import CoresResult
from pounce.draw.values import DrawResult
from pounce.job.job import Job
from pounce.metals.method import Method
from pounce.part.model import PartResult
from pounce.part.words import wall_findings
from pounce.parting.values import PartingResult
from pounce.pattern.values import PatternResult
from pounce.route.keys import STOPS
from pounce.stock.values import StockResult


@dataclass(frozen=True)
class Results:
    """What the stops found for one job; a stop that could not work has its fault instead of a result."""

    job: Job
    part: PartResult | None = None
    metal: Method | None = None
    draw: DrawResult | None = None
    parting: PartingResult | None = None
    stock: StockResult | None = None
    cores: CoresResult | None = None
    pattern: PatternResult | None = None
    faults: dict[str, UserFault] = field(default_factory=dict)

    def need(self, stop: str) -> Any:
        """The result of this stop; its fault is raised when it has none."""
        found = getattr(self, stop)
        if found is None:
            for name in STOPS:
                if name in self.faults:
                    raise self.faults[name]
            raise UserFault(f"The {stop} is not worked out yet.", "Wait a moment and try again.")
        return found


def findings_at(stop: str, results: Results) -> tuple[Finding, ...]:
    """The findings a stop shows."""
    if stop == "part" and results.part:
        walls = wall_findings(results.part, results.metal) if results.metal else []
        order = sorted([*results.part.findings, *walls], key=lambda finding: finding.settled)
        return tuple(order)
    if stop == "metal" and results.metal:
        return results.metal.findings
    if stop == "draw" and results.parting:
        return results.parting.draw_findings
    if stop == "parting" and results.parting:
        return results.parting.findings
    if stop == "stock" and results.stock:
        return results.stock.findings
    if stop == "cores" and results.cores:
        return results.cores.findings
    if stop == "pattern" and results.pattern:
        return results.pattern.findings
    return ()
