"""What Mould has to say: margins that are short, gates that are fewer than wanted, what is put on the cope."""

import numpy as np
import shapely

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import count_words
from pounce.metals.heat import heat
from pounce.metals.pouring import pouring
from pounce.rig.changes import (
    ArrangeAnew,
    FewerCastings,
    FlaskThatFits,
    GatesAsWanted,
    HeadOfCope,
    KeepFeeding,
    MoveSprue,
    OneTier,
)
from pounce.rig.crowd import Crowd
from pounce.rig.fit import Fit, Lot
from pounce.rig.flasking import OWN_SIZE, Asked, Rigged
from pounce.rig.flow import G
from pounce.rig.places import Place, clear_of
from pounce.rig.values import Flow, Margin, PlacedChoice, Push, Weights, kept_flask
from pounce.rig.weighing import Known

# A vertical margin short by less is told by nobody, mm; a speed over its limit by less than this share neither.
SLACK_MM, SLACK = 0.5, 0.02
# Gates that stand further than this from where they were put are told, mm.
PUT_MM = 5.0
# Sand to a feeder is short from so much less than is wanted on, mm.
NEARER_MM = 0.5


def found(
    asked: Asked,
    rig: Rigged,
    margins: tuple[Margin, ...],
    flow: Flow,
    weights: Weights,
    known: Known,
    push: Push,
    on_end: bool,
    crowd: Crowd | None,
) -> tuple[Finding, ...]:
    """All findings, those that want a decision first."""
    out = [
        *(() if rig.stand is not None else _heights(asked, rig)),
        *(_short(one, asked, rig) for one in margins if one.short),
        *_crowded(crowd, flow),
        *_gates(asked, rig, flow),
        *_head(asked, rig),
        *_put_elsewhere(asked, rig),
        *_on_marks(asked, rig),
        *_left_out(asked, rig),
        *_near_feeders(asked, rig),
        *_end(on_end, rig),
        *_tree(asked),
        *(_clamped(weights) if rig.stand is not None else _cope(flow, weights, known)),
        *_flask(rig, known.loose, push),
        *_jacket(rig, known, push),
        *_heavy(rig, weights, known),
    ]
    return tuple(sorted(out, key=lambda one: one.informational))


def _heights(asked: Asked, rig: Rigged) -> list[Finding]:
    i, m = asked, asked.margins
    out = []
    for half, has, needs, code in (
        ("cope", rig.flask.cope_mm - i.over_mm + m.over, m.over, "cope-low"),
        ("drag", rig.flask.drag_mm - i.down_mm, m.under, "drag-low"),
    ):
        if has < needs - SLACK_MM:
            where = "over" if half == "cope" else "under"
            stop = has < needs / 3.0
            out.append(
                Finding(
                    code,
                    Severity.STOP if stop else Severity.WARN,
                    f"The {half} is too low: it leaves {{sand_mm}} of sand {where} the casting, and {{wanted_mm}} keep "
                    "the metal in.",
                    noun=half,
                    figures={"sand_mm": has, "wanted_mm": needs},
                    main="sand_mm",
                    remedies=(Remedy("flask-that-fits", "The flask that fits", FlaskThatFits()),),
                    source="sand-practice",
                )
            )
    return out


def _short(one: Margin, asked: Asked, rig: Rigged) -> Finding:
    what = one.of
    names = f"{what}-{one.to}".replace(" ", "-")
    runs_out = one.mm < 0.0
    text = (
        f"The {what} runs into the {one.to}."
        if runs_out
        else f"The {what} stands {{sand_mm}} from the {one.to}; {{wanted_mm}} of sand hold."
    )
    remedies: list[Remedy] = []
    if one.of in ("sprue", "pouring cup") and not runs_out:
        # straight away from what is too near, by what is short
        away = np.array(rig.laid.sprue) - np.array(one.line[1])
        size = float(np.linalg.norm(away))
        if size > 1e-6:
            to = np.array(rig.laid.sprue) + away / size * (one.wanted_mm - one.mm)
            placed = tuple(PlacedChoice(at, turn) for at, turn in rig.laid.castings)
            remedies.append(
                Remedy(
                    "move-sprue",
                    "Move it in by {short_mm}",
                    MoveSprue((round(float(to[0]), 2), round(float(to[1]), 2)), placed, kept_flask(rig.flask, rig.own)),
                )
            )
    if asked.choices.placed or asked.choices.sprue_mm is not None:
        remedies.append(Remedy("arrange-anew", "Arrange anew", ArrangeAnew()))
    else:
        remedies.append(Remedy("flask-that-fits", "The flask that fits", FlaskThatFits()))
    return Finding(
        f"margin-{names}",
        Severity.STOP if runs_out else Severity.WARN,
        text,
        noun=what,
        figures={"sand_mm": one.mm, "wanted_mm": one.wanted_mm, "short_mm": one.wanted_mm - one.mm},
        main=None if runs_out else "sand_mm",
        remedies=tuple(remedies),
        source="sand-practice",
    )


