"""Figures as they are typed."""

import math

# Nothing on a bench is larger, in any unit that is typed.
MOST = 1e9


def figure(text: str) -> float:
    """The figure that is written. ValueError for what is none: letters, nan, inf, and what no bench could hold."""
    value = float(text)
    if not math.isfinite(value) or abs(value) > MOST:
        raise ValueError(f"{text[:40]!r} is no figure")
    return value
