"""Edits of the Mould stop: pieces put by hand, and set out anew."""

from pathlib import Path
from typing import Any

import msgspec

from pounce.base.errors import UserFault
from pounce.base.figures import figure
from pounce.job.edits import Edit
from pounce.job.job import SUFFIX, Job
from pounce.rig.choices import COUNT
from pounce.rig.setting import CARRIERS
from pounce.rig.values import GuestChoice, KeptFlask, PlacedChoice, RigChoices, Spot

# Places are kept to a hundredth of a millimetre, turns to a tenth of a degree.
PLACE_DIGITS, TURN_DIGITS = 2, 1


def set_rig(job: Job, label: str, **changes: Any) -> Edit:
    """Other choices of the mould."""
    return Edit(label, msgspec.structs.replace(job, rig=msgspec.structs.replace(job.rig, **changes)))


def asked_rig(job: Job) -> RigChoices:
    """What is asked of the mould: where boards or a plate carry its layout, as many castings as were asked for at
    Pattern and its flask count too.
    """
    rig, pattern = job.rig, job.pattern
    if pattern.mount not in CARRIERS:
        return rig
    inside = rig.inside_mm if rig.flask or rig.inside_mm is not None else pattern.flask_mm
    return msgspec.structs.replace(rig, count=max(rig.count, pattern.copies), inside_mm=inside)


def _let_go(job: Job, **fields: Any) -> Job:
    """The job with what Pattern said of its boards back at the usual: Mould says it now."""
    if job.pattern.mount not in CARRIERS:
        return job
    return msgspec.structs.replace(job, pattern=msgspec.structs.replace(job.pattern, **fields))


def set_count(job: Job, count: int) -> Edit:
    """So many castings; places by hand were for another number and are let go."""
    return set_rig(_let_go(job, copies=1), f"Castings: {count}", count=count, placed=(), sprue_mm=None)


def set_tiers(job: Job, tiers: int) -> Edit:
    """So many tiers of a tree; places by hand were for another number of castings at one height and are let go."""
    label = "All at one height" if tiers == 1 else f"Tiers: {tiers}"
    return set_rig(job, label, tiers=tiers, placed=(), sprue_mm=None)


def add_guest(job: Job, file: str, name: str, count: int = 1) -> Edit:
    """Castings of another job in the same mould; the same job again is that many more. UserFault for this job."""
    guests = list(job.rig.guests)
    at = next((k for k, guest in enumerate(guests) if guest.file == file), None)
    if at is None:
        guests.append(GuestChoice(file, name, count))
    else:
        guests[at] = msgspec.structs.replace(guests[at], count=guests[at].count + count)
    return _guests(job, f"{name} in the same mould", guests)


def count_guest(job: Job, index: int, count: int) -> Edit:
    """So many castings of another job."""
    guests = list(job.rig.guests)
    guests[index] = msgspec.structs.replace(guests[index], count=int(COUNT.checked(count)))
    return _guests(job, f"{guests[index].name}: {count}", guests)


def drop_guest(job: Job, index: int) -> Edit:
    """Another job is moulded by itself."""
    guests = list(job.rig.guests)
    name = guests.pop(index).name
    return _guests(job, f"{name} taken out", guests)


def also(job: Job, word: str) -> Edit:
    """Another job from its word on the command line, ``other.pounce=2``. UserFault for no number."""
    file, _, many = word.partition("=")
    try:
        count = int(COUNT.checked(float(many or 1)))
    except ValueError:
        raise UserFault(f"'{many}' is no number of castings.", "Give JOB.pounce, or JOB.pounce=2.") from None
    path = Path(file).expanduser().resolve()
    if path.suffix != SUFFIX:  # a bare model says neither metal nor sand
        raise UserFault(f"'{path.name}' is no saved job.", f"Save it as a job first, and give that {SUFFIX} file.")
    return add_guest(job, str(path), path.stem.replace("-", " ").capitalize(), count)


