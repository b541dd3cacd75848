"""Pounce: a pattern maker's bench, and a library.

``pounce.read``, ``pounce.Job`` and ``pounce.run`` are loaded when first used, so that importing the package alone
costs nothing; they are described in :mod:`pounce.route.library`. The rooms, top to bottom, are described in
``docs/architecture.md``; each room's own docstring says what is inside it.
"""

import importlib
import os
from typing import TYPE_CHECKING

from pounce.base.version import VERSION

# Points by the million times a turn (n, 3) @ (3, 3) is all the algebra there is: on two threads the library that numpy
# calls for it takes up to forty times as long as on one. Read when numpy is first loaded, which no room does before.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

if TYPE_CHECKING:
    from pounce.route.library import Job, Part, Result, read, run

__version__ = VERSION
__all__ = ["Job", "Part", "Result", "read", "run"]


def __getattr__(name: str) -> object:
    if name not in __all__:
        raise AttributeError(f"module 'pounce' has no attribute '{name}'")
    return getattr(importlib.import_module("pounce.route.library"), name)
