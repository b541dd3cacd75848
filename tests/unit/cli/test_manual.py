"""docs/command.md and the manual page are made from the command: they say what it takes, and nothing else."""

import re
from importlib import resources
from pathlib import Path

from pounce.cli.choices import options
from pounce.cli.entry import HELP
from pounce.cli.manual import commands, help_page, manual, tables

DOCS = Path(__file__).parents[3] / "docs"


def test_the_docs_are_as_the_command_is() -> None:
    """`scripts/make_docs.py` writes both anew."""
    assert tables() in (DOCS / "command.md").read_text(encoding="utf-8")
    assert manual() == (DOCS / "pounce.1").read_text(encoding="utf-8")
    assert help_page() == resources.files("pounce.cli").joinpath(HELP).read_text(encoding="utf-8")


def test_every_choice_and_every_call_is_told_once() -> None:
    said = tables()
    for _, option, told in options().values():
        assert said.count(f"| `{option}` |") == 1 and told.replace("|", "\\|") in said
    calls = {call.split()[0]: takes for call, _, _, takes in commands()}
    assert {name for name, takes in calls.items() if takes} == {
        "new",
        "check",
        "stock",
        "cores",
        "make",
        "rig",
        "freeze",
        "pour",
        "plan",
        "proof",
        "build",
        "sheet",
    }
    assert "[--metal METAL]" in next(call for call, *_ in commands() if call.startswith("measure"))
    assert all(told and told[0].isupper() and told.endswith(".") for _, told, _, _ in commands())


def test_the_manual_page_is_sound_troff() -> None:
    lines = manual().splitlines()
    assert lines[0].startswith('.TH POUNCE 1 ""')
    requests = {line.split()[0] for line in lines if line.startswith(".")}
    assert requests == {".TH", ".SH", ".B", ".TP", ".RS", ".RE"}
    assert lines.count(".RS") == lines.count(".RE")
    # a hyphen that is typed stands as a minus sign, or it cannot be copied
    assert not any(re.search(r"(?<!\\)--", line) for line in lines)
    assert [line for line in lines if line.startswith(".SH")] == [
        f".SH {name}"
        for name in ("NAME", "SYNOPSIS", "DESCRIPTION", "COMMANDS", "CHOICES", "EXIT STATUS", "ENVIRONMENT")
    ]
