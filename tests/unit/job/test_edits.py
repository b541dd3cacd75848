"""Edits of part, method, draw and parting: what each changes, what it lets go, and what it refuses."""

from collections.abc import Callable
from typing import Any

import msgspec
import pytest

from pounce.base.errors import UserFault
from pounce.job import edits
from pounce.job.edits import AXES, Edit, axis_words
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.metals.contraction import factor
from pounce.stock.values import Draft

FULL = edits.set_loose(edits.nudge_joint(edits.set_joint(Job(), "natural").job, 0, 4.0).job, (1.0, 2.0, 3.0), True).job


def changed(job: Job, edit: Edit) -> set[str]:
    """Fields, ``holder.field``, in which the jobs differ."""
    out = set()
    for name in job.__struct_fields__:
        one, two = getattr(job, name), getattr(edit.job, name)
        if one != two:
            inner = getattr(one, "__struct_fields__", None)
            out |= {f"{name}.{k}" for k in inner if getattr(one, k) != getattr(two, k)} if inner else {name}
    return out


PLAIN: tuple[tuple[Callable[..., Edit], tuple[Any, ...], set[str]], ...] = (
    (edits.set_scale, (2.5, "grey-iron"), {"part.scale_kg", "part.scale_metal"}),
    (edits.set_bodies, ((0, 2),), {"part.bodies"}),
    (edits.set_metal, ("grey-iron",), {"method.metal"}),
    (edits.set_mould, ("oil-sand",), {"method.mould"}),
    (edits.set_pattern_kind, ("wood",), {"method.pattern"}),
    (edits.set_master_metal, ("pewter",), {"method.master_metal"}),
    (edits.set_contraction, (1.1,), {"method.contraction_percent"}),
    (edits.set_stated, ("casting",), {"method.stated"}),
    (edits.set_draft, (2.0,), {"method.draft_deg"}),
    (edits.set_draw, ((0.0, 0.0, 1.0),), {"draw.direction"}),
    (edits.set_height, (12.0,), {"parting.kind", "parting.height_mm"}),
    (edits.set_joint, ("stepped",), {"parting.kind"}),
    (edits.nudge_joint, (1, 3.0), {"parting.nudges"}),
    (edits.set_moulded, ("split",), {"parting.moulded"}),
    (edits.set_loose, ((1.0, 2.0, 3.0), True), {"parting.loose"}),
    (edits.set_keyed, ("dovetail",), {"parting.keyed"}),
    (edits.set_rap, (0.9,), {"parting.rap_mm"}),
    (edits.set_tilt, (3.0,), {"parting.tilt_deg"}),
    (edits.set_upside_down, (True,), {"parting.upside_down"}),
    (edits.set_rammed, ("cope",), {"parting.rammed"}),
    (edits.set_groove, ("cheek",), {"parting.groove"}),
    (edits.set_dowels, ("none",), {"pattern.dowels"}),
    (edits.set_dowel_size, (8.0,), {"pattern.dowel_mm"}),
    (edits.set_stl, (True,), {"pattern.stl"}),
    (edits.rename, ("Hinge",), {"name"}),
    (edits.set_accepted, ("draw", True), {"accepted"}),
)


@pytest.mark.parametrize(("make", "values", "fields"), PLAIN, ids=lambda one: getattr(one, "__name__", ""))
def test_an_edit_changes_its_own_fields_alone_and_says_so(
    make: Callable[..., Edit], values: tuple[Any, ...], fields: set[str]
) -> None:
    edit = make(Job(), *values)
    assert changed(Job(), edit) == fields
    assert edit.label and edit.label[0].isupper() and not edit.label.endswith(".")
    again = make(edit.job, *values)
    assert again.job == edit.job  # twice is once
    # and the job file holds it
    assert msgspec.json.decode(msgspec.json.encode(edit.job), type=Job) == edit.job


@pytest.mark.parametrize(
    ("make", "values"),
    [
        (edits.set_scale, (0.0,)),
        (edits.set_scale, (1e9,)),
        (edits.set_scale, (2.0, "cheese")),
        (edits.set_unit, ("ell",)),
        (edits.set_bodies, ((),)),
        (edits.set_metal, ("cheese",)),
        (edits.set_mould, ("jelly",)),
        (edits.set_pattern_kind, ("dream",)),
        (edits.set_master_metal, ("cheese",)),
        (edits.set_contraction, (60.0,)),
        (edits.set_stated, ("wall",)),
        (edits.set_draft, (15.1,)),
        (edits.set_draft, (float("nan"),)),
        (edits.set_joint, ("wavy",)),
        (edits.set_moulded, ("prayer",)),
        (edits.set_keyed, ("glue",)),
        (edits.set_rap, (5.1,)),
        (edits.set_rap, (float("nan"),)),
        (edits.set_tilt, (-0.1,)),
        (edits.set_rammed, ("cellar",)),
        (edits.set_groove, ("hope",)),
        (edits.set_dowels, ("nails",)),
        (edits.set_dowel_size, (0.5,)),
        (edits.rename, ("  ",)),
    ],
)
def test_what_makes_no_sense_is_refused_in_a_sentence(make: Callable[..., Edit], values: tuple[Any, ...]) -> None:
    with pytest.raises(UserFault) as told:
        make(FULL, *values)
    assert told.value.what.endswith(".") and told.value.try_this


