"""Which flask: the smallest own one in which castings, runner and sprue find room, else a box to build."""

import math
from dataclasses import dataclass, replace

import msgspec
import numpy as np
import shapely

from pounce.base.errors import UserFault
from pounce.base.progress import Progress
from pounce.metals.heat import heat
from pounce.metals.margins import sand_round
from pounce.metals.pouring import PouringGroup, pouring
from pounce.rig.feeders import Standing, kept_off
from pounce.rig.fit import Fit, Lot, Stand
from pounce.rig.flasks import Flask, checked
from pounce.rig.flow import effective_head
from pounce.rig.item import Item
from pounce.rig.layout import Block, Laid, Tip, arranged, drawn_in
from pounce.rig.lines import Lines, lines_of
from pounce.rig.places import Place, chosen, clear_of, nearest_to, overhung, places_of, ringed
from pounce.rig.sections import Sections, Wanted, heads, sections_of
from pounce.rig.solids import reach_of
from pounce.rig.values import Board, Margins, RigChoices
from pounce.rig.ways import Way, reached, ring_of, way_of

# Margins grow with the longest side as (side / 200)^0.3 within these shares of the table's: from practice.
SIZE_MM, POWER, LEAST, MOST = 200.0, 0.3, 0.85, 1.6
# A box that is built grows by this share until all fits, so many times; heights in these steps, mm.
GROWS, TIMES, HIGH_STEP_MM = 1.15, 16, 5.0
# A flask is taken when its layout costs at most this many times what the best costs, with so much to spare (mm).
POOR, POOR_MM, FLASKS_TRIED = 1.6, 60.0, 3
# Gating is guessed to weigh this share of the castings until it is cut; a runner begins so far before its first gate
# (widths).
GATING_SHARE, LEAD_WIDTHS = 0.3, 1.5
# A gate is not longer than this many times its least length.
REACH = 1.6
# So many gates more are tried where fewer are too wide, and so thin walls of those on the outline.
MORE_GATES, THINNER = 4, (0.9, 0.5, 0.2)
# In a box to build the sprue is tried at so many places along each side.
BOX_SPRUES = 3
Places = tuple[tuple[Place, ...], ...]
OWN_SIZE, BUILT = "own-size", "built"


