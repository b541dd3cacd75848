"""What the bench shows of a stop: its card, its words, its scene, its marks, its strip and its actions. The window
knows stops by their views only.
"""

import importlib
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cache
from typing import TYPE_CHECKING, Literal

import numpy as np
from PyQt6.QtWidgets import QWidget

from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.widgets.labels import Chip, Measure, Tag
from pounce.parting.insection import CutAsked
from pounce.route.results import Results
from pounce.route.stops import stop_of, stops
from pounce.solid.mesh import Floats

if TYPE_CHECKING:
    from pounce.bench.cards.card import Card
    from pounce.bench.document import Document

Strip = Literal["section", "sizes", "making", "freeze"]


@dataclass(frozen=True)
class Headline:
    """A headline and the line under it."""

    head: str
    under: str


@dataclass(frozen=True)
class Shown:
    """How a card wants its scene: the part as wanted, which thing stands out and how far apart, the packed mould of a
    trial under way, the line under the pointer, whether a click picks a place.
    """

    bare: bool = False
    core: int = 0
    apart: float = 1.0
    mould: str | None = None
    pointed: int = -1
    picks: bool = False


@dataclass(frozen=True)
class Action:
    """An action of a stop: its name, its key, what it does with the stop's card, and whether it goes to the stop
    first (else it works only there).
    """

    name: str
    key: str
    act: "Callable[[Card], None]"
    goes: bool = False


class Board(QWidget):
    """What a stop shows in place of picture and strip; ``hands`` what the hand does there."""

    hands = ""

    def show_results(self, results: Results, saying: Headline, unit: str) -> None:
        """What is known of the job, with its headline."""

    def let_go(self) -> None:
        """The window closes: what it holds outside of it is let go."""


def _nothing(_results: Results, _unit: str) -> str | None:
    return None


def plain_scene(kind: str, results: Results, paths: dict[str, str], _shown: Shown) -> SceneAsked:
    """The part as it stands for the draw, with what is known of its joint."""
    return SceneAsked(kind, paths.get("part"), paths.get("parting"), None, draw_of(results))


def plain_cut(asked: CutAsked) -> CutAsked:
    """The section of the part as wanted."""
    return replace(asked, pattern=False, stock=False, cores=False, rammed=False)


def judged_cut(asked: CutAsked) -> CutAsked:
    """The section of what is judged: the pattern once it is there, else the part."""
    return replace(plain_cut(asked), rammed=True)


def draw_of(results: Results) -> tuple[float, float, float]:
    """The draw, up while there is none."""
    if results.draw is None:
        return 0.0, 0.0, 1.0
    x, y, z = (float(value) for value in results.draw.direction)
    return x, y, z


def box_of(results: Results) -> Floats:
    """(8, 3) corners of the part."""
    assert results.part is not None
    low, high = results.part.mesh.bounds
    return np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])


@dataclass(frozen=True, eq=False)
class StopView:
    """The bench's part of a stop.

    ``under`` what stands under its title, ``first_line`` its line on the route before anything is known; ``card``
    makes its card; ``headline`` the true sentence it opens with (None while it is worked out), ``line`` its result
    on the route (None: not reached); ``scene`` what is drawn, of ``kind``; ``points`` what must be in the picture;
    ``tags`` labels on leaders, ``chips`` the legend, ``measures`` dimensions, ``handle`` where the joint is moved by
    hand; ``flask`` whether cope and drag are told, ``note`` a word in the corner; ``scaled`` whether a scale of
    times stands there; ``strip`` what lies under the
    bench and ``cut`` what its section shows; ``tilts`` whether the draw is turned by hand, ``numbered`` whether
    findings carry their numbers, ``sand`` whether the section shows the mould; ``known`` whether there is something
    to show (None: its result is there); ``judges`` whether it shows the pattern in the place of the part once that is
    proved; ``actions`` its own; ``craft`` its page for F1 as Markdown ("": the one that
    ships under its id); ``board`` what takes the place of picture and strip, where it has one of its own.
    """

    under: str
    first_line: str
    card: "Callable[[Document], Card]"
    headline: Callable[[Results, str], Headline | None]
    line: Callable[[Results, str], str | None] = _nothing
    kind: str = "part"
    scene: Callable[[str, Results, dict[str, str], Shown], SceneAsked] = plain_scene
    points: Callable[[SceneAsked, Results], Floats] = lambda _scene, results: box_of(results)
    tags: Callable[[Results, SceneAsked, str], tuple[Tag, ...]] = lambda _results, _scene, _unit: ()
    chips: Callable[[Results, str, Shown], tuple[Chip, ...]] = lambda _results, _unit, _shown: ()
    measures: Callable[[Results, str], tuple[Measure, ...]] = lambda _results, _unit: ()
    handle: Callable[[Results], tuple[float, float, float] | None] = lambda _results: None
    strip: Callable[[Results], Strip] = lambda _results: "section"
    cut: Callable[[CutAsked], CutAsked] = plain_cut
    flask: bool = False
    note: str = ""
    scaled: bool = False
    tilts: bool = False
    numbered: bool = False
    sand: bool = False
    known: Callable[[Results], bool] | None = None
    judges: bool = False
    actions: tuple[Action, ...] = ()
    craft: str = ""
    board: "Callable[[Document], Board] | None" = None


@cache
def _loaded(named: str) -> StopView:
    module, _, name = named.partition(":")
    made = getattr(importlib.import_module(module), name)
    assert isinstance(made, StopView), f"{named} is no view"
    return made


def view_of(stop_id: str) -> StopView:
    """The view of a stop. KeyError for an unknown one."""
    return _loaded(stop_of(stop_id).view)


def title_of(stop_id: str) -> str:
    """What a stop is called."""
    return stop_of(stop_id).title


def shows(stop_id: str, results: Results) -> bool:
    """Whether the stop has something to show of this job."""
    known = view_of(stop_id).known
    return results.found.get(stop_id) is not None if known is None else known(results)


def views() -> dict[str, StopView]:
    """All views by the ids of their stops, in the order of the route."""
    return {stop.id: view_of(stop.id) for stop in stops()}


Strips = dict[Strip, QWidget]
