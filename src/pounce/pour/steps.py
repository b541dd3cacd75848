"""The steps of this job: what is rammed, cored, melted, poured and opened, how long each takes and what it waits
for.
"""

import math
from dataclasses import dataclass, replace

from pounce.base.units import count_words, mass, quantity
from pounce.metals import tables
from pounce.metals.melt import melt, melt_group
from pounce.metals.method import Method
from pounce.pour.critical import POUR
from pounce.pour.values import Furnace, Kind, Limit, PourChoices, Step

# Up to so many moulds have steps of their own each; more are told together.
APART = 2


@dataclass(frozen=True)
class Moulding:
    """What is moulded: litres of sand in each half, cores in each mould and their mix, weight to lay on (kg), seconds
    of pouring a mould, when all of it may be opened (min), and whether it is stood on end.
    """

    cope_l: float
    drag_l: float
    sand_kg: float
    cores: int
    mix: str
    add_kg: float
    pour_s: float
    open_min: float
    on_end: bool = False


@dataclass(frozen=True)
class Plan:
    """Steps and limits."""

    steps: tuple[Step, ...]
    limits: tuple[Limit, ...]


def steps_of(method: Method, choices: PourChoices, m: Moulding, fire: Furnace, fills: int, moulds: int) -> Plan:
    """All steps of the pour and its limits; ``moulds`` poured in all, ``choices.moulds`` of them rammed here."""
    made = _Making(method, choices, m)
    ready = made.moulds()
    tail = made.melted(fire, fills, moulds, ready)
    return Plan(_one_pair_of_hands(tuple(made.steps + tail)), tuple(made.limits))


def _one_pair_of_hands(steps: tuple[Step, ...]) -> tuple[Step, ...]:
    """One person does one thing after the other: each step of the hands before the pour waits for the one before."""
    out, last = [], ""
    for step in steps:
        if step.kind is Kind.HANDS:
            if last and last not in step.after:
                step = replace(step, after=(*step.after, last))
            last = step.id
        out.append(step)
    return tuple(out)


