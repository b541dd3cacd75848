"""The Pour stop: from the mould and its heat to what is melted, how hot, in what order, and when it is opened."""

import math
from dataclasses import dataclass, replace

from pounce.base.choice import all_checked
from pounce.base.errors import UserFault
from pounce.base.progress import Progress
from pounce.cores.values import CoresResult
from pounce.feeding.values import FreezeResult
from pounce.metals import tables
from pounce.metals.melt import heat_to, melt, melt_group
from pounce.metals.method import Method, cautions_of
from pounce.pour.charge import Fills, charged, crucible_for, fills_of, ingot_of
from pounce.pour.checklist import Looked, checks_of, wrong_of
from pounce.pour.choices import TABLE
from pounce.pour.cooling import Fall, before, cooled, fall_of, measured_fall, open_after_s
from pounce.pour.critical import broken, placed
from pounce.pour.findings import Known, found
from pounce.pour.steps import Moulding, Plan, steps_of
from pounce.pour.things import Crucible, Furnace, Ingot, Things, efficiency, weights_for
from pounce.pour.values import Charged, Left, Mouldful, Placed, Pot, PourChoices, PourResult, Turn
from pounce.pour.values import Furnace as Fire
from pounce.pour.window import range_of, wall_of, window_of
from pounce.rig.values import RigResult


@dataclass(frozen=True, eq=False)
class Given:
    """What the stop works from: the job's name, its method, mould, cores and their mix, heat, thinnest wall (mm; None:
    nobody knows), whether its temperature is the user's own; moulds of other jobs in the same melt; the bench's own
    things.
    """

    name: str
    method: Method
    rig: RigResult
    cores: CoresResult
    mix: str
    freeze: FreezeResult
    wall_mm: float | None
    own: bool
    others: tuple[Mouldful, ...]
    things: Things


def mouldful(given: Given) -> Mouldful:
    """What one mould of this job takes, and how hot: as hot as its heat and filling were judged at."""
    wall = wall_of(given.method, given.wall_mm)
    window = window_of(given.method, given.freeze.pour_c, given.freeze.fill.fills_c, given.own)
    return Mouldful(
        given.name, given.rig.weights.poured_kg, wall, window.low_c, window.high_c, window.aim_c, window.least_c
    )


def pour_stop(choices: PourChoices, given: Given, progress: Progress) -> PourResult:
    """The pour, planned and judged. UserFault for things that are not there."""
    all_checked(TABLE, choices)
    progress(0.0, "Planning the pour")
    p = _planned(choices, given)
    method, group = given.method, melt_group(given.method.metal_id)
    mixes = [tables.mix(given.mix)] if given.cores.cores else []
    progress(1.0, "")
    return PourResult(
        method.metal.name,
        p.turns,
        p.poured_kg,
        p.charged,
        p.left,
        p.pot,
        p.fills.many,
        p.lift_c,
        p.most_c,
        method.metal.liquidus.value,
        method.metal.solidus.value,
        p.melting,
        p.plan.steps,
        p.plan.limits,
        p.placed,
        p.open_min,
        group.open.value,
        checks_of(_looked(choices, given, p)),
        wrong_of(method),
        (
            *cautions_of(method.metal, method.mould, method.pattern, *mixes),
            *(tables.cautions()[key].text for key in group.cautions),
        ),
        found(_known(choices, given, p)),
    )


@dataclass(frozen=True, eq=False)
class _Planned:
    """The pour as it is planned, before it is judged."""

    moulds: tuple[Mouldful, ...]
    turns: tuple[Turn, ...]
    poured_kg: float
    fills: Fills
    pot: Pot
    lift_c: float
    most_c: float
    fire: Furnace
    melting: Fire
    ingot: Ingot
    charged: Charged
    left: Left
    open_min: float
    plan: Plan
    placed: tuple[Placed, ...]


