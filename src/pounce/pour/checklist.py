"""What is looked at before the pour: lines of this job and no others."""

from dataclasses import dataclass

from pounce.base.units import count_words, mass, quantity
from pounce.metals import tables
from pounce.metals.melt import melt
from pounce.metals.method import Method
from pounce.pour.things import Ingot
from pounce.pour.values import Check, Left, Pot
from pounce.rig.values import Stands

# Metals of this heat and over wear leather and a hood; under it a shield and gloves do.
GREAT_HEAT_C = 600.0


@dataclass(frozen=True)
class Looked:
    """What the list hangs on: the mould's vents, cores, weight, clamps and what it stands in; the crucible; what is
    left over; own weights that hold the cope (kg).
    """

    method: Method
    cores: int
    mix: str
    vents: int
    add_kg: float
    moulds: int
    on_end: bool
    stands: Stands
    poured_kg: float
    pot: Pot
    left: Left
    ingot: Ingot
    lift_c: float
    fills: int
    pieces: bool
    weights: tuple[float, ...]


def checks_of(k: Looked) -> tuple[Check, ...]:
    """The list, in the order in which it is walked."""
    rows = [*_mould(k), *_metal(k), *_way(k)]
    return tuple(Check(key, text, why) for key, text, why in rows)


Row = tuple[str, str, str]


def _mould(k: Looked) -> list[Row]:
    method, out = k.method, []
    foam = not method.pattern.draws and not method.pattern.dug
    each = " of each mould" if k.moulds > 1 else ""
    if k.cores:
        mix = tables.mix(k.mix)
        how = "no weight lost between two weighings" if mix.baked else "hard all over, not cool to the cheek"
        what = "The core" if k.cores == 1 else "Both cores" if k.cores == 2 else f"All {count_words(k.cores)} cores"
        out.append(("cores", f"{what} dry: {how}", "a damp core blows"))
    if k.vents:
        out.append(
            (
                "vents",
                f"{count_words(k.vents).capitalize()} vents{each} open, no sand in them",
                "air and gas leave by them",
            )
        )
    if method.mould.bond != "loose":
        out.append(("loose", "No loose sand in the mould: looked at with a lamp", "it washes into the casting"))
        out.append(("pins", "Halves closed on their marks, no gap all round", "a gap runs out"))
    if method.mould.airtight:
        out.append(("clay", "The clay dry through: no weight lost in the last hour", "it holds water long"))
    if method.mould.bond == "damp" and not method.mould.airtight:
        out.append(("damp", "No shining wet place: a squeezed handful breaks clean", "too wet boils"))
    if k.add_kg > 0.0 and not k.on_end:
        own = " and ".join(f"{one:g}" for one in k.weights)
        named = f": {own} kg" if k.weights else ""
        out.append(("weight", f"{mass(k.add_kg)} on the cope{named}, or clamped", "the metal lifts it"))
    if k.on_end:
        out.append(
            (
                "end",
                f"Clamped against {mass(k.add_kg)} before it was stood on end; it does not rock",
                "it is poured upright",
            )
        )
    if k.stands == "jacket":
        out.append(("jacket", "The jacket down to the board all round, snug on the sand", "the flask is off"))
    if k.stands == "block":
        out.append(("block", "Sand banked against the block's joint all round", "nothing else holds a run-out"))
    if foam:
        out.append(("foam", "Foam covered to the cup, its coat dry, nothing beside it that burns", "it flares"))
    out.append(("cup", "The cup clean and covered; whoever pours keeps it full", "a low cup draws air in"))
    return out


def _metal(k: Looked) -> list[Row]:
    out = [("charge", "Charge dry, and warm from the furnace's lid", "damp metal throws the melt out")]
    if k.pieces:
        out.append(
            ("pieces", "Weighed pieces clean: no paint, steel or sealed hollow", "they spoil the metal, or burst")
        )
    tools = "Skimmer and tongs dry and warm" if k.lift_c < GREAT_HEAT_C else "Skimmer, tongs and ring dry, warm, coated"
    out.append(("tools", tools, "damp tools throw metal"))
    if k.left.moulds:
        name = "ingot mould" if k.left.moulds == 1 else "ingot moulds"
        out.append(
            (
                "ingots",
                f"{count_words(k.left.moulds).capitalize()} {name} dry and warm, for {mass(k.left.kg)}",
                "what is left has to go somewhere",
            )
        )
    if k.fills > 1:
        out.append(("refill", "Metal for the next fill warm on the lid, ready to go in", f"{k.fills} fills"))
    out.append(("meter", f"Thermometer ready: lift at {quantity('c_c', k.lift_c)}", "heat is measured"))
    return out


def _way(k: Looked) -> list[Row]:
    hot = k.lift_c >= GREAT_HEAT_C
    dress = "Face shield, leather apron, gauntlets, spats" if hot else "Face shield, gloves, long sleeves"
    out = [
        ("floor", "Dry sand on the floor under mould and way, no bare concrete", "concrete spalls under metal"),
        ("way", "The way to the mould clear, dry, and walked once empty-handed", "no step is looked for"),
        ("dress", dress, "splashes"),
    ]
    if k.pot.whole_kg > melt().common.two_men.value:
        out.append(("second", f"A second person: crucible and metal weigh {mass(k.pot.whole_kg)}", "two lift it"))
    else:
        out.append(("near", "Somebody within call who knows what to do", "nobody pours alone"))
    if k.method.mould.bond == "set" or k.method.pattern_id.startswith("foam-burned"):
        out.append(("air", "Outdoors or doors open, upwind of the mould", "the mould gives off fume"))
    return out


def wrong_of(method: Method) -> tuple[str, ...]:
    """What to do when it goes wrong, in three lines."""
    boil = (
        "Foam flares and spits at first: keep the cup full."
        if not method.pattern.draws and not method.pattern.dug
        else ""
    )
    return (
        "It runs out: stop pouring, stand back, let it set. Throw dry sand on it, never water.",
        "It freezes in the cup: do not push metal after it. Pour the rest into the ingot moulds, and melt it again.",
        f"It boils or spits: stop, step back, let it settle; that mould is lost. {boil}".strip(),
    )
