"""Where the hole of a last place ends up once the casting is machined: bodies in closed form."""

import math

import manifold3d
import numpy as np
import pytest

from pounce.feeding.opens import Lies, added_by, opening, radius_mm
from pounce.route.stops import STOCK
from pounce.solid.features.find import features_of
from pounce.solid.mesh import Floats
from pounce.stock.values import Draft, Fill, Lettering, Machining
from tests.conftest import box, mesh_of
from tests.unit.stock.helpers import stocked


def test_a_ball_of_the_same_volume() -> None:
    assert radius_mm(4.0 / 3.0 * math.pi * 5.0**3) == pytest.approx(5.0)


@pytest.mark.parametrize(
    ("at", "void_mm3", "lies", "face"),
    [
        # a block 60 x 60 x 30 with a bore of 20 through its middle, cast solid there
        ((30.0, 30.0, 15.0), 400.0, Lies.GONE, ""),  # r 4.6, ten from the wall
        ((36.0, 30.0, 15.0), 1000.0, Lies.STOCK, ""),  # r 6.2, four from it
        ((43.0, 30.0, 15.0), 400.0, Lies.OPENS, "the bore"),  # r 4.6, three into the metal
        ((50.0, 30.0, 15.0), 400.0, Lies.WITHIN, ""),
        # near a face that stays as cast: its skin is sound
        ((57.0, 57.0, 15.0), 400.0, Lies.WITHIN, ""),
    ],
)
def test_a_hole_near_a_bore_that_is_cast_solid(
    at: tuple[float, float, float], void_mm3: float, lies: Lies, face: str
) -> None:
    part = mesh_of(box(60, 60, 30) - manifold3d.Manifold.cylinder(32.0, 10.0, 10.0, 64).translate([30.0, 30.0, -1.0]))

    def cut(point: Floats) -> bool:
        return bool(np.all((point > 0.0) & (point < [60.0, 60.0, 30.0])))

    found = opening(part, np.array(at), void_mm3, features_of(part), cut)
    assert found.lies == lies and found.face.startswith(face) and bool(found.face) == (lies == Lies.OPENS)


@pytest.mark.parametrize(("line", "cut"), [("stock", True), ("text", False), ("fill", True), ("draft", False)])
def test_only_what_is_machined_off_again_makes_a_machined_face(line: str, cut: bool) -> None:
    """Metal over a face may be a letter or a draft that stays: a hole under it opens nowhere."""
    plate = box(80, 60, 10) - manifold3d.Manifold.cylinder(20.0, 4.0, 4.0, 64).translate([12.0, 12.0, -5.0])
    added, at = {
        "stock": (Machining((40.0, 30.0, 10.0), own_mm=2.0), (40.0, 30.0, 10.6)),
        "text": (Lettering("I", (40.0, 30.0, 10.0), 20.0, 2.0), (40.0, 30.0, 10.6)),
        "fill": (Fill(at_mm=(8.0, 12.0, 5.0)), (12.0, 12.0, 5.0)),
        "draft": (Draft(degrees=8.0), (80.3, 30.0, 1.0)),
    }[line]
    made = stocked(plate, added, height=0.0).need(STOCK)
    assert not made.lines[0].trouble
    assert added_by(((made.bodies[0], made.bodies[-1]),), np.array(at))
    assert added_by(made.cut_away, np.array(at)) == cut
