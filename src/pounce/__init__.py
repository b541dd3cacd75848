"""Pounce: a pattern maker's bench.

The rooms, top to bottom, are described in ``docs/architecture.md``; each room's own docstring says
what is inside it.
"""

__version__ = "0.1.0"
