"""Edits of the Freeze stop: feeders and chills are the mould's, temperature and school its own."""

from typing import Any

import msgspec

from pounce.job import rig_edits
from pounce.job.edits import Edit
from pounce.job.job import Job
from pounce.rig.values import ChillChoice, FeederChoice


def set_freeze(job: Job, label: str, **changes: Any) -> Edit:
    """Other choices of freezing."""
    return Edit(label, msgspec.structs.replace(job, freeze=msgspec.structs.replace(job.freeze, **changes)))


def set_feeding(job: Job, feeders: tuple[FeederChoice, ...], chills: tuple[ChillChoice, ...]) -> Edit:
    """These feeders and chills. Pieces put by hand stay: only the cope may have to be higher."""
    many = len(feeders) + len(chills)
    label = "Feeders taken away" if not many else "Feeder set" if many == 1 and feeders else "Feeders and chills set"
    return rig_edits.set_rig(job, label, feeders=feeders, chills=chills)


def drop_feeder(job: Job, number: int) -> Edit:
    """One feeder less."""
    left = tuple(one for k, one in enumerate(job.rig.feeders) if k != number)
    return rig_edits.set_rig(job, f"Feeder {number + 1} taken away", feeders=left)


def drop_chill(job: Job, number: int) -> Edit:
    """One chill less."""
    left = tuple(one for k, one in enumerate(job.rig.chills) if k != number)
    return rig_edits.set_rig(job, f"Chill {number + 1} taken away", chills=left)


def change_feeder(job: Job, number: int, **changes: Any) -> Edit:
    """A feeder's size, or its sleeve."""
    feeders = list(job.rig.feeders)
    feeders[number] = msgspec.structs.replace(feeders[number], **changes)
    return rig_edits.set_rig(job, f"Feeder {number + 1}", feeders=tuple(feeders))
