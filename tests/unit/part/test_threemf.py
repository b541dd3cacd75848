"""Writing 3MF leaves the rest of the program as it was."""

import locale
from pathlib import Path

from pounce.solid.threemf import write_3mf
from tests.conftest import box, mesh_of


def test_writing_leaves_the_locale_alone(tmp_path: Path) -> None:
    before = locale.setlocale(locale.LC_ALL)
    write_3mf(tmp_path / "a.3mf", [("a", mesh_of(box(1, 2, 3)))])
    assert locale.setlocale(locale.LC_ALL) == before
