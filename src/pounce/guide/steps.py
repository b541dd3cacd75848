"""The eight steps: what each asks of this very part, how the answer is judged, and what a moulder looks for.

Nothing here knows of windows: a step reads results and gives plain values.
"""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from pounce.base.finding import Remedy
from pounce.base.units import area, count_words, length, mass
from pounce.causes.values import Cause, Rule
from pounce.parting.values import State
from pounce.proof.values import Verdict
from pounce.route.proof import verdict_words
from pounce.route.results import Results

# The rules whose causes speak of holes and hollows.
INSIDE = (Rule.HOLES, Rule.HOLLOW, Rule.UNDERCUT)
# Places named among the answers, where a face may be pointed at.
MOST_NAMED = 3
# A joint that locks so much more than the other is worse, mm2.
CLEARLY_MM2 = 5.0


class By(StrEnum):
    """How a step is answered: by taking an answer, or also by pointing at a face, or by dragging the joint first."""

    ANSWER = "answer"
    FACE = "face"
    JOINT = "joint"


@dataclass(frozen=True)
class Asked:
    """A question with its answers, as it is put to the learner."""

    question: str
    answers: tuple[str, ...]


@dataclass(frozen=True)
class Told:
    """What came of an answer: whether it was ``right``, what this part's figures ``say``, what a moulder ``looks`` for,
    and what is to be done about it: ``remedies`` with the words of their button.
    """

    right: bool
    says: str
    looks: str
    remedies: tuple[Remedy, ...] = ()
    do: str = ""


@dataclass(frozen=True)
class Answer:
    """An answer: the number of the one taken, or the state of the face pointed at, or where the joint was before it
    was dragged (mm) and what locked then (mm2).
    """

    nth: int = -1
    state: State | None = None
    was_mm: float | None = None
    was_locked_mm2: float = 0.0


@dataclass(frozen=True)
class Step:
    """A step: at which stop, how it is answered, what it asks, how it judges; ``ready`` whether what it needs is
    there, ``trial`` whether the trial draw is played once it is answered.
    """

    id: str
    stop: str
    by: By
    ask: Callable[[Results, str], Asked]
    judge: Callable[[Results, Answer, str], Told]
    ready: Callable[[Results], bool]
    trial: bool = False


def _causes(results: Results, *rules: Rule) -> tuple[Cause, ...]:
    return () if results.causes is None else tuple(one for one in results.causes.open if one.rule in rules)


def _first_remedies(causes: tuple[Cause, ...]) -> tuple[Remedy, ...]:
    """The first that can be done of each."""
    found = [next((one for one in cause.remedies if one.change is not None), None) for cause in causes]
    return tuple(one for one in found if one is not None)


# --- 1: how large it is ----------------------------------------------------------------------------------------------


def _longest(results: Results) -> float:
    assert results.part is not None
    return float(results.part.mesh.size.max())


def _sizes(results: Results, unit: str) -> tuple[str, ...]:
    longest = _longest(results)
    return tuple(length(one, unit, 0 if unit == "mm" else None) for one in (longest / 25.4, longest, longest * 25.4))


def ask_size(results: Results, unit: str) -> Asked:
    """How long it is, in its own unit or wrongly in another."""
    return Asked("First, the unit. How long is this part, the longest way?", _sizes(results, unit))


def judge_size(results: Results, answer: Answer, unit: str) -> Told:
    """By the mesh's own size."""
    assert results.part is not None and results.metal is not None
    size = " by ".join(length(float(one), unit, 0 if unit == "mm" else None) for one in results.part.mesh.size)
    weight = mass(results.part.volume_mm3 * 1e-9 * results.metal.metal.density.value)
    return Told(
        answer.nth == 1,
        f"It is {size}, and weighs {weight} in {results.metal.metal.name.lower()}.",
        "A moulder lays a rule on it before anything else: a file in inches read as millimetres comes out a pea.",
    )


# --- 2: how much larger ----------------------------------------------------------------------------------------------


def _larger(results: Results) -> tuple[float, float]:
    """By how much the longest size grows: by the metal's contraction, and by what its volume loses as it freezes."""
    assert results.metal is not None
    longest = _longest(results)
    return longest * (results.metal.factor - 1.0), longest * results.metal.metal.freezing_shrinkage.value / 100.0


def ask_larger(results: Results, unit: str) -> Asked:
    """By how much the pattern is larger."""
    longest = length(_longest(results), unit, 0 if unit == "mm" else None)
    right, wrong = _larger(results)
    return Asked(
        f"The metal shrinks as it cools. How much longer than {longest} must the pattern be?",
        ("not at all", length(right, unit), length(wrong, unit)),
    )


def judge_larger(results: Results, answer: Answer, unit: str) -> Told:
    """By the metal's contraction."""
    assert results.metal is not None
    right, wrong = _larger(results)
    longest = _longest(results)
    return Told(
        answer.nth == 1,
        f"{results.metal.metal.name} contracts by {results.metal.contraction_percent:g} %: "
        f"{length(longest, unit)} want {length(longest + right, unit)} of pattern.",
        f"The larger figure, {length(wrong, unit)}, is what the volume loses while it freezes: feeders make that up, "
        "not the pattern.",
    )


