"""Laws that hold for every part, tried on random ones: areas add up, volume is kept, files measure right."""

from pathlib import Path

import manifold3d
import numpy as np
import pytest

from pounce.job import edits
from pounce.job.pattern_edits import with_word
from pounce.parting.values import State
from pounce.route.build import build
from pounce.route.opening import open_any
from pounce.route.pipeline import Pipeline
from pounce.route.stops import DRAW, PART, PARTING, PATTERN
from tests.conftest import law, mesh_of, write_stl


def random_part(noise: np.random.Generator) -> manifold3d.Manifold:
    """A block with lumps on it and holes through it, turned any way."""
    solid = manifold3d.Manifold.cube((noise.random(3) * 60 + 10).tolist(), True)
    for _ in range(int(noise.integers(1, 6))):
        sides, radius = int(noise.integers(6, 60)), float(noise.random() * 12 + 2)
        tool = (
            manifold3d.Manifold.cylinder(120, radius / 2, radius / 2, sides, True),
            manifold3d.Manifold.sphere(radius, sides),
            manifold3d.Manifold.cube((noise.random(3) * 30 + 2).tolist(), True),
        )[int(noise.integers(3))]
        tool = tool.rotate((noise.integers(0, 4, 3) * 90.0).tolist()).translate((noise.random(3) * 40 - 20).tolist())
        solid = solid - tool if noise.random() < 0.6 else solid + tool
    return solid.rotate((noise.random(3) * 360).tolist()) if noise.random() < 0.5 else solid


@law(5, 80)
def test_any_part_keeps_the_laws(seed: int, tmp_path: Path) -> None:
    noise = np.random.default_rng(seed)
    solid = random_part(noise)
    job, model = open_any(write_stl(tmp_path / "part.stl", mesh_of(solid)))
    job = with_word(edits.set_unit(job, "mm").job, "no-numbers")
    if seed % 2:
        x, y, z = noise.normal(size=3)
        job = edits.set_draw(job, (float(x), float(y), float(z))).job
    results = Pipeline().run(job, model)
    assert not results.faults
    part, parting, pattern = results.need(PART), results.need(PARTING), results.need(PATTERN)
    assert part.volume_mm3 == pytest.approx(solid.volume(), rel=1e-4)
    # areas: clean, tight and locked make up the whole surface, and a joint never frees what no joint frees
    assert parting.clean_mm2 + parting.tight_mm2 + parting.locked_mm2 == pytest.approx(part.area_mm2, rel=1e-9)
    assert parting.locked_mm2 >= parting.locked_any_mm2 - 1e-6 * part.area_mm2
    # a face that draws leans the right way: never back by more than the noise a mesh is forgiven
    drawing = parting.judged.state != State.LOCKED
    assert parting.judged.draft_deg[drawing].min() > -0.55
    # pieces: the scaled part less its holes, each closed, none overlapping the joint
    factor, height = pattern.factor, pattern.height_mm
    holes = sum(np.pi * h.radius_mm**2 * h.depth_mm for piece in pattern.pieces for h in piece.holes)
    total = sum(piece.volume_mm3 for piece in pattern.pieces if piece.role != "follow-board")
    assert part.volume_mm3 * factor**3 - holes * 1.001 <= total * (1 + 1e-9) <= part.volume_mm3 * factor**3 * (1 + 2e-9)
    direction = results.need(DRAW).direction
    for piece in pattern.pieces:
        along = piece.mesh.vertices @ direction
        if piece.role == "cope-half":
            assert along.min() > height - 1e-6
        elif piece.role == "drag-half":
            assert along.max() < height + 1e-6
    manifest = build(results, model, tmp_path / "out")
    for entry in manifest["files"]:
        if "closed" not in entry:
            continue
        if entry["role"] == "former":  # of the mould: closed, and of what the room's own tests say
            assert entry["closed"]
            continue
        meant = next(piece for piece in pattern.pieces if piece.role == entry["role"]).laid
        assert entry["closed"]
        assert entry["size_mm"] == pytest.approx(meant.size.tolist(), abs=0.001)


@law(2, 30)
def test_a_finer_mesh_of_the_same_part_gets_the_same_answer(seed: int, tmp_path: Path) -> None:
    """Cutting every triangle into four changes no shape, so it changes no area by more than half a per cent."""
    solid = random_part(np.random.default_rng(100 + seed))
    answers = []
    for name, shape in (("coarse", solid), ("fine", solid.refine(2))):
        job, model = open_any(write_stl(tmp_path / f"{name}.stl", mesh_of(shape)))
        job = edits.set_height(edits.set_draw(edits.set_unit(job, "mm").job, (0.0, 0.0, 1.0)).job, 1.0).job
        answers.append(Pipeline().run(job, model, until=PARTING).need(PARTING))
    coarse, fine = answers
    whole = coarse.clean_mm2 + coarse.tight_mm2 + coarse.locked_mm2
    for key in ("clean_mm2", "tight_mm2", "locked_mm2", "locked_any_mm2"):
        assert getattr(fine, key) == pytest.approx(getattr(coarse, key), abs=0.005 * whole), key
