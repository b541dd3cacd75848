"""How metal goes into a mould: the table of pouring by the kind of metal, and liquid densities."""

from functools import cache

import msgspec

from pounce.metals.margins import group_of
from pounce.metals.tables import Figure, checked, read


class PouringGroup(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One kind of metal: fill time over the root of mass (s/sqrt(kg)), most speed at the gates (m/s), sections of
    runner and (where they are the choke) gates over the sprue's foot, sand kept round sprue, runner and prints (mm).
    """

    fill: Figure
    gate_speed: Figure
    runner: Figure
    sprue_wall: Figure
    sprue_casting: Figure
    runner_wall: Figure
    print_wall: Figure
    gates: Figure | None = None

    @property
    def pressurised(self) -> bool:
        """Whether the gates are the choke."""
        return self.gates is not None


class PouringCommon(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What goes for every metal; units and conditions stand in the table."""

    loss: Figure
    foot: Figure
    gate_share: Figure
    feeding_share: Figure
    gate_thin: Figure
    gate_of_thin: Figure
    gate_thick: Figure
    gate_wide: Figure
    gate_slim: Figure
    gate_long: Figure
    overrun: Figure
    wide_over_high: Figure
    runner_draft: Figure
    well_over_foot: Figure
    basin_high: Figure
    cup_over_top: Figure
    cup_least: Figure
    weight_factor: Figure
    weight_least: Figure
    heavy: Figure
    vent: Figure
    near_least: Figure
    long_thin: Figure
    layer: Figure
    facing: Figure
    least_head: Figure
    passes: Figure
    gate_print: Figure
    gate_mark: Figure
    gates_between: Figure
    board: Figure
    board_stiffness: Figure
    board_bow: Figure
    batten: Figure
    key: Figure
    key_edge: Figure
    glue_line: Figure
    crater: Figure
    facing_sieve: Figure
    bars_from: Figure
    bars_apart: Figure
    basin_long: Figure
    trap_over_runner: Figure
    sprue_mark: Figure


class Pouring(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The table. ``liquid`` density by metal, kg/m3."""

    light: PouringGroup
    copper: PouringGroup
    iron: PouringGroup
    common: PouringCommon
    liquid: dict[str, Figure]


@cache
def pouring() -> Pouring:
    """The table. ValueError that names the figure which cannot stand."""
    content = read("pouring")
    checked("pouring", content)
    return msgspec.convert(content, Pouring)


def pouring_of(metal_id: str) -> PouringGroup:
    """The kind of metal that this one belongs to. KeyError for a metal that the table does not hold."""
    group: PouringGroup = getattr(pouring(), group_of(metal_id))
    return group


def liquid_density(metal_id: str) -> Figure:
    """Density of the liquid metal, kg/m3. KeyError for a metal that the table does not hold."""
    return pouring().liquid[metal_id]
