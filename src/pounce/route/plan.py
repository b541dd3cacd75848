"""Ranked ways to mould a part: draw, parting and what is left to cores, each with what it costs."""

from dataclasses import replace
from typing import Any

import numpy as np

from pounce.base.progress import Progress, silent, span
from pounce.draw.search import cost_words, way_words
from pounce.draw.stop import draw_stop
from pounce.draw.values import Candidate, DrawChoices
from pounce.metals.margins import sand_round
from pounce.metals.method import Method
from pounce.part.model import PartResult
from pounce.parting.choose import Chosen, choose
from pounce.parting.values import PartingChoices
from pounce.solid.frame import across, unit


def plan(
    name: str, part: PartResult, method: Method, candidates: tuple[Candidate, ...], progress: Progress = silent
) -> dict[str, Any]:
    """The ways under the stable keys of ``pounce.plan/1``, best first.

    The joint of each is chosen as the Parting stop chooses it, on the part itself, so that a check of that draw says
    the same. A draw whose flat joint locks more than a joint that follows the part stands there both ways.
    """
    ways: list[tuple[float, dict[str, Any]]] = []
    for count, candidate in enumerate(candidates):
        start, end = count / len(candidates), (count + 1) / len(candidates)
        progress(start, f"Finding the joint along {way_words(candidate.direction)}")
        chosen = _joint(part, candidate, span(progress, start, end))
        shaped = not chosen.joint.level
        way = _way(part, method, candidate, chosen.kind, candidate.score)
        ways.append((candidate.score, way | _figures(chosen)))
        if shaped:
            rest = max(chosen.best_locked_mm2 - chosen.any_mm2, 0.0) / part.area_mm2
            score = replace(candidate.parts, locked_flat=rest, relief=0.0).total
            plane = replace(candidate, relief_mm=0.0, followed=False, locked_mm2=chosen.best_locked_mm2)
            plane = replace(plane, why="A plane in place of a joint that follows the part", cost=cost_words(plane))
            flat = {
                "height_mm": chosen.best_height_mm,
                "locked_mm2": chosen.best_locked_mm2,
                "locked_any_parting_mm2": chosen.any_mm2,
            }
            ways.append((score, _way(part, method, plane, _flat_kind(plane), score) | flat))
    ways.sort(key=lambda pair: pair[0])
    return {
        "schema": "pounce.plan/1",
        "part": name,
        "metal": method.metal_id,
        "mould": method.mould_id,
        "required_draft_deg": method.required_draft_deg,
        "ways": [way for _, way in ways],
    }


def _joint(part: PartResult, candidate: Candidate, progress: Progress) -> Chosen:
    """The joint that Parting takes for this draw when nothing is asked of it."""
    draw = draw_stop(DrawChoices(candidate.direction), part, progress)
    return choose(PartingChoices(), part.mesh, draw, progress)


def _figures(chosen: Chosen) -> dict[str, Any]:
    """What a joint really comes to."""
    return {
        "height_mm": chosen.joint.height_mm,
        "parting_relief_mm": chosen.surface_relief_mm,
        "locked_mm2": chosen.best_locked_mm2 if chosen.joint.level else chosen.any_mm2,
        "locked_any_parting_mm2": chosen.any_mm2,
    }


def _flat_kind(candidate: Candidate) -> str:
    return "flat-back" if candidate.flat_back else "split"


def _way(part: PartResult, method: Method, candidate: Candidate, kind: str, score: float) -> dict[str, Any]:
    direction = unit(candidate.direction)
    u, v = across(direction)
    spans = [float(np.ptp(part.mesh.vertices @ side)) for side in (u, v)]
    margin = 2.0 * sand_round(method.metal_id, method.mass_kg(part.volume_mm3)).beside_mm
    natural = kind in ("natural", "stepped")
    return {
        "direction": list(candidate.direction),
        "from": candidate.source,
        "parting": kind,
        "height_mm": candidate.height_mm,
        "parting_relief_mm": candidate.relief_mm if natural else 0.0,
        "locked_mm2": candidate.any_parting_mm2 if natural else candidate.locked_mm2,
        "locked_any_parting_mm2": candidate.any_parting_mm2,
        "tight_mm2": candidate.tight_mm2,
        "depth_mm": candidate.depth_mm,
        "cores": candidate.cores,
        "flask_inside_mm": [spans[0] + margin, spans[1] + margin],
        "why": candidate.why,
        "cost": candidate.cost,
        "score": score,
    }
