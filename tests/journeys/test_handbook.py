"""The handbook: plain HTML that leads nowhere else, with every picture and link in its place."""

import shutil
import subprocess
import sys
from html.parser import HTMLParser
from pathlib import Path
from urllib.parse import unquote, urlsplit

import pytest

import pounce
from pounce.craft.glossary import words
from pounce.route.stops import ids
from tests.builds import whole_tree
from tests.waits import slowness

ROOT = Path(__file__).parents[2]


class Links(HTMLParser):
    """What a page asks for, and its anchors."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.wanted: list[str] = []
        self.anchors: set[str] = set()
        self.pictures: list[dict[str, str | None]] = []
        self.feed(text)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        named = dict(attrs)
        self.wanted += [value for key in ("href", "src") if (value := named.get(key))]
        if named.get("id"):
            self.anchors.add(str(named["id"]))
        if tag == "img":
            self.pictures.append(named)


@pytest.fixture(scope="module")
def handbook(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Built anew from the docs as they are."""
    words = [sys.executable, str(ROOT / "scripts/make_handbook.py")]
    with whole_tree():
        subprocess.run(words, check=True, capture_output=True, timeout=120 * slowness())
        made = tmp_path_factory.mktemp("handbook") / "handbook"
        shutil.copytree(Path(pounce.__file__).parent / "handbook", made)
    return made


def test_every_link_and_picture_is_there_and_nothing_is_fetched(handbook: Path) -> None:
    pages = {path: Links(path.read_text(encoding="utf-8")) for path in handbook.rglob("*.html")}
    assert len(pages) >= 12
    for path, page in pages.items():
        for link in page.wanted:
            parts = urlsplit(link)
            assert not parts.scheme and not parts.netloc, f"{path.name} fetches {link}"
            target = (path.parent / unquote(parts.path)).resolve() if parts.path else path
            assert target.exists(), f"{path.name} leads to {link}, which is not there"
            if parts.fragment and target in pages:
                assert parts.fragment in pages[target].anchors, f"{link} in {path.name}"
        assert all(picture.get("alt") for picture in page.pictures), f"a picture of {path.name} says nothing"


def test_it_holds_what_a_beginner_and_a_maker_want(handbook: Path) -> None:
    stops = (handbook / "stops.html").read_text(encoding="utf-8")
    assert stops.count("<h2") >= len(ids()) + 1
    glossary = (handbook / "glossary.html").read_text(encoding="utf-8")
    assert all(one.says.replace("'", "&#x27;") in glossary or one.says in glossary for one in words())
    assert len(list((handbook / "howto").glob("*.html"))) == 6
    first = Links((handbook / "first-casting.html").read_text(encoding="utf-8"))
    assert sum("screenshots/" in str(picture["src"]) for picture in first.pictures) >= 10
