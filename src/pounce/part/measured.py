"""A part that has no model: a plain solid from measures taken with rule, calipers and scale."""

import manifold3d
import msgspec
import numpy as np

from pounce.base.errors import UserFault
from pounce.part.measures import Measures
from pounce.part.model import Body, Model
from pounce.solid import boolean
from pounce.solid.mesh import Floats

LEAST_MM, MOST_MM = 1.0, 3000.0
ROUND = 96
# Shapes that have a wall, and so may take it from the weight.
WALLED = ("tube", "tray", "angle")


def measured_model(asked: Measures, density_kg_m3: float) -> tuple[Model, Measures]:
    """The model these measures make, standing on z = 0, and the measures with the wall that was used.

    ``density_kg_m3`` of what was weighed. UserFault for measures that make no body.
    """
    for name, value in (("length", asked.long_mm), ("width", asked.wide_mm), ("height", asked.high_mm)):
        if not LEAST_MM <= value <= MOST_MM:
            raise UserFault(f"A {name} of {value:g} mm cannot be used.", f"Give {LEAST_MM:g} to {MOST_MM:g} mm.")
    used = asked
    if asked.shape in WALLED and asked.wall_mm <= 0.0:
        if asked.weight_kg <= 0.0:
            raise UserFault("A wall was not measured, nor a weight to work it out from.", "Give one of the two.")
        used = msgspec.structs.replace(asked, wall_mm=_wall_by_weight(asked, asked.weight_kg / density_kg_m3 * 1e9))
    solid = _solid(used)
    mesh = boolean.bare_mesh(boolean.checked(solid, "Building the part from its measures"))
    body = Body(used.name, mesh, True, np.zeros((0, 2, 3)))
    return Model(used.name, "measures", "measures", "mm", (body,), ()), used


def _wall_by_weight(asked: Measures, wanted_mm3: float) -> float:
    """The wall at which the body holds this much, by halving."""
    low, high = 0.1, _most_wall(asked)

    def holds(wall: float) -> float:
        return float(_solid(msgspec.structs.replace(asked, wall_mm=wall)).volume())

    if not holds(low) <= wanted_mm3 <= holds(high):
        raise UserFault(
            "No wall gives that weight at these sizes.", "Weigh and measure again, or choose another shape or metal."
        )
    while high - low > 1e-4:
        middle = (low + high) / 2.0
        low, high = (middle, high) if holds(middle) < wanted_mm3 else (low, middle)
    return (low + high) / 2.0


def _most_wall(asked: Measures) -> float:
    if asked.shape == "tube":
        return asked.long_mm / 2.0 - 0.05
    if asked.shape == "tray":
        return min(asked.long_mm / 2.0, asked.wide_mm / 2.0, asked.high_mm) - 0.05
    return min(asked.long_mm, asked.high_mm) - 0.05


def _solid(asked: Measures) -> boolean.Solid:
    m3 = manifold3d.Manifold
    long, wide, high, wall = asked.long_mm, asked.wide_mm, asked.high_mm, asked.wall_mm
    if asked.shape in WALLED and not 0.0 < wall <= _most_wall(asked) + 1e-9:
        raise UserFault(f"A wall of {wall:g} mm does not fit these sizes.", f"Give up to {_most_wall(asked):.1f} mm.")
    if asked.shape in ("round", "tube"):
        made = m3.cylinder(high, long / 2.0, long / 2.0, ROUND)
        if asked.shape == "tube":
            made = made - m3.cylinder(high + 2.0, long / 2.0 - wall, long / 2.0 - wall, ROUND).translate(
                [0.0, 0.0, -1.0]
            )
    elif asked.shape == "tray":
        inner = m3.cube([long - 2.0 * wall, wide - 2.0 * wall, high], True).translate([0.0, 0.0, high / 2.0 + wall])
        made = m3.cube([long, wide, high], True).translate([0.0, 0.0, high / 2.0]) - inner
    elif asked.shape == "angle":
        foot = m3.cube([long, wide, wall], True).translate([0.0, 0.0, wall / 2.0])
        made = foot + m3.cube([wall, wide, high], True).translate([-(long - wall) / 2.0, 0.0, high / 2.0])
    elif asked.shape == "outline":
        made = _sketched(asked.points).extrude(high)
    else:
        made = m3.cube([long, wide, high], True).translate([0.0, 0.0, high / 2.0])
    for x, y, width in asked.holes:
        if not 0.0 < width <= MOST_MM:
            raise UserFault(f"A hole of {width:g} mm cannot be used.", "Give its place from the middle and its width.")
        made = made - m3.cylinder(high + 2.0, width / 2.0, width / 2.0, ROUND // 2).translate([x, y, -1.0])
    return made


def _sketched(points: tuple[tuple[float, float], ...]) -> manifold3d.CrossSection:
    if len(points) < 3:
        raise UserFault(
            "A sketched outline wants three corners or more.", "Give them round the part, one after the other."
        )
    loop: Floats = np.array(points, np.float64)
    section = manifold3d.CrossSection([loop], manifold3d.FillRule.NonZero)
    twice = loop[:, 0] * np.roll(loop[:, 1], -1) - np.roll(loop[:, 0], -1) * loop[:, 1]
    area = abs(float(twice.sum())) / 2.0
    if area <= 1.0 or abs(float(section.area()) - area) > 1e-6 * area:
        # a clockwise sketch is as good
        section = manifold3d.CrossSection([np.ascontiguousarray(loop[::-1])], manifold3d.FillRule.NonZero)
    if area <= 1.0 or abs(float(section.area()) - area) > 1e-6 * area:
        raise UserFault("The sketched outline crosses itself.", "Give the corners in order, round the part.")
    low, high = loop.min(axis=0), loop.max(axis=0)
    return section.translate(tuple(-(low + high) / 2.0))