def _crowded(crowd: Crowd | None, flow: Flow) -> list[Finding]:
    """Told as Freeze tells metal that stops short: one cause, and here is what cures it."""
    if crowd is None:
        return []
    many, fill = count_words(crowd.count), count_words(crowd.fill)
    return [
        Finding(
            "stops-short",
            Severity.STOP,
            f"{many.capitalize()} castings share the metal and stop short: {{short_mm3}} of each is not reached at "
            f"{{pour_c}}. {fill.capitalize()} at once {'fills' if crowd.fill == 1 else 'fill'}.",
            noun=f"{many} castings",
            figures={"short_mm3": crowd.short_mm3, "pour_c": crowd.pour_c, "fill_s": flow.fill_s},
            main="short_mm3",
            remedies=(Remedy("fewer-castings", f"Pour {fill} at once", FewerCastings(crowd.fill)),),
            source="feeding-handbooks",
        )
    ]


def _gates(asked: Asked, rig: Rigged, flow: Flow) -> list[Finding]:
    out = []
    by_hand = asked.choices.gates is not None
    if flow.gate_speed_m_s > flow.limit_m_s * (1.0 + SLACK):
        cure = (Remedy("gates-as-wanted", "As many as it wants", GatesAsWanted()),) if by_hand else ()
        few = rig.wanted_gates > len(rig.places)
        why = " The casting has no room for another." if few and not by_hand else ""
        out.append(
            Finding(
                "gates-fast",
                Severity.WARN,
                "The metal shoots through the gates at {speed_m_s}, and over {limit_m_s} it folds its own skin in."
                + why,
                noun="gates",
                figures={"speed_m_s": flow.gate_speed_m_s, "limit_m_s": flow.limit_m_s},
                main="speed_m_s",
                remedies=cure,
                source="pouring-handbooks",
            )
        )
    else:
        out.append(
            Finding(
                "gates-calm",
                Severity.NOTE,
                "The metal comes through the gates at {speed_m_s}, under its limit of {limit_m_s}.",
                noun="gates",
                figures={"speed_m_s": flow.gate_speed_m_s, "limit_m_s": flow.limit_m_s},
                main="speed_m_s",
                source="pouring-handbooks",
            )
        )
    return out


def _head(asked: Asked, rig: Rigged) -> list[Finding]:
    """What becomes of the head that was asked for."""
    wanted = asked.choices.head_mm
    if wanted is None:
        return []
    head, _ = rig.heads_mm(asked)
    figures = {"head_mm": head, "asked_mm": wanted, "extension_mm": rig.sections.sprue_high - rig.flask.cope_mm}
    cure: tuple[Remedy, ...] = ()
    if rig.stand is not None:
        code, noun = "head-by-flask", "metal over the gates"
        text = "On end the flask's length is the head: the metal stands {head_mm} over the lowest gates."
    elif figures["extension_mm"] > SLACK_MM:
        code, noun = "sprue-extended", "sprue extended"
        text = (
            "The sprue stands {extension_mm} over the cope, in sand rammed round it: the metal stands {head_mm} over "
            "the joint, and pushes by that much more."
        )
    elif head > wanted + SLACK_MM:
        code, noun = "head-by-cope", "metal over the joint"
        text = "The cope and its cup give {head_mm} of metal over the joint, more than the {asked_mm} you asked for."
        cure = (Remedy("head-of-cope", "As the cope gives", HeadOfCope()),)
    else:
        return []
    return [
        Finding(
            code,
            Severity.NOTE,
            text,
            noun=noun,
            figures=figures,
            main="head_mm",
            remedies=cure,
            source="pouring-practice",
        )
    ]


