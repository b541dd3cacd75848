"""Lines of Stock given as words."""

import pytest

from pounce.base.errors import UserFault
from pounce.stock.parse import USUAL, parse_addition
from pounce.stock.values import Camber, Draft, Fill, Fillets, Finish, Lettering, Level, Machining

AT = (1.0, -2.5, 3.0)


@pytest.mark.parametrize(
    ("word", "line"),
    [
        ("draft", Draft()),
        ("draft:2", Draft(2.0)),
        ("draft:1.5:half", Draft(1.5, "half")),
        ("draft::take", Draft(None, "take")),
        ("fill", Fill()),
        ("fill:8", Fill(under_mm=8.0)),
        ("fill@1,-2.5,3", Fill(at_mm=AT)),
        ("fillets", Fillets()),
        ("fillets:3", Fillets(3.0)),
        ("fillets:3:0.5", Fillets(3.0, 0.5)),
        ("camber", Camber()),
        ("camber:1.2:+z", Camber(bow_mm=1.2, toward="+z")),
        ("camber:-y", Camber(toward="-y")),
        ("legs:0.8", Camber(0.8, legs=True)),
        ("finish:0.1,0.2,0.4", Finish(0.1, 0.2, 0.4)),
        ("machine@1,-2.5,3", Machining(AT)),
        ("machine@1,-2.5,3:F", Machining(AT, "F")),
        ("machine@1,-2.5,3:f", Machining(AT, "F")),
        ("machine@1,-2.5,3:home", Machining(AT, school="home")),
        ("machine@1,-2.5,3:2.5", Machining(AT, own_mm=2.5)),
        ("text@1,-2.5,3:OAK", Lettering("OAK", AT, 10.0, 1.0)),
        ("text@1,-2.5,3:OAK:8", Lettering("OAK", AT, 8.0, 1.0)),
        ("text@1,-2.5,3:OAK:8:-0.5", Lettering("OAK", AT, 8.0, -0.5)),
        ("level@1,-2.5,3:12", Level(AT, 12.0)),
        (" Draft:2 ", Draft(2.0)),
    ],
)
def test_words_become_their_lines(word: str, line: object) -> None:
    assert parse_addition(word) == line


@pytest.mark.parametrize(
    "word",
    [
        "",
        "paint",
        "draft:steep",
        "draft:2:sideways",
        "fill@1,2",
        "machine",
        "machine@1,2,3:Q!",
        "text@1,2,3",
        "finish:1",
        "level@1,2,3",
    ],
)
def test_words_that_are_no_line_are_refused_with_what_may_be_given(word: str) -> None:
    with pytest.raises(UserFault, match=r"is no addition\. Give draft"):
        parse_addition(word)


def test_the_usual_line_of_a_word_is_what_the_word_alone_means() -> None:
    for word, line in USUAL.items():
        if word not in ("finish", "rap"):
            assert parse_addition(word) == line
