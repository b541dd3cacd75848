"""To which cause a finding belongs: the first rule that claims it."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from pounce.base.finding import Finding, Severity
from pounce.causes.values import Claim, Rule
from pounce.cores.values import CoresResult, Offer
from pounce.metals.tables import limits
from pounce.parting.values import Kind, PartingResult, Region, State
from pounce.solid.mesh import Mesh
from pounce.solid.sets import distinct

# Hollows are alike when their volumes differ by less.
ALIKE = 0.08

_FIXED = {
    "shell-open": Rule.SHELL,
    "askew": Rule.DRAFT,
    "walls-drag": Rule.DRAFT,
    "draft-wanted": Rule.DRAFT,
    "walls-still-tight": Rule.DRAFT,
    "thin-wall": Rule.THIN,
    "thin-area": Rule.THIN,
    "winds": Rule.UNDERCUT,
    "small-holes": Rule.HOLES,
    "holes-into-hollows": Rule.HOLES,
    "joint-steep": Rule.JOINT,
    "parting-not-best": Rule.JOINT,
    "not-coin-like": Rule.JOINT,
    "thin-strip": Rule.JOINT,
    "sharp-sand": Rule.FINE,
    "finer-than-sand": Rule.FINE,
    "corners-sharp": Rule.FINE,
    "no-room-for-dowels": Rule.FITTINGS,
    "fewer-dowels": Rule.FITTINGS,
    "dowel-thinner": Rule.FITTINGS,
    "dowels-jam-askew": Rule.FITTINGS,
    "no-room-for-draw-screw": Rule.FITTINGS,
    "draw-screw-off-middle": Rule.FITTINGS,
    "no-room-for-rapping-plate": Rule.FITTINGS,
    "overhangs": Rule.FINE,
    "fronts-meet-cold": Rule.COLD,
    "gate-shuts": Rule.GATE,
    "gates-fast": Rule.GATE,
    "original-makes-smaller": Rule.ORIGINAL,
    "original-size": Rule.ORIGINAL,
    "casting-comes-out-smaller": Rule.ORIGINAL,
}
# What follows from a place that locks.
FOLLOWS_LOCKS = ("no-joint-frees-all", "no-single-joint", "sand-tears")


@dataclass(frozen=True, eq=False)
class Claims:
    """Claims findings: ``parting`` as the findings' regions count, ``mesh`` (its body) tagged with hollows, None while
    no hollow was looked for; ``cores`` with the hollows that were found.
    """

    parting: PartingResult | None
    mesh: Mesh | None
    cores: CoresResult | None

    def of(self, finding: Finding) -> Claim:
        """The cause that a finding belongs to."""
        if _FIXED.get(finding.code) is Rule.SHELL:
            return Claim(Rule.SHELL)
        if finding.severity is Severity.STOP:
            return Claim(Rule.STOPS, finding.code)
        if finding.region is not None and self.parting is not None:
            return self._of_region(finding.region)
        if finding.core is not None:
            return Claim(Rule.CORE, str(finding.core))
        if finding.hollow is not None and self.cores is not None:
            return self._of_hollow(finding.hollow)
        if finding.feature is not None:
            return Claim(Rule.STOCK)
        if finding.code in ("slender-sand", "thin-strip", "sand-tears") and finding.place_mm is not None:
            found = self._at(finding.place_mm, inside=finding.code != "thin-strip")
            if found is not None:
                return found
            return Claim(Rule.SLENDER if finding.code == "slender-sand" else Rule.JOINT)
        if finding.code.startswith(("hollow-", "feeder-")):
            return Claim(Rule.HOT)
        fixed = _FIXED.get(finding.code)
        return Claim(Rule.OTHER, finding.code) if fixed is None else Claim(fixed)

    def region(self, number: int) -> Region:
        """A place by its number. IndexError where there is none."""
        assert self.parting is not None
        return self.parting.regions[number]

    def _of_region(self, number: int) -> Claim:
        region = self.region(number)
        hollow = self._hollow_of(number)
        if _small(region):
            return Claim(Rule.HOLES)
        if hollow >= 0 and not self._closes(hollow):
            hollow = -1
        # what drags in a hollow is the core's that makes it; where its small holes alone lock, it is a wall to lean
        cored = hollow >= 0 and self._offer(hollow).make == "" and not self._offer(hollow).only_holes
        if cored or (hollow >= 0 and region.state is State.LOCKED):
            return self._of_hollow(hollow)
        return Claim(Rule.UNDERCUT if region.state is State.LOCKED else Rule.DRAFT)

    def _of_hollow(self, number: int) -> Claim:
        """Hollows alike share one cause, and so do all that a maker would drill."""
        offer = self._offer(number)
        if not self._closes(number):
            return Claim(Rule.UNDERCUT)
        wide = offer.figures.get("wide_mm", np.inf)
        if offer.openings <= 2 and wide <= limits()["bore_solid"].value and not self._bellied(number, wide):
            return Claim(Rule.HOLES)
        if offer.only_holes:
            return Claim(Rule.HOLES)
        assert self.cores is not None
        for first, other in enumerate(self.cores.offers[:number]):
            if other.make == offer.make and abs(other.volume_mm3 - offer.volume_mm3) <= ALIKE * offer.volume_mm3:
                return Claim(Rule.HOLLOW, str(first))
        return Claim(Rule.HOLLOW, str(number))

    def _closes(self, number: int) -> bool:
        """Whether caps close it: what lies under a flange is open to a side, and no hollow."""
        return self._offer(number).volume_mm3 > 0.0

    def _bellied(self, number: int, wide_mm: float) -> bool:
        """Whether a hollow holds far more than a hole as wide as its mouth would over its whole length: no drill makes
        the inside of a knob.
        """
        if self.mesh is None:
            return False
        points = self.mesh.corners[self.mesh.tags.hollow == number].reshape(-1, 3)
        if not len(points):
            return False
        long = float(np.linalg.norm(np.ptp(points, axis=0)))
        return self._offer(number).volume_mm3 > limits()["hole_bellied"].value * np.pi / 4.0 * wide_mm**2 * long

    def _offer(self, number: int) -> Offer:
        assert self.cores is not None
        return self.cores.offers[number]

    def _hollow_of(self, number: int) -> int:
        """The hollow that most of a place lies in, -1 for none."""
        if self.parting is None or self.mesh is None:
            return -1
        faces = distinct(self.parting.judged.face[self.parting.judged.region == number])
        tags = self.mesh.tags.hollow[faces]
        area = np.bincount(tags + 1, self.mesh.areas[faces])
        best = int(np.argmax(area)) if len(area) else 0
        return best - 1

    @cached_property
    def _middles(self) -> np.ndarray:
        assert self.mesh is not None
        return np.asarray(self.mesh.corners.mean(axis=1))

    def _at(self, place: tuple[float, float, float], inside: bool) -> Claim | None:
        """The hole or hollow whose wall lies nearest to a place; None where that is no hollow's."""
        if self.mesh is None or self.parting is None:
            return None
        face = int(np.argmin(np.linalg.norm(self._middles - np.array(place), axis=1)))
        hollow = int(self.mesh.tags.hollow[face])
        if hollow >= 0:
            return self._of_hollow(hollow)
        own = distinct(self.parting.judged.region[self.parting.judged.face == face])
        small = [number for number in own.tolist() if number >= 0 and _small(self.region(number))]
        return Claim(Rule.HOLES) if small and inside else None


def _small(region: Region) -> bool:
    """A round hole that is cast solid and drilled: one that the usual filling takes."""
    return region.kind in (Kind.HOLE, Kind.BORE) and 0.0 < round(region.diameter_mm, 2) <= limits()["bore_solid"].value
