"""The logbook on the bench."""
