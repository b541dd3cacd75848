"""Heat against what is known of it outside the program: exact solutions, Chvorinov's rule, a textbook's plate."""

import math

import numpy as np
import pytest
from scipy.optimize import brentq
from scipy.special import erf, erfc

from pounce.field.arrays import Field, Flags, Numbers
from pounce.field.cells import Cells
from pounce.field.heat import Asked, Cooled, Substance, cooled
from pounce.freeze.heats import Poured, substances

SAND = Substance(0.7, 1600.0 * 1100.0, 1600.0 * 1100.0, 0.0, 0.0, 0.0, 25.0)


def pure(start_c: float) -> Substance:
    """A metal like aluminium that sets at one temperature."""
    return Substance(160.0, 2.9e6, 2.9e6, 1.0e9, 660.0, 660.0, start_c, melts=True)


def run(metal: Flags, step: float, substances: tuple[Substance, ...], **more: float) -> Cooled:
    """Metal (nz, ny, nx) in sand."""
    kinds = np.where(metal, 0, 1).astype(np.int8)
    ones = np.ones(metal.shape, np.float32)
    return cooled(Asked(Cells(np.zeros(3), step, metal.shape), kinds, substances, ones, **more))


def block(sides: tuple[int, int, int], pad: int) -> Flags:
    """A box of cells in sand."""
    out = np.zeros(tuple(n + 2 * pad for n in sides), np.bool_)
    out[tuple(slice(pad, pad + n) for n in sides)] = True
    return out


def last(made: Cooled) -> float:
    return float(np.nanmax(made.solid_s))


@pytest.mark.parametrize("superheat", [0.0, 15.0])
def test_the_front_is_where_neumann_and_schwarz_put_it(superheat: float) -> None:
    """Metal at x > 0 against sand at x < 0 (Neumann about 1860, for two bodies Schwarz 1931): the interface keeps its
    temperature and the front goes as 2 lambda sqrt(a t).
    """
    m = pure(660.0 + max(superheat, 1e-3))
    a = m.conducts / m.solid_heat
    ratio = math.sqrt(m.conducts * m.solid_heat / (SAND.conducts * SAND.solid_heat))

    def interface(x: float) -> float:
        # what the sand takes is what the solid brings: (Ti - T0)/ratio = (Tm - Ti)/erf(x)
        return float((660.0 * ratio + 25.0 * erf(x)) / (ratio + erf(x)))

    def misfit(x: float) -> float:
        own = m.solid_heat * (660.0 - interface(x)) / (m.latent * math.sqrt(math.pi)) * math.exp(-x * x) / erf(x)
        liquid = m.solid_heat * superheat / (m.latent * math.sqrt(math.pi)) * math.exp(-x * x) / erfc(x)
        return float(own - liquid - x)

    x = brentq(misfit, 1e-4, 2.0)
    step, sand = 1.0, 60
    metal = np.zeros((1, 1, sand + 400), np.bool_)
    metal[:, :, sand:] = True
    made = run(metal, step, (m, SAND), until_s=400.0, growth=0.02)
    for depth in (4, 7):
        at = (depth + 1) * step * 1e-3  # a cell is solid when the front leaves it
        told = at * at / (4.0 * a * x * x)
        # the front within 2 % is its time within 4 %
        assert float(made.solid_s[0, 0, sand + depth]) == pytest.approx(told, rel=0.04)


def test_sand_alone_takes_heat_as_a_half_space_does() -> None:
    """T = Ti + (T0 - Ti) erfc(x/2 sqrt(a t)) (Carslaw and Jaeger), beside metal that holds all heat."""
    m = Substance(1e5, 1e12, 1e12, 0.0, 0.0, 0.0, 600.0, melts=True)
    metal = np.zeros((1, 1, 80), np.bool_)
    metal[:, :, :2] = True
    made = cooled(
        Asked(
            Cells(np.zeros(3), 1.0, metal.shape),
            np.where(metal, 0, 1).astype(np.int8),
            (m, SAND),
            np.ones(metal.shape, np.float32),
            until_s=100.0,
            watched=metal,
        )
    )
    x = (np.arange(2, 60) - 1.5) * 1e-3
    told = 25.0 + 575.0 * erfc(x / (2.0 * math.sqrt(SAND.conducts / SAND.solid_heat * 100.0)))
    assert np.abs(made.end_c[0, 0, 2:60] - told).max() < 6.0


