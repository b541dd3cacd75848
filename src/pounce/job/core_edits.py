"""Edits of the Cores stop: what becomes of a hollow, the figures of its core, the mix, the mould stood on end."""

from typing import Any, cast

import msgspec

from pounce.base.errors import UserFault
from pounce.cores.values import HOWS, CoreChoices, HollowChoice, Place
from pounce.job.edits import Edit, set_loose
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.metals import tables
from pounce.stock.values import Fill

# Two places nearer than this speak of the same hollow, mm.
SAME = 1e-6


def _with(job: Job, **changes: object) -> Job:
    return msgspec.structs.replace(job, cores=msgspec.structs.replace(job.cores, **changes))


def set_hollow(job: Job, at_mm: Place, make: str) -> Edit:
    """What becomes of the hollow at a place: core, sand, drill or loose; "" asks again.

    Fill and drill is worked at Stock; a loose piece at Parting.
    """
    if make and make not in HOWS:
        raise UserFault(f"'{make}' is no way to make a hollow.", f"Choose one of {', '.join(HOWS)}.")
    index = _index(job, at_mm)
    hollows = list(job.cores.hollows)
    if index is not None:
        old = hollows.pop(index)
        if make:
            hollows.insert(index, msgspec.structs.replace(old, make=cast(Any, make)))
    elif make:
        hollows.append(HollowChoice(at_mm, cast(Any, make)))
    made = _with(job, hollows=tuple(hollows))
    if make == "loose":
        made = set_loose(made, at_mm, True).job
    label = {
        "core": "Make a core",
        "sand": "Leave it to the sand",
        "drill": "Fill and drill",
        "loose": "Loose piece",
        "": "Ask again",
    }
    return Edit(label[make], made)


def fill_instead(job: Job, at_mm: Place) -> Edit:
    """The hollow filled at Stock and drilled after casting, instead of a core."""
    cleared = set_hollow(job, at_mm, "").job
    return Edit("Fill and drill", add_line(cleared, Fill(at_mm=at_mm)).job)


def change_hollow(job: Job, index: int, **changes: Any) -> Edit:
    """Other figures for a core. UserFault for one that is not there or a value that cannot be."""
    if not 0 <= index < len(job.cores.hollows):
        raise UserFault("That core is no longer there.", "Choose one that is on the card.")
    old = job.cores.hollows[index]
    try:
        made = msgspec.convert(msgspec.to_builtins(msgspec.structs.replace(old, **changes)), HollowChoice)
    except msgspec.ValidationError as error:
        raise UserFault(f"That cannot be set ({error}).", "Choose another value.") from None
    hollows = (*job.cores.hollows[:index], made, *job.cores.hollows[index + 1 :])
    return Edit("Change the core", _with(job, hollows=hollows))


def change_at(job: Job, at_mm: Place, **changes: Any) -> Edit:
    """Other figures for the core at a place; one that is made with all others gets words of its own."""
    index = _index(job, at_mm)
    if index is None:
        job = _with(job, hollows=(*job.cores.hollows, HollowChoice(at_mm)))
        index = len(job.cores.hollows) - 1
    return change_hollow(job, index, **changes)


def set_cores(job: Job, **changes: Any) -> Edit:
    """The mix, the longest piece of a core, whether the mould is stood on end, or every hollow that locks a core."""
    if "mix" in changes:
        tables.mix(str(changes["mix"]))
    try:
        cores = msgspec.convert(msgspec.to_builtins(msgspec.structs.replace(job.cores, **changes)), CoreChoices)
    except msgspec.ValidationError as error:
        raise UserFault(f"That cannot be set ({error}).", "Choose another value.") from None
    label = (
        "Core sand" if "mix" in changes else "Stand the mould on end" if changes.get("on_end") else "Change the cores"
    )
    return Edit(label, msgspec.structs.replace(job, cores=cores))


def _index(job: Job, at_mm: Place) -> int | None:
    for index, one in enumerate(job.cores.hollows):
        if _near(one.at_mm, at_mm):
            return index
    return None


def _near(one: Place, two: Place) -> bool:
    return max(abs(a - b) for a, b in zip(one, two, strict=True)) < SAME
