"""What a casting would want of feeders lying this way, before its mould is laid out: the search on a coarse grid, the
casting alone. Plans are weighed by it.
"""

from dataclasses import dataclass

import numpy as np

from pounce.base.progress import Progress
from pounce.feeding.cures import Bounds, cured
from pounce.feeding.judge import law_of, void_of
from pounce.feeding.opens import opening
from pounce.feeding.values import Lies
from pounce.freeze.heats import Poured
from pounce.freeze.spots import Spot
from pounce.freeze.values import Mould
from pounce.metals.method import Method
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats, Mesh

# So few runs on so coarse a grid are enough to count.
BOUNDS = Bounds(3, 30_000)
WIDE_MM = 1e4


@dataclass(frozen=True)
class Outlook:
    """Feeders and chills that were set, what the feeders weigh (kg), and last places that nothing was found for."""

    feeders: int = 0
    chills: int = 0
    feeders_kg: float = 0.0
    uncured: int = 0


@dataclass(frozen=True, eq=False)
class Lying:
    """A casting with its cores as it was modelled, its draw (3,) and the height of its joint along that, mm; the part
    that is ``wanted`` of it once it is machined (None: all of it).
    """

    casting: Mesh
    cores: tuple[Mesh, ...]
    direction: Floats
    joint_mm: float
    wanted: Mesh | None = None


def outlook_of(lying: Lying, method: Method, carbon_pct: float | None, rigid: bool, progress: Progress) -> Outlook:
    """Of a casting that is poured lying so; none is wanted of a metal that feeds itself, nor where the hole is machined
    off with the metal about it.
    """
    poured = Poured(method.metal_id, method.mould_id, method.metal.pouring.value)
    law = law_of(method, poured, carbon_pct, rigid)
    if law.reason:
        return Outlook()
    turn, shift = turn_to_z(lying.direction), np.array([0.0, 0.0, -lying.joint_mm])
    casting, *cores = (one.moved(turn, shift) for one in (lying.casting, *lying.cores))
    mould = Mould((casting,), None, tuple(cores), (), (), WIDE_MM, (WIDE_MM, WIDE_MM), WIDE_MM, tight=True)

    def gone(spot: Spot) -> bool:
        if lying.wanted is None:
            return False
        at = (np.array(spot.at_mm) - shift) @ turn
        return opening(lying.wanted, at, void_of(spot, law)[1], (), lambda _point: False).lies is Lies.GONE

    made = cured(
        mould, poured, law, lambda share: progress(share, "Looking for what sets last"), bounds=BOUNDS, gone=gone
    )
    mass = sum(one.metal_mm3 for one in made.rounds) * method.metal.density.value * 1e-9
    return Outlook(len(made.rounds), len(made.chills), mass, made.uncured)
