"""The tables: what does not stand does not load, and what is asked for by a wrong name is said."""

import pytest

from pounce.base.errors import UserFault
from pounce.metals import tables
from pounce.metals.tables import Figure, GradeRow, GradeTable, Mix, baking_words, checked, held

PLAIN = {"value": 2.0, "low": 1.0, "high": 3.0, "unit": "mm", "source": "sand-practice"}


def test_a_figure_that_stands_passes() -> None:
    checked("here", {"deep": {"deeper": PLAIN}})


@pytest.mark.parametrize(
    ("changed", "said"),
    [
        ({"value": 0.5}, "outside"),
        ({"value": 3.5}, "outside"),
        ({"unit": " "}, "no unit"),
        ({"source": "hearsay"}, "no source"),
        ({"cautions": ("unheard-of",)}, "no caution"),
    ],
)
def test_one_that_does_not_is_named(changed: dict[str, object], said: str) -> None:
    with pytest.raises(ValueError, match=said) as told:
        checked("metals.tin", {"wall": PLAIN | changed})
    assert "metals.tin.wall" in str(told.value)


def test_a_figure_without_a_source_does_not_load() -> None:
    bare = {key: value for key, value in PLAIN.items() if key != "source"}
    with pytest.raises(ValueError, match="no source"):
        checked("metals.tin", bare)


@pytest.mark.parametrize(
    "asked", [tables.metal, tables.mould, tables.pattern_kind, tables.mix, tables.timber, tables.screw]
)
def test_a_wrong_name_is_a_sentence_with_what_to_try(asked) -> None:  # type: ignore[no-untyped-def] # noqa: ANN001
    with pytest.raises(UserFault) as told:
        asked("unobtainium")
    assert "unobtainium" in told.value.what and told.value.try_this


def test_every_id_finds_its_row() -> None:
    for many, one in (
        (tables.metals(), tables.metal),
        (tables.moulds(), tables.mould),
        (tables.pattern_kinds(), tables.pattern_kind),
        (tables.mixes(), tables.mix),
        (tables.timbers(), tables.timber),
        (tables.screws(), tables.screw),
    ):
        assert len(many) >= 3
        for key, row in many.items():
            assert one(key) is row and row.name


GRADES = GradeTable(
    "sand-practice", "mm", "", 0.0, ("F", "G"), (GradeRow(40.0, (0.5, 0.7)), GradeRow(1000.0, (1.0, 2.0)))
)


@pytest.mark.parametrize(
    ("size", "grade", "mm"),
    [(1.0, "F", 0.5), (40.0, "G", 0.7), (40.019, "G", 0.7), (40.03, "G", 2.0), (1000.1, "F", 1.0)],
)
def test_a_size_falls_in_its_row_heedless_of_noise(size: float, grade: str, mm: float) -> None:
    assert GRADES.at(size, grade) == mm


def test_beyond_the_table_and_beside_its_grades_is_said() -> None:
    with pytest.raises(UserFault, match="ends at 1000 mm"):
        GRADES.at(1001.0, "F")
    with pytest.raises(UserFault, match="no grade 'X'"):
        GRADES.at(10.0, "X")


def test_set_sand_holds_by_figures_of_its_own() -> None:
    for name in ("slender_sand", "bore_solid"):
        if f"{name}_set" in tables.limits():
            assert held(name, "set") is tables.limits()[f"{name}_set"]
            assert held(name, "damp") is tables.limits()[name]
    with pytest.raises(KeyError):
        held("no-such-figure", "damp")


def test_sources_say_how_far_to_trust_them() -> None:
    kinds = {source.kind for source in tables.sources().values()}
    assert kinds == {"published", "memory", "practice"}
    for source in tables.sources().values():
        assert source.words().endswith((" (published)", " (from memory)", " (common practice)"))


def test_baking_in_one_school_and_in_two() -> None:
    baked = [one for one in tables.mixes().values() if one.bake is not None]
    assert baked
    for one in baked:
        words = baking_words(one)
        assert words.startswith(" Bake at") and "loses no more weight" in words
        assert ("low-oven school" in words) == (one.slow_bake is not None)
    cold = [one for one in tables.mixes().values() if one.bake is None]
    assert cold and all(baking_words(one) == "" for one in cold)


def test_the_digest_is_one_of_all_tables() -> None:
    assert tables.tables_digest() == tables.tables_digest() and len(tables.tables_digest()) == 32


def test_a_mix_holds_what_its_parts_say() -> None:
    for one in tables.mixes().values():
        assert isinstance(one, Mix) and one.steps
        assert 0.0 < one.binder_part.value < 20.0 and one.water_part.value >= 0.0
        assert 1000.0 < one.density.value < 2200.0  # rammed sand in kg/m3, common practice
        assert one.strip.low <= one.strip.value <= one.strip.high


def test_figures_are_whole() -> None:
    """Densities and liquidus of the metals lie in the order of their heaviness and heat (common knowledge)."""
    rho = {key: one.density.value for key, one in tables.metals().items()}
    assert rho["magnesium"] < rho["aluminium-silicon"] < rho["grey-iron"] < rho["carbon-steel"]
    hot = {key: one.liquidus.value for key, one in tables.metals().items()}
    assert hot["pewter"] < hot["aluminium-silicon"] < hot["grey-iron"] < hot["carbon-steel"]
    for one in tables.metals().values():
        assert one.solidus.value <= one.liquidus.value < one.pouring.value
        assert isinstance(one.least_wall, Figure) and one.least_wall.value > 0.0
