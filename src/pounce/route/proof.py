"""The proof on the route: what was said of the part held against what is true of the pattern, and its keys."""

from dataclasses import replace

from pounce.base.finding import Finding
from pounce.base.progress import Progress
from pounce.cores.values import CoresResult
from pounce.metals.method import Method
from pounce.part.model import PartResult
from pounce.parting.values import PartingResult
from pounce.proof.values import Judgement, ProofResult, Verdict
from pounce.route.places import place_findings
from pounce.route.results import Plain, Results, finding_keys
from pounce.stock.values import StockResult

# The steps whose results stand for those of the part once the pattern is judged.
STANDS_FOR = {"part": "rammed", "draw": "rammed-draw", "parting": "rammed-parting"}


def as_rammed(results: Results) -> Results:
    """The same job with pattern, its draw and its joint in the place of the part's, as far as they are there."""
    found = dict(results.found)
    if all(step in found for step in STANDS_FOR.values()):
        found.update({stop: found[step] for stop, step in STANDS_FOR.items()})
    return Results(results.job, found, results.faults, wanted=results)


def as_wanted(results: Results) -> Results:
    """The same job with the bare part, as if nothing had been proved yet."""
    found = {step: one for step, one in results.found.items() if step not in ("proof", "causes")}
    return Results(results.job, found, results.faults)


def said_of(results: Results, wishes: bool) -> tuple[tuple[str, Finding], ...]:
    """All that Draw and Parting say of the part, or of what stands for it."""
    parting = () if results.parting is None else results.parting.findings
    places = place_findings(results) if wishes else place_findings(results, ())
    return (*(("draw", one) for one in places), *(("parting", one) for one in parting))


def proof_of(
    results: Results,
    part: PartResult,
    parting: PartingResult,
    rammed: PartResult,
    again: PartingResult,
    method: Method,
    stock: StockResult,
    cores: CoresResult,
    progress: Progress,
) -> ProofResult:
    """The proof of a job whose other steps are there."""
    from pounce.proof.stop import ProofInputs, proof_stop  # noqa: PLC0415  a room is loaded when it works

    said = said_of(results, wishes=False)
    left = said_of(as_rammed(results), wishes=False)
    return proof_stop(ProofInputs(part, parting, rammed, again, method, stock, cores, said, left), progress)


def proved(stop: str, results: Results, otherwise: tuple[Finding, ...]) -> tuple[Finding, ...]:
    """What the proof has for this stop once the pattern is another body than the part; else what was said."""
    proof = results.proof
    if proof is None or not proof.changed:
        return otherwise
    # what was asked at a place can be taken back where it is said to be cured
    asked = {
        one.region: one.remedies for one in place_findings(results.wanted or results) if one.code.startswith("wish-")
    }
    cured = [
        replace(one.as_cured, remedies=asked.get(one.finding.region, ())) for one in proof.cured if one.stop == stop
    ]
    return tuple(sorted([*proof.findings(stop), *cured], key=lambda one: one.informational))


# What Stock guesses of walls, from the part and its own moves, before the pattern is judged.
GUESSED_OF_WALLS = ("draft-wanted", "walls-still-tight")


def guesses_dropped(results: Results, said: tuple[Finding, ...]) -> tuple[Finding, ...]:
    """What Stock says, but for what it guessed of upright walls where the proof has found none that drags."""
    proof = results.proof
    if proof is None or any(one.finding.code == "tight" for one in (*proof.open, *proof.new)):
        return said
    return tuple(one for one in said if one.code not in GUESSED_OF_WALLS)


def proof_keys(results: Results) -> Plain | None:
    """The proof under its stable keys; None while it is not there."""
    return None if results.proof is None else keys_of_proof(results.proof)


def keys_of_proof(proof: ProofResult) -> Plain:
    """A proof under its stable keys."""
    return {
        "verdict": str(proof.verdict),
        "clean_mm2": proof.clean_mm2,
        "tight_mm2": proof.tight_mm2,
        "locked_mm2": proof.locked_mm2,
        "held_mm2": proof.held_mm2,
        "torn_mm3": proof.torn_mm3,
        "askew_deg": proof.askew_deg,
        "closed": proof.closed,
        "changed": proof.changed,
        "cured": [_judged(one) for one in proof.cured],
        "open": [_judged(one) for one in proof.open],
        "new": [_judged(one) for one in proof.new],
    }


def _judged(one: Judgement) -> Plain:
    keys = finding_keys(one.finding)
    figures = keys["figures"] if one.was is None else finding_keys(one.was)["figures"]
    return {
        "code": keys["code"],
        "stop": one.stop,
        "text": keys["text"],
        "at_mm": keys["at_mm"],
        "by": None if one.by is None else one.by.name,
        "figures": keys["figures"],
        "was": None if one.was is None else figures,
    }


def verdict_words(results: Results) -> str:
    """What is proved of the pattern, in a sentence; nothing where nothing is."""
    if results.proof is None or results.proof.verdict is Verdict.NONE:
        return ""
    return {
        Verdict.CLEAN: "Proved: the pattern leaves the sand clean.",
        Verdict.DRAGS: "Proved: the pattern leaves the sand, and drags where it is tight.",
        Verdict.LOCKS: "The pattern still locks: see below before you ram it.",
    }[results.proof.verdict]
