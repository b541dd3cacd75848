"""The eight steps on the demo's arm: every question has one right answer, by figures that the results have."""

from collections.abc import Iterator
from dataclasses import replace

import pytest

from pounce.guide.steps import STEPS, Answer, By, Step, where_joint
from pounce.job import edits
from pounce.job.changes import take_remedy
from pounce.parting.values import State
from pounce.route.demo_jobs import part_file
from pounce.route.demos import DEMOS
from pounce.route.opening import open_any
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results

BY_ID = {step.id: step for step in STEPS}


@pytest.fixture(scope="module")
def arm() -> Iterator[tuple[Pipeline, Results]]:
    """The demo's arm as a learner opens it: nothing added."""
    demo = next(one for one in DEMOS if one.part == "vent-quadrant-arm.3mf")
    job, model = open_any(part_file(demo))
    line = Pipeline()
    yield line, line.run(job, model)


def right_of(step: Step, results: Results, unit: str = "mm") -> list[int]:
    """The answers that are right."""
    asked = step.ask(results, unit)
    return [nth for nth in range(len(asked.answers)) if step.judge(results, Answer(nth), unit).right]


def test_eight_steps_from_the_part_to_the_files() -> None:
    assert [step.id for step in STEPS] == ["size", "larger", "faces", "joint", "walls", "inside", "proof", "files"]
    assert [step.by for step in STEPS].count(By.FACE) == [step.by for step in STEPS].count(By.JOINT) == 1
    assert {step.id for step in STEPS if step.trial} == {"joint", "proof"}


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("name", ["size", "larger", "walls", "inside", "proof", "files"])
def test_each_question_has_one_right_answer(arm: tuple[Pipeline, Results], name: str, unit: str) -> None:
    step, (_, results) = BY_ID[name], arm
    assert step.ready(results)
    asked = step.ask(results, unit)
    assert len(set(asked.answers)) == len(asked.answers) >= 2
    assert len(right_of(step, results, unit)) == 1
    for nth in range(len(asked.answers)):  # a wrong answer is told the same figures
        told = step.judge(results, Answer(nth), unit)
        assert told.says.endswith(".") and told.looks.endswith(".")


def test_the_figures_are_the_results_own(arm: tuple[Pipeline, Results]) -> None:
    _, results = arm
    assert results.part is not None and results.metal is not None and results.parting is not None
    longest = results.part.mesh.size.max()
    assert BY_ID["size"].ask(results, "mm").answers[1] == f"{longest:.0f}\u00a0mm"
    larger = BY_ID["larger"].judge(results, Answer(1), "mm").says.replace("\u00a0", " ")
    assert "1.2 %" in larger and f"{longest * results.metal.factor:.1f}".rstrip("0").rstrip(".") in larger
    tight = results.parting.judged.areas_by_state[State.TIGHT] / 100.0
    assert f"{tight:.1f}" in BY_ID["faces"].judge(results, Answer(state=State.CLEAN), "mm").says


def test_a_face_is_right_by_its_state(arm: tuple[Pipeline, Results]) -> None:
    """Nothing locks here, so an upright wall is the hardest; a named place counts as one that is pointed at."""
    step, (_, results) = BY_ID["faces"], arm
    assert step.judge(results, Answer(state=State.TIGHT), "mm").right
    assert not step.judge(results, Answer(state=State.CLEAN), "mm").right
    assert right_of(step, results) == [0, 1, 2] and len(step.ask(results, "mm").answers) == 4


def test_a_joint_is_wrong_where_more_locks_than_before(arm: tuple[Pipeline, Results]) -> None:
    step, (line, results) = BY_ID["joint"], arm
    was = where_joint(results)
    assert step.judge(results, was, "mm").right
    demo = next(one for one in DEMOS if one.part == "vent-quadrant-arm.3mf")
    _, model = open_any(part_file(demo))
    moved = line.run(edits.set_height(results.job, 15.0).job, model)
    assert moved.parting is not None
    told = step.judge(moved, was, "mm")
    assert not told.right, "the walls under the joint hang in the drag's sand"
    assert "Ctrl+Z" in told.says and "nothing did" in told.says
    worse = replace(was, was_locked_mm2=-100.0, was_mm=99.0)
    assert not step.judge(results, worse, "mm").right
    assert "Ctrl+Z" in step.judge(results, worse, "mm").says


def test_what_is_offered_cures(arm: tuple[Pipeline, Results]) -> None:
    """Walls and inside give edits; with them done the proof says the pattern leaves the sand clean."""
    line, results = arm
    demo = next(one for one in DEMOS if one.part == "vent-quadrant-arm.3mf")
    _, model = open_any(part_file(demo))
    job = results.job
    for name in ("walls", "inside"):
        told = BY_ID[name].judge(results, Answer(1), "mm")
        assert told.remedies and told.do
        for remedy in told.remedies:
            job = take_remedy(job, remedy).job
    cured = line.run(job, model)
    told = BY_ID["proof"].judge(cured, Answer(0), "mm")
    assert told.right and "leaves the sand clean" in told.says and "cured" in told.says
    assert not told.remedies
    assert right_of(BY_ID["files"], cured) and "core box" in BY_ID["files"].judge(cured, Answer(0), "mm").says
