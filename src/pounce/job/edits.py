"""Edits: pure functions from a job to a changed job, each with the label that undo shows.

An edit that makes no sense raises UserFault and the job stays as it was.
"""

from dataclasses import dataclass
from typing import cast, get_args

import msgspec

from pounce.base.errors import UserFault
from pounce.base.units import MM_PER, length
from pounce.job.job import Job
from pounce.metals import contraction, tables
from pounce.metals.contraction import Stated

AXES: dict[str, tuple[float, float, float]] = {
    "+x": (1.0, 0.0, 0.0),
    "-x": (-1.0, 0.0, 0.0),
    "+y": (0.0, 1.0, 0.0),
    "-y": (0.0, -1.0, 0.0),
    "+z": (0.0, 0.0, 1.0),
    "-z": (0.0, 0.0, -1.0),
}


@dataclass(frozen=True)
class Edit:
    """A changed job and what was done to it."""

    label: str
    job: Job


def set_scale(job: Job, weight_kg: float | None, metal_id: str | None = None) -> Edit:
    """What the part weighs on the scale, and what it is made of; None for not weighed."""
    if weight_kg is not None and not 1e-4 <= weight_kg <= 1e4:
        raise UserFault(f"A weight of {weight_kg:g} kg cannot be used.", "Give what the scale says, in kg.")
    if metal_id is not None:
        tables.metal(metal_id)
    part = msgspec.structs.replace(job.part, scale_kg=weight_kg, scale_metal=metal_id)
    return Edit("Weight on the scale", msgspec.structs.replace(job, part=part))


def set_unit(job: Job, unit: str) -> Edit:
    """The unit of the model's figures; heights and places given in the old unit's size are dropped."""
    if unit not in MM_PER:
        raise UserFault(f"'{unit}' is not a unit.", "Choose one of mm, cm, m or in.")
    part = msgspec.structs.replace(job.part, unit=unit)
    parting = msgspec.structs.replace(job.parting, height_mm=None, nudges=(), loose=(), groove="")
    stock = msgspec.structs.replace(job.stock, lines=())
    cores = msgspec.structs.replace(job.cores, hollows=())
    return Edit(
        f"Take the file as {unit}", msgspec.structs.replace(job, part=part, parting=parting, stock=stock, cores=cores)
    )


def set_bodies(job: Job, bodies: tuple[int, ...] | None) -> Edit:
    """Which bodies are cast; None for all. At least one."""
    if bodies is not None and not bodies:
        raise UserFault("No body would be left.", "Tick at least one body.")
    return Edit("Choose bodies", msgspec.structs.replace(job, part=msgspec.structs.replace(job.part, bodies=bodies)))


def set_metal(job: Job, metal: str) -> Edit:
    """The casting metal; an own contraction goes with the old metal."""
    name = tables.metal(metal).name
    method = msgspec.structs.replace(job.method, metal=metal, contraction_percent=None)
    return Edit(f"Cast in {name.lower()}", msgspec.structs.replace(job, method=method))


def set_mould(job: Job, mould: str) -> Edit:
    """The mould medium."""
    name = tables.mould(mould).name
    return Edit(
        f"Mould in {name.lower()}",
        msgspec.structs.replace(job, method=msgspec.structs.replace(job.method, mould=mould)),
    )


def set_pattern_kind(job: Job, pattern: str) -> Edit:
    """How the pattern is made; an own draft goes with the old kind."""
    name = tables.pattern_kind(pattern).name
    method = msgspec.structs.replace(job.method, pattern=pattern, draft_deg=None)
    return Edit(f"Make the pattern: {name.lower()}", msgspec.structs.replace(job, method=method))


def set_master_metal(job: Job, metal: str) -> Edit:
    """The metal a metal pattern is cast in, when it is made from a master."""
    name = tables.metal(metal).name
    return Edit(
        f"Metal pattern of {name.lower()}",
        msgspec.structs.replace(job, method=msgspec.structs.replace(job.method, master_metal=metal)),
    )


