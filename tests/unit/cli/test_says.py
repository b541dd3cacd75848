"""What the sub-commands say in words: the keys they have, and nothing that cannot be shown."""

import io
from typing import Any

import pytest
from rich.console import Console

from pounce.cli.says import say_causes, say_cores, say_findings, say_freeze, say_making, say_proof, say_rig, say_stock
from pounce.job import core_edits
from pounce.route.causes import causes_keys
from pounce.route.proof import proof_keys
from pounce.route.results import stop_keys
from pounce.route.stops import CORES, FREEZE, MOULD, PATTERN, STOCK
from tests.worked import ARM, BEARING, ELBOW, FRAME, demo


def said(say: Any, content: dict[str, Any]) -> str:
    console = Console(file=io.StringIO(), highlight=False, width=200)
    say(console, content)
    assert isinstance(console.file, io.StringIO)
    return console.file.getvalue().replace("\u00a0", " ").replace("\u202f", " ")


def keys(stop: Any, stem: str) -> dict[str, Any]:
    return stop_keys(stop, demo(stem)[0])


def test_a_finding_its_place_and_its_cures() -> None:
    found = {
        "severity": "warn",
        "text": "It locks [here].",
        "at_mm": [1.25, 2.0, -3.0],
        "remedies": [{"text": "Fill it"}],
    }
    text = said(say_findings, {"findings": [found, {"severity": "note", "text": "Good to know."}]})
    assert text.splitlines()[0] == "  warn  It locks [here].  at 1.25, 2, -3"
    assert text.splitlines()[1].strip() == "Fill it" and "Good to know." in text


@pytest.mark.parametrize("verdict", ["clean", "drags", "locks", "none"])
def test_each_verdict_has_its_sentence(verdict: str) -> None:
    results = demo(ARM)[0]
    content = {"proof": proof_keys(results) | {"verdict": verdict}, "causes": []}
    first = said(say_proof, content).splitlines()[0]
    assert first.endswith(".") and len(first) > 15


def test_causes_open_and_cured() -> None:
    results = demo(BEARING)[0]
    content = {"causes": causes_keys(results)}
    text = said(say_causes, content)
    for cause in content["causes"]:  # type: ignore[attr-defined]
        assert str(cause["text"]).replace("\u00a0", " ")[:30] in text
    assert text.count("  cured  ") == sum(cause["cured_by"] is not None for cause in content["causes"])  # type: ignore[attr-defined]


@pytest.mark.parametrize("stem", [BEARING, ARM])
def test_lines_and_dimensions_of_stock(stem: str) -> None:
    content = keys(STOCK, stem)
    text = said(say_stock, content)
    for line in content["lines"]:
        assert str(line["name"]).replace("\u00a0", " ") in text


def test_cores_and_what_is_still_to_decide() -> None:
    content = keys(CORES, BEARING)
    text = said(say_cores, content)
    assert content["cores"] and str(content["cores"][0]["name"]).lower() in text.lower()
    results, model = demo(ELBOW)
    from pounce.route.pipeline import Pipeline  # noqa: PLC0415

    open_ = Pipeline().run(core_edits.set_cores(results.job, hollows=(), every=False).job, model, until=CORES)
    offers = stop_keys(CORES, open_)
    assert offers["offers"] and "core" in said(say_cores, offers)


@pytest.mark.parametrize("stem", [BEARING, FRAME])
def test_ways_and_steps_of_making(stem: str) -> None:
    content = keys(PATTERN, stem)
    text = said(say_making, content)
    for step in content.get("steps", [])[:2]:
        assert str(step).replace("\u00a0", " ")[:24] in text


def test_a_mould_and_what_sets_in_it() -> None:
    rig, freeze = keys(MOULD, BEARING), keys(FREEZE, BEARING)
    assert str(rig["flask"]["name"]) in said(say_rig, rig)
    text = said(say_freeze, freeze)
    for one in freeze["order"][:2]:
        assert str(one["what"])[:14] in text
