"""The order of ramming, closing and pouring, with the figures of this mould."""

import math
from dataclasses import dataclass

from pounce.base.units import count_words
from pounce.metals.pouring import pouring
from pounce.rig.flasking import Asked, Rigged
from pounce.rig.onend import WELL
from pounce.rig.values import Flow, Gate, Lead, Mixing, Step, Weights, gate_kinds
from pounce.rig.weighing import Known

# A sprue no further off the middle than this stands in it, mm.
NEAR_MM = 1.0


@dataclass(frozen=True, eq=False)
class Making:
    """What the steps speak of: the mould, its gates, its figures, how many vents, the leads, keys, and what is
    known of the sand.
    """

    asked: Asked
    rig: Rigged
    gates: tuple[Gate, ...]
    flow: Flow
    weights: Weights
    mixing: Mixing
    vents: int
    leads: tuple[Lead, ...]
    keys: int
    known: Known


def steps_of(m: Making) -> tuple[Step, ...]:
    """What is done, in order."""
    made = _loose(m) if m.asked.loose else _rammed(m)
    return (*made, _pour(m))


def _layers(high_mm: float) -> str:
    count = max(math.ceil(high_mm / pouring().common.layer.value - 1e-9), 1)
    return "one layer" if count == 1 else f"{count_words(count)} layers"


def _pour(m: Making) -> Step:
    return Step(
        "Pour {poured_kg} without a pause, in about {fill_s}, and keep the cup full to the end.",
        {"poured_kg": m.weights.poured_kg, "fill_s": m.flow.fill_s},
    )


def _loose(m: Making) -> list[Step]:
    f, w = m.rig.flask, m.weights
    over = "the middle" if m.asked.tiers == 1 else "the middle of the top tier"
    return [
        Step("Put {under_mm} of dry sand in the box and level it.", {"under_mm": f.drag_mm - m.asked.down_mm}),
        Step(
            f"{_glued(m)}, and pour sand round and over it, tapping the "
            f"sides so that it runs under everything, {{over_mm}} high over {over}; {{sand_kg}} in all.",
            {
                "over_mm": f.cope_mm - m.asked.rise_mm,
                "sand_kg": w.cope_sand_kg + w.drag_sand_kg,
                "pitch_mm": m.asked.pitch_mm,
            },
        ),
        *_extended(m),
        Step("Cover any foam that shows or lies at the box's side; set the cup on and bank sand round it.", {}),
    ]


def _glued(m: Making) -> str:
    if m.asked.tiers == 1:
        return "Lay the foam in with its gates, runner and sprue glued on"
    each = count_words(m.asked.tier_count)
    last = len(m.rig.order) - (m.asked.tiers - 1) * m.asked.tier_count
    top = "" if last == m.asked.tier_count else f", {count_words(last)} in the top one"
    return (
        f"Glue the tree: {count_words(m.asked.tiers)} tiers of {each}{top}, {{pitch_mm}} from one to the next, each by "
        "its own gates and runner to the sprue; stand it in"
    )


def _rammed(m: Making) -> list[Step]:
    many = len(m.rig.laid.castings)
    what = "the pattern" if many == 1 else f"{count_words(many)} patterns"
    return [
        *_mixed(m),
        _drag(m, what),
        *_cope(m),
        *_vented(m),
        _opened(m, what),
        *_cored(m),
        *_closed(m),
        *_extended(m),
    ]


def _mixed(m: Making) -> list[Step]:
    """How the sand is made up."""
    x = m.mixing
    if x.binder:
        name = x.binder.partition(" and ")[0].lower()
        first = "{catalyst_kg} of catalyst and then " if x.catalyst_kg > 0.0 else ""
        return [
            Step(
                f"Mix {first}{{binder_kg}} of {name} into {{sand_kg}} of dry sand, as much at a time as is filled in "
                "within {work_hours}; the maker's sheet goes before these figures.",
                {
                    "binder_kg": x.binder_kg,
                    "catalyst_kg": x.catalyst_kg,
                    "sand_kg": x.backing_kg,
                    "work_hours": x.work_min / 60.0,
                },
            )
        ]
    if x.water_kg > 0.0:
        return [
            Step(
                "Temper {sand_kg} of sand: dry sand takes {water_kg} of water, used sand less. A squeezed handful "
                "keeps the finger marks and breaks clean.",
                {"sand_kg": x.facing_kg + x.backing_kg, "water_kg": x.water_kg},
            )
        ]
    return []


def _drag(m: Making, what: str) -> Step:
    c, f = pouring().common, m.rig.flask
    figures = {"facing_mm": c.facing.value, "drag_kg": m.weights.drag_sand_kg, "facing_kg": m.mixing.facing_kg}
    figures |= {"sieve_mm": c.facing_sieve.value}
    lay = f"Lay what lies in the drag of {what} on the board by the plan, "
    ram = f"the drag, {{drag_kg}}, in {_layers(f.drag_mm)}; strike off and turn it over"
    if m.known.bond == "set":
        keys = f"; press {count_words(m.keys)} keys into its face by the plan" if m.keys else ""
        return Step(f"{lay}coat it with release and fill {ram} when it has set{keys}.", figures)
    sieved = "dust it, sieve {facing_mm} of fine sand over it through {sieve_mm}"
    return Step(f"{lay}{sieved} ({{facing_kg}} for both halves) and ram {ram}.", figures)