def set_contraction(job: Job, percent: float | None) -> Edit:
    """An own contraction in the current statement, or None for the table's."""
    if percent is not None:
        contraction.factor(percent, job.method.stated)
    label = "Use the table's contraction" if percent is None else f"Contraction {percent:g} %"
    return Edit(
        label, msgspec.structs.replace(job, method=msgspec.structs.replace(job.method, contraction_percent=percent))
    )


def set_stated(job: Job, stated: str) -> Edit:
    """Whether contraction is stated on the casting or on the pattern; the pattern's size stays."""
    if stated not in get_args(Stated):
        raise UserFault(f"Contraction is not stated on the {stated}.", "Choose casting or pattern.")
    now = cast(Stated, stated)
    own = job.method.contraction_percent
    if own is not None:
        own = contraction.restate(own, job.method.stated, now)
    method = msgspec.structs.replace(job.method, stated=now, contraction_percent=own)
    return Edit(f"State contraction on the {stated}", msgspec.structs.replace(job, method=method))


def set_draft(job: Job, draft_deg: float | None) -> Edit:
    """The least draft asked, or None for the table's."""
    if draft_deg is not None and not 0.0 <= draft_deg <= 15.0:
        raise UserFault(f"A draft of {draft_deg:g}° is outside 0 to 15.", "1 to 3 degrees is usual.")
    label = "Ask for the usual draft" if draft_deg is None else f"Ask for {draft_deg:g}° of draft"
    return Edit(label, msgspec.structs.replace(job, method=msgspec.structs.replace(job.method, draft_deg=draft_deg)))


def set_draw(job: Job, direction: tuple[float, float, float] | None) -> Edit:
    """The direction the cope lifts along, or None to search. A given parting height belongs to the old draw."""
    label = "Search for the draw" if direction is None else f"Draw along {axis_words(direction)}"
    return Edit(
        label,
        msgspec.structs.replace(
            job,
            draw=msgspec.structs.replace(job.draw, direction=direction),
            parting=msgspec.structs.replace(
                job.parting,
                height_mm=None,
                nudges=(),
                loose=(),
                kind="auto" if job.parting.kind == "flat" else job.parting.kind,
            ),
        ),
    )


def set_height(job: Job, height_mm: float | None) -> Edit:
    """The height of the flat joint along the draw, or None for the best."""
    label = "Find the joint" if height_mm is None else f"Part at {length(height_mm)}"
    return Edit(label, _parting(job, kind="auto" if height_mm is None else "flat", height_mm=height_mm, nudges=()))


def set_joint(job: Job, kind: str) -> Edit:
    """auto, flat, natural (follows the part) or stepped; a given height belongs to a flat joint only."""
    words = {
        "auto": "Find the joint",
        "flat": "Part on a plane",
        "natural": "Let the joint follow the part",
        "stepped": "Part in steps",
    }
    if kind not in words:
        raise UserFault(f"There is no joint of the kind '{kind}'.", "Choose auto, flat, natural or stepped.")
    height = job.parting.height_mm if kind == "flat" else None
    return Edit(words[kind], _parting(job, kind=kind, height_mm=height, nudges=()))


def set_parting(job: Job, kind: str, height_mm: float | None) -> Edit:
    """Kind of joint, and the height of a flat one."""
    if height_mm is not None:
        return set_height(job, height_mm)
    made = set_joint(job, kind)
    return Edit(made.label, _parting(made.job, height_mm=None))


def nudge_joint(job: Job, joint: int, height_mm: float | None) -> Edit:
    """Holds one joint level at a height (0 the ground outside, 1 and on the windows), or lets it find its own again."""
    rest = tuple(nudge for nudge in job.parting.nudges if nudge[0] != joint)
    if height_mm is None:
        return Edit("Let the joint find its height", _parting(job, nudges=rest))
    return Edit(
        f"Hold the joint at {length(height_mm)}",
        _parting(job, nudges=tuple(sorted((*rest, (joint, float(height_mm)))))),
    )