def _planned(choices: PourChoices, given: Given) -> _Planned:
    method, own = given.method, mouldful(given)
    moulds = _in_turn(own, choices, given.others)
    fills = crucible_for(given.things, choices, moulds, method.metal_id)
    lift, turns, pot = _heat(choices, given, fills, moulds)
    fire = _furnace(given.things, choices, fills.pot, lift)
    poured = sum(one.kg for one in moulds)
    ingot = ingot_of(given.things, choices, method.metal_id, poured)
    charge, left = charged(choices, ingot, method.metal_id, poured, fills.many, fills.pot)
    melting = _melting(choices, fire, fills.pot, method, charge.kg / fills.many, lift)
    # what is thickest opens last: often a feeder
    solid_s = max([given.freeze.solid_s, *(one.seconds for one in given.freeze.feeders)])
    open_min = float(math.ceil(open_after_s(method.metal, method.metal_id, own.aim_c, solid_s) / 60.0))
    plan = steps_of(method, choices, _moulding(given, open_min), melting, fills.many, len(moulds))
    # the metal's own limit, whatever the mould asks
    most = range_of(method)[1] + melt_group(method.metal_id).lift_over.value
    return _Planned(
        moulds,
        turns,
        poured,
        fills,
        pot,
        lift,
        most,
        fire,
        melting,
        ingot,
        charge,
        left,
        open_min,
        plan,
        placed(plan.steps),
    )


def _known(choices: PourChoices, given: Given, p: _Planned) -> Known:
    where = {one.step.id: (one.start, one.end) for one in p.placed}
    return Known(
        given.method,
        choices,
        given.things,
        p.turns,
        p.fills,
        p.pot,
        p.fire,
        p.charged,
        p.left,
        p.lift_c,
        p.most_c,
        _larger(given, choices, p.fills, p.moulds),
        p.ingot.many,
        tuple(broken(where, p.plan.limits)),
    )


def _looked(choices: PourChoices, given: Given, p: _Planned) -> Looked:
    return Looked(
        given.method,
        _cores(given) * choices.moulds,
        given.mix,
        len(given.rig.vents) + len(given.rig.leads),
        given.rig.weights.add_kg,
        len(p.moulds),
        given.rig.on_end,
        given.rig.stands,
        p.poured_kg,
        p.pot,
        p.left,
        p.ingot,
        p.lift_c,
        p.fills.many,
        bool(choices.scrap_kg),
        weights_for(given.things.weights_kg, given.rig.weights.add_kg),
    )


def _named(own: Mouldful, many: int, alone: bool) -> list[Mouldful]:
    """The job's own moulds; where no other job's stand beside them they need no name of the job."""
    if many == 1:
        return [replace(own, name="The mould") if alone else own]
    each = "Mould {}" if alone else f"{own.name}, mould {{}}"
    return [replace(own, name=each.format(k + 1)) for k in range(many)]


def _in_turn(own: Mouldful, choices: PourChoices, others: tuple[Mouldful, ...]) -> tuple[Mouldful, ...]:
    """All moulds, the one that wants the hottest metal first: the thinnest."""
    mine = _named(own, choices.moulds, not others)
    return tuple(sorted([*mine, *others], key=lambda one: (-one.aim_c, one.wall_mm)))


def _furnace(things: Things, choices: PourChoices, pot: Crucible, lift_c: float) -> Furnace:
    """The one that was chosen, else the smallest that takes the crucible and is hot enough, else the hottest. UserFault
    for one that is not there.
    """
    if choices.furnace:
        found_ = next((one for one in things.furnaces if one.id == choices.furnace), None)
        if found_ is None:
            names = ", ".join(one.id for one in things.furnaces)
            raise UserFault(f"There is no furnace '{choices.furnace}' among yours.", f"Take one of {names}.")
        return found_
    good = [one for one in things.furnaces if one.takes_l >= pot.brim_l and one.hottest_c >= lift_c]
    if good:
        return min(good, key=lambda one: (one.takes_l, one.kw))
    return max(things.furnaces, key=lambda one: (one.hottest_c, one.takes_l))


