"""Puts findings together into causes and ranks them."""

from collections.abc import Iterable
from dataclasses import dataclass, replace

from pounce.base.finding import Finding
from pounce.causes import words
from pounce.causes.claims import FOLLOWS_LOCKS, Claims
from pounce.causes.values import CausesResult, Claim, Rule
from pounce.cores.values import CoresResult
from pounce.parting.values import PartingResult
from pounce.proof.values import Judgement
from pounce.solid.mesh import Mesh

Said = tuple[str, Finding]
# Rules whose things hold sand, the heaviest of which what follows from locks folds into.
_LOCKS = (Rule.HOLES, Rule.HOLLOW, Rule.UNDERCUT)


@dataclass(frozen=True, eq=False)
class CauseInputs:
    """All that was said: ``said`` open findings and notes by stop, ``cured`` ones of the bare part.

    ``parting`` whose regions ``said`` counts, ``bare`` whose ``cured`` counts; ``mesh`` tagged with the hollows of
    ``cores``; ``about`` the part.
    """

    said: tuple[Said, ...]
    cured: tuple[Judgement, ...]
    parting: PartingResult | None
    bare: PartingResult | None
    mesh: Mesh | None
    cores: CoresResult | None
    about: words.About


def causes_of(told: CauseInputs) -> CausesResult:
    """Every open finding in exactly one cause, ranked; cured causes; what is good to know."""
    claims = Claims(told.parting, told.mesh, told.cores)
    open_said = [one for one in told.said if not one[1].informational]
    notes = tuple(one for one in told.said if one[1].informational and one[1].cured_by is None)
    groups = _grouped(claims, open_said)
    made = [words.cause_of(claim, members, told.about, claims) for claim, members in groups.items()]
    ranked = sorted(made, key=lambda one: (-one.harm, -one.share, one.rule))
    bare = Claims(told.bare, None, told.cores)
    cured = [
        words.cured_cause(claim, by, members, told.about, bare)
        for (claim, by), members in _cured_groups(bare, told.cured).items()
    ]
    return CausesResult(
        tuple(replace(one, rank=rank) for rank, one in enumerate(ranked, 1)),
        tuple(replace(one, rank=len(ranked) + rank) for rank, one in enumerate(cured, 1)),
        notes,
    )


def _grouped(claims: Claims, said: Iterable[Said]) -> dict[Claim, list[Said]]:
    groups: dict[Claim, list[Said]] = {}
    follows: list[Said] = []
    for one in said:
        finding = one[1]
        if finding.code in FOLLOWS_LOCKS and finding.region is None:
            follows.append(one)
            continue
        groups.setdefault(claims.of(finding), []).append(one)
    if follows:
        things = [claim for claim in groups if claim.rule in _LOCKS]
        heaviest = max(things, key=lambda claim: _weight(groups[claim]), default=Claim(Rule.JOINT))
        groups.setdefault(heaviest, []).extend(follows)
    return groups


def _weight(members: list[Said]) -> float:
    return sum(finding.figures.get("area_mm2", 0.0) for _, finding in members if finding.code == "locked")


def _cured_groups(claims: Claims, cured: tuple[Judgement, ...]) -> dict[tuple[Claim, str], list[Said]]:
    """Cured findings by their cause and by what cured them; what follows from locks with the first that held sand."""
    groups: dict[tuple[Claim, str], list[Said]] = {}
    follows: list[Judgement] = []
    for one in cured:
        if one.finding.code in FOLLOWS_LOCKS and one.finding.region is None:
            follows.append(one)
            continue
        by = "what was added" if one.by is None else one.by.name
        claim = claims.of(one.finding)
        groups.setdefault((claim, by), []).append((one.stop, one.finding))
    for one in follows:
        by = "what was added" if one.by is None else one.by.name
        key = next((key for key in groups if key[0].rule in _LOCKS), (Claim(Rule.JOINT), by))
        groups.setdefault(key, []).append((one.stop, one.finding))
    return groups
