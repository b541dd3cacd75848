"""What a master does about each cause: which line, in which order, and what is never done."""

from dataclasses import replace

import manifold3d as m3
import numpy as np
import pytest

from pounce.base.finding import Finding, Remedy, Severity
from pounce.causes.values import Cause, Harm, Rule
from pounce.cores.changes import MakeHollow
from pounce.cores.values import CoresResult, Offer
from pounce.draw.changes import SetDraw
from pounce.job.job import Job
from pounce.metals.tables import limits
from pounce.parting.changes import AskFor, SetRammed, SetUpsideDown
from pounce.plan.edits import edit_of, stock_lines_of
from pounce.plan.makes import (
    CURES,
    draft_line,
    fillets_line,
    first_lines,
    holes_line,
    hollow_line,
    others_of,
    sand_lines,
    turned_lines,
)
from pounce.plan.values import LineKind
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import CORES
from pounce.solid.features.find import features_of
from pounce.stock.changes import AddUsual
from tests.conftest import box, mesh_of, model_of

M = m3.Manifold
METAL = 200_000.0
VESSEL = limits()["vessel_share"].value * METAL
AT = (1.0, 2.0, 3.0)


def offer(**changes: object) -> Offer:
    """A hollow that locks: a bore of 20 mm through 40."""
    given = {
        "at_mm": AT,
        "name": "bore through",
        "why": "locks",
        "make": "",
        "volume_mm3": 12_566.0,
        "locked_mm2": 2500.0,
        "openings": 2,
        "figures": {"wide_mm": 20.0},
        "is_round_bore": True,
    }
    return Offer(**(given | changes))  # type: ignore[arg-type]


def cause(rule: Rule, *remedies: Remedy, **more: object) -> Cause:
    told = Cause(1, rule, Harm.LOSES_MOULD, "It holds sand.", "sand", "draw", remedies=remedies)
    return replace(told, **more)  # type: ignore[arg-type]


def remedy(key: str) -> Remedy:
    """One that asks for something at the place."""
    return Remedy(key, "", AskFor("fill", AT))


@pytest.fixture(scope="module")
def cores() -> CoresResult:
    """What Cores says of a plain block: no offers of its own."""
    model = model_of(box(60.0, 40.0, 20.0))
    return Pipeline().run(with_model(Job(), model), model, until=CORES).need(CORES)


@pytest.mark.parametrize("wide", [0.5, 0.99])
def test_a_small_bore_is_cast_solid_and_a_wide_one_is_cored(wide: float) -> None:
    limit = limits()["plan_bored_under"].value
    small = hollow_line(offer(figures={"wide_mm": wide * limit}), VESSEL)
    assert small.kind is LineKind.BORE and small.changes == (MakeHollow(AT, "drill"),)
    large = hollow_line(offer(figures={"wide_mm": 1.01 * limit}), VESSEL)
    assert large.kind is LineKind.CORE and large.changes == (MakeHollow(AT, "core"),)
    assert "locks" in large.reason_words() and large.words() == "Core for the bore"


def test_bores_of_one_width_are_one_line(cores: CoresResult) -> None:
    wide = 0.5 * limits()["plan_bored_under"].value
    several = tuple(
        offer(at_mm=(10.0 * k, 0.0, 0.0), figures={"wide_mm": wide + more}) for k, more in enumerate((0.0, 0.01, 2.0))
    )
    held = type(cores)(**{name: getattr(cores, name) for name in cores.__dataclass_fields__} | {"offers": several})
    told = [cause(Rule.HOLLOW, place_mm=one.at_mm) for one in several]
    both, other = first_lines(told, held, METAL)
    assert both.changes == tuple(MakeHollow(one.at_mm, "drill") for one in several[:2])
    assert both.words().startswith("Cast the two ") and both.words().endswith("mm bores solid")
    assert both.figures["volume_mm3"] == sum(one.volume_mm3 for one in several[:2])
    assert other.changes == (MakeHollow(several[2].at_mm, "drill"),) and "bore solid" in other.words()


@pytest.mark.parametrize("changes", [{"is_round_bore": False}, {"volume_mm3": 2.0 * VESSEL}, {"figures": {}}])
def test_no_inside_of_a_vessel_is_bored_from_the_solid(changes: dict[str, object]) -> None:
    """One that is no bore, a large one, one of unknown width: all are cored, whatever they are called."""
    assert hollow_line(offer(**({"figures": {"wide_mm": 5.0}} | changes)), VESSEL).kind is LineKind.CORE


def test_slender_sand_is_the_other_reason_for_a_core() -> None:
    assert "green sand would not stand" in hollow_line(offer(why="slender", is_round_bore=False), VESSEL).reason_words()