def _heat(
    choices: PourChoices, given: Given, fills: Fills, moulds: tuple[Mouldful, ...]
) -> tuple[float, tuple[Turn, ...], Pot]:
    """How hot it is lifted so that the first mould of each fill gets its aim, and what each gets; the crucible loses
    metal, and with it heat that it could give.
    """
    method, pot, c = given.method, fills.pot, melt().common
    carry = melt_group(method.metal_id).carry.value if choices.carry_s is None else choices.carry_s
    between = c.between.value if choices.between_s is None else choices.between_s
    aim = moulds[0].aim_c
    holds = pot.holds_kg(method.metal_id)
    heel = c.heel.value / 100.0 * holds
    fall, own = _fall(choices, pot, method.metal_id, aim, holds)
    turns: list[Turn] = []
    lift = 0.0
    for fill in range(1, fills.many + 1):
        mine = [mould for mould, turn in zip(moulds, fills.turns, strict=True) if turn == fill]
        if not mine:
            continue
        kg = min(sum(one.kg for one in mine) + heel, holds)
        carried = fall.rate(kg, method.metal_id)
        waits, left = [0.0], kg
        for mould in mine[:-1]:
            left = max(left - mould.kg, heel)
            # the pouring itself cools the crucible too
            waits.append((between + given.rig.flow.fill_s) * fall.rate(max(left, heel), method.metal_id))
        first = _first_c(mine, waits)
        lift = max(lift, before(first, carry, carried))
        seconds = carry
        for k, mould in enumerate(mine):
            seconds += (between + given.rig.flow.fill_s) if k else 0.0
            turns.append(Turn(mould, fill, seconds, cooled(first, 1.0, sum(waits[: k + 1]))))
    room = c.room.value
    full = fall.rate(min(holds, max(one.kg for one in moulds) + heel), method.metal_id)
    whole = pot.empty_kg + min(holds, sum(one.kg for one in moulds) + heel)
    return lift, tuple(turns), Pot(pot.id, pot.name, holds, whole, 60.0 * full * (lift - room), own)


def _first_c(mine: list[Mouldful], waits: list[float]) -> float:
    """How hot the first mould of a fill is poured: at its aim, hotter within its window where the others would get less
    than theirs. ``waits`` the exponents of Newton's law from one to the next.
    """
    wanted = max(before(one.low_c, 1.0, sum(waits[: k + 1])) for k, one in enumerate(mine))
    return min(max(mine[0].aim_c, wanted), max(mine[0].high_c, mine[0].aim_c))


def _fall(choices: PourChoices, pot: Crucible, metal_id: str, at_c: float, kg: float) -> tuple[Fall, bool]:
    c = choices
    if c.fall_from_c is not None and c.fall_to_c is not None and c.fall_s is not None:
        if not c.fall_from_c > c.fall_to_c > melt().common.room.value:
            raise UserFault("The two readings of the crucible do not fall.", "Give the hotter one first.")
        return measured_fall(c.fall_from_c, c.fall_to_c, c.fall_s, kg, pot, metal_id), True
    return fall_of(pot, metal_id, at_c, c.carried == "lid"), False


def _melting(choices: PourChoices, fire: Furnace, pot: Crucible, method: Method, kg: float, lift_c: float) -> Fire:
    """How long it melts; two melts of the user's own have the crucible's heat in them."""
    table = melt()
    share, warm, learned = efficiency(fire)
    if choices.melt_percent is not None:
        share, learned = choices.melt_percent / 100.0, True
    joules = kg * heat_to(method.metal, method.metal_id, lift_c)
    if not learned:
        joules += pot.empty_kg * table.crucible[pot.material].heat.value * (lift_c - table.common.room.value)
    minutes = joules / (1000.0 * fire.kw * share) / 60.0
    return Fire(fire.name, warm, max(minutes, table.common.melt_least.value), share, learned, joules / 1e6)


def _cores(given: Given) -> int:
    """Cores in one mould."""
    mine = sum(one.lot == 0 for one in given.rig.castings)
    return mine * len(given.cores.cores)


def _moulding(given: Given, open_min: float) -> Moulding:
    w = given.rig.weights
    density = given.method.mould.density.value
    return Moulding(
        1000.0 * w.cope_sand_kg / density,
        1000.0 * w.drag_sand_kg / density,
        w.cope_sand_kg + w.drag_sand_kg,
        _cores(given),
        given.mix,
        w.add_kg,
        given.rig.flow.fill_s,
        math.ceil(open_min),
        given.rig.on_end,
    )


def _larger(given: Given, choices: PourChoices, fills: Fills, moulds: tuple[Mouldful, ...]) -> str:
    """A crucible that does better: whole moulds, or fewer fills; "" none."""
    if not (fills.broken or fills.many > 1 or choices.crucible):
        return ""
    tried = [fills_of(pot, moulds, given.method.metal_id) for pot in given.things.crucibles]
    better = [one for one in tried if (one.broken, one.many) < (fills.broken, fills.many)]
    return min(better, key=lambda one: (one.broken, one.many, one.pot.brim_l)).pot.id if better else ""
