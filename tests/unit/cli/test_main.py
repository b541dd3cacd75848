"""The command's own lists and its small sub-commands, through the entry that runs it."""

import json
import re
from collections.abc import Iterator
from pathlib import Path

import click
import pypdf
import pytest
import typer

from pounce.base.version import VERSION
from pounce.cli.main import app
from pounce.metals import tables
from pounce.route.opening import open_any
from tests.conftest import box, mesh_of, write_stl
from tests.journeys.test_command import pounce


def commands(app: click.Command, words: tuple[str, ...] = ()) -> Iterator[tuple[tuple[str, ...], click.Command]]:
    """Every sub-command with the words that call it."""
    yield words, app
    for name, inner in getattr(app, "commands", {}).items():
        yield from commands(inner, (*words, name))


def test_every_sub_command_explains_itself_with_its_forms_whole() -> None:
    """Square brackets of a form are no markup: none is swallowed, none ends the help."""
    found = list(commands(typer.main.get_command(app)))
    assert len(found) > 25
    for words, command in found:
        told = "".join(pounce(*words, "--help").stdout.split()).replace("│", "")
        for option in command.params:
            form = "".join((getattr(option, "help", None) or "").split())
            for part in re.findall(r"\[[^\]]*\]", form):
                assert part in told, (words, part)


def test_the_version_stands_alone() -> None:
    assert pounce("--version").stdout.strip().endswith(VERSION)


@pytest.mark.parametrize(
    ("name", "rows"), [("metals", tables.metals), ("moulds", tables.moulds), ("patterns", tables.pattern_kinds)]
)
def test_a_table_is_listed_with_every_row_and_its_sources(name: str, rows) -> None:  # type: ignore[no-untyped-def] # noqa: ANN001
    text, content = pounce(name).stdout, json.loads(pounce(name, "--json").stdout)
    assert content["schema"] == f"pounce.{name}/1" and set(content[name]) == set(rows())
    for key in rows():
        assert f"\n{key} " in f"\n{text}"
    assert set(content["sources"]) == set(tables.sources()) and content["cautions"]


def test_flasks_are_added_replaced_and_taken_away() -> None:
    sample = json.loads(pounce("flasks", "--json").stdout)["flasks"]
    assert sample  # a sample set stands in until there are any
    pounce("flasks", "--add", "mine=300x200x80x90:6.5")
    mine = next(one for one in json.loads(pounce("flasks", "--json").stdout)["flasks"] if one["id"] == "mine")
    assert (mine["long_mm"], mine["wide_mm"], mine["cope_mm"], mine["drag_mm"], mine["kg"]) == (300, 200, 80, 90, 6.5)
    pounce("flasks", "--add", "mine=310x210x80x90")
    again = json.loads(pounce("flasks", "--json").stdout)["flasks"]
    assert sum(one["id"] == "mine" for one in again) == 1
    assert next(one for one in again if one["id"] == "mine")["long_mm"] == 310
    assert "mine" in pounce("flasks").stdout
    pounce("flasks", "--remove", "mine")
    assert "mine" not in {one["id"] for one in json.loads(pounce("flasks", "--json").stdout)["flasks"]}
    for words in (("--remove", "never"), ("--add", "bad=axb"), ("--add", "bad=300x200xnanx90")):
        assert pounce("flasks", *words, code=2).stderr.count("\n") <= 2


def test_a_part_from_measures_becomes_a_job(tmp_path: Path) -> None:
    target = tmp_path / "plate.pounce"
    told = pounce("measure", "--shape", "block", "--size", "120x80x15", "-o", target, "--metal", "grey-iron")
    assert told.stdout.strip() == str(target)
    job, model = open_any(target)
    assert job.method.metal == "grey-iron" and model.bodies[0].mesh.size == pytest.approx([120.0, 80.0, 15.0])
    assert "cannot be built" in pounce("measure", "--size", "120xnanx15", "-o", target, code=2).stderr


def test_a_rule_for_two_metals_is_one_file(tmp_path: Path) -> None:
    target = tmp_path / "rule.pdf"
    pounce("rule", "-o", target, "--metal", "grey-iron", "--metal", "aluminium-silicon")
    words = "".join(page.extract_text() for page in pypdf.PdfReader(target).pages)
    for metal in ("grey-iron", "aluminium-silicon"):
        assert tables.metal(metal).name in words
    assert "no metal" in pounce("rule", "-o", target, "--metal", "cheese", code=2).stderr


def test_a_word_and_all_words() -> None:
    every = json.loads(pounce("word", "--json").stdout)
    assert "draft" in str(every).lower()
    assert "draft" in pounce("word", "draft").stdout.lower()
    assert pounce("word", "glitter", code=2).stderr


def test_a_check_says_causes_and_its_keys_agree(tmp_path: Path) -> None:
    path = write_stl(tmp_path / "block.stl", mesh_of(box(60, 40, 30)))
    text = pounce("check", path).stdout
    content = json.loads(pounce("check", path, "--json").stdout)
    assert content["schema"] == "pounce.check/1"
    for cause in content["causes"][:2]:
        assert cause["text"].replace("\u00a0", " ")[:24] in text.replace("\u00a0", " ")
    assert pounce("check", tmp_path / "none.stl", code=2).stderr.startswith("pounce: There is no file 'none.stl'.")
