"""What Freeze has to say: last places that nothing feeds, feeders that set too soon, metal that stops short."""

import math
from dataclasses import dataclass

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import count_words
from pounce.feeding.changes import MoreGates, PadWall, PourAt, PourCool, SetFeeding
from pounce.feeding.values import Cure, FeederTime, Fill, FreezeChoices, GateTime, HotPlace, Lies
from pounce.metals.heat import heat
from pounce.metals.method import Method
from pounce.metals.pouring import pouring
from pounce.rig.changes import OneTier
from pounce.rig.values import RigResult

# A grid with fewer cells over a section gives rough seconds.
FEW_CELLS = 4.0
# A gate that sets before so much of the filling time over again is shut too soon.
SHUT_RATIO = 1.0
# What closes well before the gate itself does is the runner.
RUNNER_SHARE = 0.8


@dataclass(frozen=True, eq=False)
class Known:
    """What is judged."""

    method: Method
    choices: FreezeChoices
    pour_c: float
    places: tuple[HotPlace, ...]
    feeders: tuple[FeederTime, ...]
    gates: tuple[GateTime, ...]
    fill: Fill
    cure: Cure | None
    reason: str
    across: float
    middle_s: float
    rig: RigResult
    rough: bool = False


def found(k: Known) -> tuple[Finding, ...]:
    """All findings, those that want a decision first."""
    out = [
        *_short(k),
        *_hollow(k),
        *_feeders(k),
        *_gates(k),
        *_meets(k),
        *_quiet(k),
        *_fills(k),
        *_vents(k),
        *_rough(k),
    ]
    return tuple(sorted(out, key=lambda one: one.informational))


def cure_words(cure: Cure) -> str:
    """What a cure sets, with the figures of one in braces."""
    if not cure.feeders and not cure.chills:
        return "Take the feeders away"
    if len(cure.feeders) + len(cure.chills) == 1:
        if cure.feeders:
            where = " on the gate" if cure.feeders[0].gate else ""
            blind = "" if cure.feeders[0].open else "blind "
            return f"Set a {blind}feeder Ø {{feeder_mm}}{where}" + (" in a sleeve" if cure.feeders[0].sleeve else "")
        return "Lay a chill {chill_mm} square"
    parts = []
    for many, one in ((len(cure.feeders), "feeder"), (len(cure.chills), "chill")):
        if many:
            parts.append(f"{count_words(many)} {one}{'s' if many > 1 else ''}")
    return f"Set {' and '.join(parts)}"


def _cures(k: Known) -> tuple[tuple[Remedy, ...], dict[str, float]]:
    cure = k.cure
    figures: dict[str, float] = {}
    out = []
    something = cure is not None and bool(cure.feeders or cure.chills or k.rig.feeders)
    if cure is not None and something and cure.uncured == 0 and cure.proved:
        if cure.feeders:
            figures |= {"feeder_mm": cure.feeders[0].wide_mm, "feeders_kg": cure.mass_kg}
        if cure.chills:
            figures["chill_mm"] = cure.chills[0].side_mm
        out.append(Remedy("set-feeding", cure_words(cure), SetFeeding(cure.feeders, cure.chills)))
    if cure is not None and cure.pad is not None:
        pad = cure.pad
        figures |= {"pad_mm": pad.stock_mm, "pad_kg": pad.mass_kg}
        text = f"Pad the {pad.name} by {{pad_mm}}, to machine off: a feeder reaches past it"
        out.append(Remedy("pad-wall", text, PadWall(pad.at_mm, pad.stock_mm, pad.feeders, pad.chills)))
    if k.rough:  # a quick look offers nothing yet
        return (), figures
    if k.rig.tiers > 1:  # no feeder finds room between tiers
        out.append(Remedy("one-tier", "Lay them at one height, where feeders stand", OneTier()))
    out.append(Remedy("pour-cool", "Take it, and pour cool", PourCool()))
    return tuple(out), figures


# Where the hole lies to what is machined.
_WHERE = {
    Lies.WITHIN: "",
    Lies.OPENS: " It opens in {face} once that is machined.",
    Lies.STOCK: " It lies in what is machined off, and opens there.",
    Lies.GONE: "",
}


