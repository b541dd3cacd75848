"""Every kind of change that a remedy may carry is carried out by one edit, says what it does, and is undone by the
history.
"""

import dataclasses
from typing import get_args, get_type_hints

import msgspec
import pytest

from pounce.base.errors import UserFault
from pounce.base.finding import Change, Remedy
from pounce.cores.changes import MakeHollow, SetBox, SetPrint, StandOnEnd, WidenPrint
from pounce.job.changes import made, take_remedy
from pounce.job.history import History
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.metals.changes import SetMould
from pounce.parting.changes import AskFor, AskNoMore, KeepWhole, MakeLoose, SetGroove, SetHeight
from pounce.pattern.changes import SetFlask, SetMount
from pounce.stock.changes import CastSolid, SetOwnStock
from pounce.stock.values import Draft, Fill, Machining

AT = (1.0, 2.0, 3.0)
OFF = (4.0, 5.0, 6.0)


def kinds() -> list[type[Change]]:
    return sorted(Change.__subclasses__(), key=lambda one: one.__name__)


@pytest.mark.parametrize("kind", kinds(), ids=lambda one: one.__name__)
def test_every_kind_is_frozen_documented_and_carried_out(kind: type[Change]) -> None:
    assert dataclasses.is_dataclass(kind) and kind.__doc__
    assert made.dispatch(kind) is not made.dispatch(Change)
    # plain values only: a change is kept, compared and told
    for field in get_type_hints(kind).values():
        assert all(
            one in (str, float, int, bool, type(None))
            or one in (tuple, Ellipsis)
            or (isinstance(one, type) and issubclass(one, (msgspec.Struct, Change)))
            or get_args(one)
            or isinstance(one, str)
            for one in (get_args(field) or (field,))
        )


def test_there_is_a_kind_for_every_stop_and_advice_is_none() -> None:
    assert {one.__module__.split(".")[1] for one in kinds()} == {
        "part",
        "metals",
        "draw",
        "parting",
        "stock",
        "cores",
        "pattern",
        "rig",
        "feeding",
        "pour",
        "logbook",
    }
    with pytest.raises(ValueError, match="advice"):
        take_remedy(Job(), Remedy("r", "t"))
    with pytest.raises(TypeError, match="carried out by nobody"):
        made(Change(), Job())


def test_changes_of_the_joint_and_of_what_is_asked() -> None:
    job = made(SetHeight(4.0), Job()).job
    assert job.parting.height_mm == 4.0 and made(SetHeight(None), job).job.parting.height_mm is None
    asked = made(AskFor("taper", AT), job).job
    assert asked.stock.lines == (Draft(only=(AT,)),)
    assert made(AskFor("taper", OFF), asked).job.stock.lines == (Draft(only=(AT, OFF)),)
    assert made(AskNoMore(AT), asked).job == job
    whole = add_line(job, Draft()).job
    with pytest.raises(UserFault, match="every wall its draft already"):
        made(AskFor("taper", AT), whole)
    assert made(AskFor("fill", AT), whole).job.stock.lines == (Fill(at_mm=AT), Draft())
    assert made(AskNoMore(AT), made(AskFor("fill", AT), whole).job).job == whole
    cored = made(AskFor("core", AT), job).job
    assert [(one.at_mm, one.make) for one in cored.cores.hollows] == [(AT, "core")]
    assert made(AskNoMore(AT), cored).job == job
    loose = made(MakeLoose(AT), job).job
    assert loose.parting.loose == (AT,) and made(KeepWhole(AT), loose).job.parting.loose == ()
    assert made(SetGroove("cheek"), job).job.parting.groove == "cheek"
    with pytest.raises(UserFault, match="not made by 'wire'"):
        made(SetGroove("wire"), job)


def test_changes_of_stock_cores_and_pattern() -> None:
    job = add_line(Job(), Machining(AT)).job
    thicker = made(SetOwnStock(0, 2.5), job)
    assert "2.5 mm" in thicker.label and thicker.job.stock.lines[0].own_mm == 2.5  # type: ignore[union-attr]
    assert made(CastSolid(0), job).job.stock.lines == (Fill(at_mm=AT),)
    with pytest.raises(UserFault, match="no machining stock"):
        made(CastSolid(0), add_line(Job(), Fill(at_mm=AT)).job)
    cored = made(MakeHollow(AT, "core"), Job()).job
    longer = made(SetPrint(AT, "side", 12.0), cored).job
    assert longer.cores.hollows[0].side_mm == 12.0
    assert made(WidenPrint(AT, 1.5), longer).job.cores.hollows[0].wide == 1.5
    assert made(SetBox(AT, "half"), longer).job.cores.hollows[0].box == "half"
    assert made(StandOnEnd(), longer).job.cores.on_end
    assert made(MakeHollow(AT, ""), longer).job.cores.hollows == ()
    assert made(SetMount("boards"), job).job.pattern.mount == "boards"
    assert made(SetFlask(None), job).job.pattern.flask_mm is None


def test_a_remedy_taken_is_one_step_of_the_history() -> None:
    history = History(Job())
    history.push(take_remedy(history.job, Remedy("r", "t", SetMould("oil-sand"))))
    assert history.job.method.mould == "oil-sand" and history.undo() and history.job == Job()
