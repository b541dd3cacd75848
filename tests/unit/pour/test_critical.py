"""The critical path on random schedules against networkx's longest paths, and limits."""

import networkx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from pounce.pour.critical import POUR, broken, latest, order, placed, soonest
from pounce.pour.values import Limit, Step


@st.composite
def schedules(draw: st.DrawFn) -> tuple[Step, ...]:
    """Steps that wait for some of those before them, in any order, one of them the pour."""
    count = draw(st.integers(2, 14))
    steps = []
    for k in range(count):
        after = draw(st.lists(st.integers(0, k - 1), max_size=3, unique=True)) if k else []
        steps.append(Step(f"s{k}", f"Step {k}", draw(st.floats(0.0, 90.0)), tuple(f"s{j}" for j in after)))
    pour = draw(st.integers(0, count - 1))

    def renamed(name: str) -> str:
        return POUR if name == f"s{pour}" else name

    made = [Step(renamed(one.id), one.text, one.minutes, tuple(map(renamed, one.after))) for one in steps]
    return tuple(draw(st.permutations(made)))


def _graph(steps: tuple[Step, ...]) -> "networkx.DiGraph[str]":
    graph: networkx.DiGraph[str] = networkx.DiGraph()
    minutes = {one.id: one.minutes for one in steps}
    graph.add_nodes_from([*minutes, "end"])
    for one in steps:
        graph.add_edge(one.id, "end", weight=one.minutes)
        for other in one.after:
            graph.add_edge(other, one.id, weight=minutes[other])
    return graph


@settings(max_examples=120, deadline=None)
@given(schedules())
def test_soonest_and_latest_are_longest_paths(steps: tuple[Step, ...]) -> None:
    graph = _graph(steps)
    early = soonest(steps)
    whole = networkx.dag_longest_path_length(graph)
    late = latest(steps, whole)
    for one in steps:
        ahead = graph.subgraph(networkx.ancestors(graph, one.id) | {one.id})
        assert early[one.id] == pytest.approx(networkx.dag_longest_path_length(ahead))
        behind = graph.subgraph(networkx.descendants(graph, one.id) | {one.id})
        assert late[one.id] == pytest.approx(whole - networkx.dag_longest_path_length(behind))
        assert early[one.id] <= late[one.id] + 1e-6


@settings(max_examples=120, deadline=None)
@given(schedules())
def test_steps_keep_their_order_about_the_pour(steps: tuple[Step, ...]) -> None:
    made = {one.step.id: one for one in placed(steps)}
    assert set(made) == {one.id for one in steps} and made[POUR].start == pytest.approx(0.0)
    graph = _graph(steps)
    leading = networkx.ancestors(graph, POUR)
    for one in steps:
        for other in one.after:
            assert made[one.id].start >= made[other].end - 1e-6
        if one.id in leading:
            # as late as it may be: something that leads to the pour begins as soon as it ends
            follows = [made[k].start for k in graph.successors(one.id) if k in leading | {POUR}]
            assert made[one.id].end == pytest.approx(min(follows)) and made[one.id].end <= 1e-6
    critical = [key for key in leading if made[key].critical]
    assert bool(critical) == bool(leading)
    assert min((one.start for one in made.values()), default=0.0) == pytest.approx(
        min([0.0, *(made[key].start for key in critical)]), abs=1e-5
    )


def test_a_ring_and_a_step_that_is_not_there_are_refused() -> None:
    with pytest.raises(ValueError, match="wait for each other"):
        order((Step("a", "", 1.0, ("b",)), Step("b", "", 1.0, ("a",))))
    with pytest.raises(ValueError, match="not there"):
        order((Step("a", "", 1.0, ("b",)),))
    with pytest.raises(ValueError, match="one id"):
        order((Step("a", "", 1.0, ()), Step("a", "", 1.0, ())))


def test_limits_are_counted_from_begin_to_end() -> None:
    where = {"mix": (-60.0, -55.0), "ram": (-50.0, -30.0), "pour": (0.0, 1.0)}
    limits = (Limit("mix", "ram", 25.0, "late"), Limit("mix", "ram", 30.0, "good"), Limit("mix", "gone", 1.0, "none"))
    assert broken(where, limits) == [(limits[0], pytest.approx(5.0))]
