"""What speaks for or against a cause: the job's figures and the pour's, each put into one line."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final, TypeVar

import numpy as np

from pounce.base.units import plain, quantity
from pounce.logbook.facts import Facts, Neck, Spot
from pounce.logbook.said import Word
from pounce.logbook.values import Defect, Pour
from pounce.metals.defects import defects

P = TypeVar("P", Spot, Neck)


@dataclass(frozen=True)
class Case:
    """A defect with all that is known of the job and of its pour."""

    defect: Defect
    pour: Pour
    facts: Facts

    @property
    def near_mm(self) -> float:
        """Within which a place is the one pointed at."""
        return defects().limits.near.value * max(self.facts.long_mm, 1.0)

    def spot(self) -> Spot | None:
        """The place that sets last where the defect is; where nobody pointed, the one that wants most."""
        wanting = [one for one in self.facts.spots if one.wants] or list(self.facts.spots)
        return _nearest(wanting, self)

    def neck(self) -> Neck | None:
        """The neck or gate beside the defect, one that shuts too soon first."""
        short = [one for one in self.facts.necks if one.sets_s < one.wanted_s]
        return _nearest(short or list(self.facts.necks), self)


def _nearest(among: list[P], case: Case) -> P | None:
    place = case.defect.at_mm
    if not among:
        return None
    if place is None:
        return max(among, key=lambda one: one.sets_s)
    nearest = min(among, key=lambda one: _gap(one.at_mm, place))
    return nearest if _gap(nearest.at_mm, place) <= case.near_mm else None


def _gap(a: tuple[float, float, float], b: tuple[float, float, float]) -> float:
    return float(np.linalg.norm(np.array(a) - np.array(b)))


def _not_fed(case: Case) -> tuple[bool, str] | None:
    if not case.facts.frozen:
        return None
    spot = case.spot()
    if spot is None:
        return False, "Nothing there sets after what is round it."
    if spot.wants and not spot.fed_by:
        return True, f"It sets {_s(spot.sets_s)} after the pour, and nothing feeds it."
    if spot.wants:
        return True, f"{spot.fed_by} fed it until {_s(spot.cut_s)}; it sets at {_s(spot.sets_s)}."
    return False, f"It sets at {_s(spot.sets_s)} and is fed until then."


def _neck_shuts(case: Case) -> tuple[bool, str] | None:
    neck = case.neck()
    if neck is None:
        return (False, "No neck or gate feeds it there.") if case.facts.frozen else None
    short = neck.sets_s < neck.wanted_s
    return short, f"{neck.name} sets at {_s(neck.sets_s)}, what it feeds at {_s(neck.wanted_s)}."


def _over_plan(case: Case) -> tuple[bool, str] | None:
    plan, was = _plan(case)
    if plan is None or was is None:
        return None
    hot = was > plan + defects().limits.plan.value
    return hot, f"{_c(was)} measured, {round(plan)} planned."


def _under_plan(case: Case) -> tuple[bool, str] | None:
    plan, was = _plan(case)
    if plan is None or was is None:
        return None
    return was < plan - defects().limits.plan.value, f"{_c(was)} measured, {round(plan)} planned."


def _cold_end(case: Case) -> tuple[bool, str] | None:
    facts = case.facts
    if not facts.filled:
        return None
    if facts.short:
        return True, "The metal stops short at the temperature that was planned."
    if facts.spare_c is None:
        return None
    plan, was = _plan(case)
    spare = facts.spare_c + (0.0 if plan is None or was is None else was - plan)
    text = f"The last place to fill is reached with {_k(spare)} to spare."
    return spare < defects().limits.spare.value, text


def _meets_cold(case: Case) -> tuple[bool, str] | None:
    facts = case.facts
    if not facts.filled:
        return None
    if facts.meets_c is None:
        return False, "No two streams meet."
    plan, was = _plan(case)
    over = facts.meets_c + (0.0 if plan is None or was is None else was - plan)
    how = f"{_k(over)} over" if over >= 0.0 else f"{_k(-over)} under"
    return over < defects().limits.meets.value, f"Two streams meet {how} where it begins to set."


def _broken_stream(case: Case) -> tuple[bool, str] | None:
    if case.pour.broken:
        return True, "The stream was broken, as it was noted."
    if case.facts.broken:
        return True, "The crucible does not hold one whole mould."
    return None if case.facts.fills is None else (False, "One crucible fills it.")


def _gate_fast(case: Case) -> tuple[bool, str] | None:
    speed, limit = case.facts.gate_m_s, case.facts.limit_m_s
    if speed is None or limit is None:
        return None
    return speed > limit, f"{plain(speed, 2)} m/s in the gates, {plain(limit, 2)} is what it takes."


def _sand_water(case: Case) -> tuple[bool, str] | None:
    if not case.facts.water:
        return False, "The sand holds no water."
    most, pour = defects().limits.water.value, case.pour
    if pour.moisture_percent is not None:
        return pour.moisture_percent > most, f"{plain(pour.moisture_percent, 1)} % of water; {most:g} is the most."
    if pour.squeeze:
        return pour.squeeze == "wet", "A handful was wet." if pour.squeeze == "wet" else "A handful broke clean."
    return None


def _core_there(case: Case) -> tuple[bool, str] | None:
    if case.facts.cores is None:
        return None
    if not case.facts.cores:
        return False, "There is no core."
    if case.pour.core_dry:
        return False, "The core's weight stood: it was dry."
    return True, "Nobody weighed whether the core was dry."


def _core_moves(case: Case) -> tuple[bool, str] | None:
    if not case.facts.cores:
        return None
    if case.facts.cores_open:
        return True, "The judgement of its core has something open."
    return False, "Its prints bear the lift."


def _no_core(case: Case) -> tuple[bool, str] | None:
    return (False, "There is no core to move.") if case.facts.cores == 0 else None


def _dirty_charge(case: Case) -> tuple[bool, str] | None:
    pour, facts = case.pour, case.facts
    if pour.lift_c is not None and facts.most_c is not None and pour.lift_c > facts.most_c:
        return True, f"Lifted at {_c(pour.lift_c)}, {round(facts.most_c)} is the most."
    if pour.charge in ("scrap", "turnings"):
        return True, f"Melted from {pour.charge}."
    return (False, "Clean ingot.") if pour.charge == "ingot" else None


def _sand_tears(case: Case) -> tuple[bool, str] | None:
    torn = case.facts.torn_mm3
    if torn is None:
        return None
    if torn > 0.0:
        return True, f"The trial draw tears {quantity('torn_mm3', torn)} of sand."
    return False, "The pattern draws and tears nothing."


def _rammed_fast(case: Case) -> tuple[bool, str] | None:
    usual, was = case.facts.ram_min_l, case.pour.ram_min_l
    if usual is None or was is None:
        return None
    text = f"A litre was rammed in {plain(was, 2)} min, {plain(usual, 2)} is usual."
    return was < defects().limits.rammed.value * usual, text


def _coarse_grain(case: Case) -> tuple[bool, str] | None:
    coat = case.pour.coat.strip()
    return (False, f"It was coated ({coat}).") if coat and coat.casefold() not in ("none", "no") else None


def _cope_light(case: Case) -> tuple[bool, str] | None:
    add, lay = case.facts.add_kg, case.pour.weighted_kg
    if add is None:
        return None
    if add <= 0.0:
        return False, "The cope stays down by its own weight."
    if lay is None:
        return None
    return lay < add, f"{plain(lay, 1)} kg lay on the cope, {plain(add, 1)} are wanted."


def _held_back(case: Case) -> tuple[bool, str] | None:
    facts = case.facts
    if facts.held and not facts.rounded:
        return True, "Something holds it as it shrinks, and inside corners are sharp."
    return False, "Inside corners are rounded." if facts.rounded else "Nothing holds it as it shrinks."


def _plan(case: Case) -> tuple[float | None, float | None]:
    """What was planned and what it was, C."""
    plan = case.pour.planned_c if case.pour.planned_c is not None else case.facts.aim_c
    return plan, case.pour.poured_c


SAYS: Final[dict[str, Callable[[Case], tuple[bool, str] | None]]] = {
    "not-fed": _not_fed,
    "neck-shuts": _neck_shuts,
    "over-plan": _over_plan,
    "cold-end": _cold_end,
    "under-plan": _under_plan,
    "meets-cold": _meets_cold,
    "broken-stream": _broken_stream,
    "gate-fast": _gate_fast,
    "gate-washes": _gate_fast,
    "sand-water": _sand_water,
    "core-there": _core_there,
    "core-moves": _core_moves,
    "no-core": _no_core,
    "dirty-charge": _dirty_charge,
    "sand-tears": _sand_tears,
    "rammed-fast": _rammed_fast,
    "coarse-grain": _coarse_grain,
    "cope-light": _cope_light,
    "held-back": _held_back,
}


def words_of(case: Case) -> dict[str, tuple[Word, ...]]:
    """All that is known that speaks, by cause."""
    out: dict[str, tuple[Word, ...]] = {}
    for key, one in defects().evidence.items():
        said = SAYS[key](case)
        if said is not None:
            out[one.cause] = (*out.get(one.cause, ()), Word(key, said[0], said[1]))
    return out


def _s(seconds: float) -> str:
    return quantity("at_s", seconds)


def _c(celsius: float) -> str:
    return quantity("at_c", celsius)


def _k(kelvin: float) -> str:
    return f"{round(kelvin)} K"