def test_another_unit_lets_go_what_was_given_in_the_old_ones_size() -> None:
    job = add_line(FULL, Draft()).job
    found = edits.set_unit(job, "cm").job
    assert found.part.unit == "cm" and found.stock.lines == () and found.cores.hollows == ()
    assert found.parting.nudges == () and found.parting.loose == () and found.parting.height_mm is None
    assert found.parting.kind == "natural" and found.method == job.method


def test_another_draw_lets_go_of_heights_and_places_along_the_old() -> None:
    flat = edits.set_height(FULL, 7.0).job
    found = edits.set_draw(flat, (1.0, 0.0, 0.0)).job
    assert found.parting.height_mm is None and found.parting.kind == "auto" and found.parting.loose == ()
    assert edits.set_draw(FULL, None).job.parting.kind == "natural"


def test_another_metal_lets_go_of_its_own_contraction_and_another_way_of_its_draft() -> None:
    job = edits.set_draft(edits.set_contraction(Job(), 1.1).job, 3.0).job
    assert edits.set_metal(job, "pewter").job.method.contraction_percent is None
    assert edits.set_metal(job, "pewter").job.method.draft_deg == 3.0
    assert edits.set_pattern_kind(job, "wood").job.method.draft_deg is None
    assert edits.set_pattern_kind(job, "wood").job.method.contraction_percent == 1.1


def test_stated_the_other_way_the_pattern_keeps_its_size() -> None:
    job = edits.set_contraction(Job(), 1.3).job
    other = edits.set_stated(job, "casting").job
    assert other.method.contraction_percent is not None
    assert factor(other.method.contraction_percent, "casting") == pytest.approx(factor(1.3, "pattern"))
    assert edits.set_stated(other, "pattern").job.method.contraction_percent == pytest.approx(1.3)


def test_a_joint_is_held_and_let_go_one_by_one() -> None:
    job = edits.nudge_joint(edits.nudge_joint(Job(), 1, 5.0).job, 0, 2.0).job
    assert job.parting.nudges == ((0, 2.0), (1, 5.0))
    assert edits.nudge_joint(job, 1, 6.0).job.parting.nudges == ((0, 2.0), (1, 6.0))
    assert edits.nudge_joint(job, 0, None).job.parting.nudges == ((1, 5.0),)


def test_a_place_is_loose_once_and_whole_again() -> None:
    at = (1.0, 2.0, 3.0)
    assert edits.set_loose(FULL, at, True).job.parting.loose == (at,)
    assert edits.set_loose(FULL, (1.0, 2.0, 3.0000001), False).job.parting.loose == ()


def test_settled_stops_stand_once_in_order() -> None:
    job = edits.set_accepted(
        edits.set_accepted(edits.set_accepted(Job(), "stock", True).job, "draw", True).job, "draw", True
    ).job
    assert job.accepted == ("draw", "stock")
    assert edits.set_accepted(job, "draw", False).job.accepted == ("stock",)


def test_names_are_trimmed_and_not_endless() -> None:
    assert edits.rename(Job(), "  Gate \n hinge ").job.name == "Gate hinge"
    assert len(edits.rename(Job(), "x" * 500).job.name) == 120


@pytest.mark.parametrize(("name", "axis"), AXES.items())
def test_axes_in_words_and_back(name: str, axis: tuple[float, float, float]) -> None:
    assert axis_words(axis) == name and edits.parse_draw(name) == axis
    if name.startswith("+"):
        assert edits.parse_draw(name[1:].upper()) == axis


def test_any_way_in_words() -> None:
    assert edits.parse_draw(" auto ") is None
    assert edits.parse_draw("1, 0,-2.5") == (1.0, 0.0, -2.5)
    assert axis_words((0.6, 0.0, 0.8)) == "0.6, 0, 0.8"
    assert edits.parse_parting("flat:-3.5") == ("flat", -3.5) and edits.parse_parting("natural") == ("natural", None)
    for word in ("flat:", "flat:nan", "flat:1e99", "wavy"):
        with pytest.raises(UserFault):
            edits.parse_parting(word)


def test_a_height_makes_the_joint_flat_and_none_finds_it() -> None:
    assert edits.set_parting(FULL, "auto", 3.0).job.parting.kind == "flat"
    assert edits.set_parting(edits.set_height(Job(), 3.0).job, "flat", None).job.parting.height_mm is None
    found = edits.set_height(edits.set_height(Job(), 3.0).job, None).job.parting
    assert (found.kind, found.height_mm) == ("auto", None)