def _put_elsewhere(asked: Asked, rig: Rigged) -> list[Finding]:
    """Gates put by hand where none can be cut."""
    at = np.array([place.at[:2] for place in rig.lots[0].gates])
    moved, out = [], 0
    for spot in asked.lots[0].gates_at:  # a gate stands for one place only
        if not len(at):
            out += 1
            continue
        far = np.linalg.norm(at - spot, axis=1)
        at = np.delete(at, np.argmin(far), axis=0)
        if float(far.min()) > PUT_MM:
            moved.append(float(far.min()))
    if not moved and not out:
        return []
    one = "The gate you put" if len(moved) == 1 else f"{count_words(len(moved)).capitalize()} gates you put"
    stands, it = ("stands", "it") if len(moved) == 1 else ("stand", "them")
    text = (
        f"{one} {stands} {{off_mm}} from where you put {it}: nearer there is no outline at the joint, a print, another "
        "gate, or a wall that takes none."
        if moved
        else f"No room is left for {count_words(out)} of the gates you put, or no runner reaches there."
    )
    return [
        Finding(
            "gate-put-off",
            Severity.WARN,
            text,
            noun="gate you put",
            figures={"off_mm": max(moved)} if moved else {},
            main="off_mm" if moved else None,
            remedies=(Remedy("gates-as-wanted", "As the program sets them", GatesAsWanted()),),
            source="pouring-practice",
        )
    ]


def _clear(lot: Lot, fit: Fit) -> tuple[Place, ...]:
    return clear_of(lot.marks, fit.gates, fit.sections.gate_wide, fit.sections.gate_thick)


def _on_marks(asked: Asked, rig: Rigged) -> list[Finding]:
    """Gates that had no other room than on text or a mark."""
    pairs = tuple(zip(asked.lots, rig.lots, strict=True))
    if all(len(_clear(lot, fit)) == len(fit.gates) for lot, fit in pairs):
        return []
    by_hand = bool(asked.choices.gates_mm)
    why = "you put it there" if by_hand else "no other wall takes it"
    cure = (Remedy("gates-as-wanted", "As the program sets them", GatesAsWanted()),) if by_hand else ()
    return [
        Finding(
            "gate-on-mark",
            Severity.WARN,
            f"A gate is cut on text or a mark, which must stay as it is cast: {why}. Dress it there by hand, or turn "
            "the text to another side.",
            noun="gate",
            remedies=cure,
            source="pouring-practice",
        )
    ]


def _left_out(asked: Asked, rig: Rigged) -> list[Finding]:
    """Feeders and chills that find no metal where they were set."""
    lot, c = asked.lots[0], asked.choices
    stand = tuple(one for k, one in enumerate(c.feeders) if k in {kept.number for kept in lot.feeders})
    lie = tuple(one for k, one in enumerate(c.chills) if k in {kept.number for kept in lot.chills})
    many = len(c.feeders) + len(c.chills) - len(stand) - len(lie)
    if not many:
        return []
    what = "A feeder or chill" if many == 1 else f"{count_words(many).capitalize()} feeders or chills"
    text = (
        "Feeders do not stand on a mould that is poured on end, and are left out."
        if rig.stand is not None and len(stand) < len(c.feeders)
        else "Between the tiers of a tree is no room for feeders: they are left out."
        if asked.tiers > 1 and len(stand) < len(c.feeders)
        else f"{what} no longer {'lies' if many == 1 else 'lie'} on the casting, and {'is' if many == 1 else 'are'} "
        "left out: the part was turned, or changed there."
    )
    return [
        Finding(
            "feeder-left-out",
            Severity.WARN,
            text,
            noun="left out",
            remedies=(Remedy("keep-feeding", "Forget it" if many == 1 else "Forget them", KeepFeeding(stand, lie)),),
            source="feeding-practice",
        )
    ]


def _near_feeders(asked: Asked, rig: Rigged) -> list[Finding]:
    """Gates that had no other room than beside a feeder."""
    wanted = heat().common.gate_from_feeder.value
    gaps = [
        float(one.plan.distance(shapely.Point(gate.at[:2])))
        for lot, fit in zip(asked.lots, rig.lots, strict=True)
        for one in lot.feeders
        for gate in fit.gates
        if one.gate is None
    ]
    if min(gaps, default=wanted) > wanted - NEARER_MM:
        return []
    return [
        Finding(
            "gate-near-feeder",
            Severity.NOTE,
            "A gate has only {sand_mm} of sand to a feeder, where {wanted_mm} is wanted: there was no other room. Ram "
            "it hard there, or set the feeder on the gate.",
            noun="gate",
            figures={"sand_mm": min(gaps), "wanted_mm": wanted},
            main="sand_mm",
            source="feeding-practice",
        )
    ]