def set_moulded(job: Job, how: str) -> Edit:
    """How a joint that is no plane is made: follow-board, cut-down, false-pattern or split."""
    words = {
        "follow-board": "Mould it on a follow board",
        "cut-down": "Cut the drag down to the line",
        "false-pattern": "Mould it with a false pattern",
        "split": "Split the pattern along its line",
    }
    if how not in words:
        raise UserFault(f"'{how}' is no way to mould it.", "Choose follow-board, cut-down, false-pattern or split.")
    return Edit(words[how], _parting(job, moulded=how))


def set_loose(job: Job, at_mm: tuple[float, float, float], wanted: bool) -> Edit:
    """Makes the place a loose piece, or part of the pattern again."""
    rest = tuple(
        place for place in job.parting.loose if sum((a - b) ** 2 for a, b in zip(place, at_mm, strict=True)) > 1e-6
    )
    return Edit(
        "Make it a loose piece" if wanted else "Keep it whole", _parting(job, loose=(*rest, at_mm) if wanted else rest)
    )


def set_keyed(job: Job, how: str) -> Edit:
    """How loose pieces are held while the sand is rammed: pin or dovetail."""
    if how not in ("pin", "dovetail"):
        raise UserFault(f"'{how}' holds no loose piece.", "Choose pin or dovetail.")
    return Edit(f"Hold loose pieces by a {how}", _parting(job, keyed=how))


def set_rap(job: Job, rap_mm: float) -> Edit:
    """How far rapping loosens the pattern each way."""
    if not 0.0 <= rap_mm <= 5.0:
        raise UserFault(f"Rapping {rap_mm:g} mm is outside 0 to 5.", "0.2 to 1 mm is usual on small work.")
    return Edit(f"Rap {length(rap_mm)} each way", _parting(job, rap_mm=rap_mm))


def set_tilt(job: Job, askew_deg: float) -> Edit:
    """How far askew the hands lift in the trial draw."""
    if not 0.0 <= askew_deg <= 5.0:
        raise UserFault(f"Lifting {askew_deg:g}° askew is outside 0 to 5.", "1 to 3 degrees is what hands do.")
    return Edit(f"Lift {askew_deg:g}° askew", _parting(job, tilt_deg=askew_deg))


def set_upside_down(job: Job, turned: bool) -> Edit:
    """Whether the mould is opened turned over."""
    return Edit(
        "Open the mould upside down" if turned else "Open it the usual way up", _parting(job, upside_down=turned)
    )


def set_rammed(job: Job, half: str) -> Edit:
    """Which half a pattern with a flat back is rammed in."""
    if half not in ("drag", "cope"):
        raise UserFault(f"A pattern is not rammed in the {half}.", "Choose drag or cope.")
    return Edit(f"Ram a flat back in the {half}", _parting(job, rammed=half))


def set_groove(job: Job, how: str) -> Edit:
    """What makes a groove round the outside: a ring core, a cheek, or nothing yet."""
    words = {"ring-core": "Ring core for the groove", "cheek": "Cheek for the groove", "": "Nothing makes the groove"}
    if how not in words:
        raise UserFault(f"A groove is not made by '{how}'.", "Choose ring-core or cheek.")
    return Edit(words[how], _parting(job, groove=how))


def _parting(job: Job, **changes: object) -> Job:
    return msgspec.structs.replace(job, parting=msgspec.structs.replace(job.parting, **changes))


def _three(value: object) -> tuple[float, float, float]:
    x, y, z = cast(tuple[float, float, float], value)
    return float(x), float(y), float(z)


