"""How old job files become new ones: one registered step a format version.

History
- 1 (0.1.0): the first format.
- 2 (0.2.0): joints that follow the part: ``parting`` may hold nudges, moulded, loose, keyed, wishes, rap_mm, rock_deg and
  upside_down. What a file of format 1 leaves out takes its default, so the step changes nothing.
- 3 (0.3.0): ``stock``: additions, contraction per axis, the table's grade. Left out it is empty, so the step changes nothing.
- 4 (0.4.0): ``cores``: what becomes of hollows, the core sand, the mould on end. Left out it is empty, so the step changes nothing.
- 5 (0.5.0): ``cores`` may say what draft a core's walls get in the box; ``pattern`` holds the printer, the boards, the foam and the paper. Left out they go by the
  table, so the step changes nothing.
- 6 (0.6.0): the contraction is stated on the pattern unless said; ``parting`` may say which side is rammed in the drag; machining may name a school and leave its
  grade to the table; ``cores`` may say how wide a print is. A file written before names what it meant, so the step changes nothing.
"""

from collections.abc import Callable
from typing import Any

FORMAT = 6
Step = Callable[[dict[str, Any]], dict[str, Any]]
# version n -> the step from n to n + 1
STEPS: dict[int, Step] = {1: dict, 2: dict, 3: dict, 4: dict, 5: dict}


def migrated(content: dict[str, Any], steps: dict[int, Step] | None = None, target: int = FORMAT) -> dict[str, Any]:
    """The content of ``job.json`` brought to the current format. KeyError when a step is missing."""
    known = STEPS if steps is None else steps
    now = dict(content)
    while int(now["format"]) < target:
        version = int(now["format"])
        now = known[version](now)
        now["format"] = version + 1
    return now
