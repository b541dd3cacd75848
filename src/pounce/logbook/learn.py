"""What the logbook teaches of this bench: its contraction by metal, mould and kind of section, and the figures that
earlier stops plan with; each beside the table's, with how sure it is.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.special import ndtri

from pounce.logbook.figures import held_before, of_readings
from pounce.logbook.fit import (
    FREE,
    GAP,
    HINDERED,
    NAMES,
    RAPPING,
    SWELL,
    Fitted,
    Prior,
    Sizes,
    fit,
    of_pour,
    off,
    sizes_of,
)
from pounce.logbook.said import Contraction, Estimate, Learned, Odd, PourSays
from pounce.logbook.values import Measure, Pour
from pounce.metals import tables
from pounce.metals.learn import learn, most_percent
from pounce.metals.melt import melt, melt_group
from pounce.metals.tables import Figure, Metal
from pounce.solid.mesh import Floats

# So many odd measures are named: where there are more, the model is.
MOST_ODD: Final = 6


def prior_for(metal: Metal) -> Prior:
    """What is held of a bench that measured nothing: its contraction lies in the table's range as often as the table of
    learning says, and so do rapping, give and gap in theirs.
    """
    c = learn().common
    wide = 2.0 * float(np.abs(_z(c.held.value / 100.0)))
    share = metal.contraction
    less = c.hindered.value * (share.value - share.low)
    mean = [share.value / 100.0, less / 100.0, c.rapping.value, c.swell.value, c.joint_gap.value]
    spread = [
        (share.high - share.low) / 100.0,
        (c.hindered.high - c.hindered.low) * (share.value - share.low) / 100.0,
        c.rapping.high - c.rapping.low,
        c.swell.high - c.swell.low,
        c.joint_gap.high - c.joint_gap.low,
    ]
    sd = np.maximum(np.array(spread) / wide, 1e-6)
    return Prior(np.array(mean), sd, c.pour_scatter.value / 100.0, c.surface.value)


def contraction_of(pours: tuple[Pour, ...], metal_id: str, mould_id: str) -> Contraction:
    """What all pours of this metal in this kind of mould say. UserFault for an unknown metal."""
    metal = tables.metal(metal_id)
    prior, held = prior_for(metal), learn().common.held.value / 100.0
    mine = [pour for pour in pours if pour.metal == metal_id and pour.mould == mould_id and measures_of(pour)]
    lots = [tuple(one for _, one in measures_of(pour)) for pour in mine]
    sizes = sizes_of(lots)
    fitted = fit(sizes, prior)
    says = []
    for k, pour in enumerate(mine):
        found = of_pour(sizes, fitted, k, held)
        assert found is not None, "it has sizes"
        says.append(PourSays(pour.id, pour.job, max(one.pattern_mm for one in lots[k]), _percent(found)))
    hinder = _unit(FREE) - _unit(HINDERED)
    return Contraction(
        metal_id,
        mould_id,
        _percent(fitted.of(_unit(FREE), held)),
        _percent(fitted.of(hinder, held)),
        _percent(fitted.of(_unit(FREE), held, True)),
        fitted.of(_unit(RAPPING), held),
        fitted.of(_unit(SWELL), held),
        fitted.of(_unit(GAP), held),
        tuple(says),
        _odd(mine, sizes, prior, fitted),
        len(sizes.pattern_mm),
        metal.contraction.value,
        metal.contraction.low,
        metal.contraction.high,
        most_percent(metal, metal_id),
    )


def measures_of(pour: Pour) -> list[tuple[int, Measure]]:
    """The measures of a pour that count, with the number of their casting."""
    return [
        (casting.number, one)
        for casting in pour.castings
        for one in casting.measures
        if not one.left_out and one.pattern_mm > 0.0 and one.casting_mm > 0.0
    ]


def _odd(pours: list[Pour], sizes: Sizes, prior: Prior, fitted: Fitted) -> tuple[Odd, ...]:
    """Measures that lie off, the worst first; each with what is learned without it and those before it: a size that is
    far off makes good ones look odd, so they are judged again without it.
    """
    names = [(pour, number, one) for pour in pours for number, one in measures_of(pour)]
    left, out = np.arange(len(names)), list[Odd]()
    while len(out) < MOST_ODD:
        far = off(sizes, prior, fitted)
        worst = int(np.argmax(np.abs(far))) if len(far) else -1
        if worst < 0 or abs(far[worst]) < learn().common.outlier.value:
            break
        pour, number, one = names[int(left[worst])]
        keep = np.arange(len(left)) != worst
        left = left[keep]
        sizes = Sizes(
            sizes.pattern_mm[keep], sizes.casting_mm[keep], sizes.rows[keep], sizes.sd[keep], sizes.pour[keep]
        )
        fitted = fit(sizes, prior)
        out.append(Odd(pour.id, pour.job, number, one.name, float(far[worst]), 100.0 * float(fitted.mean[FREE])))
    return tuple(out)


# --- figures that are read once a pour -------------------------------------------------------------------------------


@dataclass(frozen=True)
class _Read:
    """A figure that is read: how it is called, its unit, its table, what a pour says of it."""

    key: str
    name: str
    unit: str
    table: Callable[[str], Figure]
    of: Callable[[Pour], float | None]
    by_metal: bool = True
    digits: int = 1


def _loss_table(charge: str) -> Callable[[str], Figure]:
    return lambda metal: {"scrap": melt_group(metal).loss_scrap, "turnings": melt_group(metal).loss_turnings}.get(
        charge, melt_group(metal).loss_ingot
    )


def _loss(charge: str) -> Callable[[Pour], float | None]:
    return lambda pour: pour.loss_percent if (pour.charge or "ingot") == charge else None


def _share(pour: Pour) -> float | None:
    """What of the furnace's heat reached the metal, %."""
    if not pour.heat_mj or not pour.furnace_kw or not pour.melt_min:
        return None
    return 100.0 * pour.heat_mj * 1e6 / (1000.0 * pour.furnace_kw * 60.0 * pour.melt_min)