def test_lines_come_in_the_order_in_which_they_are_made(cores: CoresResult) -> None:
    told = [
        cause(Rule.DRAFT, count=3, figures={"area_mm2": 900.0}),
        cause(Rule.UNDERCUT, remedy("ring-core")),
        cause(Rule.HOLES, count=4, figures={"area_mm2": 300.0}),
        cause(Rule.THIN),
        cause(Rule.HOLES, count=2),
    ]
    lines = first_lines(told, cores, METAL)
    assert [line.kind for line in lines] == [LineKind.HOLES, LineKind.UNDERCUT, LineKind.DRAFT]
    assert len({line.id for line in lines}) == len(lines), "all holes are one line"
    assert lines[0].words() == "Fill the four small holes" and lines[-1].words() == "Draft on three walls"
    assert first_lines([], cores, METAL) == []


@pytest.mark.parametrize(("share", "made"), [(0.2, "Fill the groove"), (0.5, "A ring core for the groove")])
def test_a_groove_is_turned_from_the_solid_where_that_is_little_metal(
    cores: CoresResult, share: float, made: str
) -> None:
    """Grooves of pulleys are turned; past a ring core no gate reaches the casting in the joint (common practice)."""
    groove = cause(Rule.UNDERCUT, remedy("ring-core"), remedy("fill"), figures={"ring_mm3": share * METAL})
    (line,) = first_lines([groove], cores, METAL)
    assert line.words() == made
    assert ("turn it after casting" in line.reason_words()) is (share < 0.25)
    # the other one is tried where the first does not free it
    others = {other.of.split()[0] for other in others_of(groove, {line.id})}
    assert others == {"ring-core", "fill"} - {line.of.split()[0]}


def test_an_undercut_that_has_no_usual_make_waits(cores: CoresResult) -> None:
    """Which of its cures helps is tried, not guessed."""
    open_one = cause(Rule.UNDERCUT, remedy("loose-piece"), remedy("fill"))
    assert first_lines([open_one], cores, METAL) == []
    assert [line.of.split()[0] for line in others_of(open_one, set())] == ["loose-piece", "fill"]


def test_cures_are_tried_in_a_masters_order_and_none_twice() -> None:
    remedies = [remedy(key) for key in reversed(CURES)]
    lines = others_of(cause(Rule.UNDERCUT, *remedies), set())
    named = ["core" if line.kind is LineKind.CORE else line.of.split()[0] for line in lines]
    assert named == list(CURES) and lines[-1].words() == "Fill the undercut"
    seen = {line.id for line in lines[:3]}
    assert [line.id for line in others_of(cause(Rule.UNDERCUT, *remedies), seen)] == [line.id for line in lines[3:]]


def test_what_must_be_hollow_is_never_filled_and_advice_is_no_line() -> None:
    hollow = cause(Rule.HOLLOW, remedy("fill"), Remedy("tilt-draw", "", SetDraw((0.0, 0.0, 1.0))))
    assert [line.of for line in others_of(hollow, set())] == ["tilt-draw"]
    assert others_of(cause(Rule.UNDERCUT, Remedy("fill", "advice alone")), set()) == []
    for rule in (Rule.DRAFT, Rule.THIN, Rule.JOINT, Rule.FINE):
        assert others_of(cause(rule, remedy("fill")), set()) == []


def test_a_hollow_is_found_by_its_number_else_by_its_place(cores: CoresResult) -> None:
    near, far = offer(at_mm=(0.0, 0.0, 0.0), is_round_bore=False), offer(at_mm=(50.0, 0.0, 0.0), is_round_bore=False)
    held = type(cores)(**{name: getattr(cores, name) for name in cores.__dataclass_fields__} | {"offers": (near, far)})
    numbered = Finding("locked", Severity.WARN, "It locks.", hollow=1)
    (line,) = first_lines([cause(Rule.HOLLOW, members=(("cores", numbered),))], held, METAL)
    assert line.changes == (MakeHollow((50.0, 0.0, 0.0), "core"),)
    (line,) = first_lines([cause(Rule.HOLLOW, place_mm=(3.0, 0.0, 0.0))], held, METAL)
    assert line.changes == (MakeHollow((0.0, 0.0, 0.0), "core"),)
    made = offer(make="core", openings=1)
    held = type(cores)(**{name: getattr(cores, name) for name in cores.__dataclass_fields__} | {"offers": (made,)})
    assert first_lines([cause(Rule.HOLLOW)], held, METAL) == [], "what is made already is not made again"


@pytest.mark.parametrize("line", [holes_line(cause(Rule.HOLES)), draft_line(cause(Rule.DRAFT)), fillets_line()])
def test_lines_of_stock_are_ordinary_lines_of_the_job(line: object) -> None:
    """A line's edit makes one line of Stock, and is told again by it."""
    edit = edit_of(Job(), line)  # type: ignore[arg-type]
    assert len(edit.job.stock.lines) == 1 and stock_lines_of(edit.job, line) == (0,)  # type: ignore[arg-type]
    assert all(isinstance(change, AddUsual) for change in line.changes)  # type: ignore[attr-defined]


