"""The metal and method stop: from the choices to contraction, draft asked and what the metal wants."""

import math
from dataclasses import dataclass

import msgspec

from pounce.base.finding import Finding, Remedy, Severity
from pounce.metals import contraction, drafts, tables
from pounce.metals.changes import SetMould, SetPatternKind

VERSION = 2


class MethodChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What the user chose. None for contraction or draft means: the table's figure."""

    metal: str = "aluminium-silicon"
    mould: str = "green-sand"
    pattern: str = "printed-filament"
    contraction_percent: float | None = None
    stated: contraction.Stated = "pattern"
    master_metal: str | None = None
    draft_deg: float | None = None


@dataclass(frozen=True)
class Method:
    """The resolved method.

    ``contraction_percent`` is in the statement ``stated``; ``factor`` is pattern size over part size, and
    already holds the master's contraction where a metal pattern is made from a master, of the metal ``master_id``.
    """

    metal_id: str
    metal: tables.Metal
    mould_id: str
    mould: tables.Mould
    pattern_id: str
    pattern: tables.PatternKind
    contraction_percent: float
    own_contraction: bool
    stated: contraction.Stated
    factor: float
    casting_factor: float
    rule_text: str
    rule_misses_in: float
    required_draft_deg: float
    own_draft: bool
    master_id: str
    master_factor: float
    cautions: tuple[str, ...]
    findings: tuple[Finding, ...]

    @property
    def rammed_factor(self) -> float:
        """What leaves the mould over part: the metal pattern, not its master; an original is 1."""
        return self.factor / self.master_factor

    def draft_for(self, height_mm: float, inside: bool, across_mm: float = math.inf) -> float:
        """Draft (degrees) asked of a wall: the user's own figure wherever it is, else the table's by height and side,
        and by how far off the nearest metal stands that it looks at.
        """
        if self.own_draft or not self.pattern.draws:
            return self.required_draft_deg
        return drafts.asked_deg(height_mm, inside, self.mould_id, self.pattern.draft.value, across_mm)

    @property
    def draft_range_deg(self) -> tuple[float, float]:
        """The least and the most draft asked of any wall."""
        if self.own_draft or not self.pattern.draws:
            return self.required_draft_deg, self.required_draft_deg
        return drafts.range_deg(self.mould_id, self.pattern)

    def mass_kg(self, volume_mm3: float) -> float:
        """Mass of a casting of this volume in the chosen metal."""
        return volume_mm3 * 1e-9 * self.metal.density.value


def resolve(choices: MethodChoices) -> Method:
    """The method for these choices. UserFault for an unknown id or an impossible contraction."""
    metal = tables.metal(choices.metal)
    mould = tables.mould(choices.mould)
    kind = tables.pattern_kind(choices.pattern)
    own = choices.contraction_percent is not None
    value = (
        choices.contraction_percent
        if choices.contraction_percent is not None
        else contraction.restate(metal.contraction.value, "pattern", choices.stated)
    )
    casting_factor = contraction.factor(value, choices.stated)
    again = 1.0
    if choices.pattern == "metal-from-master":
        again = contraction.factor(tables.metal(choices.master_metal or choices.metal).contraction.value)
    full = casting_factor * again
    if choices.pattern == "original-part":
        full = 1.0
    rule_text, misses = contraction.nearest_rule(full)
    draft = kind.draft.value if choices.draft_deg is None else choices.draft_deg
    return Method(
        metal_id=choices.metal,
        metal=metal,
        mould_id=choices.mould,
        mould=mould,
        pattern_id=choices.pattern,
        pattern=kind,
        contraction_percent=value,
        own_contraction=own,
        stated=choices.stated,
        factor=full,
        casting_factor=casting_factor,
        rule_text=rule_text,
        rule_misses_in=misses,
        required_draft_deg=draft if kind.draws else 0.0,
        own_draft=choices.draft_deg is not None,
        master_id=choices.master_metal or choices.metal,
        master_factor=again,
        cautions=cautions_of(metal, mould, kind),
        findings=tuple(_findings(choices, metal, mould, kind, value, casting_factor)),
    )


