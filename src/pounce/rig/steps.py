"""The order of ramming, closing and pouring, with the figures of this mould."""

import math

from pounce.base.units import count_words
from pounce.metals.pouring import pouring
from pounce.rig.flasking import Asked, Rigged
from pounce.rig.values import Flow, Gate, Step, Weights

# A sprue no further off the middle than this stands in it, mm.
NEAR_MM = 1.0


def steps_of(
    asked: Asked, rig: Rigged, gates: tuple[Gate, ...], flow: Flow, weights: Weights, vents: int, cores: int
) -> tuple[Step, ...]:
    """What is done, in order."""
    made = _loose(asked, rig, weights) if asked.loose else _rammed(asked, rig, gates, weights, vents, cores)
    return (*made, _pour(weights, flow))


def _layers(high_mm: float) -> str:
    count = max(math.ceil(high_mm / pouring().common.layer.value - 1e-9), 1)
    return "one layer" if count == 1 else f"{count_words(count)} layers"


def _pour(w: Weights, flow: Flow) -> Step:
    return Step(
        "Pour {poured_kg} without a pause, in about {fill_s}, and keep the cup full to the end.",
        {"poured_kg": w.poured_kg, "fill_s": flow.fill_s},
    )


def _loose(asked: Asked, rig: Rigged, w: Weights) -> list[Step]:
    f = rig.flask
    return [
        Step("Put {under_mm} of dry sand in the box and level it.", {"under_mm": f.drag_mm - asked.item.down_mm}),
        Step(
            "Lay the foam in with its gates, runner and sprue glued on, and pour sand round and over it, tapping the "
            "sides so that it runs under everything, {over_mm} high over the middle; {sand_kg} in all.",
            {"over_mm": f.cope_mm, "sand_kg": w.cope_sand_kg + w.drag_sand_kg},
        ),
        Step("Set the cup on the sprue and bank sand round it.", {}),
    ]


def _rammed(asked: Asked, rig: Rigged, gates: tuple[Gate, ...], w: Weights, vents: int, cores: int) -> list[Step]:
    f, s, c = rig.flask, rig.sections, pouring().common
    many = len(rig.laid.castings)
    what = "the pattern" if many == 1 else f"{count_words(many)} patterns"
    x, y = rig.laid.sprue
    places = [f"{{x_mm}} {'right' if x >= 0.0 else 'left'} of"] * (abs(x) >= NEAR_MM)
    places += [f"{{y_mm}} {'behind' if y >= 0.0 else 'before'}"] * (abs(y) >= NEAR_MM)
    side = " and ".join(places) or "in"
    out = [
        Step(
            f"Lay what lies in the drag of {what} on the board by the plan, dust it, sieve {{facing_mm}} of fine sand "
            f"over it and ram the drag, {{drag_kg}}, in {_layers(f.drag_mm)}; strike off and turn it over.",
            {"facing_mm": c.facing.value, "drag_kg": w.drag_sand_kg},
        ),
        Step(
            f"Set the rest on it and the sprue of {{top_mm}} with its foot {side} the middle of the flask. Dust the "
            f"joint, then ram the cope, {{cope_kg}}, in {_layers(f.cope_mm)}; strike off.",
            {"top_mm": s.top, "x_mm": abs(x), "y_mm": abs(y), "cope_kg": w.cope_sand_kg},
        ),
    ]
    if vents:
        where = "over the high point" if vents == 1 else f"over {count_words(vents)} high points"
        out.append(
            Step(
                f"Prick vents of {{vent_mm}} {where}, down to within a finger of the pattern.",
                {"vent_mm": c.vent.value},
            )
        )
    half = gates[0].half if gates else s.gate_half
    each = "a gate" if len(gates) == 1 else f"{count_words(len(gates))} gates"
    out.append(
        Step(
            f"Draw the sprue, lift the cope, draw {what}. Cut the runner {{wide_mm}} by {{high_mm}} in the "
            f"{s.runner_half}, {each} {{gate_wide_mm}} by {{gate_thick_mm}} in the {half}, and the "
            "well {well_mm} deep under the sprue; blow out every crumb.",
            {
                "wide_mm": s.runner_wide,
                "high_mm": s.runner_high,
                "gate_wide_mm": s.gate_wide,
                "gate_thick_mm": s.gate_thick,
                "well_mm": s.well_deep,
            },
        )
    )
    if cores:
        one = "core" if cores == 1 else f"{count_words(cores)} cores"
        out.append(Step(f"Set the {one} and lead the vents out of the mould.", {}))
    hold = "put {add_kg} on the cope or clamp it" if w.add_kg > 0.05 else "the cope stays down by itself"
    cup = "" if asked.choices.cup == "cut" else ", set the cup on the sprue"
    out.append(Step(f"Close on the pins{cup}; {hold}.", {"add_kg": w.add_kg}))
    return out
