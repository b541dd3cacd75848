"""The results of one job together, and the findings each stop shows. Imports nothing heavy: the bench uses it too."""

from dataclasses import dataclass, field, replace
from typing import Any

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Severity
from pounce.cores.values import CoresResult, key_of
from pounce.draw.values import DrawResult
from pounce.job.job import Job
from pounce.metals import tables
from pounce.metals.margins import SandRound, sand_round
from pounce.metals.method import Method, cautions_of
from pounce.part.model import PartResult
from pounce.part.words import wall_findings, weight_findings
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


def _less_cored(findings: tuple[Finding, ...], results: Results) -> tuple[Finding, ...]:
    """The findings, those that a core settles put last and said so."""
    settles = frozenset() if results.cores is None else results.cores.settles
    if not settles or results.parting is None:
        return findings
    out: list[Finding] = []
    for finding in findings:
        if key_of(finding) not in settles:
            out.append(finding)
            continue
        region = None if finding.region is None else results.parting.regions[finding.region]
        noun = "this place" if region is None else f"the {region.name}"
        text = f"A core makes {noun}, so the sand need not." if finding.code != "no-joint-frees-all" else (
            "What no joint frees is made by cores.")  # fmt: skip
        noun = "cores" if region is None and finding.code == "no-joint-frees-all" else noun
        if all(text != one.text for one in out):  # cope and drag tear at one place: said once
            out.append(replace(finding, severity=Severity.NOTE, text=text, noun=noun, remedies=()))
    return tuple(sorted(out, key=lambda one: one.settled))


def findings_at(stop: str, results: Results) -> tuple[Finding, ...]:
    """The findings a stop shows."""
    if stop == "part" and results.part:
        walls = wall_findings(results.part, results.metal) if results.metal else []
        walls += weight_findings(results.part, results.job.part, results.metal) if results.metal else []
        order = sorted([*results.part.findings, *walls], key=lambda finding: finding.settled)
        return tuple(order)
    if stop == "metal" and results.metal:
        return results.metal.findings
    if stop == "draw" and results.parting:
        return _less_cored(results.parting.draw_findings, results)
    if stop == "parting" and results.parting:
        return _less_cored(results.parting.findings, results)
    if stop == "stock" and results.stock:
        return results.stock.findings
    if stop == "cores" and results.cores:
        return results.cores.findings
    if stop == "pattern" and results.pattern:
        return results.pattern.findings
    return ()


def cautions_at(results: Results) -> tuple[str, ...]:
    """Every caution of metal, mould, pattern and, where there is a core, its sand: molten metal and damp first."""
    if results.metal is None:
        return ()
    made = results.cores is not None and bool(results.cores.cores)
    sand = [tables.mix(results.job.cores.mix)] if made else []
    return cautions_of(results.metal.metal, results.metal.mould, results.metal.pattern, *sand)


def sand_of(results: Results) -> SandRound:
    """Sand wanted round the casting, by its metal and mass as it is poured. Raises the fault of a stop it cannot do without."""
    method, part = results.need("metal"), results.need("part")
    mass = method.mass_kg(part.volume_mm3) if results.stock is None else results.stock.cast.mass_kg
    return sand_round(method.metal_id, mass)