def _end(on_end: bool, rig: Rigged) -> list[Finding]:
    if not on_end or rig.stand is not None:
        return []
    return [
        Finding(
            "on-end-gating",
            Severity.WARN,
            "The mould is stood on end before it is poured: cut the cup in the joint at its upper end, and lead the "
            "metal to the lowest end of the casting. The sprue shown is for a mould that lies.",
            noun="on end",
            source="pouring-practice",
        )
    ]


def _tree(asked: Asked) -> list[Finding]:
    """How a tree fills, or why there is none."""
    if asked.choices.tiers == 1 or len(asked.order) == 1:
        return []
    if asked.tiers > 1:
        return [
            Finding(
                "tree",
                Severity.NOTE,
                f"{count_words(asked.tiers).capitalize()} tiers hang on one sprue, {{pitch_mm}} apart: the lowest "
                "fills first, with the whole stream, so its gates are cut for that.",
                noun="tree",
                figures={"pitch_mm": asked.pitch_mm},
                main="pitch_mm",
                source="pouring-practice",
            )
        ]
    why = (
        "another job's castings lie in it"
        if asked.loose
        else "a pattern that is drawn wants its sand parted at one height"
    )
    return [
        Finding(
            "tree-flat",
            Severity.WARN,
            f"No tree is built, for {why}: all castings lie at one height.",
            noun="tiers",
            remedies=(Remedy("one-tier", "Lay them at one height", OneTier()),),
            source="pouring-practice",
        )
    ]


def _clamped(w: Weights) -> list[Finding]:
    """A mould on end is held by clamps alone."""
    return [
        Finding(
            "clamp-on-end",
            Severity.NOTE,
            "Clamp the halves together with {clamp_kg} before they are stood on end: the metal drives them apart with "
            "{lift_kg}.",
            noun="clamp",
            figures={"clamp_kg": w.add_kg, "lift_kg": w.lift_n / G},
            main="clamp_kg",
            source="pouring-practice",
        )
    ]


def _cope(flow: Flow, w: Weights, known: Known) -> list[Finding]:
    if known.loose:
        return [
            Finding(
                "loose-sand-holds",
                Severity.NOTE,
                "Loose sand holds by the metal that stands in the sprue: keep the cup full for all of {fill_s}. It "
                "holds {cup_kg} and is empty {cup_s} after the stream stops.",
                noun="keep the cup full",
                figures={
                    "fill_s": flow.fill_s,
                    "cup_kg": w.cup_kg,
                    "cup_s": w.cup_kg / max(w.poured_kg - w.cup_kg, 1e-9) * flow.fill_s,
                },
                main="fill_s",
                source="pouring-practice",
            )
        ]
    figures = {"lift_kg": w.lift_n / G, "cope_kg": w.cope_kg, "add_kg": w.add_kg}
    if known.stands == "block" and w.lift_n > 0.0:
        return _banded(w, figures)
    if w.add_kg > 0.05:
        return [
            Finding(
                "weight-the-cope",
                Severity.NOTE,
                "Put {add_kg} on the cope, or clamp it: the metal pushes up with {lift_kg}, the cope weighs {cope_kg}.",
                noun="{add_kg} on the cope",
                figures=figures,
                main="add_kg",
                source="pouring-practice",
            )
        ]
    return [
        Finding(
            "cope-stays",
            Severity.NOTE,
            "The cope stays down: it weighs {cope_kg}, the metal pushes up with {lift_kg}.",
            noun="cope stays down",
            figures=figures | {"holds_ratio": min(w.holds, 999.0)},
            main="cope_kg",
            source="pouring-practice",
        )
    ]