# --- 3: which faces hold ---------------------------------------------------------------------------------------------


def _worst(results: Results) -> State:
    """The worst state that a face of any size has."""
    assert results.parting is not None
    areas = results.parting.judged.areas_by_state
    held = any(one.holds(sum(areas)) for one in results.parting.regions)
    return State.LOCKED if held else State.TIGHT if areas[State.TIGHT] > 0.0 else State.CLEAN


def _named(results: Results) -> list[tuple[str, State]]:
    """Places that can be named instead of pointed at, the largest of each state."""
    assert results.parting is not None
    by_size = sorted(results.parting.regions, key=lambda one: -one.area_mm2)
    worst = [one for one in by_size if one.state is _worst(results)][: MOST_NAMED - 1]
    other = [one for one in by_size if one.state is State.TIGHT and one not in worst][:1]
    places = [(f"the {one.words('mm')}", one.state) for one in (*worst, *other)]
    return [*places[:MOST_NAMED], ("the faces that look up", State.CLEAN)]


def ask_face(results: Results, unit: str) -> Asked:  # noqa: ARG001  all steps are called alike
    """Which face holds the sand hardest."""
    return Asked(
        "Which face holds the sand hardest as the pattern is drawn? Point at one on the bench, or take one here.",
        tuple(name for name, _ in _named(results)),
    )


def judge_face(results: Results, answer: Answer, unit: str) -> Told:
    """By the state of the face."""
    assert results.parting is not None
    state = answer.state if answer.state is not None else _named(results)[answer.nth][1]
    worst = _worst(results)
    areas = results.parting.judged.areas_by_state
    this = {
        State.CLEAN: "That one leans outward and draws clean",
        State.TIGHT: "That one stands upright: it drags over its whole height",
        State.LOCKED: "That one locks: sand gets behind it",
    }[state]
    whole = {
        State.CLEAN: "nothing here drags or locks",
        State.TIGHT: f"nothing locks, and {area(areas[State.TIGHT], unit)} in all drag",
        State.LOCKED: f"{area(areas[State.LOCKED], unit)} in all lock",
    }[worst]
    return Told(
        state is worst,
        f"{this}; {whole}.",
        "A moulder sets a square on the joint and looks along each wall: leaning out lets go, leaning back locks.",
    )


# --- 4: where it parts -----------------------------------------------------------------------------------------------


def ask_joint(results: Results, unit: str) -> Asked:  # noqa: ARG001  all steps are called alike
    """Where the mould parts."""
    assert results.parting is not None
    hand = "Drag the dashed line" if results.parting.joint.level else "Look at the line round it"
    return Asked(
        f"Where should the mould come apart? {hand}, then say so: the cope will be lifted.", ("It parts there",)
    )


def judge_joint(results: Results, answer: Answer, unit: str) -> Told:
    """By what locks there, beside what locked where the program had it."""
    assert results.parting is not None
    here = results.parting.judged.areas_by_state[State.LOCKED]
    torn = results.parting.trial.torn_mm3 / 1000.0
    locks = f"{area(here, unit)} lock" if here > 0.5 else "nothing locks"
    says = f"Parted at {length(results.parting.height_mm, unit)}, {locks}"
    says += f" and {torn:.1f} cm³ of sand tear." if torn >= 0.05 else " and no sand tears."
    moved = answer.was_mm is not None and abs(answer.was_mm - results.parting.height_mm) > 0.05
    worse = moved and here > answer.was_locked_mm2 + CLEARLY_MM2
    if worse and answer.was_mm is not None:
        before = area(answer.was_locked_mm2, unit) if answer.was_locked_mm2 > 0.5 else "nothing"
        says += f" At {length(answer.was_mm, unit)}, {before} did: Ctrl+Z puts it back."
    if here > CLEARLY_MM2 and not moved:
        says += " No joint frees all of it: cores, fillings or loose pieces must."
    return Told(
        not worse,
        says,
        "It parts along the widest line: lay a lamp along the draw and chalk the line where the shadow turns.",
    )


# --- 5: the walls ----------------------------------------------------------------------------------------------------


def ask_walls(results: Results, unit: str) -> Asked:
    """What upright walls want."""
    causes = _causes(results, Rule.DRAFT)
    said = causes[0].words(unit) if causes else "No wall of this part stands upright and drags."
    question = "What do they want?" if causes else "What would an upright wall want?"
    return Asked(f"{said} {question}", ("harder ramming", "to lean a little", "a smoother paint alone"))


def judge_walls(results: Results, answer: Answer, unit: str) -> Told:
    """Draft."""
    causes = _causes(results, Rule.DRAFT)
    remedies = _first_remedies(causes)
    return Told(
        answer.nth == 1,
        f"A wall that leans lets go at the first millimetre. {causes[0].words(unit)}"
        if causes
        else "They lean already.",
        "A short wall wants more degrees than a tall one, and sand inside a pocket about twice as many.",
        remedies,
        causes[0].remedy_words(remedies[0], unit) if remedies else "",
    )


# --- 6: the inside ---------------------------------------------------------------------------------------------------


