"""The way in: what needs no room loads none, and wrong calls are one sentence."""

import subprocess
import sys
import time
from pathlib import Path

import pytest

from pounce.base.errors import MOST_SAID
from pounce.cli import entry
from pounce.cli.main import run


@pytest.mark.parametrize(
    ("words", "arguments"),
    [
        ([], []),
        (["open"], []),
        (["open", "a.stl"], ["a.stl"]),
        (["demo"], ["--demo"]),
        (["demo", "--pictures", "x"], ["--demo", "--pictures", "x"]),
        (["open", "--help"], None),
        (["demo", "a"], None),
        (["check", "a.stl"], None),
        (["open", "a.stl", "b.stl"], None),
    ],
)
def test_the_desktop_is_asked_for_plainly_or_not_at_all(words: list[str], arguments: list[str] | None) -> None:
    assert entry.plainly(words) == arguments


def test_help_and_version_load_none_of_the_rooms() -> None:
    code = (
        "import sys\nfrom pounce.cli.entry import run\nsys.argv = ['pounce', sys.argv[1]]\nrun()\n"
        "print(sorted(one for one in ('numpy', 'typer', 'scipy') if one in sys.modules))"
    )
    for word, starts in (("--help", "Usage: pounce"), ("-h", "Usage: pounce"), ("--version", "pounce 0.")):
        done = subprocess.run([sys.executable, "-c", code, word], capture_output=True, text=True, check=True)
        assert done.stdout.startswith(starts) and done.stdout.endswith("[]\n")


LONG = "x" * 100_000
WRONG = [
    ["check", "PART", "--add", "machine@nan,0,0:1"],
    ["check", "PART", "--add", "machine@1e999,0,0:1"],
    ["check", "PART", "--add", LONG],
    ["check", "PART", "--core", "nan,0,0"],
    ["check", "PART", "--core", "1e308,1e308,1e308"],
    ["check", "PART", "--make", "bed:nanxnan"],
    ["check", "PART", "--make", LONG],
    ["check", "PART", "--draw", "nan,0,1"],
    ["check", "PART", "--contraction", "1e309"],
    ["check", "PART", "--feeder", "nan:1:1"],
    ["check", "PART", "--chill", "1e309,0,0:1"],
    ["check", "PART", "--pair", "nan"],
    ["check", "PART", "--pour", "inf"],
    ["check", "PART", "--unit", "furlong"],
    ["check", ""],
    ["check", "."],
    ["check", "/dev/zero"],
    ["check", "a\x1b[31m\n.stl"],
    ["new", "PART", "-o", "."],
    ["new", "PART", "-o", "/"],
    ["rule", "-o", "/", "--metal", "grey-iron"],
    ["rule", "-o", "x.pdf", "--metal", LONG],
    ["measure", "-o", "a.pounce", "--shape", "tray", "--size", "nanx1x1"],
    ["measure", "-o", "a.pounce", "--shape", LONG, "--size", "1x1x1"],
    ["flasks", "--add", "a=nanxnanxnanxnan"],
    ["log", "export", "/"],
    ["log", "show", LONG],
    ["log", "learn", "--metal", LONG],
    [LONG],
    ["check", "PART", f"--{LONG}"],
]


@pytest.mark.parametrize("words", WRONG, ids=[" ".join(one)[:40] for one in WRONG])
def test_a_wrong_call_is_one_sentence_that_can_be_shown(
    words: list[str], bearing: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.chdir(tmp_path)
    monkeypatch.setattr(sys, "argv", ["pounce", *(str(bearing) if one == "PART" else one for one in words)])
    began = time.monotonic()
    with pytest.raises(SystemExit) as ended:
        run()
    said = capsys.readouterr().err
    assert ended.value.code == 2, said
    # what is wrong, and what to try
    assert said.startswith("pounce: ") and len(said) < 2 * MOST_SAID + 40
    assert said.count("\n") == 1 and said.rstrip("\n").isprintable()
    assert time.monotonic() - began < 30.0
    assert not list(tmp_path.iterdir())
