"""Short runs of the campaigns: `make fuzz N=10000` runs them long. A seed that once broke something stays here."""

import os
from functools import partial
from pathlib import Path

import pytest

from tests.fuzz import files, kill, lines
from tests.fuzz.__main__ import FILES, LINES
from tests.fuzz.apart import campaign

# Seeds of files that were refused with anything but a sentence, and of lines that hung: a sheet of five thousandths, a
# part smaller than a cell of the heat's grid.
FILES_ONCE = (669,)
LINES_ONCE = (6, 23, 28)


def test_broken_files_of_every_format_are_read_or_refused_in_a_sentence(tmp_path: Path) -> None:
    files.bases(tmp_path)
    case = partial(files.case_in, tmp_path)
    said: list[str] = []
    for seeds in (range(300), *(range(one, one + 1) for one in FILES_ONCE)):
        assert not campaign(case, seeds, *FILES, said.append), said
    # a campaign that reads nothing would pass as well
    sound = 0
    for name, data in files.bases(tmp_path).items():
        path = tmp_path / name
        path.write_bytes(data)
        sound += files.case_of(path) == ""
    assert sound == len(files.bases(tmp_path)) == 8


def test_random_dirty_solids_go_through_the_line(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("POUNCE_CELLS", "20000")
    said: list[str] = []
    for seeds in (range(2), *(range(one, one + 1) for one in LINES_ONCE)):
        assert not campaign(lines.case, seeds, *LINES, said.append), said


@pytest.mark.fresh
def test_a_save_and_a_build_killed_at_any_moment_leave_whole_files(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("POUNCE_CELLS", "20000")
    said: list[str] = []
    assert kill.campaign(tmp_path, 20, 5, said.append) == 0, said


def test_a_campaign_tells_what_raises_dies_hangs_and_says() -> None:
    def case(seed: int) -> str:
        if seed == 3:
            raise KeyError("x")
        if seed == 5:
            os.abort()
        while seed == 7:
            pass
        return "odd" if seed == 9 else ""

    told = {one.seed: one.what for one in campaign(case, range(12), 0.5, 10**11, lambda _: None)}
    assert set(told) == {3, 5, 7, 9}
    assert "KeyError" in told[3] and "ends" in told[5] and "hangs" in told[7] and told[9] == "odd"
