"""The proof on random parts and random choices, held against a push-out by the solid library: what is proved free lets
both halves of the sand go, and what is said to hold sand does hold some.
"""

import numpy as np

from pounce.job import edits
from pounce.job.core_edits import set_cores
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.proof.values import Verdict
from pounce.route.opening import with_model
from pounce.route.pipeline import Pipeline
from pounce.route.proof import as_rammed
from pounce.route.stops import PATTERN, PROOF
from pounce.stock.values import Draft, Fill
from tests.conftest import law, model_of
from tests.laws.test_random_parts import random_part
from tests.unit.proof.test_stop import pushed_out
from tests.worked import UNPOURED

# Sand in the way under this is a crumb (mm3): films, seams and what rapping frees.
CRUMB_MM3 = 100.0


@law(3, 40)
def test_proved_free_means_no_sand_in_the_way_and_held_means_some(seed: int) -> None:
    noise = np.random.default_rng(500 + seed)
    solid = max(random_part(noise).decompose(), key=lambda one: float(one.volume()))
    model = model_of(solid)
    job = edits.set_draw(with_model(Job(), model), (0.0, 0.0, 1.0)).job
    job = edits.set_joint(job, "auto").job
    if noise.random() < 0.5:
        job = add_line(job, Fill()).job
    if noise.random() < 0.5:
        job = add_line(job, Draft()).job
    if noise.random() < 0.4:
        job = set_cores(job, every=True).job
    results = Pipeline().run(job, model, skip=UNPOURED | {PATTERN.id})
    proof, seen = results.need(PROOF), as_rammed(results)
    assert seen.part is not None and seen.parting is not None and proof.closed
    if not seen.parting.joint.level:
        return  # a plane is pushed out here
    in_the_way = pushed_out(seen.part.mesh, seen.parting.height_mm)
    if proof.verdict is not Verdict.LOCKS:
        assert in_the_way < CRUMB_MM3, (seed, in_the_way)
    if proof.held_mm2 > 0.0:
        assert in_the_way > 1.0, (seed, in_the_way, proof.held_mm2)