def _hollow(k: Known) -> list[Finding]:
    remedies, extra = _cures(k)
    out = []
    seen: set[tuple[int, str]] = set()
    for one in k.places:
        # castings alike say the same: it is said once
        key = (k.rig.castings[one.casting].lot, one.name)
        if not one.wants or (key in seen and len(k.rig.castings) > 1):
            continue
        seen.add(key)
        low, high = one.void_mm3
        where = _WHERE[one.lies].format(face=one.opens_in)
        after = "what feeds it closes after {cut_s}" if one.cut_s > 0.0 else "nothing feeds it"
        out.append(
            Finding(
                f"hollow-{one.number}",
                Severity.WARN,
                f"{one.name[0].upper()}{one.name[1:]} sets last, {{sets_s}} after the pour, and {after}: {{low_mm3}} "
                f"to {{high_mm3}} may draw hollow.{where}",
                noun="sets last",
                figures={"sets_s": one.seconds, "cut_s": one.cut_s, "low_mm3": low, "high_mm3": high, **extra},
                main="sets_s",
                remedies=remedies,
                source="feeding-handbooks",
            )
        )
    return out


def _feeders(k: Known) -> list[Finding]:
    out = []
    remedies, extra = _cures(k)
    seen: set[int] = set()
    for one in sorted(k.feeders, key=lambda one: one.holds):
        if one.number in seen:
            continue
        seen.add(one.number)
        n = one.number + 1
        figures = {"feeder_s": one.seconds, "feeds_s": one.feeds_s}
        if one.holds:
            out.append(
                Finding(
                    f"feeder-{n}-holds",
                    Severity.NOTE,
                    f"Feeder {n} holds out {{feeder_s}}, after the {{feeds_s}} of what it feeds.",
                    noun=f"Feeder {n}",
                    figures=figures,
                    main="feeder_s",
                    source="feeding-handbooks",
                )
            )
        else:
            out.append(
                Finding(
                    f"feeder-{n}-short",
                    Severity.WARN,
                    f"Feeder {n} sets after {{feeder_s}}, before the {{feeds_s}} of what it feeds: it draws metal from "
                    "the casting.",
                    noun=f"Feeder {n}",
                    figures={**figures, **extra},
                    main="feeder_s",
                    remedies=tuple(one for one in remedies if one.id == "set-feeding"),
                    source="feeding-handbooks",
                )
            )
    missing = {f.number for f in k.rig.feeders}
    asked = len(missing)
    if len(seen) < asked:  # too small for the grid: that is too small for a feeder
        out.append(
            Finding(
                "feeder-small",
                Severity.WARN,
                "A feeder is smaller than a cell of the grid: it feeds nothing.",
                noun="feeder",
                source="feeding-handbooks",
            )
        )
    return out


def _short(k: Known) -> list[Finding]:
    f = k.fill
    if not f.short:
        return []
    figures = {"short_mm3": f.short_mm3, "pour_c": k.pour_c}
    remedies: list[Remedy] = []
    most = k.method.metal.pouring.high
    if f.fills_c is not None:
        enough = f.fills_c + heat().common.hotter.value
        figures["fills_c"] = enough
        hot = "" if enough <= most else ", over the metal's usual range"
        remedies.append(Remedy("pour-hotter", f"Pour at {{fills_c}}{hot}", PourAt(round(enough))))
    per = _per(k)
    if per < 6:
        remedies.append(Remedy("more-gates", "One gate more", MoreGates(per + 1)))
    return [
        Finding(
            "stops-short",
            Severity.STOP,
            "The metal stops short: {short_mm3} of the casting is not reached at {pour_c}.",
            noun="stops short",
            figures=figures,
            main="short_mm3",
            remedies=tuple(remedies),
            source="feeding-handbooks",
        )
    ]


def _fills(k: Known) -> list[Finding]:
    f = k.fill
    if f.short or not f.ends:
        return []
    cold = f.ends[0]
    spare = k.pour_c - (f.fills_c if f.fills_c is not None else k.pour_c)
    figures = {"front_c": cold.front_c, "fill_s": f.seconds, "spare_c": spare, "far_mm": cold.far_mm}
    return [
        Finding(
            "fills",
            Severity.NOTE,
            "It fills in {fill_s} with {spare_c} to spare: the coldest end, {far_mm} from its gate, is reached at "
            "{front_c}.",
            noun="fills",
            figures=figures,
            main="spare_c",
            source="feeding-handbooks",
        )
    ]


