"""Making the tools ready: whole the first time, only what the first picture needs after it."""

from collections.abc import Iterator
from pathlib import Path

import platformdirs
import pytest

from pounce.base.ready import mark_ready
from pounce.route import warm


@pytest.fixture
def cache(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    monkeypatch.setattr(platformdirs, "user_cache_dir", lambda name: str(tmp_path / "cache" / name))
    yield tmp_path / "cache"


def texts_of() -> list[str]:
    said: list[str] = []
    warm.warm(lambda _, text: said.append(text))
    return said


@pytest.mark.usefixtures("cache")
def test_later_starts_load_the_first_stops_only() -> None:
    mark_ready()
    said = texts_of()
    assert any("draw" in text.lower() for text in said)
    assert not any("pattern" in text.lower() or "freez" in text.lower() for text in said)


@pytest.mark.usefixtures("cache")
def test_setting_up_makes_all_of_them_whatever_was_made_before() -> None:
    """A fresh clone where another one lay finds the stamp but none of what it stands for."""
    mark_ready()
    said: list[str] = []
    warm.warm(lambda _, text: said.append(text), anew=True)
    assert any("freez" in text.lower() for text in said)