def test_times_go_as_the_square_of_the_modulus_and_nothing_is_lost() -> None:
    """Chvorinov 1940: t = B (V/A)^2."""
    m = Substance(150.0, 2.84e6, 2.8e6, 1.0e9, 555.0, 615.0, 720.0, melts=True)
    over = []
    for side, cells, pad in ((20.0, 12, 15), (40.0, 16, 20), (80.0, 24, 30)):
        made = run(block((cells,) * 3, pad), side / cells, (m, SAND))
        over.append(last(made) / (side / 6.0) ** 2)
        assert made.energy_error < 1e-4
    assert max(over) / min(over) < 1.06


def test_of_one_modulus_the_plate_holds_out_longest_and_the_ball_shortest() -> None:
    """Textbooks: sand heats round a flat wall from one side only, a corner's spreads (from memory)."""
    m = Substance(150.0, 2.84e6, 2.8e6, 1.0e9, 555.0, 615.0, 720.0, melts=True)
    z, y, x = np.meshgrid(*(np.arange(56) - 27.5,) * 3, indexing="ij")
    ball = x * x + y * y + z * z < 15.0**2  # modulus 5 cells
    cube = block((30, 30, 30), 13)
    bar = np.zeros((46, 46, 3), np.bool_)
    bar[13:33, 13:33] = True
    plate = np.zeros((36, 3, 3), np.bool_)
    plate[13:23] = True
    times = [last(run(one, 1.0, (m, SAND))) for one in (ball, cube, bar, plate)]
    assert times == sorted(times) and times[-1] / times[0] < 2.2


def test_a_textbook_plate_of_steel_sets_in_its_time_and_its_feeder_after_it() -> None:
    """Groover, Fundamentals of Modern Manufacturing (recalled): a steel plate 75 x 125 x 20 mm in 1.6 min; a round
    feeder with H = D = 47 mm in 2.0. The table's green sand is set by the plate; the feeder, being round, gives
    heat to more sand than Chvorinov's rule knows of.
    """
    steel = substances(Poured("carbon-steel", "green-sand", 1550.0))
    plate = last(run(block((8, 30, 50), 14), 2.5, steel)) / 60.0
    assert plate == pytest.approx(1.6, rel=0.1)
    y, x = np.meshgrid(np.arange(52) - 25.5, np.arange(52) - 25.5, indexing="ij")
    feeder = np.zeros((52, 52, 52), np.bool_)
    feeder[16:36] = np.hypot(x, y) < 10.0
    held = last(run(feeder, 2.35, steel)) / 60.0
    assert plate * 0.85 < held < 2.0 * 1.2


def test_a_finer_grid_changes_little_and_a_symmetric_part_has_a_symmetric_field() -> None:
    m = Substance(150.0, 2.84e6, 2.8e6, 1.0e9, 555.0, 615.0, 720.0, melts=True)

    def tee(times: int) -> Flags:
        out = np.zeros((24 * times, 30 * times, 30 * times), np.bool_)
        cut = [slice(9 * times, 12 * times), slice(8 * times, 22 * times), slice(8 * times, 22 * times)]
        out[tuple(cut)] = True
        out[12 * times : 18 * times, 13 * times : 17 * times, 8 * times : 22 * times] = True
        return out

    found = [run(tee(n), 2.0 / n, (m, SAND)) for n in (1, 2, 3)]
    times = [last(one) for one in found]
    assert abs(times[2] - times[1]) < abs(times[1] - times[0]) + 0.1 and times[2] == pytest.approx(times[1], rel=0.04)
    field: Field = found[1].near_s
    assert np.nanmax(np.abs(field - field[:, ::-1])) < 2e-3 * times[1]
    assert np.nanmax(np.abs(field - field[:, :, ::-1])) < 2e-3 * times[1]


def test_beside_a_chill_it_sets_first() -> None:
    alloy = substances(Poured("aluminium-silicon", "green-sand", 720.0))
    kinds: Numbers = np.ones((30, 34, 40), np.int8)
    kinds[10:20, 10:24, 10:30] = 0
    kinds[10:20, 10:24, 4:10] = 3
    made = cooled(Asked(Cells(np.zeros(3), 2.0, kinds.shape), kinds, alloy, np.ones(kinds.shape, np.float32)))
    assert float(made.near_s[15, 17, 10]) < 0.6 * float(made.near_s[15, 17, 29])
    hot = np.unravel_index(int(np.nanargmax(np.where(kinds == 0, made.near_s, np.nan))), kinds.shape)
    assert hot[2] > 20 and made.energy_error < 1e-4
    alone = cooled(
        Asked(
            Cells(np.zeros(3), 2.0, kinds.shape),
            np.where(kinds == 3, 1, kinds).astype(np.int8),
            alloy,
            np.ones(kinds.shape, np.float32),
        )
    )
    assert float(np.nanmax(made.near_s)) < 0.9 * float(np.nanmax(np.where(kinds == 0, alone.near_s, np.nan)))
