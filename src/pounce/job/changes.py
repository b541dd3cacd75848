"""Carries out what remedies change: one edit a kind of change. The command's words and the cards make the same
edits.
"""

from functools import singledispatch
from typing import Any, cast

from pounce.base.finding import Change, Remedy
from pounce.cores import changes as cores
from pounce.draw.changes import SetDraw
from pounce.feeding import changes as feeding
from pounce.job import core_edits, edits, freeze_edits, log_edits, pattern_edits, pour_edits, rig_edits, stock_edits
from pounce.job.edits import Edit
from pounce.job.job import Job
from pounce.logbook import changes as logbook
from pounce.metals.changes import SetDraft, SetMould, SetPatternKind
from pounce.part.changes import SetUnit
from pounce.parting import changes as parting
from pounce.pattern import changes as pattern
from pounce.pour import changes as pour
from pounce.rig import changes as rig
from pounce.stock import changes as stock
from pounce.stock.parse import USUAL
from pounce.stock.values import Camber, Fill, Finish


def take_remedy(job: Job, remedy: Remedy) -> Edit:
    """The edit of a remedy. ValueError for one that is advice only."""
    if remedy.change is None:
        raise ValueError(f"remedy {remedy.id} is advice")
    return made(remedy.change, job)


@singledispatch
def made(change: Change, _job: Job) -> Edit:
    """The edit that a change stands for. TypeError for a kind that nobody carries out."""
    raise TypeError(f"{type(change).__name__} is carried out by nobody")


@made.register
def _(_change: rig.FlaskThatFits, job: Job) -> Edit:
    return rig_edits.set_flask(job, "")


@made.register
def _(change: rig.MoveSprue, job: Job) -> Edit:
    return rig_edits.place(job, change.placed, change.to_mm, change.kept, "Sprue moved")


@made.register
def _(_change: rig.ArrangeAnew, job: Job) -> Edit:
    return rig_edits.arrange_anew(job)


@made.register
def _(_change: rig.GatesAsWanted, job: Job) -> Edit:
    return rig_edits.set_gates(job, None)


@made.register
def _(_change: rig.HeadOfCope, job: Job) -> Edit:
    return rig_edits.set_head(job, None)


@made.register
def _(change: rig.FewerCastings, job: Job) -> Edit:
    return rig_edits.set_count(job, change.count)


@made.register
def _(_change: rig.OneTier, job: Job) -> Edit:
    return rig_edits.set_tiers(job, 1)


@made.register
def _(change: rig.KeepFeeding, job: Job) -> Edit:
    return freeze_edits.set_feeding(job, change.feeders, change.chills)


@made.register
def _(change: feeding.SetFeeding, job: Job) -> Edit:
    return freeze_edits.set_feeding(job, change.feeders, change.chills)


@made.register
def _(change: feeding.PadWall, job: Job) -> Edit:
    return freeze_edits.pad_wall(job, change.at_mm, change.stock_mm, change.feeders, change.chills)


@made.register
def _(change: feeding.PourAt, job: Job) -> Edit:
    return freeze_edits.set_freeze(job, f"Poured at {change.pour_c:.0f} °C", pour_c=change.pour_c)


@made.register
def _(change: feeding.MoreGates, job: Job) -> Edit:
    return rig_edits.set_gates(job, change.gates)


@made.register
def _(_change: feeding.PourCool, job: Job) -> Edit:
    return freeze_edits.set_freeze(job, "Poured cool", feeding="cool")


@made.register
def _(change: pour.TakeCrucible, job: Job) -> Edit:
    return pour_edits.thing_word("crucible", job, change.crucible)


@made.register
def _(_change: pour.UnderLid, job: Job) -> Edit:
    return pour_edits.set_pour(job, "Carried under a lid", carried="lid")


@made.register
def _(change: pour.FewerMoulds, job: Job) -> Edit:
    return pour_edits.set_pour(job, f"Moulds: {change.moulds}", moulds=change.moulds)


@made.register
def _(change: pour.ChargeOf, job: Job) -> Edit:
    return pour_edits.set_pour(job, f"Melted from {change.charge}", charge=change.charge)


@made.register
def _(change: logbook.UseContraction, job: Job) -> Edit:
    return log_edits.use_contraction(job, change.percent)


@made.register
def _(change: logbook.UseFigure, job: Job) -> Edit:
    return log_edits.use_figure(job, change.figure, change.value, change.beside)


@made.register
def _(change: logbook.LessStock, job: Job) -> Edit:
    return log_edits.less_stock(job, change.stocks)


@made.register
def _(change: logbook.TryNext, job: Job) -> Edit:
    return log_edits.try_next(made(change.change, job), change.words)


@made.register
def _(change: logbook.TryByHand, job: Job) -> Edit:
    return log_edits.try_by_hand(job, change.words)


@made.register
def _(change: SetUnit, job: Job) -> Edit:
    return edits.set_unit(job, change.unit)


@made.register
def _(change: SetMould, job: Job) -> Edit:
    return edits.set_mould(job, change.mould)


@made.register
def _(change: SetPatternKind, job: Job) -> Edit:
    return edits.set_pattern_kind(job, change.pattern)


