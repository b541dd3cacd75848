"""The stamp of compiled kernels: of this version, at this place, and worth no fault."""

from collections.abc import Iterator
from pathlib import Path

import platformdirs
import pytest

from pounce.base.ready import mark_ready, ready, stamp
from pounce.base.version import VERSION


@pytest.fixture
def cache(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    monkeypatch.setattr(platformdirs, "user_cache_dir", lambda name: str(tmp_path / "cache" / name))
    yield tmp_path / "cache"


def test_the_stamp_is_of_this_version_at_this_place(cache: Path) -> None:
    assert not ready()
    mark_ready()
    assert ready() and stamp().is_relative_to(cache) and VERSION in stamp().name
    stamp().write_text("/elsewhere/pounce/base/ready.py", encoding="utf-8")
    assert not ready(), "another install has kernels of its own"
    stamp().write_bytes(b"\xff\xfe\x00")
    assert not ready()


def test_a_cache_that_takes_nothing_stops_nobody(cache: Path) -> None:
    cache.write_text("a file in the way", encoding="utf-8")
    mark_ready()
    assert not ready()
