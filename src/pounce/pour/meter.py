"""Readings of a meter or a scale: lines into figures, the curve of a melt, the arrest at the liquidus, what to do next,
and whether a drying core still loses weight.
"""

import re
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from pounce.base.units import to_mm
from pounce.metals.melt import melt
from pounce.solid.mesh import Floats

# A line as plain meters and scales send it: what it is (may be left out), a figure, its unit.
_FIGURE: Final = r"^\s*(?:[A-Za-z]{1,8}[:=\s]\s*)?([+-]?\d{1,6}(?:[.,]\d{1,4})?)\s*°?\s*"
_LINE: Final = re.compile(_FIGURE + r"(C|F|K|kg|g|mm|in)\s*$")
# A melt is no hotter than this, C, and changes no faster than this, K/s: what is more is noise on the line.
HOTTEST_C, COLDEST_C, FASTEST_K_S = 1900.0, -40.0, 60.0
# The slope is taken over so long, s, by hand over no more than so long; a stall is so much slower than the way before
# it, lasts so long, and lies so near to the freezing range.
SLOPE_S, LONGEST_S, STALL_SHARE, STALL_S, NEAR_K = 20.0, 900.0, 0.35, 8.0, 25.0


class Unit(StrEnum):
    """What a line's figure is in."""

    C = "C"
    F = "F"
    K = "K"
    G = "g"
    KG = "kg"
    MM = "mm"
    IN = "in"


@dataclass(frozen=True)
class Sample:
    """One line understood: temperature in C, weight in g, or a size in mm; the unit it came in."""

    value: float
    weight: bool
    unit: Unit

    @property
    def size(self) -> bool:
        """Whether a caliper said it."""
        return self.unit in (Unit.MM, Unit.IN)


def sample_of(line: str) -> Sample | None:
    """A line as a figure; None for one that says none (noise, half a line)."""
    found = _LINE.match(line)
    if found is None:
        return None
    value, unit = float(found[1].replace(",", ".")), Unit(found[2])
    if unit in (Unit.G, Unit.KG):
        return Sample(value * (1000.0 if unit is Unit.KG else 1.0), True, unit)
    if unit in (Unit.MM, Unit.IN):
        return Sample(to_mm(value, unit.value), False, unit)
    c = (value - 32.0) / 1.8 if unit is Unit.F else value - 273.15 if unit is Unit.K else value
    return Sample(c, False, unit) if COLDEST_C <= c <= HOTTEST_C else None


class Curve:
    """Readings over time; a figure that no melt could jump to is held back until a second one says the same."""

    def __init__(self) -> None:
        self.seconds: list[float] = []
        self.values: list[float] = []
        self._doubted: tuple[float, float] | None = None

    def add(self, seconds: float, value: float, sure: bool = False) -> bool:
        """Takes a reading; whether it was believed. One that is not later than the last is not; one that somebody read
        himself (``sure``) is, however far it lies.
        """
        if self.seconds and seconds <= self.seconds[-1]:
            return False
        jumps = bool(self.seconds) and not _follows(self.seconds[-1], self.values[-1], seconds, value)
        if jumps and not sure and (self._doubted is None or not _follows(*self._doubted, seconds, value)):
            self._doubted = (seconds, value)
            return False
        self._doubted = None
        self.seconds.append(seconds)
        self.values.append(value)
        return True

    @property
    def now(self) -> float | None:
        """The middle of the last three readings; None without any."""
        return float(np.median(self.values[-3:])) if self.values else None

    @property
    def arrays(self) -> tuple[Floats, Floats]:
        """(n,) seconds and values."""
        return np.array(self.seconds), np.array(self.values)


def _follows(s1: float, v1: float, s2: float, v2: float) -> bool:
    return abs(v2 - v1) <= 5.0 + FASTEST_K_S * (s2 - s1)


def slope(curve: Curve, over_s: float = SLOPE_S) -> float | None:
    """K/s over the last seconds, by a straight line through them; None with too few readings."""
    seconds, values = curve.arrays
    if len(seconds) < 4:
        return None
    # a meter says enough in so long; by hand it is the last few readings
    last = seconds >= min(seconds[-1] - over_s, float(seconds[-4]))
    if not 0.25 * over_s <= seconds[-1] - seconds[last][0] <= LONGEST_S:
        return None
    return float(np.polyfit(seconds[last] - seconds[-1], values[last], 1)[0])


