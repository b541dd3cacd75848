"""Proof: every finding of the part is cured, still open, or there is a new one that what was added made."""

from dataclasses import dataclass, replace

import numpy as np

from pounce.base.finding import Finding
from pounce.base.progress import Progress
from pounce.cores.values import CoresResult
from pounce.metals.method import Method
from pounce.part.model import PartResult
from pounce.parting.values import FREE, PartingResult, State, held_mm2
from pounce.proof.carried import Carried, Pieces, Witnesses, carried_to, inside, witnesses
from pounce.proof.doers import Doers
from pounce.proof.values import By, Doer, Judgement, ProofResult, Verdict
from pounce.solid.mesh import Bools
from pounce.solid.sets import distinct
from pounce.solid.tree import tree_of
from pounce.stock.values import StockResult

# A place is cured when under this share of its witnesses is left, and under what a mesh can tell of the surface.
LEFT = 0.03
# A finding of the pattern belongs to one of the part when they lie within this share of the diagonal.
NEAR = 0.12
# Sand is as slender as that of another place within this share of its figure.
ALIKE = 0.15

Said = tuple[str, Finding]


@dataclass(frozen=True, eq=False)
class ProofInputs:
    """What the proof works from: the part with its joint, the pattern with its own (``rammed``, ``again``), what was
    made of the one to come to the other, and what was said of each, by stop.
    """

    part: PartResult
    parting: PartingResult
    rammed: PartResult
    again: PartingResult
    method: Method
    stock: StockResult
    cores: CoresResult
    said: tuple[Said, ...]
    left: tuple[Said, ...]

    @property
    def changed(self) -> bool:
        """Whether the pattern is another body than the part, or draws otherwise."""
        return is_changed(self.stock, self.cores)


def is_changed(stock: StockResult, cores: CoresResult) -> bool:
    """Whether anything was added to the part."""
    return len(stock.bodies) > 1 or bool(cores.cores)


@dataclass(frozen=True)
class Fate:
    """What became of a place: whether it is cured, by what, and which places of the pattern it is now."""

    cured: bool
    by: Doer | None
    regions: frozenset[int]


def proof_stop(seen: ProofInputs, progress: Progress) -> ProofResult:
    """What is true of the pattern as it will be rammed."""
    again = seen.again
    if not seen.method.pattern.draws or not seen.part.closed:
        return _result(seen, Verdict.NONE, (), _open(seen.said), (), _notes(seen.said))
    if not seen.changed:
        return _result(seen, _verdict(again, seen.said), (), _open(seen.said), (), _notes(seen.said))
    progress(0.1, "Following every place to the pattern")
    work = _Work(seen)
    cured: list[Judgement] = []
    was: dict[int, Finding] = {}
    decided = [(stop, finding) for stop, finding in seen.said if not finding.informational]
    for nth, (stop, finding) in enumerate(decided):
        progress(0.1 + 0.8 * nth / len(decided), "Following every place to the pattern")
        fate, mine = work.of(finding)
        if fate.cured:
            cured.append(Judgement(stop, finding, by=fate.by))
        for number in mine:
            was.setdefault(number, finding)
    stays: list[Judgement] = []
    new: list[Judgement] = []
    for number, (stop, finding) in enumerate(seen.left):
        if finding.informational:
            continue
        before = was.get(number) or _alike(finding, seen.said)
        if before is not None:
            stays.append(Judgement(stop, _with_cures_of(before, finding), was=before))
        else:
            new.append(Judgement(stop, finding, by=work.made_by(finding)))
    progress(1.0, "Pattern proved")
    return _result(seen, _verdict(again, seen.left), tuple(cured), tuple(stays), tuple(new), _notes(seen.left))


def _with_cures_of(before: Finding, now: Finding) -> Finding:
    """A finding that stays, with the cures that were tried for its place on the part first. What is said of sand near
    by has its own: a core for a wide pocket is none for the nook beside it.
    """
    if before.code != now.code or now.region is None:
        return now
    names = {remedy.id for remedy in before.remedies}
    return replace(now, remedies=(*before.remedies, *(one for one in now.remedies if one.id not in names)))


def _alike(finding: Finding, said: tuple[Said, ...]) -> Finding | None:
    """A finding of the part about sand that is as slender or thin elsewhere: of many that are alike only some are
    said.
    """
    if finding.region is not None or finding.main is None:
        return None
    size = finding.figures[finding.main]
    for _, one in said:
        like = one.code == finding.code and not one.informational and one.main == finding.main
        if like and abs(one.figures[finding.main] - size) <= ALIKE * size:
            return one
    return None


def _open(said: tuple[Said, ...]) -> tuple[Judgement, ...]:
    return tuple(Judgement(stop, finding, was=finding) for stop, finding in said if not finding.informational)


def _notes(said: tuple[Said, ...]) -> tuple[Judgement, ...]:
    return tuple(Judgement(stop, finding) for stop, finding in said if finding.informational)


def _verdict(again: PartingResult, left: tuple[Said, ...]) -> Verdict:
    codes = {finding.code for _, finding in left if not finding.informational}
    if codes & {"locked", "sand-tears"} or held_mm2(again) > 0.0:
        return Verdict.LOCKS
    return Verdict.DRAGS if "tight" in codes else Verdict.CLEAN


