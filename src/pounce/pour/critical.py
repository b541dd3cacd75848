"""The critical path: steps in their places before and after the pour."""

from pounce.pour.values import Limit, Placed, Step

POUR = "pour"
SLACK_MIN = 1e-6


def order(steps: tuple[Step, ...]) -> list[Step]:
    """Steps so that each stands after what it waits for. ValueError for a ring, or a step that waits for none there."""
    left = {step.id: step for step in steps}
    if len(left) != len(steps):
        raise ValueError("two steps have one id")
    for step in steps:
        for other in step.after:
            if other not in left:
                raise ValueError(f"{step.id} waits for {other}, which is not there")
    out: list[Step] = []
    done: set[str] = set()
    while left:
        ready = [step for step in left.values() if all(other in done for other in step.after)]
        if not ready:
            raise ValueError(f"{', '.join(left)} wait for each other")
        for step in ready:
            out.append(step)
            done.add(step.id)
            del left[step.id]
    return out


def soonest(steps: tuple[Step, ...]) -> dict[str, float]:
    """When each step begins at the soonest, minutes from the beginning (critical path method, forward pass)."""
    out: dict[str, float] = {}
    by_id = {step.id: step for step in steps}
    for step in order(steps):
        out[step.id] = max((out[other] + by_id[other].minutes for other in step.after), default=0.0)
    return out


def latest(steps: tuple[Step, ...], end: float) -> dict[str, float]:
    """When each step begins at the latest so that all is done at ``end`` (backward pass)."""
    out: dict[str, float] = {}
    follow: dict[str, list[str]] = {step.id: [] for step in steps}
    for step in steps:
        for other in step.after:
            follow[other].append(step.id)
    for step in reversed(order(steps)):
        out[step.id] = min((out[other] for other in follow[step.id]), default=end) - step.minutes
    return out


def placed(steps: tuple[Step, ...], pour: str = POUR) -> tuple[Placed, ...]:
    """Steps before the pour as late as they may be, so that sand is fresh and no metal waits; those after it as soon as
    they can be. Minutes from the beginning of the pour.
    """
    before = _leading(steps, pour)
    ahead = tuple(step for step in steps if step.id in before)
    early = soonest(ahead)
    pour_at = early[pour]
    late = latest(ahead, pour_at + next(step.minutes for step in steps if step.id == pour))
    starts = {key: value - pour_at for key, value in late.items()}
    by_id = {step.id: step for step in steps}
    for step in order(steps):
        if step.id not in starts:
            ready = max((starts[other] + by_id[other].minutes for other in step.after), default=0.0)
            starts[step.id] = max(ready, 0.0)
    tight = {key for key in late if late[key] - early[key] < SLACK_MIN}
    return tuple(
        Placed(step, starts[step.id], starts[step.id] + step.minutes, step.id in tight)
        for step in sorted(steps, key=lambda one: (starts[one.id], steps.index(one)))
    )


def _leading(steps: tuple[Step, ...], pour: str) -> set[str]:
    """The pour and all that it waits for."""
    by_id, out, look = {step.id: step for step in steps}, set(), [pour]
    while look:
        key = look.pop()
        if key not in out:
            out.add(key)
            look += by_id[key].after
    return out


def broken(where: dict[str, tuple[float, float]], limits: tuple[Limit, ...]) -> list[tuple[Limit, float]]:
    """Limits that do not hold, with how many minutes too much; ``where`` begins and ends of steps."""
    out = []
    for limit in limits:
        if limit.first in where and limit.last in where:
            over = where[limit.last][1] - where[limit.first][0] - limit.minutes
            if over > SLACK_MIN:
                out.append((limit, over))
    return out
