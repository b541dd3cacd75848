"""The pour card, read back: one page with the figures of the pour, in A4 and letter."""

import io
from dataclasses import replace

import pytest
from pypdf import PdfReader

from pounce.base.pdf import register_fonts
from pounce.base.units import heat_words, mass
from pounce.pour.values import Mouldful, PourChoices, Turn
from pounce.sheet.pourpage import before_words, clock_words, pour_card
from tests.unit.pour.made import pour_result


def read(data: bytes) -> tuple[str, tuple[float, float]]:
    register_fonts()
    pages = PdfReader(io.BytesIO(data)).pages
    assert len(pages) == 1
    box = pages[0].mediabox
    return pages[0].extract_text().replace("\u00a0", " "), (float(box.width), float(box.height))


@pytest.mark.parametrize(("paper", "size"), [("A4", (595, 842)), ("letter", (612, 792))])
def test_the_card_says_what_the_pour_says(paper: str, size: tuple[float, float]) -> None:
    register_fonts()
    made = pour_result()
    text, shown = read(pour_card("Garden bracket", made, paper))
    assert shown == pytest.approx(size, abs=1.0)
    for figure in (mass(made.charged.kg), f"{round(made.lift_c)} °C", f"{round(made.lift_c * 1.8 + 32)} °F"):
        assert figure.replace("\u00a0", " ") in text
    flat = " ".join(text.split())
    for one in made.placed:
        assert one.step.text.split(",")[0].split(" ")[0] in flat
    for check in made.checks:
        assert check.text.split(" ")[0] in flat
    assert "If it goes wrong" in flat and "never water" in flat and "Readings" in flat and "____" in flat
    assert "licensed practice go first" in flat and "steam" in flat


def test_with_a_time_it_shows_the_clock_and_several_moulds_their_heat() -> None:
    register_fonts()
    made = pour_result(PourChoices(moulds=3))
    text, _ = read(pour_card("Garden bracket", made, "A4", "15:30"))
    assert "pour at 15:30" in text and "15:30" in text.split("By the clock")[1]
    assert heat_words(made.last.at_c).replace("\u00a0", " ") in text
    # a cold one and a long list still fit on the page
    cold = Turn(
        Mouldful("Very long name of a mould that goes on and on", 1.0, 4.0, 730.0, 750.0, 740.0), 1, 90.0, 650.0
    )
    full = replace(made, turns=(*made.turns, cold), checks=made.checks * 2, placed=made.placed * 2)
    read(pour_card("Garden bracket", full, "letter", "15:30"))


def test_times_in_words() -> None:
    assert [before_words(one) for one in (-103.0, -8.2, 0.0, 21.0, 130.0)] == [
        "-1 h 43",
        "-8 min",
        "pour",
        "+21 min",
        "+2 h 10",
    ]
    assert clock_words("00:20", -30.0) == "23:50 -1 d" and clock_words("23:50", 20.0) == "00:10 +1 d"
    assert clock_words("15:30", 0.0) == "15:30"
