"""The bench's own flasks: one JSON file in the user's configuration, a sample set until there is one."""

from functools import lru_cache
from pathlib import Path
from typing import Literal

import msgspec
import platformdirs

from pounce.base.errors import UserFault
from pounce.base.figures import figure
from pounce.base.files import write_whole

FILE = "flasks.json"
LEAST_MM, MOST_MM = 40.0, 3000.0
# What a word ends with for a flask that comes off its mould.
SNAP = ":snap"
Shape = Literal["box", "round", "can"]


class Flask(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A flask: inside ``long_mm`` (along its pins) by ``wide_mm``, the heights of its halves, ``kg`` of both together,
    and what it is made of. ``round`` has one diameter, both sides alike; a ``can`` is one pail for loose sand,
    ``drag_mm`` deep, without a cope. A ``snap`` flask opens at its hinge and comes off the closed mould, ready for the
    next one: a jacket holds the sand while it is poured, and its weight holds nothing down.
    """

    id: str
    name: str
    shape: Shape
    long_mm: float
    wide_mm: float
    cope_mm: float
    drag_mm: float
    kg: float
    material: str = "wood"
    snap: bool = False

    @property
    def area_mm2(self) -> float:
        """Inside, seen from above."""
        return (3.141592653589793 / 4.0 if self.shape != "box" else 1.0) * self.long_mm * self.wide_mm


SAMPLE = (
    Flask("hand-box", "Small hand flask", "box", 200.0, 150.0, 60.0, 60.0, 2.1),
    Flask("bench-box", "Bench flask", "box", 300.0, 220.0, 75.0, 75.0, 3.8),
    Flask("deep-box", "Deep flask", "box", 320.0, 260.0, 120.0, 110.0, 6.4),
    Flask("long-box", "Long flask", "box", 460.0, 240.0, 100.0, 100.0, 7.0),
    Flask("floor-box", "Floor flask", "box", 560.0, 420.0, 140.0, 130.0, 15.5),
    Flask("round-ring", "Round snap flask", "round", 260.0, 260.0, 80.0, 80.0, 2.6, "aluminium", True),
    Flask("pail", "Steel pail", "can", 285.0, 285.0, 0.0, 300.0, 1.2, "steel"),
    Flask("drum", "Cut-down drum", "can", 560.0, 560.0, 0.0, 480.0, 9.0, "steel"),
)


def flasks_file() -> Path:
    """Where the user's own flasks are kept."""
    return Path(platformdirs.user_config_dir("pounce")) / FILE


def own_flasks() -> tuple[Flask, ...]:
    """The user's flasks, the sample set where there are none. UserFault for a file that cannot be read."""
    path = flasks_file()
    try:
        stamp = path.stat().st_mtime_ns
    except OSError:
        return SAMPLE
    return _read(path, stamp)


@lru_cache(maxsize=4)
def _read(path: Path, _stamp: int) -> tuple[Flask, ...]:
    try:
        found = tuple(msgspec.json.decode(path.read_bytes(), type=list[Flask]))
    except (OSError, msgspec.DecodeError) as error:
        raise UserFault(
            f"The list of your flasks ({path.name}) cannot be read ({error}).", "Mend or remove it."
        ) from None
    for flask in found:
        checked(flask)
    return found or SAMPLE


def checked(flask: Flask) -> Flask:
    """The same flask. UserFault for one that cannot be."""
    sides = (flask.long_mm, flask.wide_mm, flask.drag_mm, *(() if flask.shape == "can" else (flask.cope_mm,)))
    if not flask.id.strip() or not all(LEAST_MM <= side <= MOST_MM for side in sides):
        raise UserFault(
            f"The flask '{flask.name or flask.id}' cannot be.",
            f"Give it an id, and inside sizes and heights of {LEAST_MM:g} to {MOST_MM:g} mm.",
        )
    if flask.shape != "box" and flask.long_mm != flask.wide_mm:
        raise UserFault(f"'{flask.name}' is round but has two sizes.", "Give its inside diameter twice.")
    if flask.snap and flask.shape == "can":
        raise UserFault(f"'{flask.name}' is a pail, and no pail opens.", "Take it as a flask, or as one that stays.")
    return flask


def flask_of(word: str) -> Flask:
    """The flask that a word says, ``shed=300x220x75x75:4``; three sizes are a round one's diameter and heights, and
    ``:snap`` at the end one that comes off. UserFault for a word that makes no sense.
    """
    key, _, rest = word.partition("=")
    snap = rest.endswith(SNAP)
    sizes, _, kg = rest.removesuffix(SNAP).partition(":")
    try:
        sides = [figure(side) for side in sizes.split("x")]
        weight = float(kg or 0.0)
    except ValueError:
        sides, weight = [], 0.0
    name = key.replace("-", " ").capitalize()
    if len(sides) == 4:
        return checked(Flask(key, name, "box", sides[0], sides[1], sides[2], sides[3], weight, snap=snap))
    if len(sides) == 3:
        return checked(Flask(key, name, "round", sides[0], sides[0], sides[1], sides[2], weight, snap=snap))
    raise UserFault(
        f"'{word}' is no flask.", "Give ID=LONGxWIDExCOPExDRAG in mm, with :KG behind it, and :snap for one that opens."
    )


def write_flasks(flasks: tuple[Flask, ...]) -> Path:
    """Writes the user's flasks; the file's path. UserFault for a flask that cannot be, or a folder that takes none."""
    return export_flasks(flasks, flasks_file())


def export_flasks(flasks: tuple[Flask, ...], path: Path) -> Path:
    """Writes flasks as JSON, for this bench or another. UserFault as in :func:`write_flasks`."""
    seen = [checked(flask).id for flask in flasks]
    if len(set(seen)) != len(seen):
        raise UserFault("Two flasks have one id.", "Give each its own.")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        write_whole(path, msgspec.json.format(msgspec.json.encode(list(flasks)), indent=1))
    except OSError as error:
        raise UserFault(f"The list of flasks cannot be written ({error.strerror}).", "Check your folders.") from error
    return path