class _Making:
    """Puts the steps together."""

    def __init__(self, method: Method, choices: PourChoices, m: Moulding) -> None:
        self.method, self.choices, self.m = method, choices, m
        self.work = melt().work
        self.steps: list[Step] = []
        self.limits: list[Limit] = []
        self.apart = choices.moulds <= APART
        self.each = 1 if self.apart else choices.moulds

    def add(
        self,
        key: str,
        text: str,
        minutes: float,
        after: tuple[str, ...] = (),
        kind: Kind = Kind.HANDS,
        why: str = "",
        litres: float = 0.0,
    ) -> str:
        """One step more; its id."""
        self.steps.append(Step(key, text, minutes, after, kind, why, litres))
        return key

    def moulds(self) -> tuple[str, ...]:
        """Cores and moulds; the ids of what the pour waits for."""
        cores = self._cores() if self.m.cores else ""
        if self.method.mould.bond == "loose":
            return tuple(self._buried(k) for k in range(self._runs()))
        return tuple(self._mould(k, cores) for k in range(self._runs()))

    def _runs(self) -> int:
        return self.choices.moulds if self.apart else 1

    def _of(self, k: int) -> str:
        """Which mould it is, where there are several."""
        if self.choices.moulds == 1:
            return ""
        return f" of mould {k + 1}" if self.apart else f" of all {count_words(self.choices.moulds)} moulds"

    def _cores(self) -> str:
        w, mix = self.work, tables.mix(self.m.mix)
        many = self.m.cores * self.choices.moulds
        what = "the core" if many == 1 else f"{count_words(many)} cores"
        mixed = self.add("core-mix", f"Mix the core sand, {mix.name.lower()}", w.mix.value)
        rammed = self.add("core-ram", f"Ram {what}, prick the vents", w.core_ram.value * many, (mixed,))
        keeps = mix.bench_life.value
        self.limits.append(Limit(mixed, rammed, keeps, "the core sand goes off before the last core is rammed"))
        if mix.baked and mix.bake is not None and mix.bake_time is not None:
            hot = quantity("c_c", mix.bake.value)
            text = f"Bake at {hot} until two weighings a quarter of an hour apart agree"
            baked = self.add("core-bake", text, mix.bake_time.value, (rammed,), Kind.FIRE, "by weighing")
            ready = self.add(
                "core-cool", "Cores cool in the oven, its door open", w.core_cool.value, (baked,), Kind.WAIT
            )
        elif self.m.mix.endswith("gassed"):
            ready = self.add("core-gas", f"Gas {what} until it rings, door open", w.gas.value * many, (rammed,))
        else:
            ready = self.add(
                "core-set", "Cores set in their boxes", mix.strip.value, (rammed,), Kind.WAIT, "maker's sheet"
            )
        coat = self.add("core-coat", f"Coat {what}", w.core_coat.value * many, (ready,))
        dry = self.add("core-dry", "The coat dries through", w.coat_dry.value, (coat,), Kind.WAIT)
        self.limits.append(Limit(dry, POUR, w.core_keeps.value, "dry cores have stood so long that they took up damp"))
        return dry

    def _buried(self, k: int) -> str:
        w = self.work
        of = self._of(k)
        dry = self._coated(k)
        litres = self.m.cope_l + self.m.drag_l
        fill = w.loose_fill.value * litres * self.each
        text = f"Rain {mass(self.m.sand_kg)} of dry sand round the foam{of}, shake it down, cover what shows"
        done = self.add(f"bury-{k + 1}", text, fill, (dry,))
        return self._weighted(k, done)

    def _coated(self, k: int) -> str:
        """Foam that the metal burns out is coated first."""
        w, of = self.work, self._of(k)
        text = f"Coat the foam{of} all over, gates and sprue with it"
        coat = self.add(f"coat-{k + 1}", text, w.foam_coat.value * self.each)
        text = f"The coat{of} dries in warm moving air"
        return self.add(f"dry-{k + 1}", text, w.foam_dry.value, (coat,), Kind.WAIT, "by weighing")

    def _mould(self, k: int, cores: str) -> str:
        w, bond = self.work, self.method.mould.bond
        of, pace = self._of(k), w.ram_litre.value if self.choices.ram_min_l is None else self.choices.ram_min_l
        foam = not self.method.pattern.draws and not self.method.pattern.dug
        ready = self._coated(k) if foam else ""
        if bond != "set" and k == 0:
            damp = "Riddle the sand, damp it, prove it in the hand" if self.method.mould.water else "Riddle the sand"
            ready = self.add("temper", damp, w.temper.value, (ready,) if ready else ())
        for half, litres in (("drag", self.m.drag_l), ("cope", self.m.cope_l)):
            after = (ready,) if ready else ()
            minutes = (w.ram_half.value + pace * litres) * self.each
            if bond == "set":
                ready = self._set_half(k, half, minutes, after, litres)
            else:
                sand = litres * self.each
                ready = self.add(f"{half}-{k + 1}", f"Ram the {half}{of}", minutes, after, litres=sand)
        opened = self._opened(k, ready)
        if cores:
            many = self.m.cores * self.each
            what = "the core" if many == 1 else f"{count_words(many)} cores"
            text = f"Set {what}{of if self.apart else ''}, lead the vents out"
            opened = self.add(f"set-{k + 1}", text, w.set_core.value * many, (opened, cores))
        closed = self.add(
            f"close-{k + 1}", f"Blow out loose sand{of}, close it on its pins", w.close.value * self.each, (opened,)
        )
        if bond == "damp" and not self.method.mould.airtight:
            self.limits.append(
                Limit(
                    closed,
                    POUR,
                    w.green_keeps.value,
                    f"the face of the mould{of} dries and crumbles before it is poured",
                )
            )
        return self._weighted(k, closed)

    def _set_half(self, k: int, half: str, minutes: float, after: tuple[str, ...], litres: float) -> str:
        """A half of sand that sets: mixed, rammed while it keeps, left to set."""
        w, of = self.work, self._of(k)
        mix = tables.mix(self.method.mould.mix or "")
        batch = "" if self.each == 1 else ", a batch a mould as it is rammed"
        mixed = self.add(f"mix-{half}-{k + 1}", f"Mix sand for the {half}{of}{batch}", w.mix.value * self.each, after)
        sand = litres * self.each
        rammed = self.add(f"{half}-{k + 1}", f"Ram the {half}{of}", minutes, (mixed,), litres=sand)
        name = mix.name.split(",")[0].lower()
        self.limits.append(
            Limit(
                mixed, rammed, mix.bench_life.value * self.each, f"{name} sand goes off before the {half}{of} is rammed"
            )
        )
        if (self.method.mould.mix or "").endswith("gassed"):
            return self.add(f"gas-{half}-{k + 1}", f"Gas the {half}{of}, door open", w.gas.value * self.each, (rammed,))
        return self.add(
            f"strip-{half}-{k + 1}", f"The {half}{of} sets", mix.strip.value, (rammed,), Kind.WAIT, "maker's sheet"
        )

    def _opened(self, k: int, ready: str) -> str:
        """The pattern out, the gates cut, a clay mould dried."""
        w, of, kind = self.work, self._of(k), self.method.pattern
        last = ready
        if kind.draws or kind.dug:
            how = "Dig the foam out" if kind.dug else "Rap and draw the pattern"
            last = self.add(f"draw-{k + 1}", f"{how}{of}, mend edges", w.draw.value * self.each, (last,))
        last = self.add(
            f"gates-{k + 1}", f"Cut and smooth gates, runner and vents{of}", w.gates.value * self.each, (last,)
        )
        if self.method.mould.airtight:
            text = f"The clay{of} dries until it loses no more weight"
            last = self.add(f"clay-{k + 1}", text, w.clay_dry.value, (last,), Kind.FIRE, "by weighing")
        return last

    def _weighted(self, k: int, ready: str) -> str:
        which = self._of(k).removeprefix(" of") or " it"
        text = f"Set the cup on{which}, covered"
        if self.m.on_end:
            text = f"Clamp{which}, stand it on end, set the cup on, covered"
        elif self.m.add_kg > 0.0:
            text = f"Lay {mass(self.m.add_kg)} on{which} or clamp it, cup on and covered"
        return self.add(f"weight-{k + 1}", text, self.work.weight.value * self.each, (ready,))

    def melted(self, fire: Furnace, fills: int, moulds: int, ready: tuple[str, ...]) -> list[Step]:
        """Fire, pour and after."""
        group, w = melt_group(self.method.metal_id), self.work
        told = "own melts" if fire.learned else ""
        out = [
            Step("light", f"Light the {fire.name.lower()}, charge on its lid", fire.warm_min, (), Kind.FIRE),
            Step("melt", "Charge dry and warm, melt", fire.melt_min, ("light",), Kind.FIRE, told),
            Step("treat", group.treats, group.treat.value, ("melt", *ready)),
        ]
        last = POUR
        seconds = self.m.pour_s * moulds + self._between(moulds)
        pour = max(seconds / 60.0 / fills, 1.0)
        what = "the mould" if moulds == 1 else f"{count_words(moulds)} moulds, the thinnest first"
        out.append(
            Step(POUR, f"Lift and pour {what}" if fills == 1 else "Lift and pour the first fill", pour, ("treat",))
        )
        for n in range(2, fills + 1):
            refill = fire.melt_min + w.refill.value
            out.append(Step(f"melt-{n}", f"Fill {n}: warm metal in, melt", refill, (last,), Kind.FIRE))
            out.append(Step(f"treat-{n}", group.treats, group.treat.value, (f"melt-{n}",)))
            last = f"pour-{n}"
            out.append(Step(last, f"Pour fill {n}", pour, (f"treat-{n}",)))
        hold = group.hold.value + group.treat.value + pour
        self.limits.append(
            Limit("treat", POUR, hold, "the metal has waited hot so long that it has to be treated again")
        )
        out.append(Step("open", "Leave it in the sand", math.ceil(self.m.open_min), (last,), Kind.WAIT, "by section"))
        out.append(Step("shake", "Open and knock out", w.shake.value * self.choices.moulds, ("open",)))
        if self.m.cores:
            many = self.m.cores * self.choices.moulds
            text = "Knock the core out" if many == 1 else f"Knock {count_words(many)} cores out"
            out.append(Step("knock", text, w.knock.value * many, ("shake",)))
        return out

    def _between(self, moulds: int) -> float:
        own = self.choices.between_s
        return (moulds - 1) * (melt().common.between.value if own is None else own)
