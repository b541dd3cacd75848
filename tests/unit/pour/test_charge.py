"""Fills and refills by hand, ingots and what is left over, and the window of a mould."""

import msgspec
import pytest

from pounce.base.errors import UserFault
from pounce.metals.melt import melt
from pounce.metals.method import MethodChoices, resolve
from pounce.pour.charge import charged, crucible_for, fills_of, ingot_of
from pounce.pour.things import SAMPLE, Crucible, Ingot, Things
from pounce.pour.values import Mouldful, PourChoices
from pounce.pour.window import aimed_c, range_of, share_of, window_of

AL = "aluminium-silicon"
# holds 1.9360 kg to four fifths, 1.8779 kg beside its heel of 3 %
LITRE = Crucible("litre", "Litre", 1.0, fill=0.8)


def moulds(*kg: float) -> tuple[Mouldful, ...]:
    return tuple(Mouldful(f"Mould {k}", one, 4.0, 700.0, 730.0, 715.0) for k, one in enumerate(kg, 1))


@pytest.mark.parametrize(
    ("kg", "turns", "broken"),
    [
        ((1.0,), (1,), False),
        ((1.0, 0.8), (1, 1), False),
        ((1.0, 0.9), (1, 2), False),
        ((0.9, 0.9, 0.9, 0.9), (1, 1, 2, 2), False),
        ((1.87, 1.87), (1, 2), False),
        ((2.5,), (1,), True),  # two goes
        ((1.0, 2.5, 1.0), (1, 2, 4), True),
    ],
)
def test_fills_by_hand(kg: tuple[float, ...], turns: tuple[int, ...], broken: bool) -> None:
    made = fills_of(LITRE, moulds(*kg), AL)
    assert made.turns == turns and made.broken is broken


def test_the_smallest_crucible_that_does_it_in_one_fill_is_taken() -> None:
    things = Things((Crucible("half", "Half", 0.5), LITRE, Crucible("two", "Two", 2.0)), SAMPLE.furnaces, SAMPLE.ingots)
    assert crucible_for(things, PourChoices(), moulds(0.5), AL).pot.id == "half"
    assert crucible_for(things, PourChoices(), moulds(1.5), AL).pot.id == "litre"
    assert crucible_for(things, PourChoices(), moulds(1.5, 1.5), AL).pot.id == "two"
    # where none holds it all, whole moulds go before few fills
    assert crucible_for(things, PourChoices(), moulds(3.0, 3.0, 3.0), AL).many == 3
    assert crucible_for(things, PourChoices(crucible="half"), moulds(1.5), AL).broken
    with pytest.raises(UserFault, match="no crucible 'cup'"):
        crucible_for(things, PourChoices(crucible="cup"), moulds(1.0), AL)


def test_the_charge_by_hand() -> None:
    """1.28 kg in the mould, 3 % of it heel, 10 % spare, 1.5 % lost: 1.4464/0.985 = 1.4684 kg, five bars of 0.2948."""
    bar = Ingot("bar", "Bar", 110.0, 6)
    made, left = charged(PourChoices(), bar, AL, 1.28, 1, LITRE)
    assert made.kg == pytest.approx(1.28 * 1.13 / 0.985) and made.ingots == 5
    assert made.over_kg == pytest.approx(5 * 0.2948 - made.kg)
    assert left.kg == pytest.approx(5 * 0.2948 * 0.985 - 1.28 * 1.03) and left.moulds == 1
    # pieces that were weighed go in first
    pieces, _ = charged(PourChoices(scrap_kg=(0.5, 0.4)), bar, AL, 1.28, 1, LITRE)
    assert pieces.ingots == 2 and pieces.pieces_kg == pytest.approx(0.9)
    # scrap and turnings lose more, and are weighed, not counted
    turnings, _ = charged(PourChoices(charge="turnings"), bar, AL, 1.28, 1, LITRE)
    assert turnings.kg == pytest.approx(1.28 * 1.13 / 0.85) and turnings.ingots == 0
    # nothing is lost on the way: in = poured + heel + left + burned
    whole = 5 * 0.2948
    assert whole * 0.985 == pytest.approx(1.28 + left.heel_kg + left.kg)


def test_ingots_are_no_larger_than_a_few_go_in() -> None:
    things = Things(SAMPLE.crucibles, SAMPLE.furnaces, (Ingot("big", "Big", 1000.0), Ingot("bar", "Bar", 110.0)))
    assert ingot_of(things, PourChoices(), AL, 1.28).id == "bar"
    assert ingot_of(things, PourChoices(), AL, 40.0).id == "big"
    assert ingot_of(things, PourChoices(ingot="big"), AL, 1.0).id == "big"
    with pytest.raises(UserFault, match="no ingot 'pig'"):
        ingot_of(things, PourChoices(ingot="pig"), AL, 1.0)


def test_the_window_follows_the_thinnest_wall_and_the_school() -> None:
    method = resolve(MethodChoices())
    low, high = method.metal.pouring.low, method.metal.pouring.high
    least = method.metal.least_wall.value
    aims = [aimed_c(method, wall, "by-wall") for wall in (least, 2.0 * least, 3.0 * least, 8.0 * least)]
    assert aims == sorted(aims, reverse=True)
    assert aims[0] == pytest.approx(low + 0.75 * (high - low)) and aims[-1] == pytest.approx(low + 0.25 * (high - low))
    assert aimed_c(method, least, "cool") == aims[-1] and aimed_c(method, 8.0 * least, "hot") == aims[0]
    assert share_of(4.0, 4.0, "by-wall") == melt().common.hot_share.value
    # never so cool that its own filling stops short, unless the user asks for just that
    assert window_of(method, 700.0, 735.0, False).aim_c > 735.0
    assert window_of(method, 700.0, 735.0, True).aim_c == 700.0
    assert window_of(method, 720.0, None, False).low_c == 705.0
    # foam is asked for more
    foam = resolve(msgspec.structs.replace(MethodChoices(), pattern="foam-burned-out"))
    assert range_of(foam) == (low + melt().common.foam_hotter.value, high + melt().common.foam_hotter.value)
    assert aimed_c(foam, least, "by-wall") == pytest.approx(aims[0] + melt().common.foam_hotter.value)
