"""What Pour has to say: a mould poured in two goes, metal too cold for the last mould, too hot when lifted."""

from dataclasses import dataclass

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import count_words
from pounce.metals.melt import melt, melt_group
from pounce.metals.method import Method
from pounce.pour.changes import ChargeOf, FewerMoulds, TakeCrucible, UnderLid
from pounce.pour.charge import Fills
from pounce.pour.things import Furnace, Things
from pounce.pour.values import Charged, Left, Limit, Pot, PourChoices, Turn
from pounce.pour.window import range_of


@dataclass(frozen=True)
class Known:
    """What is judged."""

    method: Method
    choices: PourChoices
    things: Things
    turns: tuple[Turn, ...]
    fills: Fills
    pot: Pot
    fire: Furnace
    charged: Charged
    left: Left
    lift_c: float
    most_c: float
    larger: str
    ingots_there: int
    broken: tuple[tuple[Limit, float], ...]


def found(k: Known) -> tuple[Finding, ...]:
    """All findings, those that want a decision first."""
    out = [
        *_two_goes(k),
        *_over_range(k),
        *_hot(k),
        *_cold(k),
        *_fire(k),
        *_limits(k),
        *_charge(k),
        *_spare(k),
        *_heavy(k),
    ]
    return tuple(sorted(out, key=lambda one: one.informational))


def _remedy_pot(k: Known) -> list[Remedy]:
    if not k.larger:
        return []
    name = next(one.name for one in k.things.crucibles if one.id == k.larger)
    return [Remedy("larger-crucible", f"Take the {name.lower()}", TakeCrucible(k.larger))]


def _two_goes(k: Known) -> list[Finding]:
    if not k.fills.broken:
        return []
    most = max(one.mould.kg for one in k.turns)
    remedies = _remedy_pot(k) or [
        Remedy("own-crucible", "Borrow or buy a larger crucible and furnace, or pour a smaller casting")
    ]
    return [
        Finding(
            "two-goes",
            Severity.STOP,
            f"One fill of the {k.pot.name.lower()} holds {{holds_kg}}, the mould takes {{mould_kg}}: poured in two "
            "goes it gets a cold shut.",
            noun="two goes",
            figures={"holds_kg": k.pot.holds_kg, "mould_kg": most},
            main="mould_kg",
            remedies=tuple(remedies),
            source="melt-practice",
        )
    ]


def _hot(k: Known) -> list[Finding]:
    if k.lift_c <= k.most_c + 0.5:
        return []
    remedies = [Remedy("under-lid", "Carry it under a lid", UnderLid())] if k.choices.carried == "open" else []
    if k.choices.moulds > 1 and k.fills.many == 1:
        remedies.append(Remedy("fewer-moulds", "One mould fewer from this melt", FewerMoulds(k.choices.moulds - 1)))
    if not remedies:
        remedies.append(Remedy("nearer", "Set the moulds nearer to the furnace, or pour at the cool end"))
    return [
        Finding(
            "lift-hot",
            Severity.WARN,
            "To be hot enough in the mould it would be lifted at {lift_c}, over the {most_c} that this metal "
            "takes without harm.",
            noun="lifted",
            figures={"lift_c": k.lift_c, "most_c": k.most_c},
            main="lift_c",
            remedies=tuple(remedies),
            source="melt-practice",
        )
    ]


def _over_range(k: Known) -> list[Finding]:
    """Metal that fills only hotter than it is poured: the mould is at fault, not the fire."""
    first, hottest = k.turns[0].mould, range_of(k.method)[1]
    if first.aim_c <= hottest + 0.5:
        return []
    return [
        Finding(
            "over-range",
            Severity.WARN,
            "It is poured at {aim_c}, over the {hottest_c} that this metal takes well: it gasses and burns in.",
            noun="over",
            figures={"aim_c": first.aim_c, "hottest_c": hottest},
            main="aim_c",
            remedies=(Remedy("fill-easier", "More gates at Mould, or a thicker wall; see Freeze"),),
            source="casting-handbooks",
        )
    ]


