"""Feeding: the mould's heat and filling judged, and feeders, chills and vents tried until what sets last is fed."""

# Raised when what the stop finds for the same job changes.
VERSION = 4
