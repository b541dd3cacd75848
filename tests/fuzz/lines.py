"""The whole line on random dirty solids with random choices."""

import random

import manifold3d
import numpy as np

from pounce.base.choice import Choice, FigureChoice, Flag, Words
from pounce.base.errors import UserFault, shown
from pounce.job.choose import choose_word
from pounce.job.job import Job
from pounce.part.formats import RawBody
from pounce.part.mending import Notes, mend
from pounce.part.model import Model
from pounce.route.opening import options, with_model
from pounce.route.pipeline import Pipeline
from pounce.route.stops import stops

Solid = manifold3d.Manifold
# Words of choices that take some, and what they are given: sense and nonsense.
SPOKEN = {
    "add": (
        "fill",
        "draft:2",
        "fillets:3",
        "camber:1",
        "machine@0,0,10:2",
        "machine@nan,0,0:1",
        "text@0,0,10:AB",
        "x:1",
    ),
    "core": ("every", "0,0,0", "nan", "1,2"),
    "make": ("hollow", "foam", "bed:120x120", "wood", "rule"),
    "feeder": ("0,0,10:20", "1:2:3"),
    "chill": ("0,0,10:20", "z"),
    "draw": ("+z", "-y", "1,1,0", "0,0,0"),
    "also": (),
    "pair": ("0,0,0/0,0,10", "a"),
}


def solid_of(dice: random.Random) -> Solid:
    """A few random bodies joined and cut."""
    out = _piece(dice)
    for _ in range(dice.randrange(1, 6)):
        other = _piece(dice).translate([dice.uniform(-25, 25) for _ in range(3)])
        out = out + other if dice.random() < 0.6 else out - other
    return out if not out.is_empty() else Solid.cube([20, 20, 20])


def _piece(dice: random.Random) -> Solid:
    kind, size = dice.randrange(4), dice.choice((0.4, 4.0, 20.0, 60.0))
    a, b, c = (size * dice.uniform(0.3, 1.0) for _ in range(3))
    sides = dice.choice((3, 5, 12, 40))
    if kind == 0:
        made = Solid.cube([a, b, c], True)
    elif kind == 1:
        made = Solid.cylinder(a, b / 2, c / 2 * dice.choice((0.0, 0.5, 1.0)), sides, True)
    elif kind == 2:
        made = Solid.sphere(a / 2, sides)
    else:
        ring = manifold3d.CrossSection.circle(a / 8, max(sides // 2, 3)).translate((a / 2, 0))
        made = Solid.revolve(ring, sides)
    return made.rotate([dice.choice((0, 0, 90, dice.uniform(0, 180))) for _ in range(3)])


def dirtied(vertices: np.ndarray, faces: np.ndarray, dice: random.Random) -> tuple[np.ndarray, np.ndarray]:
    """Faces lost, turned, doubled; corners moved; slivers; another copy of it through itself."""
    noise = np.random.default_rng(dice.randrange(1 << 30))
    for _ in range(dice.choice((0, 0, 1, 2))):
        way = dice.randrange(6)
        some = noise.integers(0, max(len(faces), 1), max(len(faces) // 50, 1))
        if not len(faces):
            break
        if way == 0:
            faces = np.delete(faces, some, axis=0)
        elif way == 1:
            faces = faces.copy()
            faces[some] = faces[some][:, ::-1]
        elif way == 2:
            faces = np.concatenate([faces, faces[some]])
        elif way == 3:
            vertices = vertices + noise.normal(0.0, 10.0 ** dice.uniform(-6, -1), vertices.shape)
        elif way == 4:
            vertices = vertices * [1.0, 1.0, 10.0 ** dice.uniform(-4, 0)]
        else:
            shift = noise.normal(0.0, 5.0, 3)
            faces, vertices = (
                np.concatenate([faces, faces + len(vertices)]),
                np.concatenate([vertices, vertices + shift]),
            )
    return vertices * 10.0 ** dice.choice((0, 0, 0, -1, 1, 2)), faces


def job_of(model: Model, dice: random.Random) -> Job:
    """A job with up to four random choices; those that make no sense are refused in a sentence and left out."""
    job, known = with_model(Job(), model), options()
    for name in dice.sample(sorted(known), dice.choice((0, 1, 2, 4))):
        stop, choice = known[name]
        try:
            job = choose_word(job, stop, choice, word_for(name, choice, dice)).job
        except UserFault as fault:
            assert shown(fault.what)
    return job


def word_for(name: str, choice: Choice, dice: random.Random) -> str:
    """A word for a choice, one in ten of them nonsense."""
    if dice.random() < 0.1:
        return dice.choice(("nan", "inf", "-1", "", "x" * 5000, "\x1b[0m", "1e400", "0", "1,2,3", "ä:ö"))
    if SPOKEN.get(name):
        return dice.choice(SPOKEN[name])
    if isinstance(choice, FigureChoice):
        value = dice.choice((choice.low, choice.high, dice.uniform(choice.low, choice.high)))
        return f"{value:.0f}" if choice.whole else f"{value:g}"
    if isinstance(choice, Flag):
        return dice.choice(("yes", "no"))
    given = getattr(choice, "options", None)
    if given is not None and not isinstance(choice, Words):
        return dice.choice([*(given() if callable(given) else given), "x"])
    return dice.choice(("1", "a", "0:0"))


def case(seed: int) -> str:
    """The line on one random solid: "" where every stop works or says why not in a sentence."""
    dice = random.Random(seed)
    raw = solid_of(dice).to_mesh64()
    vertices, faces = np.array(raw.vert_properties)[:, :3], np.array(raw.tri_verts, np.int64).reshape(-1, 3)
    vertices, faces = dirtied(vertices, faces, dice)
    if not len(faces):
        return ""
    bodies = tuple(mend(RawBody("Body", vertices, faces, None), Notes()))
    model = Model("Random", "random.stl", "stl", None, bodies, ())
    job = job_of(model, dice)
    results = Pipeline(light=dice.random() < 0.3).run(job, model)
    for stop in stops():
        for finding in stop.findings(results):
            assert shown(finding.words())
    return ""
