"""Other jobs in one pour: their castings, worked out from their files."""

from collections import OrderedDict
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from pounce.base.errors import UserFault
from pounce.base.progress import Progress, silent, span
from pounce.job.job import Job
from pounce.rig.values import GuestChoice

if TYPE_CHECKING:
    from pounce.part.model import Model
    from pounce.rig.setting import OtherPattern
    from pounce.rig.stop import Given
    from pounce.route.pipeline import Pipeline

# So many jobs of a pour are kept worked out.
KEPT = 6


@dataclass(frozen=True, eq=False)
class _Known:
    """A job that was opened, and the line that keeps its results."""

    job: Job
    model: "Model | None"
    pipeline: "Pipeline"
    given: "Given"


_KNOWN: "OrderedDict[tuple[Path, int], _Known]" = OrderedDict()


def guest_of(guest: GuestChoice, progress: Progress) -> "Given":
    """The castings of another job. UserFault where its file is gone, cannot be read, or its own route stops."""
    return replace(_known(guest, progress).given, name=guest.name, count=guest.count)


def pattern_of(guest: GuestChoice, progress: Progress) -> "OtherPattern":
    """The pattern of another job as it stands on boards, or why it cannot. UserFault as in :func:`guest_of`."""
    from pounce.pattern.making.ways import kind_of  # noqa: PLC0415  a room is loaded when it works
    from pounce.rig.setting import OtherPattern  # noqa: PLC0415
    from pounce.route.stops import PATTERN  # noqa: PLC0415  the route runs its stops

    known = _known(guest, span(progress, 0.0, 0.5))
    r = known.given
    if not r.parting.joint.level:
        return OtherPattern(guest.name, (), r.stock.made_factors, "its joint follows the part.")
    if kind_of(r.method) == "metal":
        return OtherPattern(guest.name, (), r.stock.made_factors, "it is cast in metal from its master first.")
    bare = msgspec.structs.replace(known.job.pattern, mount="none", copies=1)
    job = msgspec.structs.replace(known.job, pattern=bare)
    made = known.pipeline.run(job, known.model, span(progress, 0.5, 1.0), until=PATTERN)
    if (fault := made.faults.get(PATTERN.id)) is not None:
        return OtherPattern(guest.name, (), r.stock.made_factors, fault.what)
    pieces = made.need(PATTERN).pieces
    return OtherPattern(guest.name, pieces, r.stock.made_factors)


def _known(guest: GuestChoice, progress: Progress) -> _Known:
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
    return _KNOWN[key]


def written(file: str) -> int:
    """When a job was written last, ns; 0 where it is gone."""
    try:
        return Path(file).stat().st_mtime_ns
    except OSError:
        return 0


def _worked(path: Path, name: str, progress: Progress) -> _Known:
    from pounce.rig.stop import Given  # noqa: PLC0415  a room is loaded when it works
    from pounce.route.opening import open_any  # noqa: PLC0415  the route runs its stops, and this is called by one
    from pounce.route.pipeline import Pipeline  # noqa: PLC0415
    from pounce.route.stops import CORES, METAL, PARTING, STOCK  # noqa: PLC0415

    progress(0.0, f"Working out {name}")
    job, model = open_any(path, silent)
    line = Pipeline()
    r = line.run(job, model, span(progress, 0.0, 0.3), until=CORES)
    rig = job.rig
    given = Given(
        name, 1, r.need(METAL), r.need(PARTING), r.need(STOCK), r.need(CORES), rig.feeders, rig.chills, rig.gates_mm
    )
    return _Known(job, model, line, given)
