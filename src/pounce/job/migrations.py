"""How old job files become new ones: one registered step a format version.

History
- 1 (0.1.0): the first format.
- 2 (0.2.0): joints that follow the part: ``parting`` may hold nudges, moulded, loose, keyed, wishes, rap_mm, rock_deg
  and upside_down. What a file of format 1 leaves out takes its default, so the step changes nothing.
- 3 (0.3.0): ``stock``: additions, contraction per axis, the table's grade. Left out it is empty, so the step changes
  nothing.
- 4 (0.4.0): ``cores``: what becomes of hollows, the core sand, the mould on end. Left out it is empty, so the step
  changes nothing.
- 5 (0.5.0): ``cores`` may say what draft a core's walls get in the box; ``pattern`` holds the printer, the boards, the
  foam and the paper. Left out they go by the table, so the step changes nothing.
- 6 (0.6.0): the contraction is stated on the pattern unless said; ``parting`` may say which side is rammed in the drag;
  machining may name a school and leave its grade to the table; ``cores`` may say how wide a print is. A file written
  before names what it meant, so the step changes nothing.
- 7 (0.6.0): what was asked at Draw (``parting.wishes``) lives with the stop that carries it out: fills and tapers
  become lines of ``stock``, cores decisions of ``cores``. ``settled`` is called ``accepted`` and ``parting.rock_deg``
  ``tilt_deg``.
- 8 (0.8.0): ``rig``: flask, castings, gates, and what was put by hand in the mould. Left out it is the usual one, so
  the step changes nothing.
- 9 (0.9.0): ``rig`` holds feeders and chills, ``freeze`` the pouring temperature, the school of feeding, the grid and
  the bench's own sand and metal, ``pour`` crucible, furnace, charge, school and time, ``log`` what the logbook knows it
  by. Left out there are none and the table's, so the step changes nothing.
"""

from collections.abc import Callable
from typing import Any

FORMAT = 9
Step = Callable[[dict[str, Any]], dict[str, Any]]
# The order of lines of Stock as it was in format 6: a fill stood before the first that comes later.
_ORDER_6 = {"level": 0, "machining": 1, "fill": 2, "draft": 3, "finish": 4, "fillets": 5, "text": 6, "camber": 7}


def _from_six(content: dict[str, Any]) -> dict[str, Any]:
    """Format 6 to 7."""
    job = dict(content.get("job") or {})
    parting = dict(job.get("parting") or {})
    for holder, old, new in ((job, "settled", "accepted"), (parting, "rock_deg", "tilt_deg")):
        if old in holder:
            holder[new] = holder.pop(old)
    wishes = parting.pop("wishes", [])
    if not wishes:
        return {**content, "job": {**job, "parting": parting} if parting else job}
    stock, cores = dict(job.get("stock") or {}), dict(job.get("cores") or {})
    lines, hollows = list(stock.get("lines") or []), list(cores.get("hollows") or [])
    tapers = [wish["at_mm"] for wish in wishes if wish["kind"] == "taper"]
    added = [{"kind": "fill", "at_mm": wish["at_mm"]} for wish in wishes if wish["kind"] == "fill"]
    if tapers and not any(line["kind"] == "draft" and line.get("on", True) and not line.get("only") for line in lines):
        added.append({"kind": "draft", "only": tapers})
    for line in added:
        rank = _ORDER_6[line["kind"]]
        at = next((k for k, other in enumerate(lines) if _ORDER_6[other["kind"]] > rank), len(lines))
        lines.insert(at, line)
    hollows += [{"at_mm": wish["at_mm"]} for wish in wishes if wish["kind"] == "core"]
    moved = {"parting": parting, "stock": {**stock, "lines": lines}, "cores": {**cores, "hollows": hollows}}
    return {**content, "job": {**job, **moved}}


# version n -> the step from n to n + 1
STEPS: dict[int, Step] = {1: dict, 2: dict, 3: dict, 4: dict, 5: dict, 6: _from_six, 7: dict, 8: dict}


def migrated(content: dict[str, Any], steps: dict[int, Step] | None = None, target: int = FORMAT) -> dict[str, Any]:
    """The content of ``job.json`` brought to the current format. KeyError when a step is missing."""
    known = STEPS if steps is None else steps
    now = dict(content)
    while int(now["format"]) < target:
        version = int(now["format"])
        now = known[version](now)
        now["format"] = version + 1
    return now
