"""What was chosen otherwise between two pours."""

from collections.abc import Mapping

from pounce.logbook.said import Differs


def differs_of(was: Mapping[str, str], now: Mapping[str, str], usual: str = "the usual") -> tuple[Differs, ...]:
    """What is chosen otherwise."""
    names = sorted({*was, *now})
    return tuple(
        Differs(name, was.get(name, usual), now.get(name, usual)) for name in names if was.get(name) != now.get(name)
    )