def _guests(job: Job, label: str, guests: list[GuestChoice]) -> Edit:
    """Places by hand were for other castings and are let go."""
    return set_rig(job, label, guests=tuple(guests), placed=(), sprue_mm=None)


def set_inside(job: Job, sides: tuple[float, ...] | None) -> Edit:
    """The flask's inside said outright, or by the table again."""
    inside = None if sides is None else (float(sides[0]), float(sides[1]))
    return set_rig(_let_go(job, flask_mm=None), "Flask inside", inside_mm=inside)


def set_flask(job: Job, flask: str) -> Edit:
    """One of the own flasks, or the smallest that fits: sizes that were said outright are let go."""
    job = _let_go(job, flask_mm=None)
    return set_rig(job, "Flask", flask=flask, inside_mm=None, cope_mm=None, drag_mm=None, placed=(), sprue_mm=None)


def set_gates(job: Job, gates: int | None) -> Edit:
    """So many gates to a casting, or as many as it wants. Those put by hand stay where there are more, and are let go
    where there are fewer.
    """
    label = "Gates as wanted" if gates is None else f"Gates: {gates}"
    kept = () if gates is None or gates < len(job.rig.gates_mm) else job.rig.gates_mm
    return set_rig(job, label, gates=gates, gates_mm=kept)


def put_gates(job: Job, gates_mm: tuple[tuple[float, float, float], ...]) -> Edit:
    """Gates where they were put, on the part as it was modelled."""
    held = tuple((round(x, PLACE_DIGITS), round(y, PLACE_DIGITS), round(z, PLACE_DIGITS)) for x, y, z in gates_mm)
    return set_rig(job, "Gate put", gates=None, gates_mm=held)


def put_feeder(job: Job, number: int, at_mm: tuple[float, float, float]) -> Edit:
    """A feeder at another place of the part, as it was modelled."""
    feeders = list(job.rig.feeders)
    x, y, z = (round(one, PLACE_DIGITS) for one in at_mm)
    feeders[number] = msgspec.structs.replace(feeders[number], at_mm=(x, y, z))
    return set_rig(job, f"Feeder {number + 1} moved", feeders=tuple(feeders))


def gate_word(job: Job, word: str) -> Edit:
    """A gate put by hand, from its word on the command line. UserFault for one that makes no sense."""
    if word == "none":
        return set_gates(job, None)
    try:
        x, y, z = (figure(one) for one in word.split(","))
    except ValueError:
        raise UserFault(f"'{word}' is no place for a gate.", "Give X,Y,Z in mm on the part, or 'none'.") from None
    return put_gates(job, (*job.rig.gates_mm, (x, y, z)))


def set_cup(job: Job, cup: str) -> Edit:
    """A cup cut in the cope takes no extension of the sprue: a head that was asked for is let go."""
    return set_rig(job, "Pouring cup", cup=cup, **({"head_mm": None} if cup == "cut" else {}))


def set_head(job: Job, head_mm: float | None) -> Edit:
    """So much metal over the joint, with the cup set on; or what the cope gives."""
    return set_rig(job, "Metal over the joint", head_mm=head_mm, **({} if head_mm is None else {"cup": "set-on"}))


def place(job: Job, placed: tuple[PlacedChoice, ...], sprue_mm: Spot, kept: KeptFlask, label: str) -> Edit:
    """Castings and sprue where they were put, in the flask that they were put in."""
    held = tuple(
        PlacedChoice(
            (round(one.at_mm[0], PLACE_DIGITS), round(one.at_mm[1], PLACE_DIGITS)),
            round(one.turn_deg % 360.0, TURN_DIGITS),
        )
        for one in placed
    )
    sprue = (round(sprue_mm[0], PLACE_DIGITS), round(sprue_mm[1], PLACE_DIGITS))
    return set_rig(job, label, placed=held, sprue_mm=sprue, **msgspec.structs.asdict(kept))


def arrange_anew(job: Job) -> Edit:
    """What was put by hand is set out by the program again."""
    return set_rig(job, "Arranged anew", placed=(), sprue_mm=None, gates_mm=())