def set_dowels(job: Job, kind: str) -> Edit:
    """loose, pins or none."""
    try:
        pattern = msgspec.convert({**msgspec.structs.asdict(job.pattern), "dowels": kind}, type(job.pattern))
    except msgspec.ValidationError:
        raise UserFault(f"There are no dowels of the kind '{kind}'.", "Choose loose, pins or none.") from None
    return Edit(f"Dowels: {kind}", msgspec.structs.replace(job, pattern=pattern))


def set_dowel_size(job: Job, size_mm: float | None) -> Edit:
    """Diameter of the thicker dowel, or None for one that suits the joint."""
    if size_mm is not None and not 1.0 <= size_mm <= 50.0:
        raise UserFault(f"Dowels of {size_mm:g} mm cannot be used.", "Choose 1 to 50 mm.")
    label = "Dowels to suit the joint" if size_mm is None else f"Dowels of {length(size_mm)}"
    pattern = msgspec.structs.replace(job.pattern, dowel_mm=size_mm)
    return Edit(label, msgspec.structs.replace(job, pattern=pattern))


def set_draw_screw(job: Job, wanted: bool) -> Edit:
    """Whether each half gets a draw-screw hole."""
    label = "Drill for draw screws" if wanted else "No draw screws"
    return Edit(label, msgspec.structs.replace(job, pattern=msgspec.structs.replace(job.pattern, draw_screw=wanted)))


def set_stl(job: Job, wanted: bool) -> Edit:
    """Whether STL files are written beside the 3MF."""
    label = "Write STL too" if wanted else "Write 3MF only"
    return Edit(label, msgspec.structs.replace(job, pattern=msgspec.structs.replace(job.pattern, stl=wanted)))


def rename(job: Job, name: str) -> Edit:
    """The job's name; UserFault for an empty one."""
    clean = " ".join(name.split())[:120]
    if not clean:
        raise UserFault("A job needs a name.", "Type one.")
    return Edit(f"Name the job {clean}", msgspec.structs.replace(job, name=clean))


def set_accepted(job: Job, stop: str, accepted: bool) -> Edit:
    """Marks a stop as settled, or open again."""
    names = [name for name in job.accepted if name != stop] + ([stop] if accepted else [])
    return Edit(
        f"Settle {stop}" if accepted else f"Open {stop} again",
        msgspec.structs.replace(job, accepted=tuple(sorted(names))),
    )


def parse_draw(text: str) -> tuple[float, float, float] | None:
    """``auto``, an axis such as ``+z``, or ``X,Y,Z``; UserFault otherwise."""
    word = text.strip().lower()
    if word == "auto":
        return None
    if word in AXES or f"+{word}" in AXES:
        return AXES.get(word) or AXES[f"+{word}"]
    try:
        x, y, z = (float(piece) for piece in word.split(","))
    except ValueError:
        raise UserFault(
            f"'{text}' is not a draw.", "Give auto, +x, -x, +y, -y, +z, -z, or three numbers X,Y,Z."
        ) from None
    if not any((x, y, z)) or not all(abs(value) < 1e12 for value in (x, y, z)):
        raise UserFault(f"'{text}' has no direction.", "Give three numbers that are not all zero.")
    return (x, y, z)


def parse_parting(text: str) -> tuple[str, float | None]:
    """Kind and height (mm) of ``auto``, ``flat``, ``flat:HEIGHT``, ``natural`` or ``stepped``; UserFault otherwise."""
    word = text.strip().lower()
    if word in ("auto", "flat", "natural", "stepped"):
        return word, None
    if word.startswith("flat:"):
        try:
            height = float(word[5:])
        except ValueError:
            height = float("nan")
        if height == height and abs(height) < 1e9:
            return "flat", height
    raise UserFault(
        f"'{text}' is not a parting.", "Give auto, flat, natural, stepped, or flat:HEIGHT with the height in mm."
    )


def axis_words(direction: tuple[float, float, float]) -> str:
    """``+z`` for an own axis, else the three figures."""
    for name, axis in AXES.items():
        if axis == direction:
            return name
    return ", ".join(f"{value:.3g}" for value in direction)