def _meets(k: Known) -> list[Finding]:
    liquidus = k.method.metal.liquidus.value
    cold = [one for one in k.fill.meets if one.front_c < liquidus and one.solid > heat().common.welds.value]
    if not cold or k.fill.short:
        return []
    hotter = k.pour_c + 2.0 * heat().common.hotter.value
    figures = {"front_c": cold[0].front_c, "liquidus_c": liquidus, "hotter_c": hotter}
    remedies: tuple[Remedy, ...] = ()
    if hotter <= k.method.metal.pouring.high:
        remedies = (Remedy("pour-hotter", "Pour at {hotter_c}", PourAt(round(hotter))),)
    return [
        Finding(
            "fronts-meet-cold",
            Severity.WARN,
            "Two streams meet at {front_c}, under the {liquidus_c} where the metal begins to set: they may not weld.",
            noun="meet",
            figures=figures,
            main="front_c",
            remedies=remedies,
            source="feeding-handbooks",
        )
    ]


def _gates(k: Known) -> list[Finding]:
    if not k.gates:
        return []
    first = min(k.gates, key=lambda one: one.way_s)
    figures = {"gate_s": first.way_s, "fill_s": k.fill.seconds}
    out = _on_chill(k)
    if 0.0 < first.way_s < SHUT_RATIO * k.fill.seconds:
        per = _per(k)
        runner = first.way_s < RUNNER_SHARE * first.seconds
        what = "The runner sets" if runner else "A gate sets"
        return [
            *out,
            Finding(
                "gate-shuts",
                Severity.WARN,
                f"{what} after {{gate_s}} while the mould takes {{fill_s}} to fill: it shuts before the casting is "
                "full.",
                noun="runner" if runner else "gate",
                figures=figures,
                main="gate_s",
                remedies=(Remedy("more-gates", "One gate more", MoreGates(per + 1)),) if per < 6 and not runner else (),
                source="feeding-handbooks",
            ),
        ]
    feeding = any(one.wants for one in k.places)
    return [
        *out,
        Finding(
            "gates-set",
            Severity.NOTE,
            "The gates set after {gate_s}, once it is full" + (", and feed nothing from then on." if feeding else "."),
            noun="gates set",
            figures={**figures, "gate_s": min(one.seconds for one in k.gates)},
            main="gate_s",
            source="feeding-handbooks",
        ),
    ]


def _on_chill(k: Known) -> list[Finding]:
    """Gates that a chill lies beside: it takes the heat of the metal that runs in."""
    near = [
        chill
        for chill in k.rig.chills
        for gate in k.gates
        if math.dist(chill.at_mm, gate.at_mm) < chill.side_mm / 2.0 + pouring().common.gates_between.value
    ]
    if not near:
        return []
    return [
        Finding(
            "gate-on-chill",
            Severity.WARN,
            "A gate runs in beside a chill {chill_mm} square, which takes the heat of the metal before it feeds.",
            noun="chill",
            figures={"chill_mm": near[0].side_mm},
            remedies=(Remedy("more-gates", "One gate more", MoreGates(_per(k) + 1)),) if _per(k) < 6 else (),
            source="feeding-practice",
        )
    ]


def _per(k: Known) -> int:
    return max(sum(one.casting == 0 for one in k.rig.gates), 1)


