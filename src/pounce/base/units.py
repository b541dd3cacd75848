"""Units are converted only at the doors; inside the program lengths are millimetres.

The factors are exact by definition (international inch, 1959: 25.4 mm).
"""

from collections.abc import Callable
from typing import Final

MM_PER: Final[dict[str, float]] = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4}
UNIT_NAMES: Final[dict[str, str]] = {"mm": "millimetres", "cm": "centimetres", "m": "metres", "in": "inches"}
# no-break, and in every typeface: a thin space is missing from many
_FIGURE_SPACE = "\u00a0"


def to_mm(value: float, unit: str) -> float:
    """Length in mm of ``value`` in ``unit`` (a key of ``MM_PER``; KeyError otherwise)."""
    return value * MM_PER[unit]


def from_mm(value_mm: float, unit: str) -> float:
    """Length in ``unit`` of ``value_mm`` millimetres (KeyError for an unknown unit)."""
    return value_mm / MM_PER[unit]


def plain(value: float, digits: int) -> str:
    """``value`` with at most ``digits`` decimals, never ``-0``."""
    text = f"{value:.{digits}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


_COUNTS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def count_words(count: int) -> str:
    """A small count in words, a large one in figures."""
    return _COUNTS[count] if count < len(_COUNTS) else str(count)


def digits_of(value: float) -> int:
    """Decimals a figure is shown with: one from 1 on, two under it, three under a tenth, so that 0.15 never reads
    0.1.
    """
    size = abs(value)
    return 1 if size >= 0.995 or size == 0.0 else 2 if size >= 0.0995 else 3


def length(value_mm: float, shown: str = "mm", digits: int | None = None) -> str:
    """A length as text with its unit, in ``shown`` ("mm" or "in"), with the decimals its size wants."""
    if shown == "in":
        value = value_mm / 25.4
        return f"{plain(value, max(3, digits_of(value) + 1) if digits is None else digits + 1)}{_FIGURE_SPACE}in"
    return f"{plain(value_mm, digits_of(value_mm) if digits is None else digits)}{_FIGURE_SPACE}mm"


def less_as_shown(value_mm: float, limit_mm: float) -> bool:
    """Whether a length is under a limit also as both are shown: 3.98 mm reads 4 mm, and is not said to be under 4
    mm.
    """
    return round(value_mm, digits_of(value_mm)) < round(limit_mm, digits_of(limit_mm))


def area(value_mm2: float, shown: str = "mm") -> str:
    """An area as text with its unit: cm² or sq in; small areas get more decimals."""
    value, unit = (value_mm2 / 645.16, "sq in") if shown == "in" else (value_mm2 / 100.0, "cm²")
    digits = 1 if abs(value) >= 1 else 2 if abs(value) >= 0.005 else 0
    return f"{abs(value) if digits == 0 else value:.{digits}f}{_FIGURE_SPACE}{unit}"


def volume(value_mm3: float, shown: str = "mm") -> str:
    """A volume as text with its unit: cm³ or cu in."""
    value, unit = (value_mm3 / 16387.064, "cu in") if shown == "in" else (value_mm3 / 1000.0, "cm³")
    digits = 0 if abs(value) >= 100 else 1 if abs(value) >= 1 else 2
    return f"{value:.{digits}f}{_FIGURE_SPACE}{unit}"


def mass(value_kg: float) -> str:
    """A mass as text: g under 1 kg... kg over, t over 1000 kg."""
    if value_kg >= 1000:
        return f"{value_kg / 1000:.1f}{_FIGURE_SPACE}t"
    if value_kg >= 0.1:
        return f"{value_kg:.2f}{_FIGURE_SPACE}kg"
    return f"{value_kg * 1000:.1f}{_FIGURE_SPACE}g"


def degrees(value_deg: float) -> str:
    """An angle as text with one decimal; quarters of a degree, which tables ask for, in full."""
    quarter = abs(4.0 * value_deg - round(4.0 * value_deg)) < 1e-6
    return f"{plain(value_deg, 2 if quarter else 1)}°"


def percent(value: float) -> str:
    """A per cent figure with up to two decimals."""
    return f"{plain(value, 2)}{_FIGURE_SPACE}%"


def quantity(key: str, value: float, shown: str = "mm") -> str:
    """A figure as text by the unit its key ends in: ``depth_mm``, ``area_mm2``, ``least_draft_deg`` ..."""
    for end, say in _BY_UNIT:
        if key.endswith(end):
            return say(value, shown)
    return plain(value, 0)


def heat_words(value_c: float) -> str:
    """A temperature in both scales, whole degrees: ``735 °C (1355 °F)``."""
    return f"{round(value_c)}{_FIGURE_SPACE}°C ({round(value_c * 1.8 + 32.0)}{_FIGURE_SPACE}°F)"


def _with_unit(unit: str, digits: int, large: float, large_digits: int) -> Callable[[float, str], str]:
    """A figure with its unit, with fewer or more digits from ``large`` on."""

    def say(value: float, _shown: str) -> str:
        return f"{plain(value, digits if abs(value) < large else large_digits)}{_FIGURE_SPACE}{unit}"

    return say


def _hours(value: float, _shown: str) -> str:
    minutes = round(value * 60.0)
    if minutes < 60:
        return f"{minutes}{_FIGURE_SPACE}min"
    return f"{minutes // 60}{_FIGURE_SPACE}h{_FIGURE_SPACE}{minutes % 60:02d}"


# Longer ends first, where one is the end of another.
_BY_UNIT: Final[tuple[tuple[str, Callable[[float, str], str]], ...]] = (
    ("_mm2", area),
    ("_mm3", volume),
    ("_fine_mm", lambda value, shown: length(value, shown, 3)),
    ("_mm", length),
    ("_deg", lambda value, _shown: degrees(value)),
    ("_percent", lambda value, _shown: percent(value)),
    ("_n", _with_unit("N", 1, 100.0, 0)),
    ("_m_s", _with_unit("m/s", 2, 10.0, 1)),
    ("_s", _with_unit("s", 1, 10.0, 0)),
    ("_c", _with_unit("°C", 0, 1e9, 0)),
    ("_kpa", _with_unit("kPa", 1, 10.0, 0)),
    ("_mpa", _with_unit("MPa", 3, 0.1, 2)),
    ("_hours", _hours),
    ("_min", lambda value, shown: _hours(value / 60.0, shown)),
    ("_litres", _with_unit("l", 1, 10.0, 0)),
    ("ratio", lambda value, _shown: plain(value, 1)),
    ("_kg", lambda value, _shown: mass(value)),
)


def sizes(values_mm: tuple[float, ...], shown: str = "mm") -> str:
    """Lengths as ``a × b × c mm``."""
    digits = 2 if shown == "in" else 1
    texts = [plain(from_mm(value, shown), digits) for value in values_mm]
    return f"{' × '.join(texts)}{_FIGURE_SPACE}{shown}"