def _share_table(_metal: str) -> Figure:
    own = melt().common.efficiency
    as_percent = {"value": 100.0 * own.value, "low": 100.0 * own.low, "high": 100.0 * own.high}
    return Figure(**as_percent, unit="%", source=own.source, condition=own.condition)


READ: Final = (
    _Read(
        "ram_min_l", "A litre is rammed in", "min", lambda _m: melt().work.ram_litre, lambda p: p.ram_min_l, False, 2
    ),
    _Read("melt_percent", "Of the furnace's heat the metal takes", "%", _share_table, _share, False, 0),
    _Read("loss_ingot", "Lost of ingot", "%", _loss_table("ingot"), _loss("ingot")),
    _Read("loss_scrap", "Lost of scrap", "%", _loss_table("scrap"), _loss("scrap")),
    _Read("loss_turnings", "Lost of turnings", "%", _loss_table("turnings"), _loss("turnings")),
    _Read("left_mm", "Stock left after machining", "mm", lambda _m: learn().common.left, lambda p: p.left_mm, False, 2),
    _Read(
        "growth_percent",
        "A print is larger than drawn by",
        "%",
        lambda _m: learn().common.growth,
        lambda p: p.growth_percent,
        False,
        2,
    ),
)


def figures_of(pours: tuple[Pour, ...], metal_id: str) -> tuple[Learned, ...]:
    """Figures of this bench that were read at least once; those that hang on the metal of this one alone."""
    c = learn().common
    held = c.held.value / 100.0
    out = []
    for one in READ:
        values = [one.of(pour) for pour in pours if not one.by_metal or pour.metal == metal_id]
        readings = [value for value in values if value is not None]
        if readings:
            table = one.table(metal_id)
            found = held_before(table, held, c.worth.value).after(readings).estimate(held)
            out.append(Learned(one.key, one.name, one.unit, found, len(readings), table, one.digits))
    falls = [pour.falls_c_min for pour in pours if pour.metal == metal_id and pour.falls_c_min is not None]
    mine = of_readings(falls, held)
    if mine is not None:
        # no table knows this crucible: its readings stand alone
        out.append(Learned("falls_c_min", "The crucible falls by", "K/min", mine, len(falls), None))
    return tuple(out)


def _percent(share: Estimate) -> Estimate:
    return Estimate(100.0 * share.value, 100.0 * share.sd, 100.0 * share.low, 100.0 * share.high)


def _unit(which: int) -> Floats:
    out = np.zeros(len(NAMES))
    out[which] = 1.0
    return out


def _z(held: float) -> float:
    return float(ndtri(0.5 + held / 2.0))