@made.register
def _(change: SetDraft, job: Job) -> Edit:
    return edits.set_draft(job, change.degrees)


@made.register
def _(change: SetDraw, job: Job) -> Edit:
    return edits.set_draw(job, change.direction)


@made.register
def _(change: parting.SetHeight, job: Job) -> Edit:
    return edits.set_height(job, change.height_mm)


@made.register
def _(change: parting.SetJoint, job: Job) -> Edit:
    return edits.set_joint(job, change.kind)


@made.register
def _(change: parting.SetMoulded, job: Job) -> Edit:
    return edits.set_moulded(job, change.how)


@made.register
def _(change: parting.SetRammed, job: Job) -> Edit:
    return edits.set_rammed(job, change.half)


@made.register
def _(change: parting.SetUpsideDown, job: Job) -> Edit:
    return edits.set_upside_down(job, change.turned)


@made.register
def _(change: parting.SetGroove, job: Job) -> Edit:
    return edits.set_groove(job, change.how)


@made.register
def _(change: parting.MakeLoose, job: Job) -> Edit:
    return edits.set_loose(job, change.at_mm, True)


@made.register
def _(change: parting.KeepWhole, job: Job) -> Edit:
    return edits.set_loose(job, change.at_mm, False)


@made.register
def _(change: parting.AskFor, job: Job) -> Edit:
    if change.kind == "core":
        return core_edits.set_hollow(job, change.at_mm, "core")
    if change.kind == "taper":
        return stock_edits.taper_at(job, change.at_mm)
    return Edit("Fill it", stock_edits.add_line(job, Fill(at_mm=change.at_mm)).job)


@made.register
def _(change: parting.AskNoMore, job: Job) -> Edit:
    less = stock_edits.nothing_at(job, change.at_mm).job
    return Edit("Ask no more", core_edits.set_hollow(less, change.at_mm, "").job)


@made.register
def _(change: stock.AddUsual, job: Job) -> Edit:
    line = USUAL[change.kind]
    if isinstance(line, Finish) and line.rap_mm > 0.0:  # as much as the trial draw raps
        line = Finish(rap_mm=job.parting.rap_mm)
    return stock_edits.add_line(job, line)


@made.register
def _(change: stock.AddCamber, job: Job) -> Edit:
    return stock_edits.add_line(job, Camber(toward=cast(Any, change.toward)))


@made.register
def _(change: stock.SetOwnStock, job: Job) -> Edit:
    stock_edits.machining_at(job, change.line)
    made_of = stock_edits.change_line(job, change.line, own_mm=change.stock_mm)
    return Edit(f"Make the stock {change.stock_mm:g} mm", made_of.job)


@made.register
def _(change: stock.CastSolid, job: Job) -> Edit:
    place = stock_edits.machining_at(job, change.line).at_mm
    return Edit(
        "Cast it solid", stock_edits.add_line(stock_edits.drop_line(job, change.line).job, Fill(at_mm=place)).job
    )


@made.register
def _(change: cores.MakeHollow, job: Job) -> Edit:
    return (
        core_edits.fill_instead(job, change.at_mm)
        if change.how == "drill"
        else core_edits.set_hollow(job, change.at_mm, change.how)
    )


@made.register
def _(change: cores.SetPrint, job: Job) -> Edit:
    return core_edits.change_at(job, change.at_mm, **{f"{change.prints}_mm": change.length_mm})


@made.register
def _(change: cores.WidenPrint, job: Job) -> Edit:
    return Edit("A wider print", core_edits.change_at(job, change.at_mm, wide=change.times).job)


@made.register
def _(change: cores.SetBox, job: Job) -> Edit:
    return Edit("Another core box", core_edits.change_at(job, change.at_mm, box=change.style).job)


@made.register
def _(change: cores.SetBoxDraft, job: Job) -> Edit:
    return Edit("Draft in the core box", core_edits.change_at(job, change.at_mm, draft_deg=change.degrees).job)


@made.register
def _(_change: cores.StandOnEnd, job: Job) -> Edit:
    return core_edits.set_cores(job, on_end=True)


@made.register
def _(change: pattern.SetDowels, job: Job) -> Edit:
    return edits.set_dowels(job, change.kind)


@made.register
def _(_change: pattern.NoDrawScrew, job: Job) -> Edit:
    return edits.set_draw_screw(job, False)


@made.register
def _(change: pattern.SetFlask, job: Job) -> Edit:
    return pattern_edits.set_making(job, flask_mm=change.flask_mm)


@made.register
def _(change: pattern.SetLayer, job: Job) -> Edit:
    return pattern_edits.set_making(job, layer_mm=change.layer_mm)


@made.register
def _(change: pattern.SetTimber, job: Job) -> Edit:
    return pattern_edits.set_making(job, timber=change.timber)


@made.register
def _(change: pattern.SetMount, job: Job) -> Edit:
    return pattern_edits.set_making(job, mount=change.mount)


@made.register
def _(change: pattern.MakeAs, job: Job) -> Edit:
    return pattern_edits.set_way(job, change.way)
