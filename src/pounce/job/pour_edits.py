"""Edits of the Pour stop."""

import re
from pathlib import Path
from typing import Any, Final

import msgspec

from pounce.base.errors import UserFault
from pounce.base.figures import figure
from pounce.job.edits import Edit
from pounce.job.job import SUFFIX, Job
from pounce.pour.things import Crucible, Furnace, Ingot, Printer, Sand

NONE, AUTO, SOON = "none", "auto", "soon"
MOST_PIECES = 60
_AT: Final = re.compile(r"^([01]?\d|2[0-3])[:.]([0-5]\d)$")


def set_pour(job: Job, label: str, **changes: Any) -> Edit:
    """Other choices of the pour."""
    return Edit(label, msgspec.structs.replace(job, pour=msgspec.structs.replace(job.pour, **changes)))


def thing_word(what: str, job: Job, word: str) -> Edit:
    """One of the bench's own by its id; ``auto`` the one that fits. Whether it is there, the stop says."""
    key = word.strip()
    key = "" if key == AUTO else key
    return set_pour(job, f"{what.capitalize()}: {key or 'the one that fits'}", **{what: key})


def take_thing(job: Job, thing: Crucible | Furnace | Ingot | Printer | Sand) -> Edit:
    """One of the bench's own taken for this job: what melts it for the pour, a printer's bed for the pattern, a sand
    for the heat.
    """
    label = f"{thing.name} taken"
    if isinstance(thing, Printer):
        bed = (thing.x_mm, thing.y_mm, thing.z_mm)
        return Edit(label, msgspec.structs.replace(job, pattern=msgspec.structs.replace(job.pattern, bed_mm=bed)))
    if isinstance(thing, Sand):
        own = msgspec.structs.replace(job.freeze, sand_conducts=thing.conducts, sand_heat=thing.heat)
        return Edit(label, msgspec.structs.replace(job, freeze=own))
    what = {Crucible: "crucible", Furnace: "furnace", Ingot: "ingot"}[type(thing)]
    return set_pour(job, label, **{what: thing.id})


def scrap_word(job: Job, word: str) -> Edit:
    """Weighed pieces, kg. UserFault for a word that says none."""
    text = word.strip()
    try:
        pieces = () if text in (NONE, "") else tuple(figure(one) for one in text.replace(" ", ",").split(",") if one)
    except ValueError:
        pieces = (-1.0,)
    if len(pieces) > MOST_PIECES or any(not 0.001 <= one <= 200.0 for one in pieces):
        raise UserFault(f"'{word}' says no weighed pieces.", "Give them in kg, such as 0.8,1.25, or 'none'.")
    return set_pour(job, "Weighed pieces", scrap_kg=pieces)


def fall_word(job: Job, word: str) -> Edit:
    """Two readings of the own crucible. UserFault for a word that says none, or that do not fall."""
    if word.strip() == NONE:
        return set_pour(job, "The crucible's fall by the table", fall_from_c=None, fall_to_c=None, fall_s=None)
    try:
        first, second, seconds = (figure(one) for one in word.split(":"))
    except ValueError:
        first, second, seconds = 0.0, 0.0, 0.0
    if not 1800.0 >= first > second >= 50.0 or not 1.0 <= seconds <= 7200.0:
        raise UserFault(
            f"'{word}' says no fall of a crucible.",
            "Give two readings in °C, the hotter first, and the seconds between them, such as 760:735:60, or 'none'.",
        )
    return set_pour(job, "Your crucible's fall", fall_from_c=first, fall_to_c=second, fall_s=seconds)


def at_word(job: Job, word: str) -> Edit:
    """The time of day of the pour. UserFault for a word that is none."""
    text = word.strip()
    if text in (SOON, ""):
        return set_pour(job, "Poured as soon as it can be", at="")
    found = _AT.match(text)
    if found is None:
        raise UserFault(f"'{word}' is no time of day.", "Give hours and minutes, such as 15:30, or 'soon'.")
    at = f"{int(found[1]):02d}:{found[2]}"
    return set_pour(job, f"Poured at {at}", at=at)


def with_word(job: Job, word: str) -> Edit:
    """Another job from the same melt. UserFault for a file that is no job."""
    if word.strip() == NONE:
        return set_pour(job, "A melt of its own", jobs=())
    path = Path(word).expanduser().absolute()
    if path.suffix.lower() != SUFFIX or not path.is_file():
        raise UserFault(f"'{path.name}' is no job file.", f"Give the path of a {SUFFIX} file of the same metal.")
    jobs = job.pour.jobs if str(path) in job.pour.jobs else (*job.pour.jobs, str(path))
    return set_pour(job, f"{path.stem} from the same melt", jobs=jobs)


def drop_job(job: Job, index: int) -> Edit:
    """Another job is melted by itself."""
    left = tuple(one for k, one in enumerate(job.pour.jobs) if k != index)
    return set_pour(job, f"{Path(job.pour.jobs[index]).stem} taken out", jobs=left)
