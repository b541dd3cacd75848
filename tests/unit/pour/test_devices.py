"""The reader on a real pseudo-terminal: Newton's cooling read back at 2 Hz, bad manners, unplugging."""

import os
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from pounce.pour.cooling import rate_of
from pounce.pour.devices.reader import Line, Reader, standin_ports
from pounce.pour.devices.standins import CoreShape, Manners, MeltShape, StandIn, marked, marks_folder
from pounce.pour.meter import Curve, Sample
from tests.waits import slowness

K = 0.0012
LIFTED = MeltShape("aluminium-silicon", 1.5, 0.75, 2270.0, K)


class Heard:
    """What a reader said."""

    def __init__(self, stand: StandIn, silent_s: float = 4.0) -> None:
        self.samples: list[tuple[float, Sample]] = []
        self.states: list[Line] = []
        self.reader = Reader(
            stand.port,
            lambda at, one: self.samples.append((at, one)),
            self.states.append,
            silent_s=silent_s,
            clock=lambda: stand.seconds,
        )

    def until(self, done: object, seconds: float = 15.0) -> None:
        ends = time.monotonic() + seconds * slowness()
        while not done() and time.monotonic() < ends:  # type: ignore[operator]
            time.sleep(0.02)
        assert done()  # type: ignore[operator]


@pytest.fixture
def stands() -> Iterator[list[StandIn]]:
    made: list[StandIn] = []
    yield made
    for one in made:
        one.unplug()


def test_newtons_cooling_is_read_back_at_two_hertz(stands: list[StandIn]) -> None:
    began = time.monotonic() - 2300.0 / 40.0  # it stands in the shed, just lifted, its clock forty times as fast
    stand = StandIn(LIFTED, hertz=2.0, speed=40.0, clock=lambda: time.monotonic() if stands else began)
    stands.append(stand)
    heard = Heard(stand)
    heard.until(lambda: len(heard.samples) >= 12)
    heard.reader.close()
    curve = Curve()
    for at, one in heard.samples:
        assert curve.add(at, one.value)
    (s1, *_, s2), (c1, *_, c2) = curve.seconds, curve.values
    assert s2 - s1 > 150.0 and c1 > c2
    # two readings with half a degree of noise each, over minutes, and a tenth of a second's delay on the line
    assert rate_of(c1, c2, s2 - s1) == pytest.approx(K, rel=0.12)
    # every reading lies on the closed form, as it was up to a second of the wall clock before
    for at, one in heard.samples:
        assert LIFTED.at(at) - 2.0 < one.value < LIFTED.at(at - 40.0 * slowness()) + 2.0
    assert heard.states[:2] == [Line.OPENING, Line.READING] and heard.states[-1] is Line.CLOSED


def test_noise_dropouts_and_wrong_units_leave_the_curve_whole(stands: list[StandIn]) -> None:
    stands.append(StandIn(MeltShape("pewter", 1.0, 0.2), 40.0, 20.0, Manners(0.2, 0.1, 0.2)))
    heard = Heard(stands[0])
    heard.until(lambda: len(heard.samples) >= 80)
    heard.reader.close()
    assert heard.reader.garbled > 3
    assert {one.unit.value for _, one in heard.samples} >= {"C", "F"}
    curve = Curve()
    for at, one in heard.samples:
        curve.add(at, one.value)
    assert len(curve.values) > 0.8 * len(heard.samples)
    off = [abs(value - stands[0].shape.at(at)) for at, value in zip(curve.seconds, curve.values, strict=True)]
    assert sorted(off)[int(0.95 * len(off))] < 10.0


def test_a_line_that_is_unplugged_says_so_and_nothing_breaks(stands: list[StandIn]) -> None:
    stands.append(StandIn(CoreShape(), 20.0))
    heard = Heard(stands[0])
    heard.until(lambda: Line.READING in heard.states)
    assert all(one.weight for _, one in heard.samples)
    stands[0].unplug()
    heard.until(lambda: heard.states[-1] is Line.LOST)
    heard.reader.close()
    assert heard.states[-1] is Line.CLOSED
    nowhere = Heard(stands[0])  # a port that is gone
    nowhere.until(lambda: nowhere.states[-1:] == [Line.LOST])
    nowhere.reader.close()


def test_a_line_that_says_nothing_is_told(stands: list[StandIn]) -> None:
    stands.append(StandIn(CoreShape(), 20.0, manners=Manners(dropped=1.0)))
    heard = Heard(stands[0], silent_s=0.6)
    heard.until(lambda: Line.SILENT in heard.states)
    heard.reader.close()
    assert not heard.samples


def test_stand_ins_are_found_by_their_marks(
    stands: list[StandIn], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    stands.append(StandIn(CoreShape()))
    with marked({"simulated core on a scale": stands[0]}):
        (found,) = standin_ports(marks_folder())
        assert (found.path, found.name) == (stands[0].port, "simulated core on a scale")
    assert standin_ports(marks_folder()) == ()
    # one that was killed left its mark, and is not offered
    Path(marks_folder(), "9.port").write_text(f"{os.devnull}-gone simulated melt", encoding="utf-8")
    assert standin_ports(marks_folder()) == ()
