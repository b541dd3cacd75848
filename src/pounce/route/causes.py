"""The causes on the route: all findings of all stops, with what is known to group them, and their keys."""

from pounce.base.finding import Finding
from pounce.causes.values import Cause, CausesResult
from pounce.route.proof import as_rammed
from pounce.route.results import Plain, Results
from pounce.stock.values import Draft, Fill, Fillets


def causes_of_job(results: Results, said: tuple[tuple[str, Finding], ...], order: tuple[str, ...]) -> CausesResult:
    """The causes of a job; ``said`` the findings of all its stops by their ids, which stand in ``order``."""
    from pounce.causes.group import CauseInputs, causes_of  # noqa: PLC0415  a room is loaded when it works
    from pounce.causes.words import About  # noqa: PLC0415

    rammed, proof, part, cores = as_rammed(results), results.proof, results.part, results.cores
    judged = rammed.parting
    lines = [line for line in results.job.stock.lines if line.on]
    mesh = None if cores is None else cores.mesh
    body = None if rammed.part is None else rammed.part.mesh
    if mesh is None or body is None or len(mesh.faces) != len(body.faces):
        mesh = None  # places are counted on another body than hollows
    told = CauseInputs(
        said=said,
        cured=() if proof is None else proof.cured,
        parting=judged,
        bare=results.parting,
        mesh=mesh,
        cores=cores,
        about=About(
            volume_mm3=1.0 if part is None else max(part.volume_mm3, 1e-9),
            area_mm2=1.0 if part is None else max(part.area_mm2, 1e-9),
            draft_deg=0.0 if results.metal is None else results.metal.required_draft_deg,
            has_draft=any(isinstance(line, Draft) for line in lines),
            has_fill=any(isinstance(line, Fill) and line.at_mm is None for line in lines),
            has_fillets=any(isinstance(line, Fillets) for line in lines),
            order=order,
        ),
    )
    return causes_of(told)


def causes_keys(results: Results) -> list[Plain]:
    """Causes under their stable keys, open ones first."""
    found = results.causes
    return [] if found is None else [_keys(one) for one in (*found.open, *found.cured)]


def _keys(one: Cause) -> Plain:
    return {
        "rank": one.rank,
        "harm": one.harm.id,
        "stop": one.stop,
        "text": one.words(),
        "noun": one.noun_words(),
        "at_mm": None if one.place_mm is None else list(one.place_mm),
        "figure": one.main_words(),
        "count": one.count,
        "codes": [finding.code for _, finding in one.members],
        "cured_by": one.cured_by,
        "remedies": [{"id": remedy.id, "text": one.remedy_words(remedy)} for remedy in one.remedies],
    }
