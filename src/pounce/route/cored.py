"""What a core makes needs no sand: findings of Draw and Parting that a core settles are put last and said so."""

from dataclasses import replace

from pounce.base.finding import Finding, Severity
from pounce.cores.values import key_of
from pounce.route.results import Results


def less_cored(findings: tuple[Finding, ...], results: Results) -> tuple[Finding, ...]:
    """The findings, those that a core settles put last and said so."""
    cores = results.cores
    if cores is None or results.parting is None or not (cores.cured or cores.cored_regions):
        return findings
    out: list[Finding] = []
    for finding in findings:
        held = finding.severity is not Severity.NOTE and finding.region in cores.cored_regions
        if not held and key_of(finding) not in cores.cured:
            out.append(finding)
            continue
        region = None if finding.region is None else results.parting.regions[finding.region]
        noun = "this place" if region is None else f"the {region.name}"
        text = (
            f"A core makes {noun}, so the sand need not."
            if finding.code != "no-joint-frees-all"
            else ("What no joint frees is made by cores.")
        )
        noun = "cores" if region is None and finding.code == "no-joint-frees-all" else noun
        if all(text != one.text for one in out):  # cope and drag tear at one place: said once
            out.append(replace(finding, severity=Severity.NOTE, text=text, noun=noun, remedies=()))
    return tuple(sorted(out, key=lambda one: one.informational))
