"""What the lines of Stock are called, and in what order they are worked."""

import msgspec
import pytest

from pounce.stock.values import (
    FREE_ORDER,
    NAMES,
    ORDER,
    Added,
    Addition,
    AxisShrink,
    Bulk,
    Camber,
    Draft,
    Fill,
    Fillets,
    Finish,
    Lettering,
    Level,
    LineKind,
    Machining,
    StockChoices,
    line_kind,
)

LINES: tuple[Addition, ...] = (
    Machining((1.0, 2.0, 3.0), grade="G", cope_more=True),
    Fill((1.0, 2.0, 3.0), proud_mm=1.0),
    Fill(under_mm=8.0),
    Draft(2.0, "half"),
    Fillets(3.0, 1.0, ((0.0, 0.0, 0.0),)),
    Lettering("A 1", (0.0, 0.0, 5.0), turn_deg=90.0),
    Level((0.0, 0.0, 5.0)),
    Camber(1.5, "x", "+z"),
    Finish(0.2, 0.1, 0.5, 0.3),
)


@pytest.mark.parametrize("line", LINES, ids=lambda line: type(line).__name__)
def test_each_line_is_one_kind_with_a_name_and_a_place_in_the_order(line: Addition) -> None:
    kind = line_kind(line)
    assert kind is LineKind(type(line).__name__)
    assert NAMES[kind] and kind in ORDER


def test_lines_go_through_json_and_back() -> None:
    choices = StockChoices(LINES, (AxisShrink("core"), AxisShrink(own_percent=1.1), AxisShrink(bed_percent=0.2)), 0.3)
    assert msgspec.json.decode(msgspec.json.encode(choices), type=StockChoices) == choices


def test_an_unknown_kind_or_field_does_not_come_in() -> None:
    for text in ('{"lines": [{"kind": "weld"}]}', '{"lines": [{"kind": "draft", "angle": 3}]}', '{"line": []}'):
        with pytest.raises(msgspec.ValidationError):
            msgspec.json.decode(text, type=StockChoices)


def test_what_later_lines_stand_on_is_worked_first() -> None:
    """Stock before the holes that run through it, draft before the fillets at its foot, the bend last of all."""
    at = ORDER
    assert at[LineKind.LEVEL] < at[LineKind.MACHINING] < at[LineKind.FILL] < at[LineKind.DRAFT]
    assert at[LineKind.DRAFT] < at[LineKind.FINISH] < at[LineKind.FILLETS] < at[LineKind.LETTERING]
    assert max(at, key=lambda kind: at[kind]) is LineKind.CAMBER
    assert len(set(at.values())) == len(LineKind) == len(NAMES)
    assert LineKind.CAMBER not in FREE_ORDER and LineKind.LEVEL not in FREE_ORDER


def test_an_added_line_speaks_in_the_readers_unit() -> None:
    line = Added(
        LineKind.MACHINING,
        "Stock {stock_mm} on the foot",
        "{area_mm2} of it",
        {"stock_mm": 12.7, "area_mm2": 645.16},
        1638.0,
        0.0,
        True,
        0,
        1,
    )
    assert "12.7" in line.words("mm") and "0.5" in line.words("in")
    assert "in" in line.words("in") and line.about_words("in") != line.about_words("mm")


def test_a_place_with_nothing_thin_beside_it_is_endlessly_thicker() -> None:
    assert Bulk((0.0, 0.0, 0.0), 12.0, 4.0).ratio == 3.0
    assert Bulk((0.0, 0.0, 0.0), 12.0, 0.0).ratio == float("inf")
