"""What worker and render server load, loaded once for all of a run's windows."""

import gc
import os
from typing import Any

import pounce.bench.view3d.server
import pounce.bench.worker
import pounce.causes.group
import pounce.feeding.stop
import pounce.pattern.making.ways
import pounce.plan.edits
import pounce.pour.stop
import pounce.proof.stop
import pounce.rig.stop
import pounce.route.paper  # noqa: F401
from pounce.bench import launch

# what is loaded stays where it is, shared by all that are forked
gc.freeze()


def enter(environment: dict[str, str], module: str, *arguments: Any) -> None:
    """As a process begun by itself would, in this environment."""
    os.environ.clear()
    os.environ.update(environment)
    launch.enter(module, *arguments)
