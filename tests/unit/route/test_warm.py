"""Making the tools ready: whole the first time, only what the first picture needs after it."""

from collections.abc import Iterator
from pathlib import Path

import platformdirs
import pytest

from pounce.route import warm


@pytest.fixture
def cache(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    monkeypatch.setattr(platformdirs, "user_cache_dir", lambda name: str(tmp_path / "cache" / name))
    yield tmp_path / "cache"


def texts_of() -> list[str]:
    said: list[str] = []
    warm.warm(lambda _, text: said.append(text))
    return said


def test_the_stamp_is_of_this_version_at_this_place(cache: Path) -> None:
    assert not warm.ready()
    warm.mark_ready()
    assert warm.ready()
    (stamp,) = (cache / "pounce").iterdir()
    stamp.write_text("/elsewhere/pounce/route/warm.py", encoding="utf-8")
    assert not warm.ready()
    stamp.write_bytes(b"\xff\xfe\x00")
    assert not warm.ready()


def test_a_cache_that_takes_nothing_stops_nobody(cache: Path) -> None:
    cache.write_text("a file in the way", encoding="utf-8")
    warm.mark_ready()
    assert not warm.ready()


@pytest.mark.usefixtures("cache")
def test_later_starts_load_the_first_stops_only() -> None:
    warm.mark_ready()
    said = texts_of()
    assert any("draw" in text.lower() for text in said)
    assert not any("pattern" in text.lower() or "freez" in text.lower() for text in said)
