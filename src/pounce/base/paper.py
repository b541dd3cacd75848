"""Sizes of paper."""

from typing import Final

# Width and height, mm: ISO 216, and the American letter of 8.5 by 11 inches.
PAPERS: Final = {"A4": (210.0, 297.0), "A3": (297.0, 420.0), "letter": (215.9, 279.4)}
POINTS_PER_MM: Final = 72.0 / 25.4
