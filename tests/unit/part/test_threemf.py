"""Writing 3MF leaves the rest of the program as it was."""

import locale
from pathlib import Path

import numpy as np

from pounce.part.formats import read_3mf
from pounce.solid.mesh import Mesh
from pounce.solid.threemf import write_3mf
from tests.conftest import box, mesh_of


def test_writing_leaves_the_locale_alone(tmp_path: Path) -> None:
    before = locale.setlocale(locale.LC_ALL)
    write_3mf(tmp_path / "a.3mf", [("a", mesh_of(box(1, 2, 3)))])
    assert locale.setlocale(locale.LC_ALL) == before


def test_corners_that_single_precision_keeps_apart_stay_apart_in_the_file(tmp_path: Path) -> None:
    """Positions are text: at six decimals two corners a nanometre apart fell together, and halves did not close."""
    near = np.array([[0.0, 0.0, 0.0], [7.6e-7, 0.0, 0.0], [0.0, 10.0, 0.0], [0.0, 0.0, 10.0]])
    faces = np.array([[0, 2, 1], [0, 1, 3], [1, 2, 3], [0, 3, 2]])
    write_3mf(tmp_path / "thin.3mf", [("thin", Mesh.of(near, faces))])
    back = read_3mf(tmp_path / "thin.3mf").bodies[0].vertices
    assert np.array_equal(np.sort(back[:, 0]), np.sort(near[:, 0].astype(np.float32).astype(np.float64)))


def test_round_figures_come_back_round(tmp_path: Path) -> None:
    """A block of 80 x 50 x 30 is one of 80 x 50 x 30 after any number of savings, to the last bit."""
    write_3mf(tmp_path / "block.3mf", [("block", mesh_of(box(80, 50, 30)))])
    assert np.array_equal(np.ptp(read_3mf(tmp_path / "block.3mf").bodies[0].vertices, axis=0), [80.0, 50.0, 30.0])
