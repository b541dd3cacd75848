"""What the Cores stop has to say: hollows to decide on, what could not be made, and the checks of every core."""

from dataclasses import replace

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import count_words
from pounce.cores.changes import MakeHollow
from pounce.cores.checks import checks_of, note_of
from pounce.cores.values import HOWS, CoreChoices, CoresResult, Offer
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.solid.hollow import NoWayOut
from pounce.solid.mesh import Floats
from pounce.stock.changes import AddUsual

MOST_OFFERS = 6


def findings_of(
    result: CoresResult,
    troubles: list[tuple[Offer, UserFault]],
    choices: CoreChoices,
    method: Method,
    closed: bool,
    direction: Floats,
    drillable: list[bool] | None = None,
    thin: list[bool] | None = None,
) -> list[Finding]:
    """All findings of the stop, what wants a decision first."""
    if not method.pattern.draws:
        return [note_of("no-core", _UNDRAWN[method.mould.bond], "needs no core")]
    if not closed:
        return [
            Finding(
                "shell-open",
                Severity.WARN,
                "The part's shell is open, so no hollow can be told from the outside.",
                noun="shell is open",
            )
        ]
    none = [False] * len(result.offers)
    found = [*_holes_into(result), *_offers(result, drillable or none, thin or none)]
    numbers = {id(offer): number for number, offer in enumerate(result.offers)}
    for offer, fault in troubles:
        found.append(
            Finding(
                "core-shut" if isinstance(fault, NoWayOut) else "core-failed",
                Severity.WARN,
                f"The {offer.name}: {fault.what} {fault.try_this}".strip(),
                noun=offer.name,
                place_mm=offer.at_mm,
                figures=dict(offer.figures),
                hollow=numbers[id(offer)],
            )
        )
    for index, core in enumerate(result.cores):
        found += [replace(one, core=index) for one in checks_of(core, index, choices, method, direction)]
    if result.on_end and result.cores:
        found.append(
            note_of(
                "on-end",
                "The mould is stood on end before pouring: clamp the flask, pour from what is then the top, "
                "and vent there.",
                "stood on end",
            )
        )
    return sorted(found, key=lambda one: one.informational)


# What makes the hollows of a pattern that nothing draws, by what bonds the sand.
_UNDRAWN = {
    "loose": "This pattern needs no core: loose sand runs into its hollows.",
    "set": "This pattern needs no core: ram the sand into its hollows before it hardens, and fill one too narrow to "
    "ram with core sand first.",
    "rammed": "This pattern needs no core where its hollows can be rammed; fill one too narrow to ram with core sand "
    "first.",
    "damp": "This pattern needs no core where its hollows can be rammed; fill one too narrow to ram with core sand "
    "first.",
}


def lost_findings(places: list[tuple[int, tuple[float, float, float]]]) -> list[Finding]:
    """Places that were pointed at for a core and where nothing hollow lies."""
    return [
        Finding(
            f"no-hollow-{index}",
            Severity.WARN,
            "Nothing hollow lies where a core was asked for. Point at the wall of a bore or a pocket.",
            noun="Nothing hollow",
            place_mm=at,
            remedies=(Remedy("hollow-undo", "Ask no more", MakeHollow(at, "")),),
        )
        for index, at in places
    ]


_MADE = {"sand": "is left to the green sand", "drill": "is filled and drilled", "loose": "is left to a loose piece"}
_OFFERED = {
    "locks": "locks along the draw",
    "slender": "would stand as a slender cone of sand",
    "asked": "was pointed at",
}


def _holes_into(result: CoresResult) -> list[Finding]:
    """Small holes that run into hollows which cores make or may make."""
    into = [offer for offer in result.offers if offer.holes and offer.make in ("", "core")]
    if not into:
        return []
    count, limit = sum(offer.holes for offer in into), limits()["bore_solid"]
    noun, it = ("small hole runs", "it") if count == 1 else ("small holes run", "them")
    where = "a hollow" if len(into) == 1 else "hollows"
    return [
        Finding(
            "holes-into-hollows",
            Severity.WARN,
            f"{count_words(count).capitalize()} {noun} into {where}: arms so thin break off a core. "
            f"Cast {it} solid and drill.",
            noun=noun.rpartition(" ")[0],
            place_mm=into[0].at_mm,
            figures={"holes": float(count), "limit_mm": limit.value},
            remedies=(Remedy("fill-holes", f"Fill and mark {it}", AddUsual("fill")),),
            source=limit.source,
        )
    ]


def _offers(result: CoresResult, drillable: list[bool], thin: list[bool]) -> list[Finding]:
    found: list[Finding] = []
    for index, offer in enumerate(result.offers):
        if offer.make == "core" or len(found) >= MOST_OFFERS:
            continue
        figures = offer.figures | {"volume_mm3": offer.volume_mm3, "area_mm2": offer.locked_mm2}
        at = offer.at_mm
        again = Remedy("hollow-undo", "Ask again", MakeHollow(at, ""))
        if offer.make:
            found.append(
                Finding(
                    f"hollow-{index}",
                    Severity.NOTE,
                    f"The {offer.name} {_MADE[offer.make]}.",
                    noun=offer.name,
                    place_mm=offer.at_mm,
                    figures=figures,
                    remedies=(again,),
                    hollow=index,
                )
            )
            continue
        why = _OFFERED[offer.why]
        ways = [Remedy("core-it", "Make a core", MakeHollow(at, "core"))] if offer.volume_mm3 > 0.0 else []
        if drillable[index]:
            drill = Remedy(
                "drill-it", "Cast it solid and drill" if thin[index] else "Fill and drill", MakeHollow(at, "drill")
            )
            ways = [drill, *ways] if thin[index] else [*ways, drill]
        else:
            ways.append(Remedy("loose-it", HOWS["loose"], MakeHollow(at, "loose")))
        ways.append(Remedy("sand-it", "Green sand", MakeHollow(at, "sand")))
        found.append(
            Finding(
                f"hollow-{index}",
                Severity.WARN,
                f"The {offer.name} {why}. "
                + (
                    "A core that thin breaks: cast it solid with a centre mark, and drill it."
                    if thin[index]
                    else "A core can make it."
                ),
                noun=offer.name,
                place_mm=offer.at_mm,
                figures=figures,
                main="volume_mm3" if offer.volume_mm3 > 0.0 else "area_mm2",
                remedies=tuple(ways),
                source=limits()["core_slender"].source,
                hollow=index,
            )
        )
    return found
