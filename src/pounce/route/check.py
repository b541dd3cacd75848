"""What a check found, under the stable keys of ``pounce.check/1``."""

from typing import Any

import numpy as np

from pounce.base.finding import Finding, Severity, filled
from pounce.metals.contraction import formula
from pounce.metals.method import Method
from pounce.part.model import Model, PartResult
from pounce.parting.values import PartingResult, Ringed, State, Trial
from pounce.route.cores import cores_summary
from pounce.route.keys import STOPS
from pounce.route.making import making_summary
from pounce.route.results import Results, cautions_at, findings_at, sand_of
from pounce.route.stock import stock_summary


def check(results: Results, model: Model) -> dict[str, Any]:
    """The check as plain values. Raises the fault of a stop that it cannot do without."""
    part, metal = results.need("part"), results.need("metal")
    draw, parting = results.need("draw"), results.need("parting")
    found = [finding for stop in STOPS for finding in findings_at(stop, results)]
    return {
        "schema": "pounce.check/1",
        "part": _part(part, metal, model),
        "metal": metal.metal_id,
        "mould": metal.mould_id,
        "pattern": metal.pattern_id,
        "contraction_percent": metal.contraction_percent,
        "contraction_stated_on": metal.stated,
        "contraction_factor": metal.factor,
        "contraction_formula": formula(f"{metal.contraction_percent:g}", metal.stated),
        "cautions": list(cautions_at(results)),
        "pattern_size_mm": _pattern_size(results, part, metal),
        "stock": stock_summary(results),
        "cores": cores_summary(results),
        "make": making_summary(results),
        "draw": {
            "direction": _list(draw.direction),
            "chosen_by": draw.chosen_by,
            "depth_mm": draw.depth_mm,
            "candidates": [
                {
                    "direction": list(c.direction),
                    "locked_mm2": c.locked_mm2,
                    "parting_relief_mm": c.relief_mm,
                    "locked_any_parting_mm2": c.any_parting_mm2,
                    "tight_mm2": c.tight_mm2,
                    "cores": c.cores,
                    "why": c.why,
                    "cost": c.cost,
                    "depth_mm": c.depth_mm,
                    "score": c.score,
                }
                for c in draw.candidates
            ],
        },
        "parting": {
            "kind": parting.kind,
            "height_mm": parting.height_mm,
            "relief_mm": parting.relief_mm,
            "slope_deg": parting.slope_deg,
            "moulded": None if parting.joint.level else parting.moulded,
            "rammed_in": rammed_in(parting),
            "upside_down": parting.upside_down,
            "windows": parting.windows,
            "loops": len(parting.outline),
            "length_mm": parting.length_mm,
        },
        "faces": {
            "required_draft_deg": parting.required_draft_deg,
            "asked_draft_deg": list(metal.draft_range_deg),
            "clean_mm2": parting.clean_mm2,
            "tight_mm2": parting.tight_mm2,
            "locked_mm2": parting.locked_mm2,
            "locked_any_parting_mm2": parting.locked_any_mm2,
            "least_draft_deg": parting.least_draft_deg,
        },
        "forgiven_mm2": draw.reach.forgiven_mm2,
        "sand_round_mm": _sand(results),
        "trial": _trial(parting.trial, parting.joint.turned),
        "loose_pieces": [
            {
                "name": piece.name,
                "way": list(piece.way),
                "travel_mm": piece.travel_mm,
                "half": parting.joint.half(piece.cope),
            }
            for piece in parting.loose
        ],
        "groove": _groove(parting.ringed),
        "wishes": [{"kind": wish.kind, "at_mm": list(wish.at_mm)} for wish in parting.wishes],
        "regions": [
            {
                "state": "locked" if region.state is State.LOCKED else "tight",
                "area_mm2": region.area_mm2,
                "centre_mm": list(region.centre_mm),
                "least_draft_deg": region.least_draft_deg,
                "note": region.words(),
            }
            for region in parting.regions
        ],
        "findings": [finding_keys(finding) for finding in found],
    }


def _sand(results: Results) -> dict[str, float]:
    """Sand wanted round the casting, by its metal and mass, mm."""
    found = sand_of(results)
    return {"beside": found.beside_mm, "between": found.between_mm, "over": found.over_mm, "under": found.under_mm}


def _groove(made: Ringed | None) -> dict[str, Any] | None:
    """What makes a groove round the outside, and where; None where nothing is asked."""
    if made is None:
        return None
    return {
        "made_by": made.how, "from_mm": made.low_mm, "to_mm": made.high_mm, "neck_mm": made.neck_mm, "cheek_mm": made.cheek_mm,
        "refused": made.trouble or None,
    }  # fmt: skip


def rammed_in(parting: PartingResult) -> str | None:
    """The half that a pattern with a flat back is rammed in; None for any other."""
    if parting.kind != "flat-back":
        return None
    return "drag" if parting.drag_depth_mm > parting.cope_depth_mm else "cope"


def _pattern_size(results: Results, part: PartResult, metal: Method) -> list[float]:
    """The pattern with all additions, or the part scaled where Stock could not work."""
    if results.stock is None:
        return _list(part.mesh.size * metal.factor)
    body = results.stock.mesh if results.cores is None else results.cores.mesh
    return _list(body.size * np.array(results.stock.factors))


def _trial(trial: Trial, turned: bool) -> dict[str, Any]:
    cope, drag = (trial.drag_mm3, trial.cope_mm3) if turned else (trial.cope_mm3, trial.drag_mm3)
    return {
        "torn_mm3": trial.torn_mm3,
        "lifts_mm": _list(trial.lifts_mm),
        "cope_mm3": _list(cope),
        "drag_mm3": _list(drag),
        "places": [
            {"half": torn.half, "volume_mm3": torn.volume_mm3, "at_mm": list(torn.at_mm), "clear_mm": torn.clear_mm}
            for torn in trial.places
        ],
        "askew": [
            {
                "half": rocked.half,
                "askew_deg": rocked.askew_deg,
                "pressed_mm3": rocked.pressed_mm3,
                "deepest_mm": rocked.deepest_mm,
                "allowed_deg": rocked.allowed_deg,
            }
            for rocked in trial.rocked
        ],
        "drags_mm": trial.drags_mm,
    }


def _part(part: PartResult, metal: Method, model: Model) -> dict[str, Any]:
    return {
        "name": model.name,
        "file": model.file,
        "unit": part.unit,
        "unit_from": part.unit_from,
        "triangles": len(part.mesh.faces),
        "bodies": len(part.bodies),
        "closed": part.closed,
        "mended": list(part.mended),
        "size_mm": _list(part.mesh.size),
        "volume_mm3": part.volume_mm3,
        "area_mm2": part.area_mm2,
        "mass_kg": metal.mass_kg(part.volume_mm3),
        "least_wall_mm": part.least_wall_mm,
    }


def finding_keys(finding: Finding) -> dict[str, Any]:
    """A finding under its stable keys."""
    return {
        "code": finding.code,
        "severity": str(finding.severity),
        "text": finding.words(),
        "at_mm": None if finding.place_mm is None else list(finding.place_mm),
        "figures": {key: value for key, value in finding.figures.items() if key != "diameter_mm" or value},
        "remedies": [{"id": remedy.id, "text": filled(remedy.text, finding.figures)} for remedy in finding.remedies],
    }


def says_stop(content: dict[str, Any]) -> bool:
    """Whether a finding of this check or manifest says stop."""
    return any(finding["severity"] == Severity.STOP for finding in content["findings"])


def _list(vector: np.ndarray) -> list[float]:
    return [float(value) for value in vector]
