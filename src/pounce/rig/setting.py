"""The mould set out before the pattern is mounted: boards and plates carry its layout, with gates and runner."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from pounce.base.errors import UserFault
from pounce.metals.pouring import pouring
from pounce.pattern.values import Carried, Lying, Piece, SetOut
from pounce.rig.values import RigResult, Spot

# What carries the castings as they lie in the mould; a board for both halves has them in pairs of its own.
CARRIERS = ("boards", "match-plate")


@dataclass(frozen=True, eq=False)
class OtherPattern:
    """Another job's pattern for the same mould: its name, its pieces, its size over the part's along x, y and z, and
    why it has none in a sentence.
    """

    name: str
    pieces: tuple[Piece, ...]
    factors: tuple[float, float, float]
    why: str = ""


@dataclass(frozen=True, eq=False)
class Setting:
    """The mould where boards or a plate wait for it, with other jobs' patterns in it; the fault in a sentence where it
    could not be laid out.
    """

    rig: RigResult | None
    fault: str = ""
    others: tuple[OtherPattern, ...] = ()


def setting(wanted: bool, work: Callable[[], RigResult]) -> Setting:
    """The mould, worked only where something is to carry it; a mould that cannot be is no fault of the pattern's."""
    if not wanted:
        return Setting(None)
    try:
        return Setting(work())
    except UserFault as fault:
        return Setting(None, fault.what)


def set_out_of(made: Setting) -> SetOut | None:
    """What boards carry: the job's own castings, other jobs', and all gates and runner. None without a mould, or for
    one on end, whose sprue is cut in both halves.
    """
    rig = made.rig
    if rig is None or rig.on_end:
        return None
    return SetOut(
        Lying(rig.turn, rig.shift, _places(rig, 0)),
        (rig.flask.long_mm, rig.flask.wide_mm),
        rig.halves,
        None if rig.sprue is None else (*rig.sprue.at_mm, pouring().common.sprue_mark.value),
        tuple(
            Carried(
                one.name,
                one.pieces,
                Lying(model.turn @ np.diag(1.0 / np.array(one.factors)), model.shift, _places(rig, lot)),
                one.why,
            )
            for lot, (one, model) in enumerate(zip(made.others, rig.models[1:], strict=True), 1)
        ),
    )


def _places(rig: RigResult, lot: int) -> tuple[tuple[Spot, float], ...]:
    return tuple((one.at_mm, one.turn_deg) for one in rig.castings if one.lot == lot)
