"""What is melted: moulds, heel, spare and loss; in ingots and weighed pieces; in which crucible, in how many fills."""

import math
from dataclasses import dataclass

from pounce.base.errors import UserFault
from pounce.metals.melt import melt, melt_group
from pounce.pour.things import Crucible, Ingot, Things
from pounce.pour.values import Charged, Left, Mouldful, PourChoices

# An ingot is not so large that whole ones leave much over: so many at least go into a melt.
FEW = 4


@dataclass(frozen=True)
class Fills:
    """A crucible and how the moulds are poured from it: for each the number of its fill, from 1; ``broken`` a mould
    that one fill does not hold.
    """

    pot: Crucible
    turns: tuple[int, ...]
    broken: bool

    @property
    def many(self) -> int:
        """How often it is filled."""
        return max(self.turns, default=1)


def fills_of(pot: Crucible, moulds: tuple[Mouldful, ...], metal_id: str) -> Fills:
    """The moulds in their order, as many from each fill as it holds with its heel; one that no fill holds takes as many
    fills as it needs.
    """
    room = pot.holds_kg(metal_id) * (1.0 - melt().common.heel.value / 100.0)
    turns: list[int] = []
    fill, left, broken = 1, room, False
    for mould in moulds:
        if mould.kg > room:
            broken = True
            fill += 1 if turns and left < room else 0
            turns.append(fill)
            fill += math.ceil(mould.kg / room) - 1
            left = 0.0
            continue
        if mould.kg > left + 1e-9:
            fill, left = fill + 1, room
        left -= mould.kg
        turns.append(fill)
    return Fills(pot, tuple(turns), broken)


def crucible_for(things: Things, choices: PourChoices, moulds: tuple[Mouldful, ...], metal_id: str) -> Fills:
    """The crucible that was chosen, else the smallest that does it in one fill, else the one with the fewest fills.
    UserFault for one that is not there.
    """
    if choices.crucible:
        pot = next((one for one in things.crucibles if one.id == choices.crucible), None)
        if pot is None:
            names = ", ".join(one.id for one in things.crucibles)
            raise UserFault(f"There is no crucible '{choices.crucible}' among yours.", f"Take one of {names}.")
        return fills_of(pot, moulds, metal_id)
    tried = [fills_of(pot, moulds, metal_id) for pot in sorted(things.crucibles, key=lambda one: one.brim_l)]
    return min(tried, key=lambda one: (one.broken, one.many, one.pot.brim_l))


def ingot_of(things: Things, choices: PourChoices, metal_id: str, poured_kg: float) -> Ingot:
    """The ingot that is melted and cast: as chosen, else the largest of which the moulds want a few. UserFault for one
    that is not there.
    """
    if choices.ingot:
        found = next((one for one in things.ingots if one.id == choices.ingot), None)
        if found is None:
            names = ", ".join(one.id for one in things.ingots)
            raise UserFault(f"There is no ingot '{choices.ingot}' among yours.", f"Take one of {names}.")
        return found
    by_size = sorted(things.ingots, key=lambda one: one.cm3)
    few = [one for one in by_size if FEW * one.kg(metal_id) <= poured_kg]
    return few[-1] if few else by_size[0]


def charged(
    choices: PourChoices, ingot: Ingot, metal_id: str, poured_kg: float, fills: int, pot: Crucible
) -> tuple[Charged, Left]:
    """What is put in so that the moulds are full, with a heel in each fill, spare for the cup and what is lost; and
    what is left over. Weighed pieces go in first, the rest in whole ingots, or by weight where it is turnings.
    """
    c = melt().common
    heel = c.heel.value / 100.0 * min(pot.holds_kg(metal_id), poured_kg / max(fills, 1)) * fills
    spare = c.spare.value / 100.0 * poured_kg
    table = melt_group(metal_id).loss(choices.charge).value
    loss = table if choices.loss_percent is None else choices.loss_percent
    wanted = (poured_kg + heel + spare) / (1.0 - loss / 100.0)
    pieces = float(sum(choices.scrap_kg))
    each = ingot.kg(metal_id)
    ingots = 0
    if choices.charge == "ingot":
        ingots = max(math.ceil((wanted - pieces) / each - 1e-9), 0)
    given = max(pieces + ingots * each, wanted)
    over = given * (1.0 - loss / 100.0) - poured_kg - heel
    left = Left(over, math.ceil(over / each - 1e-9) if over > 0.0 else 0, heel)
    return Charged(wanted, ingots, each, pieces, loss), left
