"""How the pattern is made, under the stable keys of ``pounce.make/1``."""

from pounce.base.finding import filled
from pounce.pattern.making.values import Clay, Making
from pounce.pattern.values import Mount
from pounce.route.results import Plain, Results, there


def making_summary(results: Results) -> Plain | None:
    """The few figures of the making that a check shows; None where there is no pattern."""
    if results.pattern is None:
        return None
    making = results.pattern.making
    return {
        "way": making.kind,
        "hours": next((way.hours for way in making.ways if way.kind == making.kind), None),
        "layers": len(making.layers),
        "prints": len(making.prints),
    }


def making_keys(results: Results) -> Plain:
    """All of the making as plain values. Raises the fault of a stop that it cannot do without."""
    pattern = there(results.pattern)
    making = pattern.making
    return {
        "schema": "pounce.make/1",
        "way": making.kind,
        **_made(making),
        "boards": making.boards,
        "rings": [one.__dict__ for one in making.segments],
        "wire_cuts": len(making.cuts),
        "hollow": making.hollow,
        "mount": _mount(pattern.mount),
        "clay": _clay(making.clay),
        "steps": list(making.steps),
        "figures": making.figures,
    }


def _made(making: Making) -> Plain:
    """Ways side by side, prints, layers, the cut list."""
    return {
        "ways": [
            {
                "way": way.kind,
                "hours": way.hours,
                "hand_hours": way.hand_hours,
                "takes": filled(way.takes, way.figures),
                "minds": way.minds,
                "figures": way.figures,
            }
            for way in making.ways
        ],
        "prints": [
            {
                "name": core_print.name,
                "size_mm": [float(v) for v in core_print.mesh.size],
                "turn_deg": core_print.turn_deg,
                "bed": core_print.bed + 1,
                "at_mm": list(core_print.at_mm),
                "plastic_mm3": core_print.plastic_mm3,
                "minutes": core_print.minutes,
                "overhang_mm2": core_print.overhang_mm2,
            }
            for core_print in making.prints
        ],
        "layers": [
            {
                "piece": layer.piece + 1,
                "number": layer.number,
                "low_mm": layer.low_mm,
                "high_mm": layer.high_mm,
                "saw_mm2": float(layer.saw.area),
                "lower_mm2": float(layer.lower.area),
                "upper_mm2": float(layer.upper.area),
                "lean_deg": layer.lean_deg,
                "grain_deg": layer.grain_deg,
            }
            for layer in making.layers
        ],
        "cut_list": [
            {
                "name": blank.name,
                "count": blank.count,
                "long_mm": blank.long_mm,
                "wide_mm": blank.wide_mm,
                "thick_mm": blank.thick_mm,
                "grain": blank.grain,
                "board": blank.board + 1 if blank.board >= 0 else None,
                "at_mm": list(blank.at_mm),
            }
            for blank in making.blanks
        ],
    }


def _clay(clay: Clay | None) -> Plain | None:
    return (
        None
        if clay is None
        else {
            "way_deg": clay.way_deg,
            "block_mm": list(clay.block_mm),
            "funnel_mm": list(clay.funnel),
            "throat_mm": clay.throat_mm,
            "mouth_mm": clay.mouth_mm,
            "breathers": len(clay.breathers),
            "keys_mm": [list(one) for one in clay.keys],
            "under_mm": clay.under_mm,
            "over_mm": clay.over_mm,
        }
    )


def _mount(mount: Mount | None) -> Plain | None:
    if mount is None:
        return None
    return {
        "kind": mount.kind,
        "boards": [{"name": board.name, "size_mm": [float(v) for v in board.laid.size]} for board in mount.boards],
        "flask_mm": list(mount.flask_mm),
        "pins_mm": mount.pins_mm.tolist(),
        "pin_mm": mount.pin_mm,
        "slot_mm": mount.slot_mm,
        "alike_percent": 100.0 * (1.0 - mount.alike),
        "castings": mount.castings,
        "placed": [
            {"board": one.board + 1, "piece": one.piece, "turn": one.turn.tolist(), "shift_mm": one.shift.tolist()}
            for one in mount.placed
        ],
    }
