"""A pour put into the logbook: its defaults from the pour card and from what was really done, castings, sizes and
defects in words; and what was kept beside it.
"""

import re
from collections.abc import Iterable
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any, Final

import msgspec

from pounce.base.errors import UserFault
from pounce.base.figures import figure
from pounce.job.job import Job
from pounce.job.log_edits import revision_of
from pounce.logbook.said import Differs, LogResult, Size
from pounce.logbook.values import Casting, Defect, Event, Measure, Outcome, Pour, new_id
from pounce.metals.defects import QUESTIONS, defects
from pounce.metals.learn import learn
from pounce.pour.pace import rammed_pace
from pounce.pour.run import Run
from pounce.pour.things import own_things
from pounce.pour.values import PourResult
from pounce.rig.values import RigResult
from pounce.route.log import chosen, log_of
from pounce.route.results import Results

if TYPE_CHECKING:
    from pounce.logbook.book import Book

# A pour's castings at most, as many as any layout holds.
MOST_CASTINGS: Final = 500
METER: Final = "meter"
# What a field's name ends in by its unit, the longer ends first.
UNITS: Final = {
    "_c_min": "K/min",
    "_min_l": "min a litre",
    "_percent": "%",
    "_min": "min",
    "_kg": "kg",
    "_kw": "kW",
    "_mj": "MJ",
    "_mm": "mm",
    "_c": "°C",
}
# Fields that are not typed: they are kept by themselves.
KEPT: Final = ("id", "at", "job", "job_id", "revision", "castings", "photos", "minutes", "chosen")
_READING: Final = re.compile(r"^(?:(\d+):)?([^=]+)=(-?[\d.]+)(?:/([\d.]+))?(?:x(\d+))?(?:@([\d.]+))?$")


def new_pour(results: Results, run: Run, now: datetime) -> Pour:
    """An entry with everything that is known without asking: from the choices, the plan, the meter and the clock."""
    job, method = results.job, results.metal
    pour = results.found.get("pour")
    plan = pour if isinstance(pour, PourResult) else None
    began = run.steps["pour"].start if "pour" in run.steps else None
    many = _castings(results, plan)
    made = Pour(
        new_id(),
        began or now,
        job.name,
        job_id=job.log.id or new_id(),
        revision=revision_of(job),
        metal=job.method.metal,
        mould=job.method.mould,
        pattern=job.method.pattern,
        made_percent=None if method is None else round(100.0 * (1.0 - 1.0 / method.casting_factor), 3),
        charge=job.pour.charge,
        core_mix=job.cores.mix if results.cores is not None and results.cores.cores else "",
        minutes=_minutes(run),
        chosen=chosen(job),
        castings=tuple(Casting(number + 1) for number in range(many)),
    )
    if plan is None:
        return made
    poured = _readings(run)
    return msgspec.structs.replace(
        made,
        poured_kg=round(plan.poured_kg, 3),
        charged_kg=round(plan.charged.kg, 3),
        planned_c=round(plan.first.at_c),
        poured_c=poured,
        read_by="" if poured is None else "meter" if any(one.by == METER for one in run.readings) else "hand",
        lift_c=_lifted(run),
        melt_min=made.minutes.get("melt"),
        furnace=plan.furnace.name,
        heat_mj=round(plan.furnace.heat_mj, 4),
        furnace_kw=_kw(plan.furnace.name),
        ram_min_l=rammed_pace(plan.steps, run.done),
    )


def _castings(results: Results, plan: PourResult | None) -> int:
    """Castings of this job in the whole pour."""
    rig = results.found.get("mould")
    each = sum(one.lot == 0 for one in rig.castings) if isinstance(rig, RigResult) else 1
    return min(max(each, 1) * (1 if plan is None else results.job.pour.moulds), MOST_CASTINGS)


