"""Plans under the stable keys of ``pounce.plan/2``."""

from pounce.metals.method import Method
from pounce.plan.values import Plan
from pounce.route.proof import keys_of_proof
from pounce.route.results import Plain


def plan_keys(part: str, method: Method, plans: tuple[Plan, ...]) -> Plain:
    """The plans as plain values, best first."""
    return {
        "schema": "pounce.plan/2",
        "part": part,
        "metal": method.metal_id,
        "mould": method.mould_id,
        "castings": plans[0].cost.castings,
        "plans": [_keys(plan) for plan in plans],
    }


def _keys(plan: Plan) -> Plain:
    return {
        "title": plan.title,
        "why": plan.why,
        "hours": plan.cost.hours,
        "hours_once": plan.cost.pattern,
        "hours_each": plan.cost.each,
        "risk": plan.cost.risk,
        "cores": plan.cores,
        "feeders": plan.feeders,
        "chills": plan.chills,
        "metal_added_mm3": plan.metal_mm3,
        "depth_mm": plan.depth_mm,
        "draw": list(plan.direction),
        "parting": plan.parting,
        "edits": [
            {"id": line.id, "text": line.words(), "reason": line.reason_words(), "figure": line.main_words()}
            for line in plan.lines
        ],
        "proof": keys_of_proof(plan.proof),
        "left": list(plan.left),
    }
