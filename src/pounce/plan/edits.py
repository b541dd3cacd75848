"""A plan as edits of the job: what it starts from, and what each of its lines does."""

import msgspec

from pounce.cores.changes import MakeHollow
from pounce.cores.values import CoreChoices
from pounce.job.changes import made
from pounce.job.edits import Edit
from pounce.job.job import Job
from pounce.parting.changes import AskFor
from pounce.plan.values import Line, Plan
from pounce.stock.changes import AddUsual
from pounce.stock.values import Draft, Fill, Fillets


def bare(job: Job) -> Job:
    """The job without what a plan decides: draw, joint, fills, draft, fillets and cores. What the user pointed at to be
    machined, text and figures of the method stay.
    """
    lines = tuple(line for line in job.stock.lines if not isinstance(line, (Fill, Draft, Fillets)))
    parting = msgspec.structs.replace(job.parting, kind="auto", height_mm=None, nudges=(), loose=(), groove="")
    return msgspec.structs.replace(
        job,
        draw=msgspec.structs.replace(job.draw, direction=None),
        parting=parting,
        stock=msgspec.structs.replace(job.stock, lines=lines),
        cores=CoreChoices(mix=job.cores.mix, longest_mm=job.cores.longest_mm),
        accepted=(),
    )


def edit_of(job: Job, line: Line) -> Edit:
    """A line of a plan as one edit of the job."""
    after = job
    for change in line.changes:
        after = made(change, after).job
    return Edit(line.words(), after)


def stock_lines_of(job: Job, line: Line) -> tuple[int, ...]:
    """Which of the job's lines of Stock a line of its plan made."""
    kinds: dict[str, type] = {"fill": Fill, "draft": Draft, "fillets": Fillets}
    out: list[int] = []
    for change in line.changes:
        usual = kinds.get(change.kind) if isinstance(change, AddUsual) else None
        place = change.at_mm if isinstance(change, (AskFor, MakeHollow)) else None
        for nth, one in enumerate(job.stock.lines):
            everywhere = usual is not None and isinstance(one, usual) and getattr(one, "at_mm", None) is None
            if everywhere or (place is not None and isinstance(one, Fill) and one.at_mm == place):
                out.append(nth)
    return tuple(out)


def edits_of(job: Job, plan: Plan, left_out: frozenset[str] = frozenset()) -> tuple[Edit, ...]:
    """The edits that take a plan, one a line, from the job as it is; lines whose ids are ``left_out`` are not done."""
    start = bare(job)
    out = [Edit("Clear the way for the plan", start)] if start != job else []
    for line in plan.lines:
        if line.id not in left_out:
            out.append(edit_of(out[-1].job if out else start, line))
    return tuple(out)
