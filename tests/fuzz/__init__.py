"""Campaigns that try to break the program: `make fuzz N=10000`. A failing case is told by its seed alone."""
