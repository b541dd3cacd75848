"""Rows of the tables of choices: what they take, what they refuse, and that they speak of what the job holds."""

import msgspec
import pytest

from pounce.base.choice import Choice, FigureChoice, Flag, OneOf, Sides, Words, all_checked
from pounce.base.errors import UserFault
from pounce.cores.choices import EACH
from pounce.cores.values import HollowChoice
from pounce.job.choose import HOLDERS, choose, choose_word, value_of
from pounce.job.job import Job
from pounce.metals.tables import sources
from pounce.route.stops import stops

LAYER = FigureChoice(key="layer", title="Layer", help="Height of a layer", unit="mm", low=0.02, high=1.0, usual=0.2)
COUNT = FigureChoice(key="walls", title="Walls", help="Lines", unit="", low=1, high=20, whole=True)
MOUNT = OneOf(
    key="mount",
    title="Mounted on",
    help="What it lies on",
    none="none",
    options=lambda: {"": "Nothing", "boards": "Boards"},
)
SIZE = Sides(key="bed", title="Bed", help="The bed", names=("x", "y", "z"), low=40.0, high=500.0, may_lack=1)
NO = Flag(key="no-rule", title="A contraction rule", help="Drawn", sets=False, usual=True)

# Fields of the job that no row of a table can hold: lists of places and lines, and what the file is.
STRUCTURED = {
    "part": {"model", "bodies"},
    "draw": {"direction"},
    "parting": {"nudges", "loose", "upside_down"},
    "stock": {"lines", "axes", "spin_at_mm"},
    "cores": {"hollows"},
    "mould": {"guests", "feeders", "chills", "gates_mm", "placed", "sprue_mm"},
    "freeze": {"formers"},
    "pour": {"scrap_kg", "fall_from_c", "fall_to_c", "fall_s", "jobs"},
    "logbook": {"id", "pairs", "change"},
}


def test_figures_are_read_and_held_to_their_range() -> None:
    assert LAYER.read("0.3") == 0.3 and LAYER.checked(0.02) == 0.02 and COUNT.read("3") == 3
    assert LAYER.form == "layer=MM" and LAYER.said == "Height of a layer; 0.02 to 1 mm, usually 0.2."
    with pytest.raises(UserFault, match=r"Layer: 2 mm cannot be used\. Give 0.02 to 1 mm"):
        LAYER.checked(2.0)
    for choice, word in ((LAYER, "thick"), (COUNT, "2.5")):
        with pytest.raises(UserFault, match="cannot be used"):
            choice.read(word)


def test_options_sides_and_flags_read_their_words() -> None:
    assert MOUNT.read("none") == "" and MOUNT.form == "mount=none|boards"
    assert MOUNT.said == "What it lies on. One of none or boards."
    with pytest.raises(UserFault, match="there is no 'table'"):
        MOUNT.checked("table")
    assert SIZE.read("200x210") == (200.0, 210.0) and SIZE.form == "bed=XxYxZ"
    for word in ("200", "1x2x3x4", "axb"):
        with pytest.raises(UserFault, match="no size"):
            SIZE.read(word)
    with pytest.raises(UserFault, match="39 mm cannot be used"):
        SIZE.checked((200.0, 39.0))
    assert NO.read("") is False and NO.read("no") is True and NO.said == "No contraction rule."
    with pytest.raises(UserFault, match="neither yes nor no"):
        NO.read("3")


def test_every_field_of_the_job_stands_once_in_a_table_and_its_usual_value_is_what_a_new_job_holds() -> None:
    job = Job()
    for stop in stops():
        held = set(msgspec.structs.asdict(getattr(job, HOLDERS[stop.id])))
        fields = [one.field for one in stop.choices if one.field]
        assert len(fields) == len(set(fields))
        assert held - set(fields) == STRUCTURED.get(stop.id, set())
        assert set(fields) <= held and len({one.key for one in stop.choices}) == len(stop.choices)
        for one in stop.choices:
            if one.field and isinstance(one, (FigureChoice, Flag)):
                assert value_of(job, stop.id, one) == one.usual
            if one.field and isinstance(one, OneOf):
                assert (value_of(job, stop.id, one) or "") in {*one.options(), ""} and one.options()
                assert not one.usual or value_of(job, stop.id, one) == one.usual
            assert not one.source or one.source in sources()
            assert one.help[0].isupper() and not one.help.endswith(".") and one.title
    assert {one.field for one in EACH} | {"at_mm", "closed", "key"} == set(
        msgspec.structs.asdict(HollowChoice((0.0, 0.0, 0.0)))
    )


def _other(choice: Choice, now: object) -> str | None:
    """A word that is not what stands there now."""
    if isinstance(choice, FigureChoice):
        value = choice.low if now != choice.low else choice.high
        return f"{max(value, 1.0) if choice.key == 'weight' else value:g}"
    if isinstance(choice, OneOf):
        return next((key for key in choice.options() if key and key != now), None)
    if isinstance(choice, Sides):
        return "x".join(["222"] * len(choice.names))
    return next(word for word in ("yes", "no") if choice.read(word) != now) if isinstance(choice, Flag) else None


def test_every_row_can_be_set_by_a_word_and_reads_back() -> None:
    for stop in stops():
        for one in stop.choices:
            if isinstance(one, Words) or not (one.field or isinstance(one, Sides)):
                continue
            word = _other(one, value_of(Job(), stop.id, one))
            assert word is not None, one.key
            edit = choose_word(Job(), stop.id, one, word)
            now = value_of(edit.job, stop.id, one)
            assert now == one.read(word) and edit.label and edit.job != Job(), one.key


def test_what_cannot_be_is_refused_and_the_job_stays() -> None:
    for stop in stops():
        for one in stop.choices:
            if isinstance(one, FigureChoice) and one.key != "height":
                with pytest.raises(UserFault):
                    choose(Job(), stop.id, one, one.high * 2.0 + 1.0)
            if isinstance(one, OneOf):
                with pytest.raises(UserFault):
                    choose(Job(), stop.id, one, "nothing of the kind")


def test_a_job_from_a_file_is_held_to_the_same_ranges() -> None:
    table = next(stop for stop in stops() if stop.id == "pattern").choices
    all_checked(table, Job().pattern)
    for changes in ({"walls": 0}, {"bed_mm": (10.0, 200.0, 200.0)}, {"board_wide_mm": 1.0}, {"timber": "balsa"}):
        with pytest.raises(UserFault):
            all_checked(table, msgspec.structs.replace(Job().pattern, **changes))
