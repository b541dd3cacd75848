"""A choice as a row of a table: card row, command option and job file are made from it."""

from dataclasses import dataclass

import msgspec

from pounce.base.errors import UserFault
from pounce.job.edits import Edit
from pounce.job.job import Job


@dataclass(frozen=True)
class Choice:
    """A figure that a stop asks for: ``key`` in the job file and on the command line, ``title`` on the card, its unit and range, what it is when nobody says, how

    many digits it has, what it does in one sentence, and the source of the usual figure.
    """

    key: str
    title: str
    unit: str
    low: float
    high: float
    usual: float
    digits: int
    help: str
    source: str


def figure_of(job: Job, stop_id: str, choice: Choice) -> float:
    """What was said of this choice, else the usual figure."""
    return job.more.get(stop_id, {}).get(choice.key, choice.usual)


def set_figure(job: Job, stop_id: str, choice: Choice, value: float) -> Edit:
    """The choice at this value. UserFault outside its range."""
    if not choice.low <= value <= choice.high:
        raise UserFault(
            f"{choice.title} of {value:g} {choice.unit} cannot be used.",
            f"Give {choice.low:g} to {choice.high:g} {choice.unit}.",
        )
    own = {**job.more.get(stop_id, {}), choice.key: float(value)}
    return Edit(f"{choice.title}: {value:g} {choice.unit}", msgspec.structs.replace(job, more={**job.more, stop_id: own}))
