"""Edits of the Freeze stop: feeders and chills are the mould's, temperature and school its own."""

from typing import Any, Final

import msgspec

from pounce.base.errors import UserFault
from pounce.base.figures import figure
from pounce.job import rig_edits, stock_edits
from pounce.job.edits import Edit
from pounce.job.job import Job
from pounce.metals.heat import heat
from pounce.rig.values import ChillChoice, FeederChoice
from pounce.stock.values import Machining

# A feeder that is given by its diameter alone: its height and its neck over it.
HIGH_SHARE: Final = 1.2
FOUND, NONE, SLEEVE, GATE, BLIND = "found", "none", "sleeve", "gate", "blind"
_FEEDER = "Give X,Y,Z:WIDE, such as 12,0,30:40:30, or 'found' or 'none'."
_CHILL = "Give X,Y,Z:SIDE:THICK, such as 12,0,30:30:20, or 'none'."


def set_freeze(job: Job, label: str, **changes: Any) -> Edit:
    """Other choices of freezing."""
    return Edit(label, msgspec.structs.replace(job, freeze=msgspec.structs.replace(job.freeze, **changes)))


def set_feeding(job: Job, feeders: tuple[FeederChoice, ...], chills: tuple[ChillChoice, ...]) -> Edit:
    """These feeders and chills. Pieces put by hand stay: only the cope may have to be higher."""
    many = len(feeders) + len(chills)
    label = "Feeders taken away" if not many else "Feeder set" if many == 1 and feeders else "Feeders and chills set"
    return rig_edits.set_rig(job, label, feeders=feeders, chills=chills)


def pad_wall(
    job: Job,
    at_mm: tuple[float, float, float],
    stock_mm: float,
    feeders: tuple[FeederChoice, ...],
    chills: tuple[ChillChoice, ...],
) -> Edit:
    """Stock on a face so that a feeder reaches past it, and these feeders and chills: one step."""
    thicker = stock_edits.add_line(job, Machining(at_mm, own_mm=stock_mm)).job
    return Edit("Wall padded", set_feeding(thicker, feeders, chills).job)


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


def feeder_word(job: Job, word: str) -> Edit:
    """A feeder from its word on the command line. UserFault for one that makes no sense; 'found' is asked of
    the heat by the command itself and changes nothing here.
    """
    if word == NONE:
        return rig_edits.set_rig(job, "Feeders taken away", feeders=())
    if word == FOUND:
        return Edit("Feeders as found", job)
    parts = word.split(":")
    said = {one for one in parts if one in (SLEEVE, GATE, BLIND)}
    bare = ":".join(one for one in parts if one not in said)
    at, figures = _read(bare, "feeder", (1, 3), _FEEDER)
    wide = figures[0]
    neck = figures[1] if len(figures) > 1 else heat().common.neck.value * wide
    high = figures[2] if len(figures) > 2 else HIGH_SHARE * wide
    new = FeederChoice(at, wide, high, min(neck, wide), BLIND not in said, SLEEVE in said, GATE in said)
    return rig_edits.set_rig(job, "Feeder set", feeders=(*job.rig.feeders, new))


def chill_word(job: Job, word: str) -> Edit:
    """A chill from its word on the command line. UserFault for one that makes no sense."""
    if word == NONE:
        return rig_edits.set_rig(job, "Chills taken away", chills=())
    at, figures = _read(word, "chill", (2, 2), _CHILL)
    return rig_edits.set_rig(job, "Chill set", chills=(*job.rig.chills, ChillChoice(at, figures[0], figures[1])))


def formers_word(job: Job, word: str) -> Edit:
    """The bench's own formers from a word. UserFault for one that is no list of diameters."""
    text = word.strip()
    try:
        said = {figure(one) for one in text.replace(" ", ",").split(",") if one and one != NONE}
        wide = tuple(sorted(said))
    except ValueError:
        wide = (0.0,)
    if any(not 5.0 <= one <= 300.0 for one in wide):
        raise UserFault(f"'{word}' says no formers.", "Give their diameters in mm, such as 30,40,50, or 'none'.")
    return set_freeze(job, "Formers you have", formers=wide)


def _read(
    word: str, what: str, many: tuple[int, int], forms: str
) -> tuple[tuple[float, float, float], tuple[float, ...]]:
    """The place and the figures behind it."""
    place, *rest = word.split(":")
    try:
        x, y, z = (figure(one) for one in place.split(","))
        figures = tuple(figure(one) for one in rest)
    except ValueError:
        raise UserFault(f"'{word}' says no {what}.", forms) from None
    if not many[0] <= len(figures) <= many[1] or any(not 1.0 <= one <= 500.0 for one in figures):
        raise UserFault(f"'{word}' says no {what} that can be made.", forms)
    return (x, y, z), figures
