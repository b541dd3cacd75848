"""Our papers: their size, the same bytes each time, and streams packed as they are."""

import io

import pytest

from pounce.base.paper import PAPERS
from pounce.base.pdf import new_pdf


def drawn(paper: str) -> bytes:
    stream = io.BytesIO()
    page = new_pdf(stream, PAPERS[paper])
    page.setFont("Body", 12)
    page.drawString(100, 100, "Sand that locks")
    page.showPage()
    page.save()
    return stream.getvalue()


@pytest.mark.parametrize(("paper", "box"), [("A4", b"[ 0 0 595.2756 841.8898 ]"), ("letter", b"[ 0 0 612 792 ]")])
def test_a_page_has_the_paper_it_was_asked_for_and_the_same_bytes_again(paper: str, box: bytes) -> None:
    made = drawn(paper)
    assert box in made
    assert made == drawn(paper)


def test_streams_are_packed_but_not_spelled_out_in_letters() -> None:
    made = drawn("A4")
    assert b"FlateDecode" in made and b"ASCII85Decode" not in made
    assert b"SourceSansPro" in made  # our own typeface, shipped in the file
