"""Other jobs in one pour: their castings, worked out from their files."""

from collections import OrderedDict
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from pounce.base.errors import UserFault
from pounce.base.progress import Progress, silent, span
from pounce.rig.values import GuestChoice

if TYPE_CHECKING:
    from pounce.rig.stop import Given

# So many jobs of a pour are kept worked out.
KEPT = 6
_KNOWN: "OrderedDict[tuple[Path, int], Given]" = OrderedDict()


def guest_of(guest: GuestChoice, progress: Progress) -> "Given":
    """The castings of another job. UserFault where its file is gone, cannot be read, or its own route stops."""
    path = Path(guest.file)
    stamp = written(guest.file)
    if not stamp:
        raise UserFault(
            f"{guest.name}, which is to go into the same mould, is not where it was ({path.name}).",
            "Take it out of the mould, or add it again from where it is now.",
        )
    key = (path, stamp)
    if key not in _KNOWN:
        try:
            _KNOWN[key] = _worked(path, guest.name, progress)
        except UserFault as fault:
            raise UserFault(f"{guest.name}: {fault.what}", fault.try_this) from fault
        while len(_KNOWN) > KEPT:
            _KNOWN.popitem(last=False)
    return replace(_KNOWN[key], name=guest.name, count=guest.count)


def written(file: str) -> int:
    """When a job was written last, ns; 0 where it is gone."""
    try:
        return Path(file).stat().st_mtime_ns
    except OSError:
        return 0


def _worked(path: Path, name: str, progress: Progress) -> "Given":
    from pounce.rig.stop import Given  # noqa: PLC0415  a room is loaded when it works
    from pounce.route.opening import open_any  # noqa: PLC0415  the route runs its stops, and this is called by one
    from pounce.route.pipeline import Pipeline  # noqa: PLC0415
    from pounce.route.stops import CORES, METAL, PARTING, STOCK  # noqa: PLC0415

    progress(0.0, f"Working out {name}")
    job, model = open_any(path, silent)
    r = Pipeline().run(job, model, span(progress, 0.0, 0.3), until=CORES)
    return Given(name, 1, r.need(METAL), r.need(PARTING), r.need(STOCK), r.need(CORES), job.rig.feeders, job.rig.chills)
