"""Results by stop: what is there, what is not, and whose fault that is."""

import pytest

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy, Severity
from pounce.job.job import Job
from pounce.metals.changes import SetMould
from pounce.route.results import Results, cautions_at, finding_keys, sand_of, stop_keys, there
from pounce.route.stops import CORES, METAL, PART, STOCK
from tests.worked import ARM, BEARING, demo


def test_what_is_missing_raises_the_first_fault_or_asks_to_wait() -> None:
    assert Results(Job()).get(STOCK) is None
    with pytest.raises(UserFault, match="not worked out yet"):
        Results(Job()).need(STOCK)
    broken = Results(Job(), {}, {"part": UserFault("The part is open.", "Close it.")})
    with pytest.raises(UserFault, match="The part is open"):
        broken.need(STOCK)


def test_there_is_there() -> None:
    assert there(3) == 3
    with pytest.raises(UserFault, match="not worked out yet"):
        there(None)


def test_each_name_is_its_stops_result() -> None:
    results, _ = demo(BEARING)
    assert results.part is results.need(PART) and results.metal is results.need(METAL)
    for name in ("draw", "parting", "stock", "cores", "pattern", "proof", "causes"):
        assert getattr(results, name) is results.found[name]


def test_keys_of_a_stop_end_with_its_findings() -> None:
    results, _ = demo(BEARING)
    found = stop_keys(CORES, results)
    assert found["schema"] == "pounce.cores/1" and list(found)[-1] == "findings"
    with pytest.raises(UserFault):
        stop_keys(CORES, Results(Job()))


def test_a_finding_under_its_keys() -> None:
    one = Finding(
        "too-thin",
        Severity.WARN,
        "This wall is {wall_mm}.",
        figures={"wall_mm": 2.0, "diameter_mm": 0.0},
        place_mm=(1.0, 2.0, 3.0),
        remedies=(Remedy("mould", "Mould {wall_mm} in sand", SetMould("green-sand")),),
    )
    keys = finding_keys(one)
    assert keys["code"] == "too-thin" and keys["severity"] == "warn" and keys["at_mm"] == [1.0, 2.0, 3.0]
    assert "2" in str(keys["text"]) and keys["figures"] == {"wall_mm": 2.0}
    assert keys["remedies"] == [{"id": "mould", "text": "Mould 2\u00a0mm in sand"}]


def test_cautions_of_cores_are_theirs_alone() -> None:
    """The sand of a core has cautions of its own, which a job without a core does not show."""
    with_core, without = demo(BEARING)[0], demo(ARM)[0]
    assert with_core.need(CORES).cores and not without.need(CORES).cores
    assert len(cautions_at(with_core)) == len(set(cautions_at(with_core)))
    assert cautions_at(Results(Job())) == ()
    assert any("damp" in one.lower() or "water" in one.lower() for one in cautions_at(with_core)[:2])


def test_sand_grows_with_the_casting() -> None:
    results, _ = demo(BEARING)
    whole = sand_of(results.need(METAL), results)
    bare = sand_of(results.need(METAL), Results(results.job, {"part": results.need(PART)}))
    assert whole and bare
    assert sand_of(results.need(METAL), Results(results.job))
