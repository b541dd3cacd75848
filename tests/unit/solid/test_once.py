"""What hangs on a mesh alone is worked out once, and goes with the mesh."""

import gc
import weakref

import pytest

from pounce.solid.mesh import Mesh
from pounce.solid.once import once_a_mesh
from tests.conftest import box, mesh_of


def test_it_is_worked_once_a_mesh_also_where_nothing_came_of_it() -> None:
    asked: list[int] = []

    @once_a_mesh
    def largest(mesh: Mesh) -> float | None:
        asked.append(len(mesh.faces))
        return None if mesh.diagonal > 100.0 else float(mesh.areas.max())

    small, large = mesh_of(box(2, 3, 4)), mesh_of(box(100, 3, 4))
    assert [largest(small), largest(small)] == [6.0, 6.0] and largest(large) is largest(large) is None
    assert asked == [12, 12]
    gone = weakref.ref(small)
    del small
    gc.collect()
    assert gone() is None


def test_a_fault_is_not_kept() -> None:
    tries: list[int] = []

    @once_a_mesh
    def fails_first(_mesh: Mesh) -> int:
        tries.append(1)
        if len(tries) == 1:
            raise ValueError("not yet")
        return len(tries)

    mesh = mesh_of(box(2, 3, 4))
    with pytest.raises(ValueError, match="not yet"):
        fails_first(mesh)
    assert fails_first(mesh) == fails_first(mesh) == 2