@dataclass(frozen=True)
class Arrest:
    """Where a curve stalled: from when to when (s), and at what temperature (C)."""

    begin_s: float
    end_s: float
    at_c: float


def arrest(curve: Curve, solidus_c: float, liquidus_c: float, stall_s: float = STALL_S) -> Arrest | None:
    """The stall at the liquidus on the way up: the run of slow seconds near the freezing range that lasts longest, slow
    beside the way before and after it. None while none was seen.
    """
    seconds, values = curve.arrays
    if len(seconds) < 12:
        return None
    grid = np.arange(seconds[0], seconds[-1], max(stall_s / 8.0, 0.05))
    if len(grid) < 12:
        return None
    smooth = np.interp(grid, seconds, _middle(values))
    width = max(round(float(stall_s / 2.0 / (grid[1] - grid[0]))), 1)
    kernel = np.ones(width) / width
    rate = np.gradient(np.convolve(np.pad(smooth, width, mode="edge"), kernel, mode="same")[width:-width], grid)
    near = (smooth > solidus_c - NEAR_K) & (smooth < liquidus_c + NEAR_K)
    usual = float(np.median(np.abs(rate[~near]))) if (~near).any() else float(np.median(np.abs(rate)))
    slow = near & (np.abs(rate) < STALL_SHARE * usual)
    best: tuple[int, int] | None = None
    begun = -1
    for k, on in enumerate([*slow.tolist(), False]):
        if on and begun < 0:
            begun = k
        elif not on and begun >= 0:
            if best is None or k - begun > best[1] - best[0]:
                best = (begun, k)
            begun = -1
    if best is None or grid[best[1] - 1] - grid[best[0]] < stall_s:
        return None
    return Arrest(float(grid[best[0]]), float(grid[best[1] - 1]), float(np.median(smooth[best[0] : best[1]])))


def _middle(values: Floats) -> Floats:
    """Middle of three neighbours: single spikes fall out."""
    if len(values) < 3:
        return values
    return np.concatenate([values[:1], np.median([values[:-2], values[1:-1], values[2:]], axis=0), values[-1:]])


class Say(StrEnum):
    """What a melt's reading asks for."""

    NONE = "none"
    COLD = "cold"
    MELTING = "melting"
    WARMING = "warming"
    LIFT = "lift"
    HOT = "hot"
    FALLING = "falling"


@dataclass(frozen=True)
class Advice:
    """What to do now, and in how many minutes it is hot enough (None: nobody can say)."""

    say: Say
    in_min: float | None = None


def advice(curve: Curve, liquidus_c: float, lift_c: float, most_c: float) -> Advice:
    """By the last readings and their slope, held straight."""
    now, rate = curve.now, slope(curve)
    if now is None:
        return Advice(Say.NONE)
    if now > most_c:
        return Advice(Say.HOT)
    if now >= lift_c:
        return Advice(Say.LIFT)
    ahead = None if rate is None or rate <= 0.005 else (lift_c - now) / rate / 60.0
    if rate is not None and rate < -0.05:
        return Advice(Say.FALLING)
    if now < liquidus_c - NEAR_K:
        return Advice(Say.COLD, ahead)
    if now < liquidus_c + NEAR_K / 2.0:
        return Advice(Say.MELTING)
    return Advice(Say.WARMING, ahead)


def steady(curve: Curve) -> bool:
    """Whether a core loses no more weight: the middle of the last minute's readings against that of a quarter of an
    hour before.
    """
    work = melt().work
    apart_min, share = work.weighings.value, work.weighing_lost.value / 100.0
    seconds, values = curve.arrays
    if not len(seconds) or seconds[-1] - seconds[0] < 60.0 * apart_min:
        return False
    late = np.median(values[seconds >= seconds[-1] - 60.0])
    then = seconds[-1] - 60.0 * apart_min
    early = np.median(values[np.abs(seconds - then) <= 60.0])
    return bool(early - late <= share * early)