def _minutes(run: Run) -> dict[str, float]:
    """How long each step took that was begun and ended, min."""
    out = {}
    for key, one in run.steps.items():
        if one.end is not None and one.end > one.start:
            out[key] = round((one.end - one.start).total_seconds() / 60.0, 1)
    return out


def _readings(run: Run) -> float | None:
    """How hot it was as it was poured: the last reading before the pour ended; None where nothing was read."""
    step = run.steps.get("pour")
    before = [one for one in run.readings if step is None or step.end is None or one.at <= step.end]
    return round(before[-1].c) if before else None


def _lifted(run: Run) -> float | None:
    """The hottest it was."""
    return round(max(one.c for one in run.readings)) if run.readings else None


def _kw(name: str) -> float | None:
    try:
        return next((one.kw for one in own_things().furnaces if one.name == name), None)
    except UserFault:  # the Pour stop says what is wrong with them
        return None


# --- in words --------------------------------------------------------------------------------------------------------


def with_fields(pour: Pour, words: Iterable[str]) -> Pour:
    """Fields as ``name=value``. UserFault for a field that is not there, or a value that it cannot hold."""
    names = [one.name for one in msgspec.structs.fields(Pour) if one.name not in KEPT]
    given: dict[str, Any] = {}
    for word in words:
        name, _, value = word.partition("=")
        key = name.strip().replace("-", "_")
        if key not in names:
            raise UserFault(f"A pour has no '{name.strip()}'.", f"Give one of {', '.join(names)}.")
        given[key] = None if value.strip() in ("", "none") else value.strip()
    usual = {one.name: one.default for one in msgspec.structs.fields(Pour)}
    plain = msgspec.to_builtins(pour) | {k: usual[k] if v is None else v for k, v in given.items()}
    try:
        made = msgspec.convert(plain, Pour, strict=False)
    except msgspec.ValidationError as error:
        raise UserFault(f"That cannot be kept of a pour ({error}).", "Give figures as plain numbers.") from None
    return checked(made)


def checked(pour: Pour) -> Pour:
    """The pour, if its figures can be. UserFault otherwise."""
    for name in pour.__struct_fields__:
        value = getattr(pour, name)
        if isinstance(value, float) and name not in ("growth_percent", "left_mm") and not 0.0 <= value <= 1e6:
            raise UserFault(f"{name.replace('_', ' ')}: {value:g} cannot be.", "Look at the figure again.")
    if pour.moisture_percent is not None and pour.moisture_percent > 30.0:
        raise UserFault(f"{pour.moisture_percent:g} % of water is mud, no moulding sand.", "Weigh the sample again.")
    return pour


def with_casting(pour: Pour, word: str) -> Pour:
    """A casting as ``NUMBER:OUTCOME[:KG]``. UserFault for a word that says none."""
    number, _, rest = word.partition(":")
    outcome, _, kg = rest.partition(":")
    try:
        at, how, weighs = int(number), Outcome(outcome.strip()), float(kg) if kg else None
    except ValueError:
        raise UserFault(
            f"'{word}' says no casting.", "Give NUMBER:sound|flawed|scrap[:KG], such as 2:flawed:0.47."
        ) from None
    if not 1 <= at <= MOST_CASTINGS or (weighs is not None and not 0.0 < weighs < 1e5):
        raise UserFault(f"'{word}' cannot be a casting.", f"Number them from 1 to {MOST_CASTINGS}, with their kg.")
    return changed(pour, at, outcome=how, kg=weighs)


