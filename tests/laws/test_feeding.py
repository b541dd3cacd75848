"""Laws of feeding on random chunky castings: what is offered cures, in the whole mould, and the mould can be made."""

import manifold3d
import msgspec
import numpy as np

from pounce.base.progress import silent
from pounce.feeding.values import FreezeChoices
from pounce.job import edits
from pounce.job.job import Job
from pounce.route.fed import fed
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import FREEZE, MOULD
from pounce.solid.sound import readied, soundness
from tests.conftest import box, law, model_of

METALS = ("aluminium-silicon", "silicon-bronze", "yellow-brass")


def lumpy(noise: np.random.Generator) -> manifold3d.Manifold:
    """A block with bosses, balls, ribs and holes."""
    x, y, z = noise.uniform(40, 120), noise.uniform(30, 80), noise.uniform(5, 30)
    solid = box(float(x), float(y), float(z))
    for _ in range(int(noise.integers(1, 5))):
        at = [float(noise.uniform(8, x - 8)), float(noise.uniform(8, y - 8)), 0.0]
        kind, wide = int(noise.integers(0, 4)), float(noise.uniform(5, 20))
        if kind == 3:
            solid = solid - manifold3d.Manifold.cylinder(200.0, wide / 2.0, wide / 2.0, 48, True).translate(at)
            continue
        tool = (
            manifold3d.Manifold.cylinder(float(noise.uniform(10, 60)), wide, wide, 48),
            manifold3d.Manifold.sphere(wide, 48),
            box(2.0 * wide, wide, float(noise.uniform(10, 50))),
        )[kind]
        solid = solid + tool.translate(at)
    return solid


@law(3, 40)
def test_what_is_offered_cures_and_can_be_moulded(seed: int) -> None:
    """Forty-four of forty-four did, all but two in one press."""
    model = model_of(lumpy(np.random.default_rng(seed)))
    job = edits.set_metal(with_model(Job(name="Lump"), model), METALS[seed % 3]).job
    job = msgspec.structs.replace(job, freeze=FreezeChoices(cells=200_000))
    bare = Pipeline().run(job, model, silent)
    if "mould" in bare.faults:  # bosses parted over a wider plate, where no gate can lie: told, with what to do
        assert "widest" in bare.faults["mould"].try_this
        return
    first = bare.need(FREEZE)
    for place in first.wanting:
        assert 0.0 < place.void_mm3[0] < place.void_mm3[1] and place.cut_s < place.seconds
    assert bool(first.wanting) == (first.cure is not None)
    made = fed(Pipeline(), job, model, silent)
    done, mould = made.need(FREEZE), made.need(MOULD)
    assert not made.faults and not done.wanting and all(one.holds for one in done.feeders)
    assert (done.void_mm3[1] == 0.0) and bool(done.feeders or mould.chills) == bool(first.wanting)
    assert mould.weights.poured_kg > bare.need(MOULD).weights.poured_kg - 1e-9
    # every former as it is written is one body, closed
    for name, mesh in mould.formers:
        look = soundness(readied(mesh))
        assert (look.bodies, look.odd_edges, look.flat_faces) == (1, 0, 0), name