def ask_inside(results: Results, unit: str) -> Asked:
    """What makes the holes and hollows."""
    causes = _causes(results, *INSIDE)
    said = "Holes and hollows: will the sand round the pattern make them all by itself?"
    del unit
    return Asked(said, ("yes, all of them", "no, not all" if causes else "no, one needs a core"))


def judge_inside(results: Results, answer: Answer, unit: str) -> Told:
    """By the causes that speak of the inside."""
    causes = _causes(results, *INSIDE)
    remedies = _first_remedies(causes)
    says = " ".join(one.words(unit) for one in causes[:2]) or "Green sand makes every hollow of this part."
    do = ", ".join(dict.fromkeys(one.remedy_words(first, unit) for one in causes for first in _first_remedies((one,))))
    return Told(
        (answer.nth == 1) == bool(causes),
        says,
        "Sand that is deeper than it is wide breaks off: a small hole is drilled, a large one gets a core.",
        remedies,
        do,
    )


# --- 7: the proof ----------------------------------------------------------------------------------------------------


def ask_proof(results: Results, unit: str) -> Asked:  # noqa: ARG001  all steps are called alike
    """Whether it leaves the sand now."""
    return Asked("With all that was added: will the pattern leave the sand now?", ("it will", "it will lock"))


def judge_proof(results: Results, answer: Answer, unit: str) -> Told:
    """By the proof."""
    assert results.proof is not None
    proof = results.proof
    leaves = proof.verdict is not Verdict.LOCKS
    said = verdict_words(results) or "Nothing can be proved of it: its shell is open."
    left = [] if leaves else [*_causes(results, *INSIDE, Rule.DRAFT, Rule.JOINT)]
    if proof.cured:
        said += f" {len(proof.cured)} {'finding is' if len(proof.cured) == 1 else 'findings are'} cured."
    if left:
        said += f" Still open: {left[0].words(unit)}"
    return Told(
        (answer.nth == 0) == leaves,
        said,
        "It is the last look before plastic or wood is spent: where it still locks, it will lock in the sand.",
        _first_remedies(tuple(left[:1])),
        left[0].remedy_words(_first_remedies((left[0],))[0], unit) if left and _first_remedies((left[0],)) else "",
    )


# --- 8: the pieces ---------------------------------------------------------------------------------------------------


def _count(results: Results) -> int:
    assert results.pattern is not None
    return len(results.pattern.pieces) + (0 if results.cores is None else len(results.cores.cores))


def ask_pieces(results: Results, unit: str) -> Asked:  # noqa: ARG001  all steps are called alike
    """How many pieces are made."""
    count = _count(results)
    few = sorted({max(count - 1, 1), count, count + 1, 1 if count > 1 else 3})[:3]
    few = few if count in few else [*few[:2], count]
    return Asked(
        "How many pieces will you make: halves, loose pieces, and a box for each core?",
        tuple(count_words(one) for one in few),
    )


def judge_pieces(results: Results, answer: Answer, unit: str) -> Told:
    """By the pattern and the cores."""
    assert results.pattern is not None
    cores = 0 if results.cores is None else len(results.cores.cores)
    asked = ask_pieces(results, unit)
    pieces = len(results.pattern.pieces)
    said = f"{count_words(pieces).capitalize()} {'piece' if pieces == 1 else 'pieces'} of pattern"
    said += f" and {count_words(cores)} core {'box' if cores == 1 else 'boxes'}." if cores else ", and no core."
    size = " by ".join(length(one, unit, 0 if unit == "mm" else None) for one in results.pattern.size_mm)
    return Told(
        asked.answers[answer.nth] == count_words(_count(results)),
        f"{said} The whole measures {size}.",
        "Write the files, print them, measure one with a caliper before you ram it: its size must be the pattern's.",
    )


def _judged(results: Results) -> bool:
    return results.parting is not None and results.metal is not None and results.part is not None


STEPS = (
    Step("size", "part", By.ANSWER, ask_size, judge_size, lambda r: r.part is not None and r.metal is not None),
    Step("larger", "metal", By.ANSWER, ask_larger, judge_larger, lambda r: r.part is not None and r.metal is not None),
    Step("faces", "draw", By.FACE, ask_face, judge_face, _judged),
    Step("joint", "parting", By.JOINT, ask_joint, judge_joint, _judged, trial=True),
    Step("walls", "stock", By.ANSWER, ask_walls, judge_walls, lambda r: r.causes is not None),
    Step("inside", "cores", By.ANSWER, ask_inside, judge_inside, lambda r: r.causes is not None),
    Step("proof", "parting", By.ANSWER, ask_proof, judge_proof, lambda r: r.proof is not None, trial=True),
    Step("files", "pattern", By.ANSWER, ask_pieces, judge_pieces, lambda r: r.pattern is not None),
)


def where_joint(results: Results) -> Answer:
    """Where the joint is before it is dragged, and what locks there."""
    assert results.parting is not None
    areas = results.parting.judged.areas_by_state
    return Answer(was_mm=float(results.parting.height_mm), was_locked_mm2=float(np.round(areas[State.LOCKED], 3)))