def with_measure(pour: Pour, word: str, sizes: tuple[Size, ...], caliper_mm: float) -> Pour:
    """A size measured, as ``[CASTING:]NAME=MM[/PATTERN][xREPEATS][@RESOLUTION]``; a size of the job by its name, else
    with its pattern size. UserFault for a word that says none.
    """
    found = _READING.match(word.strip())
    if found is None:
        raise UserFault(
            f"'{word}' says no measure.",
            "Give CASTING:NAME=MM, such as 1:Length=119.9, with /PATTERN, xREPEATS and @RESOLUTION behind it.",
        )
    number, name, value, pattern, repeats, step = found.groups()
    size = next((one for one in sizes if one.name.casefold() == name.strip().casefold()), None)
    if size is None and pattern is None:
        known = ", ".join(one.name for one in sizes) or "none"
        raise UserFault(
            f"This job has no size '{name.strip()}'.", f"Give one of {known}, or its pattern: NAME=MM/PATTERN."
        )
    measure = measured(
        size,
        name.strip(),
        float(value),
        float(step) if step else caliper_mm,
        int(repeats) if repeats else 1,
        float(pattern) if pattern else None,
    )
    at = int(number) if number else 1
    had = next((one for one in pour.castings if one.number == at), Casting(at))
    left = tuple(one for one in had.measures if one.name != measure.name)
    return changed(pour, at, measures=(*left, measure))


def measured(
    size: Size | None, name: str, casting_mm: float, step_mm: float, repeats: int, pattern_mm: float | None
) -> Measure:
    """A measure of a size. UserFault for one that cannot be."""
    wanted = casting_mm if size is None else size.wanted_mm
    pattern = pattern_mm if pattern_mm is not None else 0.0 if size is None else size.pattern_mm
    if not 0.0 < casting_mm < 1e5 or not 0.001 <= step_mm <= 50.0 or not 1 <= repeats <= 1000 or pattern <= 0.0:
        raise UserFault(f"{name}: {casting_mm:g} mm cannot be.", "Give the size in mm and what the caliper is good to.")
    c = learn().common
    if abs(casting_mm - pattern) > c.wrong_share.value * pattern + c.wrong.value:
        raise UserFault(
            f"{name}: {casting_mm:g} mm on a casting from {pattern:.1f} mm of pattern cannot be right.",
            "Measure it again, or look whether it is the same size.",
        )
    out = Measure(name, pattern, casting_mm, wanted, resolution_mm=step_mm, repeats=repeats)
    out = msgspec.structs.replace(out, pattern_read=pattern_mm is not None)
    if size is None:
        return out
    finished = size.finished_mm if size.machined else 0.0
    return msgspec.structs.replace(out, finished_mm=finished, way=size.way, side=size.side, hindered=size.hindered)


def with_defect(pour: Pour, word: str) -> Pour:
    """A defect as ``CASTING:SEEN[:WHERE[:WHEN[:X,Y,Z]]]``, ids of the table. UserFault for a word that says none."""
    number, *parts = word.split(":")
    table = defects()
    try:
        at = int(number)
        place = tuple(figure(one) for one in parts[3].split(",")) if len(parts) > 3 and parts[3] else None
        if place is not None and len(place) != 3:
            raise ValueError(word)
    except ValueError:
        raise UserFault(
            f"'{word}' says no defect.", "Give CASTING:SEEN:WHERE:WHEN:X,Y,Z, such as 2:sink:thick:cut."
        ) from None
    given = dict(zip(QUESTIONS, [*parts[:3], "", "", ""], strict=False))
    for question, sign in given.items():
        known = getattr(table, question)
        if (sign or question == "seen") and sign not in known:
            raise UserFault(f"'{sign}' is nothing that is {question}.", f"Give one of {', '.join(known)}.")
    made = Defect(given["seen"], given["where"], given["when"], place)
    had = next((one for one in pour.castings if one.number == at), Casting(at))
    outcome = Outcome.FLAWED if had.outcome is Outcome.SOUND else had.outcome
    return changed(pour, at, defects=(*had.defects, made), outcome=outcome)


def changed(pour: Pour, number: int, **changes: Any) -> Pour:
    """A casting of the pour otherwise; one more where it has none of this number."""
    had = next((one for one in pour.castings if one.number == number), Casting(number))
    others = [one for one in pour.castings if one.number != number]
    made = sorted([*others, msgspec.structs.replace(had, **changes)], key=lambda one: one.number)
    return msgspec.structs.replace(pour, castings=tuple(made))