def _cope(m: Making) -> list[Step]:
    f, s, c = m.rig.flask, m.rig.sections, pouring().common
    x, y = m.rig.laid.sprue
    places = [f"{{x_mm}} {'right' if x >= 0.0 else 'left'} of"] * (abs(x) >= NEAR_MM)
    places += [f"{{y_mm}} {'behind' if y >= 0.0 else 'before'}"] * (abs(y) >= NEAR_MM)
    side = " and ".join(places) or "in"
    ram = "Coat the joint with release, then fill" if m.known.bond == "set" else "Dust the joint, then ram"
    if m.rig.stand is not None:
        side = f"{{y_mm}} {'behind' if y >= 0.0 else 'before'} the line of the pins"
        return [
            Step(
                f"Set the rest on it and half of the sprue's former, {{foot_mm}} at its foot and {{top_mm}} at the "
                f"flask's end, {side}. Dust the joint, then ram the cope, {{cope_kg}}, in {_layers(f.cope_mm)}; strike "
                "off.",
                {"foot_mm": s.foot, "top_mm": s.top, "y_mm": abs(y), "cope_kg": m.weights.cope_sand_kg},
            )
        ]
    out = [
        Step(
            f"Set the rest on it and the sprue of {{top_mm}} with its foot {side} the middle of the flask. {ram} "
            f"the cope, {{cope_kg}}, in {_layers(f.cope_mm)}; strike off.",
            {"top_mm": s.top, "x_mm": abs(x), "y_mm": abs(y), "cope_kg": m.weights.cope_sand_kg},
        )
    ]
    out[0:0] = _fed(m)
    if f.wide_mm > c.bars_from.value and m.known.bond != "set":
        bars = max(math.ceil(f.long_mm / c.bars_apart.value) - 1, 1)
        n = "one bar" if bars == 1 else f"{count_words(bars)} bars"
        text = f"Fix {n} across the cope first, clear of the pattern, sprue and cup: a cope this wide drops its sand."
        out.insert(0, Step(text, {}))
    if m.mixing.strip_min > 0.0:
        out.append(
            Step(
                "Leave each half until a nail no longer marks it, about {strip_hours}, and strip it before it grips.",
                {"strip_hours": m.mixing.strip_min / 60.0},
            )
        )
    return out


def _extended(m: Making) -> list[Step]:
    """The sprue higher than the cope, for the head that is wanted."""
    more = m.rig.sections.sprue_high - m.rig.flask.cope_mm
    if m.rig.stand is not None or more <= NEAR_MM:
        return []
    tin = "a frame, or a tin without its bottom,"
    if m.asked.loose:
        return [Step(f"Stand {tin} round the sprue on the sand, {{more_mm}} high, and fill it.", {"more_mm": more})]
    # a cope is laid on its back before it is closed: nothing stands on it until then
    fill = "fill" if m.known.bond == "set" else "ram"
    text = (
        f"Put the sprue's former back, stand {tin} round it on the cope, {{more_mm}} high, and {fill} it full; draw "
        "the former and set the cup on."
    )
    return [Step(text, {"more_mm": more})]


def _fed(m: Making) -> list[Step]:
    """Chills are laid before the sand, feeders stand on the pattern while the cope is rammed."""
    out = []
    several = len(m.asked.lots[0].feeders)
    for k, one in enumerate(m.asked.lots[0].feeders):
        sleeve = ", in an insulating sleeve," if one.sleeve_mm > 0.0 else ""
        name = "the feeder" if several == 1 else f"feeder {k + 1}"
        kind = "up through the cope" if one.open else "{high_mm} high, with sand over it and a vent"
        if not one.open and one.sleeve_mm == 0.0 and one.neck_mm < one.wide_mm:
            kind += "; make it of foam and leave it in, for it cannot be drawn through its neck"
        figures = {"wide_mm": one.wide_mm, "neck_mm": one.neck_mm, "high_mm": one.high_mm}
        if one.gate is not None:
            deep = one.foot[2] < one.gate.at[2] - 1e-6
            half = "its neck and foot rammed in the drag" if deep else "its neck in the cope"
            text = (
                f"Stand {name}{sleeve} Ø {{wide_mm}} on the gate where it is marked, {half}, {kind}; the neck is "
                "{neck_mm} by {neck_high_mm}."
            )
            out.append(Step(text, {**figures, "neck_high_mm": one.neck_high_mm}))
            continue
        out.append(
            Step(
                f"Stand {name}{sleeve} Ø {{wide_mm}} on the pattern where it is marked, its neck Ø {{neck_mm}}, "
                f"{kind}.",
                figures,
            )
        )
    for chill in m.asked.lots[0].chills:
        out.append(
            Step(
                "Lay a chill {side_mm} square and {thick_mm} thick against the pattern where it is marked: clean iron, "
                "dry and warm, coated thin. A damp or rusty chill blows.",
                {"side_mm": chill.side_mm, "thick_mm": chill.thick_mm},
            )
        )
    return out