def _result(
    seen: ProofInputs,
    verdict: Verdict,
    cured: tuple[Judgement, ...],
    stays: tuple[Judgement, ...],
    new: tuple[Judgement, ...],
    notes: tuple[Judgement, ...],
) -> ProofResult:
    again = seen.again
    return ProofResult(
        verdict=verdict,
        changed=seen.changed,
        clean_mm2=again.clean_mm2,
        tight_mm2=again.tight_mm2,
        locked_mm2=again.locked_mm2,
        held_mm2=held_mm2(again),
        torn_mm3=again.trial.torn_mm3,
        askew_deg=min((tilted.allowed_deg for tilted in again.trial.tilted), default=90.0),
        closed=seen.rammed.closed,
        cured=cured,
        open=stays,
        new=new,
        notes=notes,
    )


class _Work:
    """What is worked out once for all findings."""

    def __init__(self, seen: ProofInputs) -> None:
        self.seen = seen
        self.body = seen.rammed.mesh
        self.pieces = Pieces.of(seen.again.judged, len(self.body.faces))
        self.doers = Doers(seen.stock, seen.cores, seen.parting)
        self.near_mm = NEAR * seen.part.mesh.diagonal
        self.fates: dict[int, Fate] = {}
        self.by_region: dict[int, list[int]] = {}
        for number, (_, finding) in enumerate(seen.left):
            if finding.region is not None and not finding.informational:
                self.by_region.setdefault(finding.region, []).append(number)

    def of(self, finding: Finding) -> tuple[Fate, list[int]]:
        """What became of a finding, and which findings of the pattern say it now."""
        if finding.region is not None:
            fate = self._fate(finding.region)
            mine = [n for region in sorted(fate.regions) for n in self.by_region.get(region, [])]
            return fate, [] if fate.cured else mine
        return self._elsewhere(finding)

    def _fate(self, number: int) -> Fate:
        if number not in self.fates:
            self.fates[number] = self._followed(number)
        return self.fates[number]

    def _followed(self, number: int) -> Fate:
        parting, again = self.seen.parting, self.seen.again
        region = parting.regions[number]
        own = np.flatnonzero((parting.judged.region == number) & (parting.judged.state == region.state))
        if not len(own):  # a loose piece has freed it
            return Fate(True, Doer(By.LOOSE, 0, "a loose piece"), frozenset())
        seen = witnesses(self.seen.part.mesh, parting.judged, own)
        there = carried_to(self.body, seen)
        piece = self.pieces.at(there.face, there.at)
        now = np.where(piece >= 0, again.judged.region[np.maximum(piece, 0)], -1)
        worse = {n for n in self.by_region if again.regions[n].state is State.LOCKED or region.state is State.TIGHT}
        left: Bools = np.isin(now, np.array(sorted(worse), np.int64))
        share = float(left.mean())
        total = self.seen.part.mesh.area
        cured = share < LEFT and share * region.area_mm2 < FREE * total
        by = self._by(seen, there, ~left) if cured else None
        return Fate(cured, by, frozenset(int(n) for n in distinct(now[left])))

    def _by(self, seen: Witnesses, there: Carried, good: Bools) -> Doer | None:
        votes: dict[Doer, int] = {}
        for doer in self.doers.who(self.body, seen, there, good):
            if doer is not None:
                votes[doer] = votes.get(doer, 0) + 1
        return max(votes, key=lambda doer: votes[doer]) if votes else None

    def _elsewhere(self, finding: Finding) -> tuple[Fate, list[int]]:
        """A finding of no region: about sand, the joint, or hands that lift askew."""
        alike = [n for n, (_, one) in enumerate(self.seen.left) if one.code == finding.code and not one.informational]
        place = finding.place_mm
        if place is None:
            return Fate(not alike, self._most() if not alike else None, frozenset()), alike
        at = np.array([place])
        if finding.code == "slender-sand":
            doer = self.doers.fills(at)
            if doer is not None:
                return Fate(True, doer, frozenset()), []
        near = [n for n in alike if _apart(self.seen.left[n][1], at) < self.near_mm]
        if near:
            return Fate(False, None, frozenset()), near[:1]
        return Fate(True, self._at(at) or self._most(), frozenset()), []

    def _at(self, at: np.ndarray) -> Doer | None:
        """What has changed the surface, or filled the sand, at a place."""
        if bool(inside(self.body, tree_of(self.body), at)[0]):
            doer = self.doers.fills(at)
            if doer is not None:
                return doer
        nearest = int(np.argmin(np.linalg.norm(self.body.corners.mean(axis=1) - at, axis=1)))
        return self.doers.made(self.body, nearest)

    def _most(self) -> Doer | None:
        """What cured the most places."""
        votes: dict[Doer, int] = {}
        for fate in self.fates.values():
            if fate.cured and fate.by is not None:
                votes[fate.by] = votes.get(fate.by, 0) + 1
        return max(votes, key=lambda doer: votes[doer]) if votes else None

    def made_by(self, finding: Finding) -> Doer | None:
        """What made a finding new."""
        again = self.seen.again
        if finding.region is not None:
            faces = distinct(again.judged.face[again.judged.region == finding.region])
            votes: dict[Doer, float] = {}
            for face in faces[:400].tolist():
                doer = self.doers.made(self.body, face)
                if doer is not None:
                    votes[doer] = votes.get(doer, 0.0) + float(self.body.areas[face])
            return max(votes, key=lambda doer: votes[doer]) if votes else None
        return None if finding.place_mm is None else self._at(np.array([finding.place_mm]))


def _apart(finding: Finding, at: np.ndarray) -> float:
    return 0.0 if finding.place_mm is None else float(np.linalg.norm(np.array(finding.place_mm) - at[0]))
