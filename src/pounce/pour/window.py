"""How hot each mould is poured: the metal's range, narrowed by the thinnest wall, the school, foam, and what the
filling of the mould itself asks.
"""

from dataclasses import dataclass

from pounce.metals.heat import heat
from pounce.metals.melt import melt
from pounce.metals.method import Method
from pounce.pour.values import School


@dataclass(frozen=True)
class Window:
    """From, to and the aim between, and the least that fills, C."""

    low_c: float
    high_c: float
    aim_c: float
    least_c: float


def share_of(wall_mm: float, least_mm: float, school: School) -> float:
    """Where in the metal's range it is aimed, 0 cool to 1 hot: by the school, else by the thinnest wall over the
    metal's least, straight between the table's thin and thick.
    """
    c = melt().common
    if school == "cool":
        return c.cool_share.value
    if school == "hot":
        return c.hot_share.value
    ratio = wall_mm / least_mm
    thin, thick = c.thin.value, c.thick.value
    at = min(max((ratio - thin) / (thick - thin), 0.0), 1.0)
    return c.hot_share.value + at * (c.cool_share.value - c.hot_share.value)


def wall_of(method: Method, wall_mm: float | None) -> float:
    """The thinnest wall (mm); a part without one, a lump, counts as thick."""
    return method.metal.least_wall.value * melt().common.thick.value if wall_mm is None else wall_mm


def range_of(method: Method) -> tuple[float, float]:
    """The coolest and the hottest that this metal is poured (C); foam that it burns out is asked for more."""
    foam = melt().common.foam_hotter.value if not method.pattern.draws and not method.pattern.dug else 0.0
    return method.metal.pouring.low + foam, method.metal.pouring.high + foam


def aimed_c(method: Method, wall_mm: float | None, school: School) -> float:
    """How hot the metal is to enter the mould (C), unless the user says: by wall, school and foam."""
    low, high = range_of(method)
    share = share_of(wall_of(method, wall_mm), method.metal.least_wall.value, school)
    return float(round(low + share * (high - low)))


def window_of(method: Method, pour_c: float, fills_c: float | None, own: bool) -> Window:
    """The window of a mould about the temperature that its heat was judged at; ``fills_c`` the least that fills it by
    its own filling; ``own`` whether the user asks for just that.
    """
    c = melt().common
    aim = pour_c
    if fills_c is not None and not own:
        # never so cool that its own thin ends stay empty
        aim = max(aim, fills_c + heat().common.hotter.value)
    least = max(aim - c.window.value, method.metal.liquidus.value)
    if fills_c is not None:
        least = max(least, min(fills_c, aim))
    # where nobody filled it in the heat, the cool end of the metal's range stands for it
    fills = method.metal.pouring.low if fills_c is None else fills_c
    return Window(least, aim + c.window.value, aim, min(fills, least))