def _vented(m: Making) -> list[Step]:
    c, out = pouring().common, []
    if m.vents:
        where = "over the high point" if m.vents == 1 else f"over {count_words(m.vents)} high points and ends"
        if m.known.bond == "set":
            text = (
                f"Drill vents of {{vent_mm}} {where}, right through, and hollow a saucer of {{crater_mm}} round each: "
                "there the metal comes up."
            )
        else:
            text = f"Prick vents of {{vent_mm}} {where}, down to within a finger of the pattern."
        out.append(Step(text, {"vent_mm": c.vent.value, "crater_mm": c.crater.value}))
    scratched = sum(lead.kind == "breather" for lead in m.leads)
    if scratched:
        why = ": clay lets no air through" if m.rig.stand is None else ", up to the flask's end"
        n = "a breather" if scratched == 1 else f"{count_words(scratched)} breathers"
        out.append(
            Step(f"Scratch {n} in the joint, no deeper than a thread, from the far ends out by the plan{why}.", {})
        )
    return out


def _opened(m: Making, what: str) -> Step:
    s, gates = m.rig.sections, m.gates
    kinds = gate_kinds(gates)
    cut: list[str] = []
    sizes: dict[str, float] = {}
    for k, (gate, count) in enumerate(kinds):
        each = "a gate" if count == 1 else f"{count_words(count)} gates"
        cut.append(f"{each} {{gate_{k}_wide_mm}} by {{gate_{k}_thick_mm}} in the {gate.half}")
        sizes |= {f"gate_{k}_wide_mm": gate.wide_mm, f"gate_{k}_thick_mm": gate.thick_mm}
    whirls = m.asked.choices.runner_end == "whirl"
    end = f", with a round whirl trap at {'its' if len(m.rig.order) == 1 else 'each'} end" if whirls else ""
    lift = "Draw the sprue, lift" if m.rig.stand is None else "Lift"
    # what is over the joint comes up with the sand that is rammed round it
    halves = [name for name, mm in (("cope", m.asked.up_mm), ("drag", m.asked.down_mm)) if mm > NEAR_MM]
    out_of = "both halves" if len(halves) == 2 else f"the {halves[0]}" if halves else "the sand"
    well = s.well_deep if m.rig.stand is None else WELL * s.foot
    return Step(
        f"{lift} the cope straight up and lay it on its back, draw {what} out of {out_of}. Cut the runner {{wide_mm}} "
        f"by {{high_mm}} in the {s.runner_half}{end}, {', '.join(cut)}, and the well {{well_mm}} deep under the sprue; "
        "blow out every crumb.",
        {"wide_mm": s.runner_wide, "high_mm": s.runner_high, "well_mm": well, **sizes},
    )


def _cored(m: Making) -> list[Step]:
    cores = sum(len(item.cores) for item in m.asked.items)
    if not cores:
        return []
    one = "core" if cores == 1 else f"{count_words(cores)} cores"
    ways = {lead.way for lead in m.leads if lead.kind == "core"}
    out = [
        text
        for way, text in (
            ("joint", "scratch a channel in the joint from each print's vent out to the wall"),
            ("cope", "lead the vent up through the cope"),
            ("drag", "lead the vent down through the drag and lay the mould on battens"),
        )
        if way in ways
    ]
    return [Step(f"Set the {one}; {', '.join(out)}. Keep metal out of every vent with a ring of clay.", {})]


def _off(m: Making) -> str:
    """How a snap flask leaves its mould."""
    if m.known.stands == "flask":
        return ""
    then = "slip the jacket over the mould" if m.known.stands == "jacket" else "draw two bands round the block"
    return f", open the snap flask, lift it off and {then}"


def _closed(m: Making) -> list[Step]:
    w, c = m.weights, pouring().common
    if m.rig.stand is not None:
        return [
            Step(
                "Close on the pins, clamp the halves with {add_kg} in all, board both faces, and stand the flask on "
                "its end with the cup up; brace it so that it cannot fall. Closed it weighs {whole_kg}.",
                {"add_kg": w.add_kg, "whole_kg": w.cope_kg + w.drag_kg},
            )
        ]
    hold = "put {add_kg} on the cope or clamp it" if w.add_kg > 0.05 else "the cope stays down by itself"
    cup = "" if m.asked.choices.cup == "cut" or _extended(m) else ", set the cup on the sprue"
    if m.asked.choices.closing != "boxless":
        return [Step(f"Close on the pins{_off(m)}{cup}; {hold}.", {"add_kg": w.add_kg})]
    more = ", and put {add_kg} on it" if w.add_kg > 0.05 else ""
    return [
        Step(
            f"Run a bead of core glue round the drag {{glue_mm}} off the cavity, close on the keys, which fit one way "
            f"only, and draw two bands round the block{more}{cup}.",
            {"glue_mm": c.glue_line.value, "add_kg": w.add_kg},
        )
    ]
