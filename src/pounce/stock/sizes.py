"""Contraction per axis, what is made and what comes out, and the table of main dimensions."""

from dataclasses import dataclass, replace

import numpy as np

from pounce.base.errors import UserFault
from pounce.base.finding import Finding, Severity
from pounce.metals import contraction, tables
from pounce.metals.grades import tolerance_grade
from pounce.metals.method import Method
from pounce.solid.features.values import Feature
from pounce.solid.frame import axis_name
from pounce.solid.mesh import Floats, Mesh
from pounce.stock.values import AxisShrink, Dimension, StockChoices

NAMES = ("x", "y", "z")
WHY = {"core": "a core between holds it back", "flanges": "the sand between two flanges holds it back"}
MOST_ROUNDS = 6
# Ends of a round whose diameters differ by more are drafted, mm.
DRAFTED_MM = 0.02


@dataclass(frozen=True)
class Scales:
    """Along x, y, z: ``casting`` what the casting contracts by, as pattern over casting; ``rammed`` what is rammed up
    over part (1 for an original; the metal pattern where there is a master); ``pattern`` what the maker makes over
    part (a master holds its own metal's contraction too); ``made`` that with a printer's own errors taken in;
    ``boxed`` a core box over part, with the same errors: a sand core is made for the casting, and fits the seat that
    the rammed pattern leaves.
    """

    casting: tuple[float, float, float]
    rammed: tuple[float, float, float]
    pattern: tuple[float, float, float]
    made: tuple[float, float, float]
    boxed: tuple[float, float, float]
    findings: tuple[Finding, ...]

    @property
    def even(self) -> bool:
        """Whether it is the same along all three."""
        return max(self.made) - min(self.made) < 1e-9


def axis_factor(axis: AxisShrink, method: Method) -> float:
    """What the casting contracts by along one axis, as pattern over casting. UserFault for an impossible figure."""
    if axis.own_percent is not None:
        return contraction.factor(axis.own_percent, method.stated)
    # hindered contraction lies near the low end of the table's range
    least = contraction.factor(method.metal.contraction.low)
    return min(least, method.casting_factor) if axis.hindered else method.casting_factor


def scales_for(choices: StockChoices, method: Method, direction: Floats, level: bool) -> Scales:
    """The factors along the part's axes. Where the draw leans or the joint is shaped they are made one (their mean),
    and said so.
    """
    findings: list[Finding] = []
    casting = [axis_factor(axis, method) for axis in choices.axes]
    for name, axis in zip(NAMES, choices.axes, strict=True):
        if axis.hindered and axis.own_percent is None:
            figure = method.metal.contraction
            findings.append(
                Finding(
                    f"hindered-{name}",
                    Severity.NOTE,
                    f"Along {name} {WHY[axis.hindered]}: {{hindered_percent}} in place of {{free_percent}}.",
                    noun=f"Along {name}",
                    figures={
                        "hindered_percent": contraction.percent(axis_factor(axis, method), method.stated),
                        "free_percent": method.contraction_percent,
                    },
                    main="hindered_percent",
                    source=figure.source,
                )
            )
    rammed = [1.0 if method.pattern_id == "original-part" else factor for factor in casting]
    pattern = [factor * method.master_factor for factor in rammed]
    shrink = choices.print_shrink_percent
    if not -5.0 <= shrink <= 5.0 or any(not -5.0 <= axis.bed_percent <= 5.0 for axis in choices.axes):
        raise UserFault("A printer's error of more than 5 % wants mending, not allowing for.", "Measure it again.")
    errors = [1.0] * 3
    if method.pattern.printed:  # the pattern, the master of a metal one, and the core boxes come off the same printer
        errors = [1.0 / (1.0 - shrink / 100.0) / (1.0 + axis.bed_percent / 100.0) for axis in choices.axes]
    uneven = max(np.ptp(pattern), np.ptp(errors)) > 1e-9
    if uneven and not (level and axis_name(direction) is not None):
        one = float(np.mean(pattern))
        pattern, rammed, casting, errors = ([float(np.mean(each))] * 3 for each in (pattern, rammed, casting, errors))
        findings.append(
            Finding(
                "one-contraction",
                Severity.WARN,
                "Different contraction along x, y and z wants a flat joint and a draw along one of them; their mean, "
                "{mean_percent}, is taken.",
                noun="mean",
                figures={"mean_percent": 100.0 * (one - 1.0)},
                main="mean_percent",
            )
        )
    made = [factor * error for factor, error in zip(pattern, errors, strict=True)]
    boxed = [factor * error for factor, error in zip(rammed, errors, strict=True)]
    return Scales(_three(casting), _three(rammed), _three(pattern), _three(made), _three(boxed), tuple(findings))