def _findings(
    choices: MethodChoices,
    metal: tables.Metal,
    mould: tables.Mould,
    kind: tables.PatternKind,
    value: float,
    casting_factor: float,
) -> list[Finding]:
    found: list[Finding] = [*_together(choices, metal, mould, kind)]
    figure = metal.contraction
    as_table = contraction.percent(casting_factor)
    if not figure.low - 1e-9 <= as_table <= figure.high + 1e-9:
        found.append(
            Finding(
                "contraction-outside-range",
                Severity.WARN,
                f"This contraction lies outside the table's {figure.low:g} to {figure.high:g} % for "
                f"{metal.name.lower()}.",
                noun="contraction",
                figures={"contraction_percent": value, "low_percent": figure.low, "high_percent": figure.high},
                main="contraction_percent",
                source=figure.source,
            )
        )
    if choices.pattern == "original-part":
        found.append(
            Finding(
                "original-makes-smaller",
                Severity.WARN,
                "The original serves as it is, so the casting comes out smaller by the contraction.",
                noun="original",
                figures={"contraction_percent": value},
                main="contraction_percent",
                source=figure.source,
            )
        )
    if choices.pattern == "metal-from-master":
        master = tables.metal(choices.master_metal or choices.metal)
        found.append(
            Finding(
                "two-contractions",
                Severity.NOTE,
                f"The master carries two contractions, multiplied: {master.name.lower()} for the pattern, "
                f"{metal.name.lower()} for the casting.",
                noun="two contractions",
                figures={"master_percent": master.contraction.value, "casting_percent": value},
                main="master_percent",
                source=figure.source,
            )
        )
    for caution in cautions_of(metal, mould, kind):
        found.append(Finding("caution", Severity.NOTE, caution, source="casting-handbooks"))
    return found


def cautions_of(metal: tables.Metal, *others: tables.Mould | tables.PatternKind | tables.Mix) -> tuple[str, ...]:
    """Every caution of a metal and of what goes with it, each once, molten metal and damp first."""
    keys = dict.fromkeys([*metal.cautions, *(key for other in others for key in other.cautions)])
    known = tables.cautions()
    first = sorted(keys, key=lambda key: (key != "damp", known[key].topic not in ("heat", "fire")))
    return tuple(known[key].text for key in first)


def _together(
    choices: MethodChoices, metal: tables.Metal, mould: tables.Mould, kind: tables.PatternKind
) -> list[Finding]:
    """What metal, mould and pattern do to each other."""
    found: list[Finding] = []
    if choices.mould == "loose-sand" and kind.draws:
        found.append(
            Finding(
                "loose-sand-holds-nothing",
                Severity.STOP,
                "Loose dry sand falls in when a pattern is drawn from it. It serves a foam that is burned out.",
                noun="Loose dry sand",
                remedies=(Remedy("mould", "Mould in green sand", SetMould("green-sand")),),
                source="sand-handbooks",
            )
        )
    if choices.metal == "magnesium" and mould.bond == "damp":
        found.append(
            Finding(
                "magnesium-in-damp-sand",
                Severity.STOP,
                f"Magnesium takes fire on the water in {mould.name.lower()}. Never pour it there: leave it to "
                "a foundry equipped for it.",
                noun="takes fire",
                source="casting-handbooks",
            )
        )
    if choices.metal == "carbon-steel" and choices.mould in ("fine-clay", "oil-sand"):
        found.append(
            Finding(
                "steel-burns-mould",
                Severity.WARN,
                f"Steel at {metal.pouring.value:.0f} °C burns {mould.name.lower()} away and fuses it on. "
                "Green silica sand, resin or silicate sand stands it.",
                noun="fuses it on",
                figures={"pouring_c": metal.pouring.value},
                remedies=(Remedy("mould", "Mould in silicate sand", SetMould("silicate-sand")),),
                source="sand-handbooks",
            )
        )
    if kind.dug and mould.bond != "set":
        found.append(
            Finding(
                "digs-out-of-soft-sand",
                Severity.STOP,
                f"{mould.name} falls in when foam is dug out of it. A mould that hardens stands: silicate or "
                "resin sand.",
                noun="falls in",
                remedies=(Remedy("mould", "Mould in silicate sand", SetMould("silicate-sand")),),
                source="sand-practice",
            )
        )
    return found if kind.draws or kind.dug else [*found, *_burned_foam(metal, mould)]


def _burned_foam(metal: tables.Metal, mould: tables.Mould) -> list[Finding]:
    """Foam that is left in the sand and burned out of its way."""
    found: list[Finding] = []
    least = tables.limits()["foam_burns"]
    if metal.pouring.value < least.value:
        found.append(
            Finding(
                "foam-does-not-burn",
                Severity.STOP,
                f"{metal.name} at {metal.pouring.value:.0f} °C is too cool to burn foam out of its way: it "
                f"wants over {least.value:.0f} °C. "
                "Draw the pattern instead.",
                noun="too cool",
                figures={"pouring_c": metal.pouring.value, "least_c": least.value},
                remedies=(
                    Remedy("pattern", "Draw the foam", SetPatternKind("foam-drawn")),
                    Remedy("dig", "Dig it out", SetPatternKind("foam-dug-out")),
                ),
                source=least.source,
            )
        )
    if mould.bond in ("damp", "rammed"):
        found.append(
            Finding(
                "foam-in-damp-sand",
                Severity.WARN,
                "Foam that is burned out usually lies in loose dry sand, or in silicate sand: "
                f"{mould.name.lower()} dents it in ramming and "
                "holds its gas.",
                noun="loose dry sand",
                remedies=(Remedy("mould", "Loose dry sand", SetMould("loose-sand")),),
                source="sand-practice",
            )
        )
    return found
