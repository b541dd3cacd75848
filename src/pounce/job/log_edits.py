"""Edits of the Logbook stop, and what of a job is kept beside a pour."""

from dataclasses import replace
from typing import Any, Final

import msgspec

from pounce.base.choice import Choice, Flag
from pounce.base.digest import digest
from pounce.base.errors import UserFault
from pounce.base.figures import figure
from pounce.job.edits import Edit
from pounce.job.job import Job
from pounce.job.stock_edits import change_line
from pounce.logbook.changes import Used
from pounce.logbook.values import Pair, PairKind, Point
from pounce.metals import contraction

MOST_PAIRS = 24
NONE = "none"
# Choices that change nothing of what is cast: files, weighing, the grid, the hour, figures that are only planned with.
NOT_CAST: Final = {
    *("model", "unit", "scale_kg", "scale_metal"),
    *("other_metal", "spin_axis", "spin_at_mm", "stock_left_mm", "tolerance"),
    *("cells", "formers", "measured_s", "sand_conducts", "sand_heat", "metal_conducts", "latent_kj_kg"),
    *("at", "furnace", "ingot", "ram_min_l", "loss_percent", "melt_percent", "fall_from_c", "fall_to_c", "fall_s"),
}


def set_log(job: Job, label: str, **changes: Any) -> Edit:
    """Other choices of the logbook."""
    return Edit(label, msgspec.structs.replace(job, log=msgspec.structs.replace(job.log, **changes)))


def link(job: Job, log_id: str) -> Edit:
    """The logbook knows the job by this."""
    return set_log(job, "Kept in the logbook", id=log_id, change="")


def add_pair(job: Job, pair: Pair) -> Edit:
    """A size to measure. UserFault for too many, or a name that is there."""
    if any(one.name == pair.name for one in job.log.pairs):
        raise UserFault(f"There is a size '{pair.name}' already.", "Give it another name.")
    if len(job.log.pairs) >= MOST_PAIRS:
        raise UserFault(f"{MOST_PAIRS} sizes are taken already.", "Take one of them out first.")
    return set_log(job, f"{pair.name} to measure", pairs=(*job.log.pairs, pair))


def drop_pair(job: Job, name: str) -> Edit:
    """A size is measured no more."""
    return set_log(job, f"{name} taken out", pairs=tuple(one for one in job.log.pairs if one.name != name))


def pair_word(job: Job, word: str) -> Edit:
    """A size said in words. UserFault for a word that says none."""
    if word.strip() == NONE:
        return set_log(job, "No sizes of its own", pairs=())
    name, _, rest = word.partition("=")
    kind, *places = rest.split(":")
    try:
        points = [_point(one) for one in places]
        made = PairKind(kind.strip())
    except ValueError:
        points, made = [], PairKind.FACES
    wanted = 1 if made is PairKind.DIAMETER else 2
    if not name.strip() or len(points) != wanted:
        raise UserFault(
            f"'{word}' says no size.",
            "Give NAME=faces:X,Y,Z:X,Y,Z, NAME=diameter:X,Y,Z or NAME=centres:X,Y,Z:X,Y,Z, in mm on the part.",
        )
    return add_pair(job, Pair(name.strip(), made, points[0], points[-1]))


def _point(text: str) -> Point:
    x, y, z = (figure(one) for one in text.split(","))
    return x, y, z


def use_contraction(job: Job, percent: float) -> Edit:
    """The pattern is made for this contraction, %, stated on the pattern; the job says it as it is stated there."""
    own = round(contraction.restate(percent, "pattern", job.method.stated), 2)
    method = msgspec.structs.replace(job.method, contraction_percent=own)
    return Edit(f"Contraction of this bench: {own:g} %", msgspec.structs.replace(job, method=method))


def use_figure(job: Job, figure: Used, value: float, beside: float = 0.0) -> Edit:
    """An earlier stop plans with a figure of this bench. ``beside`` the temperature (C) that a fall was read at."""
    if figure == "growth_percent":
        label, stock = f"Prints grow by {value:g} %", msgspec.structs.replace(job.stock, print_shrink_percent=-value)
        return Edit(label, msgspec.structs.replace(job, stock=stock))
    if figure == "falls_c_min":
        fall = {"fall_from_c": round(beside), "fall_to_c": round(beside - value, 1), "fall_s": 60.0}
        return Edit(f"The crucible falls {value:g} K a minute", _pour(job, fall))
    label = {
        "ram_min_l": f"A litre is rammed in {value:g} min",
        "melt_percent": f"The metal takes {value:g} % of the heat",
        "loss_percent": f"The melt loses {value:g} %",
    }[figure]
    return Edit(label, _pour(job, {figure: value}))


def less_stock(job: Job, stocks: tuple[tuple[int, float], ...]) -> Edit:
    """Stock as much as it takes and no more."""
    made = job
    for line, stock_mm in stocks:
        made = change_line(made, line, own_mm=stock_mm).job
    return Edit("Stock as this bench needs", made)


def try_next(made: Edit, words: str) -> Edit:
    """An edit that is the one change of the next pour."""
    return replace(made, job=set_log(made.job, made.label, change=words).job)


def try_by_hand(job: Job, words: str) -> Edit:
    """A change at the bench, noted as the one of the next pour."""
    return set_log(job, "Noted for the next pour", change=words)


def _pour(job: Job, changes: dict[str, Any]) -> Job:
    return msgspec.structs.replace(job, pour=msgspec.structs.replace(job.pour, **changes))


def revision_of(job: Job) -> str:
    """What the pattern and its mould are made by, as twelve digits: the same choices give the same."""
    made = msgspec.structs.replace(job, name="", log=type(job.log)(), accepted=())
    return digest(msgspec.to_builtins(made))[:12]


def chosen_of(job: Job, tables: tuple[tuple[str, str, str, tuple[Choice, ...]], ...]) -> dict[str, str]:
    """What was chosen and is not the usual, by name, to lay two pours side by side; ``tables`` the stops by id, title
    and field with their choices.
    """
    out: dict[str, str] = {}
    for _id, title, holder, choices in tables:
        now, usual = getattr(job, holder), type(getattr(job, holder))()
        named = {one.field: one for one in choices if one.field}
        for field in now.__struct_fields__:
            value = getattr(now, field)
            if value == getattr(usual, field) or field in NOT_CAST:
                continue
            choice = named.get(field)
            out[f"{title}: {choice.title if choice else field.replace('_', ' ')}"] = _said(value, choice)
    return out


def _said(value: Any, choice: Choice | None) -> str:
    """A value in a few words; what is no plain value by its digest, so that another is told apart."""
    if isinstance(choice, Flag) or isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (int, float)):
        return f"{value:g}"
    if isinstance(value, str):
        return value
    plain = msgspec.to_builtins(value)
    return f"{len(plain)}, {digest(plain)[:6]}" if isinstance(plain, (list, tuple)) else digest(plain)[:6]
