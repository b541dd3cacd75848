"""The craft pages: Markdown in, parts out; each drawing is there, each school is a choice of its stop."""

import re

import pytest

from pounce.craft.drawings import DRAWINGS
from pounce.craft.page import PLAN, Page, page_of, read, text_of
from pounce.job.choose import choose_word
from pounce.job.job import Job
from pounce.route.stops import ids, stop_of

PAGES = (*ids(), PLAN)


@pytest.mark.parametrize("name", PAGES)
def test_each_page_has_all_its_parts(name: str) -> None:
    page = page_of(name)
    assert page.lead and page.sources.startswith("Sources: ")
    assert 2 <= len(page.drawings) <= 3
    assert len(page.paragraphs) >= 4
    named = [*page.drawings, *(one for each in page.paragraphs for one in each.drawings)]
    assert all(one.name in DRAWINGS and one.head and one.words.endswith(".") for one in named)


def test_every_drawing_is_used() -> None:
    used = {one.name for name in PAGES for one in _drawings(page_of(name))}
    assert used == set(DRAWINGS)


def _drawings(page: Page) -> list:  # type: ignore[type-arg]
    return [*page.drawings, *(one for each in page.paragraphs for one in each.drawings)]


@pytest.mark.parametrize("name", PAGES)
def test_a_school_is_a_choice_that_can_be_taken(name: str) -> None:
    for paragraph in page_of(name).paragraphs:
        assert len(paragraph.schools) != 1, "one school is no choice"
        for school in paragraph.schools:
            if school.stop:
                choice = next(one for one in stop_of(school.stop).choices if one.key == school.key)
                assert choose_word(Job(), school.stop, choice, school.word).job is not None


def test_no_word_of_a_page_is_lost_on_the_way() -> None:
    for name in PAGES:
        page, text = page_of(name), text_of(name)
        kept = " ".join(
            [page.title, page.lead, page.sources]
            + [f"{one.head} {one.words}" for one in _drawings(page)]
            + [f"{one.head} {one.words}" for one in page.paragraphs]
            + [f"{s.head} {s.words}" for one in page.paragraphs for s in one.schools]
        )
        missing = [word for word in _plain(text) if word not in _plain(kept)]
        assert missing == []


def _plain(text: str) -> set[str]:
    text = re.sub(r"\(drawing:[\w-]+\)|\([\w-]+ [\w-]+=[\w-]+\)", "", text)
    return set(re.findall(r"[a-zA-Z]{3,}", text))


def test_a_page_in_plain_words() -> None:
    page = read(
        "crate",
        "# Crate\n\nStraw helps.\n\n**Why.** It\nbreaks.\n\n> **Straw.** Cheap.\n> **Wool.** Dear. (crate fill=wool)",
    )
    assert (page.title, page.lead) == ("Crate", "Straw helps.")
    (why,) = page.paragraphs
    assert (why.head, why.words) == ("Why", "It breaks.")
    assert [(one.head, one.stop, one.key, one.word) for one in why.schools] == [
        ("Straw", "", "", ""),
        ("Wool", "crate", "fill", "wool"),
    ]
    assert page.paragraph("Why") == 0 and page.paragraph("How") is None
    with pytest.raises(ValueError, match="no school"):
        read("crate", "# Crate\n\n**Why.** It breaks.\n\n> Straw, cheap.")
