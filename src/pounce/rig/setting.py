"""The mould set out before the pattern is mounted: boards and plates carry its layout, with gates and runner."""

from collections.abc import Callable
from dataclasses import dataclass

from pounce.base.errors import UserFault
from pounce.metals.pouring import pouring
from pounce.pattern.values import SetOut
from pounce.rig.values import RigResult

# What carries the castings as they lie in the mould; a board for both halves has them in pairs of its own.
CARRIERS = ("boards", "match-plate")


@dataclass(frozen=True, eq=False)
class Setting:
    """The mould where boards or a plate wait for it; the fault in a sentence where it could not be laid out."""

    rig: RigResult | None
    fault: str = ""


def setting(wanted: bool, work: Callable[[], RigResult]) -> Setting:
    """The mould, worked only where something is to carry it; a mould that cannot be is no fault of the pattern's."""
    if not wanted:
        return Setting(None)
    try:
        return Setting(work())
    except UserFault as fault:
        return Setting(None, fault.what)


def set_out_of(made: Setting, count: int) -> SetOut | None:
    """What boards carry: the first ``count`` castings, which are the job's own, and all gates and runner. None without
    a mould, or for one on end, whose sprue is cut in both halves.
    """
    rig = made.rig
    if rig is None or rig.on_end:
        return None
    return SetOut(
        rig.turn,
        rig.shift,
        tuple((one.at_mm, one.turn_deg) for one in rig.castings[:count]),
        (rig.flask.long_mm, rig.flask.wide_mm),
        rig.halves,
        None if rig.sprue is None else (*rig.sprue.at_mm, pouring().common.sprue_mark.value),
    )
