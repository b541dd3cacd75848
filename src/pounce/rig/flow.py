"""The figures of a pour: how long, how fast, through what sections. mm, kg, s, m/s."""

import math
from dataclasses import dataclass

G = 9.80665


@dataclass(frozen=True)
class Choke:
    """Seconds to fill, effective head (mm), speed with losses (m/s), flow (mm3/s), section of the choke (mm2)."""

    fill_s: float
    head_mm: float
    speed_m_s: float
    flow_mm3_s: float
    section_mm2: float


def fill_seconds(mass_kg: float, k: float) -> float:
    """t = k sqrt(W): handbooks of casting practice, from memory."""
    return k * math.sqrt(max(mass_kg, 0.0))


def effective_head(head_mm: float, above_mm: float, whole_mm: float) -> float:
    """Effective head of a gate in the joint, h - p^2/(2 c): ``above_mm`` of the cavity over the gate, ``whole_mm`` its
    height (mm). The whole head where nothing stands over the gate.
    """
    if whole_mm <= 0.0 or above_mm <= 0.0:
        return head_mm
    return head_mm - above_mm * above_mm / (2.0 * whole_mm)


def free_speed(head_mm: float) -> float:
    """sqrt(2 g h), Torricelli: m/s under a head in mm."""
    return math.sqrt(2.0 * G * max(head_mm, 0.0) / 1000.0)


def choke(mass_kg: float, density: float, fill_s: float, head_mm: float, loss: float) -> Choke:
    """A = W/(rho t c sqrt(2 g H)): the section that fills ``mass_kg`` of metal of ``density`` (kg/m3) in
    ``fill_s``. ValueError without head or time.
    """
    speed = loss * free_speed(head_mm)
    if speed <= 0.0 or fill_s <= 0.0:
        raise ValueError("a choke needs a head and a time")
    flow = mass_kg / density / fill_s * 1e9
    return Choke(fill_s, head_mm, speed, flow, flow / (speed * 1000.0))


def diameter(section_mm2: float) -> float:
    """Of a round section."""
    return math.sqrt(4.0 * section_mm2 / math.pi)


def taper(foot_mm: float, foot_head_mm: float, top_head_mm: float) -> float:
    """Diameter of a sprue's top: sections go as 1/sqrt(head), so that the falling metal fills it."""
    return foot_mm * math.sqrt(math.sqrt(foot_head_mm / top_head_mm))


def trapezium(section_mm2: float, wide_over_high: float, draft_deg: float) -> tuple[float, float]:
    """Width at the joint and height of a runner of that section whose sides lean by the draft."""
    high = math.sqrt(section_mm2 / (wide_over_high - math.tan(math.radians(draft_deg))))
    return wide_over_high * high, high
