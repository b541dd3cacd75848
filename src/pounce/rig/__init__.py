"""Mould: flask, layout, the metal's way in, and what holds the cope down."""

# Raised when what the stop finds for the same job changes.
VERSION = 8