@dataclass(frozen=True, eq=False)
class Asked:
    """What is rigged: choices, the lots of castings (the job's own first), margins, the kind of metal and its liquid
    density (kg/m3), whether it lies in loose sand that nothing opens, and how far a tree's tiers stand apart
    (:func:`pitch_of`, mm).
    """

    choices: RigChoices
    lots: tuple[Lot, ...]
    margins: Margins
    group: PouringGroup
    density: float
    loose: bool
    pitch_mm: float = 0.0

    @property
    def up_mm(self) -> float:
        """The most that any pattern stands over the joint."""
        return self.rise_mm + max(lot.item.up_mm for lot in self.lots)

    @property
    def down_mm(self) -> float:
        """The most that any reaches under it."""
        return max(lot.item.down_mm for lot in self.lots)

    @property
    def over_mm(self) -> float:
        """How high the cope is to be."""
        return self.rise_mm + max(lot.over_mm(self.margins.over) for lot in self.lots)

    @property
    def castings_kg(self) -> float:
        """All castings."""
        return sum(lot.count * lot.casting_kg for lot in self.lots)

    @property
    def order(self) -> tuple[int, ...]:
        """Of which lot each casting is, the lowest tier's first."""
        return tuple(k for k, lot in enumerate(self.lots) for _ in range(lot.count))

    @property
    def tier_count(self) -> int:
        """How many castings lie at one height: all of them but on a tree, which stands in loose sand and is of one
        pattern.
        """
        whole = sum(lot.count for lot in self.lots)
        return math.ceil(whole / self.choices.tiers) if self.loose and len(self.lots) == 1 else whole

    @property
    def tiers(self) -> int:
        """How many heights they lie at."""
        return math.ceil(len(self.order) / self.tier_count)

    @property
    def rise_mm(self) -> float:
        """From the lowest tier's joint to the highest one's."""
        return 0.0 if self.tiers == 1 else (self.tiers - 1) * self.pitch_mm

    @property
    def tier_order(self) -> tuple[int, ...]:
        """Of which lot each casting of the lowest tier is."""
        return self.order[: self.tier_count]

    @property
    def tier_items(self) -> tuple[Item, ...]:
        """Of each casting of the lowest tier."""
        return tuple(self.lots[k].item for k in self.tier_order)

    @property
    def tier_kg(self) -> float:
        """All castings of the lowest tier: the whole stream goes to them first."""
        return sum(self.lots[k].casting_kg for k in self.tier_order)

    @property
    def levels(self) -> tuple[float, ...]:
        """How high each casting's joint lies over the lowest tier's, mm."""
        return tuple(k // self.tier_count * self.pitch_mm if self.tiers > 1 else 0.0 for k in range(len(self.order)))

    @property
    def items(self) -> tuple[Item, ...]:
        """Of each casting."""
        return tuple(self.lots[k].item for k in self.order)


@dataclass(frozen=True, eq=False)
class Rigged:
    """What was decided: the flask, whether it is an own one, what was decided of each lot, the lot of each casting,
    the layout, the runner's lines in it, the flask that was asked for where it is too small, how it stands where it is
    poured on end, and how high each casting lies on a tree (mm; empty: all at the joint). On a tree layout and lines
    of the lowest tier come first, and each tier above is the same once more.
    """

    flask: Flask
    own: bool
    lots: tuple[Fit, ...]
    order: tuple[int, ...]
    laid: Laid
    lines: Lines
    too_small: Flask | None = None
    stand: Stand | None = None
    levels: tuple[float, ...] = ()

    def level(self, casting: int) -> float:
        """How high this casting's joint lies over the mould's, mm."""
        return self.levels[casting] if self.levels else 0.0

    @property
    def tier(self) -> int:
        """How many castings lie at the mould's joint, which come first."""
        return self.levels.count(0.0) if self.levels else len(self.order)

    @property
    def sections(self) -> Sections:
        """Sprue and runner, which are one for all; the gates are the first lot's."""
        return self.lots[0].sections

    @property
    def fits(self) -> tuple[Fit, ...]:
        """Of each casting."""
        return tuple(self.lots[k] for k in self.order)

    @property
    def places(self) -> tuple[Place, ...]:
        """The place on its item of each gate, casting by casting."""
        return tuple(place for fit in self.fits for place in fit.gates)

    def heads_mm(self, asked: Asked) -> tuple[float, float]:
        """Metal over the gates, and the effective head of them."""
        if self.stand is not None:
            s = self.stand
            return s.head_mm, effective_head(s.head_mm, s.above_mm, s.whole_mm)
        head, _, _ = heads(self.flask.cope_mm, asked.choices.cup, asked.choices.head_mm)
        return head, effective_head(head, asked.up_mm, asked.up_mm + asked.down_mm)

    @property
    def wanted_gates(self) -> int:
        """Gates that all castings want."""
        return sum(fit.wanted_gates for fit in self.fits)


def pitch_of(asked: Asked) -> float:
    """From one tier of a tree to the next, mm: a casting's height, or the runner's where that stands out further, and
    the sand between castings. The runner is what one tier's head asks, which is never the smaller.
    """
    lot, c = asked.lots[0], asked.choices
    item, whole_kg = lot.item, asked.castings_kg * (1.0 + GATING_SHARE)
    alone = lot.over_mm(asked.margins.over)
    wall = lot.least_wall_mm
    wanted = Wanted(
        asked.group,
        asked.density,
        whole_kg,
        alone,
        item.up_mm,
        item.down_mm,
        1.0,
        wall,
        wall,
        0.0,
        None,
        c.school,
        c.cup,
        c.head_mm,
    )
    over, under = reach_of(sections_of(wanted), c.runner_end == "whirl")
    return _high(max(item.up_mm, over) + max(item.down_mm, under) + asked.margins.between)


def margins_of(metal_id: str, group: PouringGroup, lots: tuple[Lot, ...]) -> Margins:
    """Sand by metal and mass as everywhere in the program, for the heaviest casting; what the way of the metal asks
    grows with the largest one's size.
    """
    sand = sand_round(metal_id, max(lot.casting_kg for lot in lots))
    boxes = [lot.item.plan.bounds for lot in lots]
    size = max(max(x1 - x0, y1 - y0) for x0, y0, x1, y1 in boxes)
    share = min(max((size / SIZE_MM) ** POWER, LEAST), MOST)
    return Margins(
        sand.beside_mm,
        sand.between_mm,
        sand.over_mm,
        sand.under_mm,
        *(
            float(round(share * one.value))
            for one in (group.print_wall, group.sprue_wall, group.sprue_casting, group.runner_wall)
        ),
    )


def rigged(asked: Asked, own: tuple[Flask, ...], progress: Progress) -> Rigged:
    """The flask and what lies in it. UserFault for a flask nobody has, or where no place takes a gate."""
    strip = pouring().common.gate_long.value + 25.0
    places = tuple(places_of(lot.item, asked.choices.school, strip, lot.warmth, lot.gates_at) for lot in asked.lots)
    for lot, own_places in zip(asked.lots, places, strict=True):
        if not own_places:
            whose = "" if len(asked.lots) == 1 else f" of {lot.name}"
            if ringed(lot.item):
                raise UserFault(
                    f"A core lies all round the casting{whose} in the joint, so no gate can run to it there.",
                    "Cut a gate down onto the hub or the upper rim by hand, or fill the groove and turn it.",
                )
            if overhung(lot.item, strip):
                raise UserFault(
                    f"No gate reaches the parting line{whose}: the casting stands out over or under it all round.",
                    "Move the joint to where the casting is widest.",
                )
            raise UserFault(
                f"No place on the parting line{whose} takes a gate: it runs along prints, or no wall is thick enough.",
                "Move the joint, or shorten a core print.",
            )
    if not any(lot.feeders or lot.chills for lot in asked.lots):
        return _stacked(_rigged(asked, own, places, progress), asked)
    try:
        return _stacked(
            _rigged(asked, own, _clear(asked, places, heat().common.gate_from_feeder.value), progress), asked
        )
    except NoGate:  # where feeders leave no other room, gates come nearer to them, and that is said
        return _stacked(_rigged(asked, own, _clear(asked, places, pouring().common.passes.value), progress), asked)


def _stacked(rig: Rigged, asked: Asked) -> Rigged:
    """The lowest tier, and the same above it as often as the tree has tiers; the last one may be the smaller."""
    if asked.tiers == 1:
        return rig
    cuttings, lines, castings = [], [], []
    for k, level in enumerate(asked.levels):
        own, up = k % asked.tier_count, np.array([0.0, 0.0, level])
        castings.append(rig.laid.castings[own])
        lines.append(rig.lines.lines[own] + up)
        cuttings += [
            replace(one, at=one.at + up, to=one.to + up, casting=k) for one in rig.lines.cuttings if one.casting == own
        ]
    laid, led = replace(rig.laid, castings=tuple(castings)), Lines(tuple(cuttings), tuple(lines), rig.lines.led)
    return replace(rig, order=asked.order, laid=laid, lines=led, levels=asked.levels)


class NoGate(UserFault):
    """No place on the parting line takes the gates that are asked for."""


def _rigged(asked: Asked, own: tuple[Flask, ...], places: Places, progress: Progress) -> Rigged:
    """With these places for gates."""
    c = asked.choices
    said = said_flask(asked, own)
    if said is not None:
        held = _in(said, asked, places)
        if held is not None:
            return replace(held, own=said.id not in (OWN_SIZE, BUILT))
    if not c.placed:  # the one that was asked for is too small: what takes it is shown, and said
        found = _smallest(asked, own, places, progress)
        if found is not None:
            return replace(found, too_small=said)
    progress(0.4, "Working out a box to build")
    return replace(_built(asked, places), too_small=said)


def _clear(asked: Asked, places: Places, sand_mm: float) -> Places:
    """Places with so much sand to feeders, and off chills, where there are such."""
    out = []
    for lot, own in zip(asked.lots, places, strict=True):
        off = kept_off(lot.feeders, lot.chills, sand_mm)
        clear = tuple(one for one in own if not shapely.contains_xy(off, *one.at[:2]))
        out.append(clear or own)
    return tuple(out)


def said_flask(asked: Asked, own: tuple[Flask, ...]) -> Flask | None:
    """The flask that was asked for; None for the smallest that fits. UserFault for one that nobody has."""
    c = asked.choices
    if c.inside_mm is not None or c.cope_mm is not None or c.drag_mm is not None:
        base = next((one for one in own if one.id == c.flask), None)
        long, wide = c.inside_mm or ((base.long_mm, base.wide_mm) if base else _inside(asked))
        cope = c.cope_mm or (base.cope_mm if base and base.cope_mm else _high(asked.over_mm))
        drag = c.drag_mm or (base.drag_mm if base else _high(asked.down_mm + asked.margins.under))
        return checked(Flask(OWN_SIZE, "Flask of the size you gave", "box", long, wide, cope, drag, 0.0))
    if not c.flask:
        return None
    found = next((one for one in own if one.id == c.flask), None)
    if found is None:
        raise UserFault(
            f"There is no flask '{c.flask}' among yours.", f"Choose one of {', '.join(one.id for one in own)}."
        )
    if found.shape == "can" and not asked.loose:
        raise UserFault(f"The {found.name.lower()} has no cope: it is for foam in loose sand.", "Choose a flask.")
    return found


def _inside(asked: Asked) -> tuple[float, float]:
    """A size for which only the heights were said: as large as the castings ask."""
    boxes = np.array([lot.item.plan.bounds for lot in asked.lots])
    side = 2.0 * asked.margins.wall + 120.0
    wide, high = (boxes[:, 2:] - boxes[:, :2]).max(axis=0).tolist()
    return _high(wide + side), _high(high + side)


def _high(mm: float) -> float:
    return math.ceil(mm / HIGH_STEP_MM - 1e-9) * HIGH_STEP_MM


def stood(flask: Flask, asked: Asked) -> Flask:
    """A can as the sand over and under the middle of what lies in it; any other flask as it is."""
    if flask.shape != "can":
        return flask
    under = asked.down_mm + asked.margins.under
    # filled only as high as the sand over it asks: more head than that shoots through the gates
    over = _high(asked.over_mm)
    return msgspec.structs.replace(flask, cope_mm=max(min(flask.drag_mm - under, over), 1.0), drag_mm=under)


def high_enough(flask: Flask, asked: Asked) -> bool:
    """Whether the sand over and under the castings is as thick as it should be."""
    i, m = asked, asked.margins
    return flask.cope_mm >= i.over_mm - 0.1 and flask.drag_mm >= i.down_mm + m.under - 0.1


def _smallest(asked: Asked, own: tuple[Flask, ...], places: Places, progress: Progress) -> Rigged | None:
    may = [one for one in own if (one.shape == "can") <= asked.loose]
    # loose sand wants a bottom: a pail before two frames that stand on a board
    may.sort(key=lambda one: (one.shape != "can", one.area_mm2 * (one.cope_mm + one.drag_mm)))
    found: list[Rigged] = []
    for k, flask in enumerate(may):
        progress(0.35 * k / len(may), f"Trying the {flask.name.lower()}")
        if len(found) == FLASKS_TRIED:
            break
        if not high_enough(stood(flask, asked), asked):
            continue
        held = _in(flask, asked, places)
        if held is not None:
            found.append(held)
            if held.laid.cost <= POOR * POOR_MM:
                break
    if not found:
        return None
    least = min(one.laid.cost for one in found)
    return next(one for one in found if one.laid.cost <= POOR * (least + POOR_MM))


def _in(flask: Flask, asked: Asked, places: Places) -> Rigged | None:
    """All of it in this flask; None where it finds no room."""
    flask = stood(flask, asked)
    lots = _fits(asked, places, flask.cope_mm)
    order, c = asked.tier_order, asked.choices
    blocks = tuple(lots[k].block for k in order)
    r = _sprue_r(lots[0].sections, c)
    if c.placed:
        laid: Laid | None = _by_hand(c, asked, blocks, flask, r)
    else:
        laid = arranged(blocks, flask, asked.margins, r, c.sprue_mm)
    if laid is None:
        return None
    lines = lines_of(asked.tier_items, tuple(lots[k] for k in order), laid, flask, asked.margins)
    # where the runner finds no way the flask is too small, unless pieces were put by hand
    return Rigged(flask, True, lots, order, laid, lines) if lines.led or c.placed else None


def _sprue_r(sections: Sections, c: RigChoices) -> float:
    """What stands in the sand: a cup that is cut, else the sprue's top or the well."""
    return (sections.cup if c.cup == "cut" else max(sections.top, sections.well)) / 2.0


def _by_hand(c: RigChoices, asked: Asked, blocks: tuple[Block, ...], flask: Flask, sprue_r: float) -> Laid:
    castings = tuple((one.at_mm, one.turn_deg) for one in c.placed)
    if c.sprue_mm is not None:
        return Laid(castings, c.sprue_mm, 0.0)
    free = arranged(blocks[:1], flask, asked.margins, sprue_r, None)
    return Laid(castings, (0.0, 0.0) if free is None else free.sprue, 0.0)


def _built(asked: Asked, places: Places) -> Rigged:
    """A box that just holds it, sides in whole centimetres. UserFault where even a very large one does not."""
    m, c = asked.margins, asked.choices
    cope, drag = _high(c.cope_mm or asked.over_mm), _high(c.drag_mm or asked.down_mm + m.under)
    lots = _fits(asked, places, cope)
    order = asked.tier_order
    blocks = tuple(lots[k].block for k in order)
    r = _sprue_r(lots[0].sections, c)
    boxes = [shapely.union_all([block.whole, block.foot]).bounds for block in blocks]
    side = math.sqrt(sum((max(x1 - x0, y1 - y0) + m.between) ** 2 for x0, y0, x1, y1 in boxes))
    side += 2.0 * m.wall + 2.0 * r + m.sprue_wall + m.sprue_casting
    for k in range(TIMES):
        size = side * GROWS**k
        flask = Flask(BUILT, "Box to build", "box", size, size, cope, drag, 0.0)
        if c.placed:
            laid: Laid | None = _by_hand(c, asked, blocks, flask, r)
        else:
            laid = arranged(blocks, flask, m, r, c.sprue_mm, BOX_SPRUES)
        if laid is not None:
            laid, inside = (laid, (size, size)) if c.placed else drawn_in(laid, blocks, m, r)
            flask = Flask(BUILT, "Box to build", "box", inside[0], inside[1], cope, drag, 0.0)
            lines = lines_of(asked.tier_items, tuple(lots[k] for k in order), laid, flask, m)
            if lines.led or c.placed:
                return Rigged(flask, False, lots, order, laid, lines)
    raise UserFault(
        f"{len(order)} castings of this size find no room in one mould.",
        "Mould fewer at once, or turn the sprue loose.",
    )


def _fits(asked: Asked, places: Places, cope_mm: float) -> tuple[Fit, ...]:
    """What is decided of each lot for a cope so high. UserFault where the head is too low, or no gate can be cut."""
    c, up = asked.choices, asked.up_mm
    head, _, _ = heads(cope_mm, c.cup, c.head_mm)
    least_head = pouring().common.least_head.value
    if head < up + least_head:
        needed = _high(cope_mm + up + least_head - head)
        if asked.loose:
            deep = needed + asked.down_mm + asked.margins.under
            raise UserFault(
                f"The metal would stand {head:.0f} mm over the lowest gates, and the metal it is to fill {up:.0f} mm.",
                f"Take a pail or box at least {deep:.0f} mm deep" + (", or fewer tiers." if asked.tiers > 1 else "."),
            )
        raise UserFault(
            f"The metal would stand {head:.0f} mm over the joint, and the casting stands {up:.0f} mm over it.",
            f"Take a cope at least {needed:.0f} mm high, or ask for a head of {up + least_head:.0f} mm.",
        )
    return tuple(_fit(asked, lot, own, cope_mm) for lot, own in zip(asked.lots, places, strict=True))


def _fit(asked: Asked, lot: Lot, places: tuple[Place, ...], cope_mm: float) -> Fit:
    """Sections, gates and way of one lot. UserFault where none can be cut."""
    i, c, whole_kg = lot.item, asked.choices, asked.castings_kg
    x0, y0, x1, y1 = i.plan.bounds
    far = math.hypot(x1 - x0, y1 - y0) / 2.0
    wanted = Wanted(
        asked.group,
        asked.density,
        whole_kg * (1.0 + GATING_SHARE),
        cope_mm,
        asked.up_mm,
        asked.down_mm,
        lot.casting_kg / asked.tier_kg,
        places[0].wall_mm,
        lot.least_wall_mm,
        far,
        max(len(lot.gates_at), c.gates or 0) if lot.gates_at else c.gates,
        c.school,
        c.cup,
        c.head_mm,
    )
    if lot.gates_at:  # what the walls there take
        theirs = nearest_to(lot.gates_at, i, places, 0.0)
        wanted = replace(wanted, wall_mm=min((one.wall_mm for one in theirs), default=wanted.wall_mm))
    # where a wall takes the gate that the best place asks for, it is taken; else thinner ones are tried
    first = wanted.wall_mm
    # a joint through a wall leaves each half only a part of it
    halves = np.quantile([min(one.wall_mm, max(one.up_mm, one.down_mm)) for one in places], THINNER).tolist()
    for wall in sorted({first, *(one for one in halves if one < first)}, reverse=True):
        found = _gated(lot, places, replace(wanted, wall_mm=wall))
        if found is not None:
            return _way(i, found[1], found[0], trap_of(found[0], c), lot.feeders)
    raise NoGate(
        "No place on the parting line takes the gates that this much metal asks for.",
        "Ask for more gates, or pour fewer castings at once.",
    )


def _gated(lot: Lot, places: tuple[Place, ...], wanted: Wanted) -> tuple[Sections, tuple[Place, ...]] | None:
    """Sections and gates where the outline has room for them; None where it has none."""
    i, sections = lot.item, sections_of(wanted)
    able = tuple(one for one in places if one.half_for(sections.gate_thick, sections.gate_half) is not None)
    long = gate_long_mm(lot.feeders)
    on_gates = tuple(one.gate for one in lot.feeders if one.gate is not None)
    ring = ring_of(i, sections.runner_wide, long)
    able = reached(i, ring, able, REACH * (long + sections.runner_wide / 2.0))
    # narrower gates find a wall where wide ones do not
    for more in range(MORE_GATES + 1):
        slim = sections if not more else sections_of(replace(wanted, gates=sections.gates + more))
        asked = (*on_gates, *nearest_to(lot.gates_at, i, able, slim.gate_wide))
        clear = clear_of(lot.marks, able, slim.gate_wide, slim.gate_thick) or able
        gates = chosen(i, clear, slim.gates, slim.gate_wide, slim.apart, asked)
        if gates:
            return slim, gates
    return None


def gate_long_mm(feeders: tuple[Standing, ...]) -> float:
    """From a casting to its runner: past feeders that stand on gates."""
    reach = max((one.reach_mm for one in feeders), default=0.0)
    usual = pouring().common.gate_long.value
    return max(usual, reach + heat().common.feeder_runner.value) if reach > 0.0 else usual


def trap_of(s: Sections, c: RigChoices) -> float:
    """Diameter of the whirl traps, mm; 0 where the runner overruns."""
    return pouring().common.trap_over_runner.value * s.runner_wide if c.runner_end == "whirl" else 0.0


def _way(item: Item, gates: tuple[Place, ...], s: Sections, trap_mm: float, feeders: tuple[Standing, ...]) -> Fit:
    common = pouring().common
    over = max(common.overrun.value, 1.5 * s.runner_wide)
    way = None
    gates_left = gates
    while way is None and gates_left:
        way = way_of(
            item,
            gates_left,
            s.gate_wide,
            s.runner_wide,
            gate_long_mm(feeders),
            LEAD_WIDTHS * s.runner_wide,
            over,
            trap_mm,
        )
        gates_left = gates_left[:-1]
    if way is None:
        raise UserFault("The runner finds no way round the casting.", "Move the joint, or ask for fewer gates.")
    discs = [one.plan for one in feeders]
    whole, metal = (shapely.unary_union([one, *discs]) for one in (item.plan, item.metal_plan))
    return Fit(s, gates, way, Block(whole, metal, way.foot, _tips(way)))


def _tips(way: Way) -> tuple[Tip, ...]:
    """Where the runner may be led in: at either end of it, along its own line, so that metal turns into the gates."""
    out = []
    for forward in (True, False):
        arc = way.arc(forward)
        back = arc[0] - arc[min(len(arc) - 1, 3)]
        out.append((arc[0], np.asarray(back / max(float(np.linalg.norm(back)), 1e-9))))
    return tuple(out)


def boards_of(flask: Flask, loose: bool, battens: int) -> tuple[Board, ...]:
    """What a box of these inside sizes is sawn from: two long sides over the ends of two short ones, in halves or, for
    loose sand, in one, so many ``battens`` up each long side, and a board under it.
    """
    t, batten = pouring().common.board.value, pouring().common.batten.value
    out = []
    whole = (("box", flask.cope_mm + flask.drag_mm),)
    for half, high in whole if loose else (("cope", flask.cope_mm), ("drag", flask.drag_mm)):
        out.append(Board(f"Sides of the {half}", (flask.long_mm + 2.0 * t, high, t), 2))
        out.append(Board(f"Ends of the {half}", (flask.wide_mm, high, t), 2))
        if battens:
            out.append(Board(f"Battens of the {half}", (high, batten, batten), 2 * battens))
    out.append(Board("Moulding board", (flask.long_mm + 2.0 * t + 40.0, flask.wide_mm + 2.0 * t + 40.0, t), 1))
    return tuple(out)
