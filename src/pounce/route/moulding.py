"""What a check says of part, metal, draw and joint, under the stable keys of ``pounce.check/1``."""

import numpy as np

from pounce.metals.contraction import formula
from pounce.metals.method import Method
from pounce.part.model import Model, PartResult
from pounce.parting.values import PartingResult, Ringed, State, Trial
from pounce.route.places import wishes_of
from pounce.route.results import Plain, Results, cautions_at, sand_of


def part_keys(results: Results, model: Model) -> Plain:
    """The part as it was read."""
    part, metal = results.part, results.metal
    return {"part": None if part is None or metal is None else _part(part, metal, model)}


def metal_keys(results: Results, _model: Model) -> Plain:
    """Metal, mould, way of making, contraction and cautions."""
    metal = results.metal
    if metal is None:
        return {}
    return {
        "metal": metal.metal_id,
        "mould": metal.mould_id,
        "pattern": metal.pattern_id,
        "contraction_percent": metal.contraction_percent,
        "contraction_stated_on": metal.stated,
        "contraction_factor": metal.factor,
        "contraction_formula": formula(f"{metal.contraction_percent:g}", metal.stated),
        "cautions": list(cautions_at(results)),
        "pattern_size_mm": None if results.part is None else _pattern_size(results, results.part, metal),
        "sand_round_mm": _sand(metal, results),
    }


def draw_keys(results: Results, _model: Model) -> Plain:
    """The draw and its rivals."""
    draw = results.draw
    if draw is None:
        return {}
    return {
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
        "forgiven_mm2": draw.reach.forgiven_mm2,
    }


def parting_keys(results: Results, _model: Model) -> Plain:
    """The joint, what every face does along it, the trial draw."""
    parting, metal = results.parting, results.metal
    if parting is None or metal is None:
        return {}
    return {
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
        "wishes": [{"kind": wish.kind, "at_mm": list(wish.at_mm)} for wish in wishes_of(results.job)],
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
    }


def _sand(method: Method, results: Results) -> dict[str, float]:
    """Sand wanted round the casting, by its metal and mass, mm."""
    found = sand_of(method, results)
    return {"beside": found.beside_mm, "between": found.between_mm, "over": found.over_mm, "under": found.under_mm}


def _groove(made: Ringed | None) -> Plain | None:
    """What makes a groove round the outside, and where; None where nothing is asked."""
    if made is None:
        return None
    return {
        "made_by": made.how,
        "from_mm": made.low_mm,
        "to_mm": made.high_mm,
        "neck_mm": made.neck_mm,
        "cheek_mm": made.cheek_mm,
        "refused": made.trouble or None,
    }


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


def _trial(trial: Trial, turned: bool) -> Plain:
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
                "half": tilted.half,
                "askew_deg": tilted.askew_deg,
                "pressed_mm3": tilted.pressed_mm3,
                "deepest_mm": tilted.deepest_mm,
                "allowed_deg": tilted.allowed_deg,
            }
            for tilted in trial.tilted
        ],
        "drags_mm": trial.drags_mm,
    }


def _part(part: PartResult, metal: Method, model: Model) -> Plain:
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


def _list(vector: np.ndarray) -> list[float]:
    return [float(value) for value in vector]
