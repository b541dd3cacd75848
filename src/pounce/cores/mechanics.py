"""What bears on a core: lift, bearing, bending, sag, balance. Plain formulas, units as the suffixes say.

Sources: buoyancy after Groover (worked examples in the tests); beams under even load after Roark; bearing with a
safety on the strength of the sand, common practice.
"""

from math import pi, sqrt

GRAVITY = 9.81


def lift_n(hollow_mm3: float, core_mm3: float, metal_kgm3: float, sand_kgm3: float) -> float:
    """Newton by which a core is driven up: g (metal put aside - weight of the core); under 0 it sinks."""
    return GRAVITY * 1e-9 * (metal_kgm3 * hollow_mm3 - sand_kgm3 * core_mm3)


def held_under_mm3(area_mm2: float, depth_mm: float) -> float:
    """Volume of metal whose weight does not press on a mouth, for a print closes it: area x depth under the metal's
    top.

    Metal gets under a core only where it wets it: what presses on a drag print's mouth from below is sand.
    """
    return area_mm2 * max(depth_mm, 0.0)


def edge_pressure_kpa(load_n: float, moment_nmm: float, width_mm: float, length_mm: float, safety: float) -> float:
    """Greatest pressure of a single print on its seat, kPa, with the safety: F/(w L) + 6 M/(w L2), M about its middle.

    (eccentric load on a rectangle, elementary statics)
    """
    if width_mm <= 0.0 or length_mm <= 0.0:
        return float("inf")
    return 1e3 * safety * (load_n / (width_mm * length_mm) + 6.0 * moment_nmm / (width_mm * length_mm**2))


def tip_play_mm(clearance_mm: float, span_mm: float, length_mm: float) -> float:
    """How far the free end of a core held at one end may shift: c (1 + 2 s/L), the play of its print carried on by
    its length.
    """
    return clearance_mm * (1.0 + 2.0 * span_mm / length_mm) if length_mm > 0.0 else float("inf")


def print_for_play_mm(clearance_mm: float, span_mm: float, allowed_mm: float) -> float:
    """Length of the one print that keeps the free end within ``allowed_mm``: ``tip_play_mm`` solved for it; infinite
    where its clearance alone is more.
    """
    left = allowed_mm - clearance_mm
    return 2.0 * clearance_mm * span_mm / left if left > 0.0 else float("inf")


def weight_n(volume_mm3: float, density_kgm3: float) -> float:
    """Weight in newton."""
    return GRAVITY * 1e-9 * density_kgm3 * volume_mm3


def pressure_kpa(load_n: float, area_mm2: float, safety: float) -> float:
    """Pressure of a print on its seat with the safety, kPa; infinite without a seat."""
    return 1e3 * safety * load_n / area_mm2 if area_mm2 > 0.0 else float("inf")


def print_for(load_n: float, width_mm: float, strength_kpa: float, safety: float, prints: int = 2) -> float:
    """Length (mm) of each of so many prints of a width that holds the load on sand of this strength."""
    return 1e3 * safety * load_n / (strength_kpa * width_mm * prints)


def second_moment_mm4(area_mm2: float) -> float:
    """Second moment of area of the round section with this area: pi d^4 / 64."""
    diameter = sqrt(4.0 * area_mm2 / pi)
    return pi * diameter**4 / 64.0


def sag_mm(load_n: float, span_mm: float, area_mm2: float, stiffness_mpa: float, one_end: bool = False) -> float:
    """Sag under an even load: 5 w L^4 / 384 E I on two ends, w L^4 / 8 E I held at one."""
    if span_mm <= 0.0 or area_mm2 <= 0.0:
        return 0.0
    even = load_n / span_mm
    stiff = stiffness_mpa * second_moment_mm4(area_mm2)
    return even * span_mm**4 / (8.0 * stiff) if one_end else 5.0 * even * span_mm**4 / (384.0 * stiff)


def stress_mpa(load_n: float, span_mm: float, area_mm2: float, one_end: bool = False) -> float:
    """Bending stress of the round section under an even load: M over pi d^3 / 32, M = w L^2 / 8 or w L^2 / 2."""
    if span_mm <= 0.0 or area_mm2 <= 0.0:
        return 0.0
    diameter = sqrt(4.0 * area_mm2 / pi)
    moment = load_n * span_mm / (2.0 if one_end else 8.0)
    return moment / (pi * diameter**3 / 32.0)


def blind_print_mm(hanging_mm3: float, arm_mm: float, area_mm2: float, balance: float) -> float:
    """Length of a single print that holds what hangs out: A L^2 / 2 = balance V x, so L = sqrt(2 balance V x / A)."""
    return sqrt(2.0 * balance * hanging_mm3 * max(arm_mm, 0.0) / area_mm2) if area_mm2 > 0.0 else 0.0


def chaplet_head_mm(load_n: float, strength_kpa: float) -> float:
    """Diameter of the round head that carries a load on sand of this strength."""
    return sqrt(4.0 * max(load_n, 0.0) / (pi * strength_kpa * 1e-3))