def _cold(k: Known) -> list[Finding]:
    cold = [one for one in k.turns if one.cold]
    if not cold:
        return []
    one = cold[0]
    remedies = [Remedy("under-lid", "Carry it under a lid", UnderLid())] if k.choices.carried == "open" else []
    remedies += _remedy_pot(k)
    if k.choices.moulds > 1:
        remedies.append(Remedy("fewer-moulds", "One mould fewer from this melt", FewerMoulds(k.choices.moulds - 1)))
    return [
        Finding(
            "last-cold",
            Severity.WARN,
            f"{one.mould.name} gets its metal at {{at_c}}, under the {{least_c}} that fills it.",
            noun=one.mould.name,
            figures={"at_c": one.at_c, "least_c": one.mould.least_c},
            main="at_c",
            remedies=tuple(remedies),
            source="melt-practice",
        )
    ]


def _fire(k: Known) -> list[Finding]:
    fire = k.fire
    if fire.hottest_c < k.lift_c:
        return [
            Finding(
                "furnace-cool",
                Severity.STOP,
                f"The {fire.name.lower()} reaches {{hottest_c}}, the metal is lifted at {{lift_c}}.",
                noun=fire.name.lower(),
                figures={"hottest_c": fire.hottest_c, "lift_c": k.lift_c},
                main="hottest_c",
                remedies=(Remedy("own-furnace", "Choose a furnace that is hot enough, or a metal that melts cooler"),),
                source="melt-practice",
            )
        ]
    if fire.takes_l < k.fills.pot.brim_l:
        return [
            Finding(
                "furnace-small",
                Severity.WARN,
                f"The {k.pot.name.lower()} does not go into the {fire.name.lower()}, which takes {{takes_mm3}}.",
                noun=fire.name.lower(),
                figures={"takes_mm3": fire.takes_l * 1e6, "pot_mm3": k.fills.pot.brim_l * 1e6},
                main="takes_mm3",
                remedies=(Remedy("own-furnace", "Choose a furnace that takes it, or a smaller crucible"),),
                source="melt-practice",
            )
        ]
    return []


def _limits(k: Known) -> list[Finding]:
    return [
        Finding(
            f"keeps-{limit.first}",
            Severity.WARN,
            f"{limit.text[0].upper()}{limit.text[1:]}: {{over_min}} too long.",
            noun=limit.text.split(" ")[0].capitalize(),
            figures={"over_min": over, "keeps_min": limit.minutes},
            main="over_min",
            remedies=(Remedy("smaller-batches", "Mix smaller batches, or ram with a second pair of hands"),),
            source="bench-practice",
        )
        for limit, over in k.broken
    ]


def _charge(k: Known) -> list[Finding]:
    if k.choices.charge != "turnings":
        return []
    figure = melt_group(k.method.metal_id).loss_turnings
    return [
        Finding(
            "turnings",
            Severity.WARN,
            "Turnings lose {loss_percent} of what goes in, and what clings to them makes gas.",
            noun="Turnings",
            figures={"loss_percent": figure.value},
            main="loss_percent",
            remedies=(Remedy("clean-ingot", "Melt ingot instead", ChargeOf("ingot")),),
            source="melt-handbooks",
        )
    ]


def _spare(k: Known) -> list[Finding]:
    if k.left.moulds <= k.ingots_there:
        return []
    return [
        Finding(
            "ingot-moulds",
            Severity.NOTE,
            f"{{left_kg}} are left over for {count_words(k.left.moulds)} ingot moulds; you have "
            f"{count_words(k.ingots_there)}.",
            noun="left over",
            figures={"left_kg": k.left.kg},
            main="left_kg",
            source="melt-practice",
        )
    ]


def _heavy(k: Known) -> list[Finding]:
    if k.pot.whole_kg <= melt().common.two_men.value:
        return []
    return [
        Finding(
            "two-lift",
            Severity.NOTE,
            "Crucible and metal weigh {whole_kg}: two lift and pour it.",
            noun="two lift",
            figures={"whole_kg": k.pot.whole_kg},
            main="whole_kg",
            source="melt-practice",
        )
    ]
