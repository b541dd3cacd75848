"""Units are converted only at the doors; inside the program lengths are millimetres.

The factors are exact by definition (international inch, 1959: 25.4 mm).
"""

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
    if key.endswith("_mm2"):
        return area(value, shown)
    if key.endswith("_mm3"):
        return volume(value, shown)
    if key.endswith("_fine_mm"):
        return length(value, shown, 3)
    if key.endswith("_mm"):
        return length(value, shown)
    if key.endswith("_deg"):
        return degrees(value)
    if key.endswith("_percent"):
        return percent(value)
    if key.endswith("_n"):
        return f"{plain(value, 1 if abs(value) < 100 else 0)}{_FIGURE_SPACE}N"
    if key.endswith("_kpa"):
        return f"{plain(value, 1 if abs(value) < 10 else 0)}{_FIGURE_SPACE}kPa"
    if key.endswith("_mpa"):
        return f"{plain(value, 3 if abs(value) < 0.1 else 2)}{_FIGURE_SPACE}MPa"
    if key.endswith("_hours"):
        whole = round(value * 60.0)
        return (
            f"{whole // 60}{_FIGURE_SPACE}h{_FIGURE_SPACE}{whole % 60:02d}"
            if whole >= 60
            else f"{whole}{_FIGURE_SPACE}min"
        )
    if key.endswith("_litres"):
        return f"{plain(value, 1 if value < 10 else 0)}{_FIGURE_SPACE}l"
    if key.endswith("ratio"):
        return plain(value, 1)
    if key.endswith("_kg"):
        return mass(value)
    return plain(value, 0)


def sizes(values_mm: tuple[float, ...], shown: str = "mm") -> str:
    """Lengths as ``a × b × c mm``."""
    digits = 2 if shown == "in" else 1
    texts = [plain(from_mm(value, shown), digits) for value in values_mm]
    return f"{' × '.join(texts)}{_FIGURE_SPACE}{shown}"
