"""`python -m tests.fuzz files|lines FIRST COUNT`, `... kill BUILDS SAVES`, `... soak MINUTES SEED`: a campaign; ends 1
where something broke.
"""

import os
import sys
import tempfile
from functools import partial
from pathlib import Path

from tests.fuzz import files, kill, lines
from tests.fuzz.apart import campaign

# How long a case may take, s, and how much memory its process may hold, bytes.
FILES, LINES = (30.0, 1_500_000_000), (300.0, 3_000_000_000)


def main() -> int:
    """Runs the campaign asked for."""
    if sys.argv[1] == "soak":
        from tests.fuzz import soak  # noqa: PLC0415  the others want no window

        return 1 if soak.campaign(float(sys.argv[2]), int(sys.argv[3]), lambda words: print(words, flush=True)) else 0
    kind, first, count = sys.argv[1], int(sys.argv[2]), int(sys.argv[3])
    if kind == "kill":
        with tempfile.TemporaryDirectory(prefix="pounce-kill-") as name:
            return 1 if kill.campaign(Path(name), count, first, lambda words: print(words, flush=True)) else 0
    os.environ.setdefault("POUNCE_CELLS", "20000")
    with tempfile.TemporaryDirectory(prefix="pounce-fuzz-") as name:
        os.environ["POUNCE_LOGBOOK"] = str(Path(name) / "log.sqlite")
        case = partial(files.case_in, Path(name)) if kind == "files" else lines.case
        limit_s, most = FILES if kind == "files" else LINES
        if kind == "files":
            files.bases(Path(name))
        broken = campaign(case, range(first, first + count), limit_s, most, lambda words: print(words, flush=True))
    print(f"{kind}: {count} cases from {first}, {len(broken)} broken")
    return 1 if broken else 0


if __name__ == "__main__":
    sys.exit(main())