@pytest.mark.parametrize(("count", "share", "kept"), [(30, 0.01, 0), (30, 0.2, 30), (8, 0.01, 8)])
def test_nobody_cores_thirty_gaps_between_teeth_but_large_hollows_and_a_few(
    cores: CoresResult, count: int, share: float, kept: int
) -> None:
    many = tuple(offer(at_mm=(10.0 * k, 0.0, 0.0), volume_mm3=share * METAL, is_round_bore=False) for k in range(count))
    held = type(cores)(**{name: getattr(cores, name) for name in cores.__dataclass_fields__} | {"offers": many})
    assert len(first_lines([cause(Rule.HOLLOW, place_mm=one.at_mm) for one in many], held, METAL)) == kept


def test_a_hollow_that_small_holes_run_into_is_told_as_it_is_without_them() -> None:
    """They are filled by another line: three mouths become two, and what they locked draws."""
    line = hollow_line(offer(name="hollow with 3 openings", is_round_bore=False, holes=1), VESSEL)
    assert "openings" not in line.words() and line.words().startswith("Core for the hollow, ")
    assert "green sand would not stand" in line.reason_words()


def slender(at: tuple[float, float, float], *remedies: Remedy) -> Cause:
    said = Finding(
        "slender-sand", Severity.WARN, "", place_mm=at, figures={"width_mm": 20.0, "depth_mm": 30.0}, remedies=remedies
    )
    return cause(Rule.SLENDER, *remedies, members=(("parting", said),))


def test_slender_sand_is_cored_or_its_narrow_bore_cast_solid_and_the_bore_is_meant_not_the_rim_round_it() -> None:
    ring = M.cylinder(30, 60, 60, 96) - M.cylinder(40, 50, 50, 96).translate([0, 0, -5])
    hub = M.cylinder(30, 20, 20, 96) + M.cube([104, 8, 10], True).translate([0, 0, 5])
    cored = Remedy("core", "", AskFor("core", AT))
    for radius, kind in ((10.0, LineKind.BORE), (14.0, LineKind.CORE)):
        mesh = mesh_of((ring + hub) - M.cylinder(80, radius, radius, 96, True))
        (line,) = sand_lines([slender((1.0, 0.0, 20.0), cored)], mesh, features_of(mesh), VESSEL)
        assert line.kind is kind and line.figures["wide_mm"] == pytest.approx(2.0 * radius, rel=1e-3)
        (change,) = line.changes
        assert isinstance(change, MakeHollow) and float(np.hypot(*change.at_mm[:2])) == pytest.approx(radius, rel=1e-2)
        # beside every bore, it is a core of whatever it is; without the remedy nothing
        (line,) = sand_lines([slender((80.0, 0.0, 20.0), cored)], mesh, features_of(mesh), VESSEL)
        assert line.kind is LineKind.CORE and line.changes == (MakeHollow((80.0, 0.0, 20.0), "core"),)
        assert sand_lines([slender((1.0, 0.0, 20.0))], mesh, features_of(mesh), VESSEL) == []


def test_gaps_too_thin_for_a_core_are_filled_those_of_one_make_by_one_line() -> None:
    def thin(x: float, wide: float) -> Cause:
        place = (x, 0.0, 0.0)
        filling = Remedy("cast-solid", "", AskFor("fill", place))
        figures = {"width_mm": wide, "depth_mm": 20.0}
        told = Finding("slender-sand", Severity.WARN, "It.", place_mm=place, figures=figures, remedies=(filling,))
        return cause(Rule.SLENDER, members=(("parting", told),))

    mesh = mesh_of(box(10, 10, 10))
    lines = sand_lines([thin(1.0, 3.0), thin(2.0, 3.1), thin(3.0, 4.5)], mesh, (), VESSEL)
    assert [line.words() for line in lines] == ["Fill the gaps, 3\u00a0mm wide", "Fill the gap, 4.5\u00a0mm wide"]
    assert [line.changes for line in lines] == [(AskFor("fill", (x, 0.0, 0.0)),) for x in (1.0, 3.0)]
    assert all(line.kind is LineKind.GAP and line.cures == (Rule.SLENDER,) for line in lines)


def test_what_hangs_is_turned_over_only_where_that_is_a_cure() -> None:
    up = np.array([0.0, 0.0, 1.0])
    over, drag = Remedy("turn-over", "", SetUpsideDown(turned=True)), Remedy("in-drag", "", SetRammed("drag"))
    (line,) = turned_lines([slender(AT, over), slender(AT, over)], up)
    assert line.kind is LineKind.OVER and line.changes == (SetDraw((0.0, 0.0, -1.0)),)
    (line,) = turned_lines([slender(AT, drag)], up)
    assert line.changes == (SetRammed("drag"),)
    assert turned_lines([slender(AT), cause(Rule.UNDERCUT, over)], up) == []


def test_a_pocket_that_holds_sand_may_be_cored_but_not_one_in_each_gap_between_teeth() -> None:
    cored = Remedy("core", "", AskFor("core", AT))
    (line,) = others_of(cause(Rule.UNDERCUT, cored), set())
    assert line.kind is LineKind.CORE and line.changes == (MakeHollow(AT, "core"),)
    assert others_of(cause(Rule.UNDERCUT, cored, count=24), set()) == []