def _three(values: list[float]) -> tuple[float, float, float]:
    return values[0], values[1], values[2]


def other_scale(choices: StockChoices, scales: Scales) -> tuple[float, ...] | None:
    """Casting over part in the other metal asked about, from the pattern that is rammed; None where none is asked
    about.
    """
    if choices.other_metal is None:
        return None
    metal = tables.metal(choices.other_metal)
    factor = contraction.factor(metal.contraction.value)
    return tuple(rammed / factor for rammed in scales.rammed)


def tolerance_for(size_mm: float, grade: str) -> float | None:
    """Total casting tolerance of a size, mm; None outside the table."""
    table = tables.grades()["tolerance"]
    if size_mm <= table.over or size_mm > table.rows[-1].upto * (1.0 + tables.NOISE_SHARE):
        return None
    return table.at(size_mm, grade)


def dimensions_of(
    part: Mesh,
    body: Mesh,
    features: tuple[Feature, ...],
    changed: dict[int, float],
    ends: dict[int, tuple[float, float]],
    choices: StockChoices,
    method: Method,
    scales: Scales,
) -> tuple[Dimension, ...]:
    """The main dimensions: overall sizes and the largest bores and bosses, alike ones in one line.

    ``wanted`` is the finished part's. ``changed`` holds the diameter (mm) that a line left a round feature at; a
    feature filled has 0 and is left out. ``ends`` the diameters of a drafted one at the joint and at its far end:
    both stand in the table. Pattern sizes are those of the body with all additions.
    """
    grade, known = tolerance_grade(choices.tolerance, method.mould), tables.grades()["tolerance"].grades
    if grade not in known:
        raise UserFault(f"There is no grade '{grade}'.", f"Choose {known[0]} to {known[-1]}.")
    other = other_scale(choices, scales)
    out = []
    for axis in range(3):
        wanted, laid = float(part.size[axis]), float(body.size[axis])
        out.append(_line(f"Overall, {NAMES[axis]}", "overall", wanted, laid, (axis,), grade, scales, other))
    alike: dict[tuple[str, int, int, int, tuple[int, ...]], list[tuple[float, float, float]]] = {}
    for index, feature in enumerate(features):
        wanted = 2.0 * feature.radius_mm
        laid = changed.get(index, wanted)
        if feature.kind in ("bore", "boss") and feature.full and feature.exact and laid > 0.0:
            axes = tuple(k for k in range(3) if abs(float(feature.axis[k])) < 0.9)
            near, far = ends.get(index, (laid, laid))
            alike.setdefault(
                (feature.kind, round(10.0 * wanted), round(10.0 * near), round(10.0 * far), axes), []
            ).append((wanted, near, far))
    for (kind, *_, axes), found in sorted(alike.items(), key=lambda one: -one[1][0][0])[:MOST_ROUNDS]:
        wanted, near, far = (float(value) for value in np.mean(found, axis=0))
        plural = {"bore": "bores", "boss": "bosses"}[kind]
        name = kind.capitalize() if len(found) == 1 else f"{len(found)} {plural}"
        if abs(near - far) < DRAFTED_MM:
            out.append(_line(name, kind, wanted, near, axes, grade, scales, other))
            continue
        # the cutter meets the narrow end of a bore first, the wide end of a boss
        first = min(near, far) if kind == "bore" else max(near, far)
        for where, laid in (("at the joint", near), ("at the far end", far)):
            note = "the cutter meets this" if laid == first else ""
            out.append(replace(_line(f"{name} {where}", kind, wanted, laid, axes, grade, scales, other), note=note))
    return tuple(out)


def _line(
    name: str,
    kind: str,
    wanted: float,
    laid: float,
    axes: tuple[int, ...],
    grade: str,
    scales: Scales,
    other: tuple[float, ...] | None,
) -> Dimension:
    def mean(factors: tuple[float, ...]) -> float:
        return float(np.mean([factors[k] for k in axes]))

    pattern = laid * mean(scales.pattern)
    return Dimension(
        name,
        wanted,
        pattern,
        laid * mean(scales.made),
        laid * mean(scales.rammed) / mean(scales.casting),
        None if other is None else laid * mean(other),
        tolerance_for(laid, grade),
        kind,
        axis=axes[0] if kind == "overall" else None,
    )
