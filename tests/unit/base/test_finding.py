"""Findings in words: figures filled in, in the reader's units."""

from pounce.base.finding import Finding, Remedy, Severity, filled

NB = "\u00a0"
HOLE = Finding(
    "locked",
    Severity.WARN,
    "The hole {diameter_mm} locks over {area_mm2}.",
    noun="hole {diameter_mm}",
    figures={"diameter_mm": 12.7, "area_mm2": 500.0},
    main="area_mm2",
    remedies=(Remedy("fill", "Fill it"),),
)


def test_text_noun_and_main_figure_are_said_in_the_readers_units() -> None:
    assert HOLE.words() == f"The hole 12.7{NB}mm locks over 5.0{NB}cm²."
    assert HOLE.words("in") == f"The hole 0.5{NB}in locks over 0.78{NB}sq in."
    assert HOLE.noun_words() in HOLE.words() and HOLE.noun_words("in") in HOLE.words("in")
    assert HOLE.main_words() == f"5.0{NB}cm²"
    assert Finding("x", Severity.NOTE, "Nothing.").main_words() == ""


def test_what_has_no_figure_stays_as_it_stands() -> None:
    assert filled("{who} waits {long_mm}", {"long_mm": 1.0}) == f"{{who}} waits 1{NB}mm"


def test_only_notes_leave_nothing_to_decide() -> None:
    told = {severity: Finding("x", severity, "X.").informational for severity in Severity}
    assert told == {Severity.STOP: False, Severity.WARN: False, Severity.NOTE: True}
