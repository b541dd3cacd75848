"""What hangs on a mesh alone is worked out once, and forgotten with the mesh."""

from collections.abc import Callable
from functools import wraps
from typing import TypeVar
from weakref import WeakKeyDictionary

from pounce.solid.mesh import Mesh

Found = TypeVar("Found")


def once_a_mesh(work: Callable[[Mesh], Found]) -> Callable[[Mesh], Found]:
    """The same function, which keeps what it returned as long as the mesh lives; what it raises is not kept."""
    kept: WeakKeyDictionary[Mesh, Found] = WeakKeyDictionary()

    @wraps(work)
    def known(mesh: Mesh) -> Found:
        if mesh not in kept:
            kept[mesh] = work(mesh)
        return kept[mesh]

    return known
