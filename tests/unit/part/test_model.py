"""What a file held: its size, and a digest that tells it from any other."""

from dataclasses import replace

import numpy as np

from pounce.part.model import Body, Model
from pounce.solid.mesh import Mesh
from tests.conftest import box, model_of


def test_size_and_count_over_all_bodies() -> None:
    model = model_of(box(10, 20, 30), box(5, 5, 5).translate([95, 0, 0]))
    assert model.triangles == 24 and model.largest == 100.0


def test_the_digest_is_of_geometry_names_unit_and_mending() -> None:
    one = model_of(box(10, 20, 30))
    assert one.fingerprint() == model_of(box(10, 20, 30)).fingerprint()
    mesh = one.bodies[0].mesh
    moved = np.array(mesh.vertices)
    moved[0, 0] += 1e-9
    others = [
        model_of(box(10, 20, 30.0001)),
        replace(one, name="Other"),
        replace(one, unit="in"),
        replace(one, mended=("closed 1 crack",)),
        replace(one, bodies=(replace(one.bodies[0], name="Lid"),)),
        replace(one, bodies=(Body("Body 1", Mesh.of(moved, mesh.faces), True, np.zeros((0, 2, 3))),)),
        replace(one, bodies=(Body("Body 1", Mesh.of(mesh.vertices, mesh.faces[::-1]), True, np.zeros((0, 2, 3))),)),
    ]
    prints = [one.fingerprint(), *(other.fingerprint() for other in others)]
    assert len(set(prints)) == len(prints) and isinstance(one, Model)