def _banded(w: Weights, figures: dict[str, float]) -> list[Finding]:
    """What holds a block without a flask together."""
    held = pouring().common.weight_factor.value * w.lift_n / G
    text = (
        "Hold the block together with two bands or clamps drawn to {bands_kg}, and put {add_kg} on it: the metal "
        "pushes up with {lift_kg}."
        if w.add_kg > 0.05
        else "Hold the block together with two bands or clamps; it weighs more than the metal lifts, {lift_kg}."
    )
    return [
        Finding(
            "band-the-block",
            Severity.NOTE,
            text,
            noun="two bands",
            figures=figures | {"bands_kg": held},
            main="lift_kg",
            source="pouring-practice",
        )
    ]


def _flask(rig: Rigged, loose: bool, push: Push) -> list[Finding]:
    f = rig.flask
    figures = {"long_mm": f.long_mm, "wide_mm": f.wide_mm, "cope_mm": f.cope_mm, "drag_mm": f.drag_mm}
    figures |= {"deep_mm": f.cope_mm + f.drag_mm}
    high = "{deep_mm} deep" if loose else "the cope {cope_mm} and the drag {drag_mm} high"
    if rig.too_small is not None:
        figures |= {"asked_long_mm": rig.too_small.long_mm, "asked_wide_mm": rig.too_small.wide_mm}
        return [
            Finding(
                "flask-asked-too-small",
                Severity.WARN,
                "The flask you asked for, {asked_long_mm} by {asked_wide_mm}, is too small: with its sand this takes "
                f"{{long_mm}} by {{wide_mm}} inside, {high}.",
                noun="flask you asked for",
                figures=figures,
                main="long_mm",
                remedies=(Remedy("flask-that-fits", "The flask that fits", FlaskThatFits()),),
                source="sand-practice",
            )
        ]
    if rig.own or f.id == OWN_SIZE:
        return []
    figures |= {"board_mm": pouring().common.board.value, "side_kg": push.side_n / G}
    n = push.battens
    braced = "" if not n else " with a batten" if n == 1 else f" with {count_words(n)} battens"
    braced += " up each long side" if n else ""
    return [
        Finding(
            "box-to-build",
            Severity.NOTE,
            f"None of your flasks takes it: build a box {{long_mm}} by {{wide_mm}} inside, {high}, of {{board_mm}} "
            f"boards{braced}: the metal may push a side out with {{side_kg}}, and thinner ones bulge and flash.",
            noun="build a box",
            figures=figures,
            main="long_mm",
            source="pouring-practice",
        )
    ]


def _jacket(rig: Rigged, known: Known, push: Push) -> list[Finding]:
    """What takes the place of a snap flask that is off to the next mould."""
    if known.stands != "jacket":
        return []
    f = rig.flask
    inside = "{long_mm} by {wide_mm}" if f.shape == "box" else "{long_mm} across"
    return [
        Finding(
            "snap-jacket",
            Severity.NOTE,
            f"The snap flask comes off before the pour, and holds nothing then: slip a jacket {inside} inside and "
            "{deep_mm} high over the mould, for the metal may push its side with {side_kg}.",
            noun="jacket",
            figures={
                "long_mm": f.long_mm,
                "wide_mm": f.wide_mm,
                "deep_mm": f.cope_mm + f.drag_mm,
                "side_kg": push.side_n / G,
            },
            main="side_kg",
            source="pouring-practice",
        )
    ]


def _heavy(rig: Rigged, w: Weights, known: Known) -> list[Finding]:
    """Halves are lifted in their flask, also where it comes off later."""
    limit, loose = pouring().common.heavy.value, known.loose
    off = rig.flask.kg - w.flask_kg
    share = rig.flask.cope_mm / (rig.flask.cope_mm + rig.flask.drag_mm)
    halves = (w.cope_kg + share * off, w.drag_kg + (1.0 - share) * off)
    heaviest = sum(halves) if loose else max(halves)
    if heaviest <= limit and (loose or w.closed_kg <= limit):
        return []
    if heaviest <= limit:
        heaviest, noun = w.closed_kg, "two people"
        text = "Closed the mould weighs {half_kg}: two people carry it, or it is closed where it is poured."
    elif loose:
        text, noun = "With its sand the box weighs {half_kg}: fill it where it is poured.", "fill it where it is poured"
    else:
        text = "A half of this mould weighs {half_kg}: two people lift it, or it is rammed where it is poured."
        noun = "two people"
    return [
        Finding(
            "heavy-half",
            Severity.NOTE,
            text,
            noun=noun,
            figures={"half_kg": heaviest},
            main="half_kg",
            source="pouring-practice",
        )
    ]
