"""The source tree for one at a time: wheel, package and handbook are built in it, by tests that may run at once."""

import fcntl
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).parents[1]


@contextmanager
def whole_tree() -> Iterator[None]:
    """Waits until nobody else builds in it."""
    (ROOT / "build").mkdir(exist_ok=True)
    with (ROOT / "build" / "tests.lock").open("w") as held:
        fcntl.flock(held, fcntl.LOCK_EX)
        yield