# --- kept ------------------------------------------------------------------------------------------------------------


def keep(book: "Book", pour: Pour, moulds: int = 1) -> None:
    """Puts the pour into the logbook, and with a new one the moulds that were made of its pattern."""
    new = book.pour(pour.id) is None
    book.keep(pour)
    if new:
        book.note(Event(new_id(), pour.at, pour.job, "pulled", max(moulds, 1), pour.revision))


def sizes_of(results: Results) -> tuple[Size, ...]:
    """The sizes of a job that are measured."""
    made: LogResult | None = log_of(results)
    return () if made is None else made.sizes


def linked(job: Job, pour: Pour) -> Job:
    """The job as it is once this pour was kept: the logbook knows it, and the change it tried was tried."""
    return msgspec.structs.replace(job, log=msgspec.structs.replace(job.log, id=pour.job_id, change=""))


def found_pour(book: "Book", word: str) -> Pour:
    """The entry whose id begins so. UserFault for none, or several."""
    mine = [one for one in book.lines() if one.id.startswith(word.strip().casefold())]
    if len(mine) != 1:
        which = "No entry" if not mine else f"{len(mine)} entries"
        raise UserFault(f"{which} of the logbook begin with '{word}'.", "List them with: pounce log list")
    found = book.pour(mine[0].id)
    assert found is not None, "it was in the list"
    return found


def utc(at: str) -> datetime:
    """A moment as it was typed, by the local clock where it says no zone. UserFault for one that is none."""
    try:
        moment = datetime.fromisoformat(at.strip())
    except ValueError:
        raise UserFault(f"'{at}' is no date.", "Give YYYY-MM-DD, or YYYY-MM-DDTHH:MM.") from None
    return moment.astimezone(UTC)


def left_out(pour: Pour, word: str) -> Pour:
    """A measure, ``CASTING:NAME``, that nothing is learned from any more, or is again. UserFault where it is not."""
    number, _, name = word.partition(":")
    for casting in pour.castings:
        if str(casting.number) == number.strip() and any(one.name == name.strip() for one in casting.measures):
            turned = tuple(
                msgspec.structs.replace(one, left_out=not one.left_out) if one.name == name.strip() else one
                for one in casting.measures
            )
            return changed(pour, casting.number, measures=turned)
    raise UserFault(f"This pour has no measure '{word}'.", "Give CASTING:NAME, such as 1:Length.")


def differ(one: Pour, two: Pour) -> list[Differs]:
    """What was noted otherwise of two pours, by its name."""
    out = []
    for name in one.__struct_fields__:
        if name in ("id", "chosen", "castings", "photos", "minutes", "job_id"):
            continue
        a, b = getattr(one, name), getattr(two, name)
        if a != b:
            out.append(Differs(_titled(name), _said(a), _said(b)))
    for key in sorted({*one.minutes, *two.minutes}):
        a, b = one.minutes.get(key), two.minutes.get(key)
        if a != b:
            out.append(Differs(f"minutes of {key}", _said(a), _said(b)))
    outcomes = [", ".join(each.outcome.value for each in pour.castings) for pour in (one, two)]
    if outcomes[0] != outcomes[1]:
        out.append(Differs("came out", outcomes[0] or "-", outcomes[1] or "-"))
    return out


def _titled(name: str) -> str:
    """A field as it is called: ``poured_c`` is ``poured, °C``."""
    for end, unit in UNITS.items():
        if name.endswith(end):
            return f"{name.removesuffix(end).replace('_', ' ')}, {unit}"
    return name.replace("_", " ")


def _said(value: object) -> str:
    if isinstance(value, datetime):
        return f"{value.astimezone():%d %b %Y %H:%M}"
    if isinstance(value, float):
        return f"{value:g}"
    return "-" if value is None or value == "" else str(value)
