"""Defects and their causes: the table is whole, odds multiply, ties and the unclear are told."""

from datetime import UTC, datetime

import msgspec
import pytest

from pounce.logbook.diagnose import diagnosed
from pounce.logbook.evidence import SAYS, Case, words_of
from pounce.logbook.facts import Facts, Neck, Spot
from pounce.logbook.said import Grade, Verdict
from pounce.logbook.values import Defect, Pour
from pounce.metals.defects import QUESTIONS, defects, share_of
from pounce.metals.tables import sources

AT = datetime(2026, 9, 5, tzinfo=UTC)
# What a sound job says of itself: nothing speaks for any cause.
CALM = Facts(
    long_mm=150.0,
    frozen=True,
    spots=(Spot((0.0, 0.0, 0.0), "the boss", 60.0, 60.0, "Gates", False),),
    filled=True,
    spare_c=90.0,
    gate_m_s=0.4,
    limit_m_s=0.5,
    fills=1,
    cores=0,
    torn_mm3=0.0,
    add_kg=0.0,
    aim_c=720.0,
    lift_c=750.0,
    most_c=790.0,
    ram_min_l=0.8,
    rounded=True,
    water=True,
)
PLAIN = Pour("p", AT, "j", charge="ingot", planned_c=720.0, poured_c=720.0, squeeze="right", ram_min_l=0.8, coat="none")


# A place that nothing feeds, and a neck that shuts before what it feeds.
ROOT = Spot((0.0, 0.0, 0.0), "the root", 124.0, 59.0, "", True)
SHUT = Neck("The neck of feeder 1", (0.0, 0.0, 0.0), 59.0, 124.0)


def found(defect: Defect, facts: Facts = CALM, pour: Pour = PLAIN, **more: object):  # noqa: ANN201
    facts = Facts(**{name: more.get(name, getattr(facts, name)) for name in Facts.__dataclass_fields__})  # type: ignore[arg-type]
    fields = {name: value for name, value in more.items() if name in Pour.__struct_fields__}
    return diagnosed(Case(defect, msgspec.structs.replace(pour, **fields), facts))


def test_the_table_is_whole() -> None:
    table = defects()
    for name in table.cause:
        for question in QUESTIONS:
            signs = getattr(table, question)
            assert sum(share_of(name, question, sign) for sign in signs) == pytest.approx(1.0)
            assert all(share_of(name, question, sign) > 0.0 for sign in signs)
    assert {one.source for one in table.cause.values()} <= set(sources())
    assert set(SAYS) == set(table.evidence) and len(table.cause) == 19
    # each sign is somebody's first
    for sign in table.seen:
        assert max(share_of(name, "seen", sign) for name in table.cause) > 0.3, sign


def test_odds_are_the_product_of_what_stands_in_the_table() -> None:
    defect = Defect("missing", "thin", "shake-out")
    made = found(defect)
    table = defects()
    case = Case(defect, PLAIN, CALM)
    odds = {}
    for name, cause in table.cause.items():
        odds[name] = cause.prior.value
        for question in QUESTIONS:
            odds[name] *= share_of(name, question, getattr(defect, question))
        for word in words_of(case).get(name, ()):
            odds[name] *= (table.evidence[word.key].pro if word.pro else table.evidence[word.key].con).value
    whole = sum(odds.values())
    for one in made.suspects:
        assert one.share == pytest.approx(odds[one.cause] / whole)
    with pytest.raises(KeyError):
        found(Defect("nothing"))


