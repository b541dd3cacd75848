"""What is said of a part's unit, wall and weight."""

from dataclasses import replace

import pytest

from pounce.metals.method import MethodChoices, resolve
from pounce.part.model import PartChoices, PartResult
from pounce.part.words import guess_unit, wall_findings, weight_findings
from pounce.route.stops import PART
from tests.worked import BEARING, demo

ALU = resolve(MethodChoices())


def part(**more: object) -> PartResult:
    return replace(demo(BEARING)[0].need(PART), **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("largest", "unit"), [(0.05, "m"), (0.39, "m"), (0.41, "in"), (9.9, "in"), (10.1, "mm"), (1999.0, "mm")]
)
def test_units_by_the_size_of_things_that_hobbyists_cast(largest: float, unit: str) -> None:
    assert guess_unit(largest) == unit


@pytest.mark.parametrize(("wall", "said"), [(None, False), (0.5, True), (1.0, True), (50.0, False)])
def test_a_wall_thinner_than_the_metal_runs(wall: float | None, said: bool) -> None:
    found = wall_findings(part(least_wall_mm=wall, least_wall_at=(1.0, 2.0, 3.0)), ALU)
    assert bool(found) == said
    if found:
        assert found[0].code == "thin-wall" and found[0].place_mm == (1.0, 2.0, 3.0)
    least = ALU.metal.least_wall.value
    assert not wall_findings(part(least_wall_mm=least), ALU)  # as thick as the limit is not under it


@pytest.mark.parametrize(("share", "code"), [(1.0, ""), (1.01, ""), (1.5, "weight-differs"), (0.5, "weight-differs")])
def test_the_scale_checks_the_model(share: float, code: str) -> None:
    one = part(volume_mm3=1e6, closed=True)
    choices = PartChoices(scale_kg=ALU.metal.density.value * 1e-3 * share, scale_metal="aluminium-silicon")
    (found,) = weight_findings(one, choices, ALU)
    assert (found.code == "weight-differs") == (code == "weight-differs")
    if code:
        assert ("less" in found.words()) == (share > 1.0)


def test_without_a_scale_or_a_closed_body_nothing_is_weighed() -> None:
    assert weight_findings(part(), PartChoices(), ALU) == []
    assert weight_findings(part(closed=False), PartChoices(scale_kg=1.0), ALU) == []
