"""The metal and method stop: from the choices to contraction, draft asked and what the metal wants."""

from dataclasses import dataclass

import msgspec

from pounce.base.finding import Finding, Severity
from pounce.metals import contraction, tables

VERSION = 1


class MethodChoices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What the user chose. None for contraction or draft means: the table's figure."""

    metal: str = "aluminium-silicon"
    mould: str = "green-sand"
    pattern: str = "printed-filament"
    contraction_percent: float | None = None
    stated: contraction.Stated = "casting"
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
    findings: tuple[Finding, ...]

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
        else contraction.restate(metal.contraction.value, "casting", choices.stated)
    )
    casting_factor = contraction.factor(value, choices.stated)
    full = casting_factor
    if choices.pattern == "metal-from-master":
        master = tables.metal(choices.master_metal or choices.metal)
        full *= contraction.factor(master.contraction.value)
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
        findings=tuple(_findings(choices, metal, kind, value, casting_factor)),
    )


def _findings(
    choices: MethodChoices,
    metal: tables.Metal,
    kind: tables.PatternKind,
    value: float,
    casting_factor: float,
) -> list[Finding]:
    found: list[Finding] = []
    figure = metal.contraction
    on_casting = contraction.percent(casting_factor)
    if not figure.low - 1e-9 <= on_casting <= figure.high + 1e-9:
        found.append(
            Finding(
                "contraction-outside-range",
                Severity.WARN,
                f"This contraction lies outside the table's {figure.low:g} to {figure.high:g} % for {metal.name.lower()}.",
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
    if choices.mould == "loose-sand" and kind.draws:
        found.append(
            Finding(
                "loose-sand-holds-nothing",
                Severity.STOP,
                "Loose dry sand falls in when a pattern is drawn from it. It serves a foam that is burned out.",
                noun="Loose dry sand",
                source="sand-handbooks",
            )
        )
    for caution in (*metal.cautions[1:], *kind.cautions):
        found.append(Finding("caution", Severity.NOTE, caution, source="casting-handbooks"))
    return found