@pytest.mark.parametrize(
    ("defect", "facts", "pour", "cause"),
    [
        # common practice, without source: what each of these looks like, with the figure that proves it
        (
            ("sink", "thick", "cut"),
            {"spots": (Spot((0, 0, 0), "the root", 124.0, 59.0, "", True),)},
            {},
            "feeder-first",
        ),
        (
            ("sink", "gate", "cut"),
            {"necks": (Neck("The neck of feeder 1", (0, 0, 0), 59.0, 124.0),)},
            {},
            "gate-frozen",
        ),
        (("missing", "thin", "shake-out"), {"spare_c": 5.0}, {"poured_c": 700.0}, "thin-cool"),
        (("lap", "thin", "shake-out"), {"meets_c": -4.0}, {}, "cold-shut"),
        (("lap", "all", "shake-out"), {}, {"broken": True}, "two-goes"),
        (("hole-smooth", "core", "machining"), {"cores": 1}, {}, "damp-core"),
        (("hole-smooth", "top", "shake-out"), {}, {"moisture_percent": 7.0}, "damp-sand"),
        (("pinholes", "all", "machining"), {}, {"charge": "scrap", "lift_c": 850.0}, "metal-gas"),
        (("lump", "top", "shake-out"), {"torn_mm3": 900.0}, {}, "hanging-sand"),
        (("sand-in", "gate", "cleaning"), {"gate_m_s": 0.9}, {}, "sand-wash"),
        (("sand-in", "top", "machining"), {"gate_m_s": 0.9}, {}, "gate-speed"),
        (("sand-in", "bottom", "machining"), {}, {}, "loose-sand"),
        (("swell", "bottom", "shake-out"), {}, {"ram_min_l": 0.3}, "soft-ramming"),
        (("rough", "core", "cleaning"), {}, {}, "penetration"),
        (("rough", "all", "shake-out"), {}, {"poured_c": 780.0}, "hot"),
        (("fin", "joint", "shake-out"), {"add_kg": 12.0}, {"weighted_kg": 4.0}, "cope-lifted"),
        (("step", "joint", "shake-out"), {}, {}, "mould-shift"),
        (("wall-off", "core", "machining"), {"cores": 1, "cores_open": 1}, {}, "core-shift"),
        (("crack", "thick", "cleaning"), {"held": True, "rounded": False}, {}, "hot-tear"),
    ],
    ids=lambda one: one if isinstance(one, str) else "",
)
def test_each_cause_is_found_by_its_own_signs_and_figures(defect, facts, pour, cause) -> None:  # noqa: ANN001
    made = found(Defect(*defect), **facts, **pour)
    assert made.suspects[0].cause == cause and made.verdict is Verdict.CLEAR, [
        (one.cause, round(one.share, 2)) for one in made.suspects
    ]
    assert made.test == made.suspects[0].test and made.suspects[0].advice


def test_a_figure_of_the_job_turns_the_answer() -> None:
    """The same sunk face: fed to the end, its neck is not the cause; the neck shut, it is."""
    sink = Defect("sink", "gate", "cut")
    spot = Spot((0, 0, 0), "the root", 124.0, 59.0, "Feeder 1", True)
    shut = found(sink, spots=(spot,), necks=(Neck("The neck of feeder 1", (0, 0, 0), 59.0, 124.0),))
    fine = found(sink, spots=(spot,), necks=(Neck("The neck of feeder 1", (0, 0, 0), 140.0, 124.0),))
    assert shut.suspects[0].cause == "gate-frozen"
    assert "sets at 59\u00a0s, what it feeds at 124" in shut.suspects[0].word
    assert fine.suspects[0].cause == "feeder-first"
    dry = found(Defect("hole-smooth", "core", "machining"), cores=1, core_dry=True)
    assert dry.suspects[0].cause != "damp-core"


def test_two_causes_that_stand_alike_are_a_tie_with_the_test_of_both() -> None:
    made = found(Defect("pinholes", "top", "machining"))
    assert made.verdict is Verdict.TIE and {one.cause for one in made.suspects[:2]} == {"metal-gas", "damp-sand"}
    assert "A tie" in made.said and all(one.test in made.test for one in made.suspects[:2])
    # one figure more and it is none
    assert found(Defect("pinholes", "top", "machining"), moisture_percent=8.0).verdict is Verdict.CLEAR


def test_what_cannot_be_told_is_said() -> None:
    bare, knows = Pour("p", AT, "j"), Facts(water=True)
    for defect in (Defect("rough", "top"), Defect("fin", "top"), Defect("sand-in", "thick", "leak")):
        made = found(defect, knows, bare)
        assert made.verdict is Verdict.UNCLEAR and "cannot be told" in made.said and made.test
        assert made.suspects[0].grade is not Grade.LIKELY


def test_a_place_that_is_pointed_at_is_held_to_what_lies_there() -> None:
    far = Spot((100.0, 0.0, 0.0), "the flange", 124.0, 59.0, "", True)
    here = found(Defect("sink", "thick", "cut", (98.0, 2.0, 0.0)), spots=(far,))
    there = found(Defect("sink", "thick", "cut", (0.0, 0.0, 0.0)), spots=(far,))

    def share(made) -> float:  # noqa: ANN001
        return next((one.share for one in made.suspects if one.cause == "feeder-first"), 0.0)

    assert share(here) > share(there) + 0.2
