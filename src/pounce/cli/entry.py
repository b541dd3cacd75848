"""The `pounce` command's way in: what needs none of the rooms is done before any of them is loaded."""

import os
import sys
from importlib import resources

from pounce.base.environment import MORE
from pounce.base.errors import UserFault
from pounce.base.version import VERSION

HELP = "help.txt"


def run() -> None:
    """Entry point. The overall help, the version and the desktop at once; anything else goes to ``main``."""
    words = sys.argv[1:]
    # further stops bring sub-commands of their own, which the kept page does not know
    if words in (["--help"], ["-h"]) and not os.environ.get(MORE):
        print(resources.files("pounce.cli").joinpath(HELP).read_text(encoding="utf-8"), end="")
    elif words == ["--version"]:
        print(f"pounce {VERSION}")
    elif words[:1] == ["doctor"] and set(words[1:]) <= {"--json"}:
        from pounce.cli.doctor import doctor  # noqa: PLC0415  it speaks where a library of the rooms is broken

        sys.exit(doctor("--json" in words))
    elif (plain := plainly(words)) is not None:
        try:
            desktop(plain)
        except UserFault as fault:
            print(f"pounce: {fault}", file=sys.stderr)
            sys.exit(2)
    else:
        from pounce.cli.main import run as whole  # noqa: PLC0415  the rooms take a second to load

        whole()


def plainly(words: list[str]) -> list[str] | None:
    """What the desktop is started with, where these words ask for it and for nothing else; None where they do not."""
    if words in ([], ["open"]):
        return []
    if words == ["demo"]:
        return ["--demo"]
    if len(words) == 2 and words[0] == "open" and not words[1].startswith("-"):
        return [words[1]]
    if len(words) == 3 and words[:2] == ["demo", "--pictures"]:
        return ["--demo", *words[1:]]
    return None


def desktop(arguments: list[str]) -> None:
    """Becomes the desktop. UserFault where there is no display for it."""
    shown = any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))
    if not shown and "--pictures" not in arguments:
        raise UserFault("There is no display for the desktop here.", "Try: pounce demo --pictures FOLDER")
    # The desktop runs in a process that has not loaded the solid library, so that its window is there at once.
    os.execv(sys.executable, [sys.executable, "-m", "pounce.bench", *arguments])