def _quiet(k: Known) -> list[Finding]:
    """Why nothing is fed, or what it costs not to."""
    if any(one.wants for one in k.places):
        return []
    high = sum(one.void_mm3[1] for one in k.places if one.counts)
    if k.reason:
        return [
            Finding(
                "feeds-itself",
                Severity.NOTE,
                f"No feeder is wanted: {k.reason[0].lower()}{k.reason[1:]}",
                noun="No feeder",
                source="feeding-handbooks",
            )
        ]
    if k.choices.feeding == "cool" and high > 0.0:
        return [
            Finding(
                "poured-cool",
                Severity.NOTE,
                "Nothing feeds what sets last: up to {high_mm3} may be hollow, and that is taken. Pour as cool as it "
                "fills, {fills_c}.",
                noun="Nothing feeds",
                figures={"high_mm3": high, "fills_c": k.fill.fills_c or k.pour_c},
                main="high_mm3",
                remedies=_without(k),
                source="feeding-practice",
            )
        ]
    if k.choices.feeding == "cool" and k.rig.feeders:
        return [
            Finding(
                "cool-with-feeders",
                Severity.NOTE,
                "It is to be poured cool, and yet feeders stand on it: they are metal to melt and to saw off.",
                noun="feeders",
                remedies=_without(k),
                source="feeding-practice",
            )
        ]
    return [] if k.feeders else _even(k)


def _even(k: Known) -> list[Finding]:
    """Nothing that sets last wants anything: how even, and what is left in a thick run."""
    even = heat().common.even.value
    figures = {"middle_s": k.middle_s, "even_ratio": even}
    # a lump that is most of the casting sets little after half of it, and long after what feeds it closes
    lumps = [one for one in k.places if one.seconds > even * one.cut_s]
    text = "Even section: no place sets long after the rest, and no feeder is wanted."
    if lumps:
        figures |= {"sets_s": lumps[0].seconds, "high_mm3": sum(one.void_mm3[1] for one in lumps)}
        text = (
            "Even section: no place sets long after half of the metal. But the thickest sets after {sets_s}, past what "
            "feeds it, and up to {high_mm3} may be spread along its middle."
        )
    gone = [one for one in k.places if one.counts and one.lies == Lies.GONE]
    if gone:
        figures |= {"sets_s": gone[0].seconds, "high_mm3": sum(one.void_mm3[1] for one in gone)}
        text = (
            "What sets last, after {sets_s}, lies in metal that is machined off: {high_mm3} of hollow go with it, "
            "and no feeder is wanted."
        )
    return [
        Finding("even-section", Severity.NOTE, text, noun="Even section", figures=figures, source="feeding-practice")
    ]


def _without(k: Known) -> tuple[Remedy, ...]:
    """Feeders that the school without them would not set."""
    if not k.rig.feeders:
        return ()
    return (Remedy("set-feeding", "Take the feeders away", SetFeeding((), ())),)


def _vents(k: Known) -> list[Finding]:
    """Ends that fill late with no vent or open feeder over them."""
    if k.rig.on_end or k.rig.loose:
        return []
    reach = heat().common.vent_reach.value
    ways_out = [(one[:2], reach) for one in k.rig.vents]
    # no vent is pricked within a feeder's width of it: it lets the air out itself, or by its own vent
    ways_out += [(one.foot_mm[:2], max(reach, one.wide_mm + reach / 3.0)) for one in k.rig.feeders]
    c = heat().common
    late = [
        one
        for one in k.fill.ends
        if one.seconds > c.vent_late.value * k.fill.seconds
        and all(math.dist(one.at_mm[:2], out) > far for out, far in ways_out)
    ]
    if not late:
        return []
    x, y, _ = max(late, key=lambda one: one.seconds).at_mm
    right, behind = "right" if x >= 0.0 else "left", "behind" if y >= 0.0 else "before"
    side = f"{{along_mm}} {right} of the middle, {{across_mm}} {behind}"
    text = (
        f"One place fills late and has no vent: prick one over it, {side} the pins."
        if len(late) == 1
        else f"{count_words(len(late)).capitalize()} places fill late and have no vent: prick one over each, the last "
        f"is {side} the pins."
    )
    return [
        Finding(
            "vents-late",
            Severity.NOTE,
            text,
            noun="no vent",
            figures={"along_mm": abs(x), "across_mm": abs(y)},
            source="feeding-practice",
        )
    ]


def _rough(k: Known) -> list[Finding]:
    if k.across >= FEW_CELLS:
        return []
    return [
        Finding(
            "grid-rough",
            Severity.NOTE,
            "The grid has {cells_ratio} cells over the section: the order holds, the seconds of thin walls are rough.",
            noun="grid",
            figures={"cells_ratio": k.across},
            main="cells_ratio",
            source="feeding-practice",
        )
    ]
