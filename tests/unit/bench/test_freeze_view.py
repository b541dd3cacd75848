"""The metal cut open in bands: what each moment shows, and the scale beside it."""

from types import SimpleNamespace

import numpy as np
import pytest

from pounce.bench.freeze.scale import Telling, colours
from pounce.bench.view3d.asks import Told
from pounce.bench.view3d.freezeview import FreezeScene, isolines
from pounce.feeding.values import Cutaway
from pounce.freeze.bands import BANDS, LIQUID, SET, tones


@pytest.fixture
def scene() -> FreezeScene:
    """Two triangles: the corners of one set after 10 to 30 s and fill after 1 s, of the other after 90 and 3."""
    corners = np.array([[[0, 0, 0], [1, 0, 0], [0, 1, 0]], [[2, 0, 0], [3, 0, 0], [2, 1, 0]]], np.float32)
    normals = np.tile(np.array([0.0, 0.0, 1.0], np.float32), (2, 3, 1))
    sets, fills = np.array([[10, 20, 30], [90, 90, 90]], np.float32), np.array([[1, 1, 1], [3, 3, 3]], np.float32)
    cut = Cutaway(corners, normals, sets, fills, np.array([[0.0, 0, 0], [3, 1, 0]]), 0.0)
    return FreezeScene(SimpleNamespace(cutaway=cut), 1.0)  # type: ignore[arg-type]


def tone(scene: FreezeScene, corner: int) -> tuple[int, ...]:
    """The colour that a corner is drawn in, as bytes."""
    mapper = scene.actor.GetMapper()
    value = mapper.GetInput().GetPointData().GetScalars().GetTuple1(corner)
    rgb = [0.0, 0.0, 0.0]
    mapper.GetLookupTable().SetRange(*mapper.GetScalarRange())
    mapper.GetLookupTable().GetColor(value, rgb)
    return tuple(round(255 * part) for part in rgb)


def test_nine_bands_from_the_first_to_the_last(scene: FreezeScene) -> None:
    bands = [tuple(np.rint(255 * one).astype(int).tolist()) for one in tones()]
    assert tone(scene, 0) == bands[1] and tone(scene, 2) == bands[3] and tone(scene, 4) == bands[BANDS - 1]
    scene.tell(Told(fills=True))
    assert tone(scene, 0) == bands[3] and tone(scene, 4) == bands[BANDS - 1]


def test_at_a_moment_it_is_set_or_liquid(scene: FreezeScene) -> None:
    """Filling is the other way round: what the metal has reached is liquid."""
    scene.tell(Told(at_s=25.0))
    assert [tone(scene, k) for k in (0, 1, 2, 4)] == [SET, SET, LIQUID, LIQUID]
    scene.tell(Told(at_s=95.0))
    assert tone(scene, 4) == SET
    scene.tell(Told(fills=True, at_s=2.0))
    assert tone(scene, 0) == LIQUID and tone(scene, 4) == SET
    scene.tell(Told())
    assert tone(scene, 4) == tuple(np.rint(colours()[-1]).astype(int).tolist())
    assert Telling("sets", 90.0).at_s is None


def test_lines_between_bands_lie_where_the_figure_passes_them() -> None:
    """Over the unit triangle of x the level 0.25 is the line x = 0.25 from its lower to its slanted side."""
    corners = np.array([[[0.0, 0, 0], [1, 0, 0], [0, 1, 0]]])
    (line,) = isolines(corners, corners[:, :, 0], 0.25)
    assert sorted(np.round(line, 9).tolist()) == [[0.25, 0.0, 0.0], [0.25, 0.75, 0.0]]
    assert isolines(corners, corners[:, :, 0], 1.5).shape == (0, 2, 3)


def test_at_a_moment_one_line_parts_what_is_set(scene: FreezeScene) -> None:
    def many() -> int:
        return int(scene.between.GetMapper().GetInput().GetNumberOfLines())

    scene.tell(Told(at_s=25.0))
    assert many() == 1
    scene.tell(Told(at_s=60.0))
    assert many() == 0
    scene.tell(Told())
    assert many() == 2  # bands end at 10 s, in its corner, and at 20 s; the other triangle is of one time
