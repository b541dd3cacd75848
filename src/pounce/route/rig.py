"""What Mould came to, under the stable keys of ``pounce.rig/1``, and its pages."""

from pounce.rig.values import Gate, RigResult
from pounce.route.results import PaperFile, Plain, Results

PAPER = "pounce.route.rigpaper:"


def rig_of(results: Results) -> RigResult | None:
    """The mould, where it is known."""
    found = results.found.get("mould")
    assert found is None or isinstance(found, RigResult)
    return found


def rig_summary(results: Results) -> Plain | None:
    """The few figures of the mould that a check shows; None where it could not be laid out."""
    r = rig_of(results)
    if r is None:
        return None
    return {
        "flask": r.flask.id,
        "inside_mm": [r.flask.long_mm, r.flask.wide_mm],
        "castings": len(r.castings),
        "gates": len(r.gates),
        "poured_kg": r.weights.poured_kg,
        "weight_needed_kg": r.weights.add_kg,
    }


def rig_keys(results: Results) -> Plain:
    """All of it as plain values. Raises the fault of a stop that it cannot do without."""
    r = rig_of(results)
    assert r is not None, "its keys are asked for once the result is there"
    return {
        "schema": "pounce.rig/1",
        **_layout(r, results.job.name),
        "sprue": _sprue(r),
        "runner": _runner(r),
        "gates": [_gate(one) for one in r.gates],
        "feeders": [
            {
                "id": f"feeder-{one.number + 1}",
                "casting": one.casting,
                "at_mm": list(one.foot_mm),
                "diameter_mm": one.wide_mm,
                "top_mm": one.top_mm,
                "neck_mm": one.neck_mm,
                "open": one.open,
                "on_gate": one.contact_mm is not None,
                "sleeve_mm": one.sleeve_mm,
                "mass_kg": one.mass_kg,
            }
            for one in r.feeders
        ],
        "chills": [
            {
                "id": f"chill-{one.number + 1}",
                "casting": one.casting,
                "at_mm": list(one.at_mm),
                "side_mm": one.side_mm,
                "thickness_mm": one.thick_mm,
            }
            for one in r.chills
        ],
        "vents": [list(one) for one in r.vents],
        "leads": [
            {
                "kind": one.kind,
                "at_mm": list(one.at_mm),
                "to_mm": list(one.to_mm),
                "way": one.way,
                "casting": one.casting,
            }
            for one in r.leads
        ],
        "keys": [{"at_mm": list(one.at_mm), "width_mm": one.wide_mm} for one in r.keys],
        "fill_s": r.flow.fill_s,
        "head_mm": r.flow.head_mm,
        "choke_mm2": r.flow.choke_mm2,
        "gate_speed_m_s": r.flow.gate_speed_m_s,
        "gate_limit_m_s": r.flow.limit_m_s,
        **_weights(r),
        "steps": [step.words() for step in r.steps],
    }


def _layout(r: RigResult, name: str) -> Plain:
    """Flask, castings, margins."""
    f, m = r.flask, r.wanted
    return {
        "flask": {
            "id": f.id,
            "name": f.name,
            "own": r.own,
            "shape": f.shape,
            "inside_mm": [f.long_mm, f.wide_mm],
            "cope_mm": f.cope_mm,
            "drag_mm": f.drag_mm,
            "snap": f.snap,
            "on_end": r.on_end,
            "stands_in": r.stands,
        },
        "boards": [{"name": one.name, "size_mm": list(one.size_mm), "count": one.count} for one in r.boards],
        "castings": [
            {
                "name": one.name.replace("Casting", name),
                "at_mm": list(one.at_mm),
                "turn_deg": one.turn_deg,
                "level_mm": one.level_mm,
            }
            for one in r.castings
        ],
        "margins_mm": {
            "wall": m.wall,
            "between": m.between,
            "over": m.over,
            "under": m.under,
            "measured": [
                {"of": one.of, "to": one.to, "sand_mm": one.mm, "wanted_mm": one.wanted_mm} for one in r.margins
            ],
        },
    }


def _gate(one: Gate) -> Plain:
    return {
        "at_mm": list(one.at_mm),
        "casting": one.casting,
        "half": one.half,
        "width_mm": one.wide_mm,
        "thickness_mm": one.thick_mm,
        "section_mm2": one.section_mm2,
        "contact_mm2": one.contact_mm2,
        "wall_mm": one.wall_mm,
        "speed_m_s": one.speed_m_s,
    }


def _weights(r: RigResult) -> Plain:
    w = r.weights
    return {
        "mass_kg": {
            "castings": w.castings_kg,
            "gating": w.gating_kg,
            "feeders": w.feeders_kg,
            "basin": w.cup_kg,
            "total": w.poured_kg,
        },
        "yield": w.metal_yield,
        "sand_kg": {"cope": w.cope_sand_kg, "drag": w.drag_sand_kg},
        "sand_l": w.sand_l,
        "mixing": _mixing(r),
        "push": {
            "pressure_kpa": r.push.pressure_kpa,
            "side_n": r.push.side_n,
            "bow_mm": r.push.bow_mm,
            "battens": r.push.battens,
        },
        "carry_kg": {"cope": w.cope_kg, "drag": w.drag_kg, "closed": w.closed_kg},
        "lift_n": w.lift_n,
        "lift_of_n": {"metal": w.lift_metal_n, "cores": w.lift_cores_n},
        "weight_needed_kg": w.add_kg,
    }


def _mixing(r: RigResult) -> Plain:
    m = r.mixing
    return {
        "facing_kg": m.facing_kg,
        "backing_kg": m.backing_kg,
        "binder": m.binder,
        "binder_kg": m.binder_kg,
        "catalyst_kg": m.catalyst_kg,
        "water_kg": m.water_kg,
        "work_min": m.work_min,
        "strip_min": m.strip_min,
    }


def _sprue(r: RigResult) -> Plain | None:
    s = r.sprue
    if s is None:
        return None
    return {
        "at_mm": list(s.at_mm),
        "foot_mm": s.foot_mm,
        "top_mm": s.top_mm,
        "height_mm": s.high_mm,
        "extension_mm": r.extension_mm,
        "well_mm": s.well_mm,
        "well_deep_mm": s.well_deep_mm,
        "cup_mm": s.cup_mm,
        "cup_deep_mm": s.cup_high_mm,
    }


def _runner(r: RigResult) -> Plain | None:
    if r.runner is None:
        return None
    return {
        "half": r.runner.half,
        "width_mm": r.runner.wide_mm,
        "height_mm": r.runner.high_mm,
        "length_mm": r.runner.long_mm,
        "traps_mm": [list(one) for one in r.runner.traps],
        "trap_mm": r.runner.trap_mm,
        "lines_mm": [line.tolist() for line in r.runner.lines],
    }


def rig_papers(results: Results) -> tuple[PaperFile, ...]:
    """The plan of the mould at 1:1; none where it could not be laid out."""
    if rig_of(results) is None:
        return ()
    boards = (PaperFile("flask-boards.csv", "cut-list", "the table", PAPER + "flask_boards_table"),)
    plan = PaperFile("mould-plan.pdf", "template", "at 1:1", PAPER + "mould_plan_page")
    return (plan, *(boards if results_boards(results) else ()))


def results_boards(results: Results) -> bool:
    """Whether a box has to be built."""
    r = rig_of(results)
    return r is not None and bool(r.boards)
