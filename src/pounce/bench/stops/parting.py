"""Parting on the bench."""

import numpy as np

from pounce.base.units import area, count_words, length
from pounce.bench.cards.card import Card
from pounce.bench.cards.parting import PartingCard
from pounce.bench.stops.view import Action, Headline, Shown, StopView, box_of, draw_of, judged_cut
from pounce.bench.stops.words import cause_tags, draw_chips, place_tags
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.widgets.labels import Tag
from pounce.route.results import Results
from pounce.route.stops import PARTING
from pounce.solid.mesh import Floats


def _parting(r: Results, unit: str) -> Headline | None:
    p = r.parting
    if p is None:
        return None
    where = "on the flat back" if p.kind == "flat-back" else f"at {length(p.height_mm, unit)}"
    locked = p.shown_areas[2]
    held = "both halves leave" if locked <= 0.0 else f"{area(locked, unit)} stays locked"
    if p.ringed is not None and p.ringed.cheek_mm > 0.0:
        where += f", in the neck of a cheek {length(p.ringed.cheek_mm, unit)} high"
    head = f"A flat joint {where}: {held}."
    if not p.joint.level:
        if p.on_plain_board:
            return Headline(f"It lies whole on its open side: {held}.", "On a plain board: its rim is level.")
        shape = "The joint steps" if p.kind == "stepped" else "The joint follows the part"
        rise = f", {length(p.relief_mm, unit)} up and down" if p.relief_mm > 0.05 else ", level beside it"
        made = {
            "follow-board": "Moulded on a follow board.",
            "cut-down": "The drag is cut down to it.",
            "false-pattern": "Moulded with a false pattern.",
            "split": "The pattern is split along it.",
        }[p.moulded]
        return Headline(f"{shape}{rise}: {held}.", made)
    by = "Found by trying every height." if p.chosen_by == "search" else "Your height."
    if p.chosen_by == "search" and p.ringed is not None and not p.ringed.trouble:
        by = (
            "In the neck of the groove."
            if p.ringed.how == "cheek"
            else "Through the middle of the groove, for its ring core."
        )
    loops = len(p.outline)
    return Headline(
        head,
        f"{by} The joint meets the part in {count_words(loops)} {'outline' if loops == 1 else 'outlines'}, "
        f"{length(p.length_mm, unit, 0)} long.",
    )


def _line(r: Results, unit: str) -> str | None:
    if r.parting is None:
        return None
    if r.parting.on_plain_board:
        return "On its open side"
    if not r.parting.joint.level:
        return "In steps" if r.parting.kind == "stepped" else "Follows the part"
    return "Flat back" if r.parting.kind == "flat-back" else f"Flat, at {length(r.parting.height_mm, unit)}"


def _scene(kind: str, results: Results, paths: dict[str, str], shown: Shown) -> SceneAsked:
    kind = kind if shown.mould is None else "trial"
    return SceneAsked(kind, paths.get("part"), paths.get("parting"), None, draw_of(results), mould=shown.mould)


def _points(scene: SceneAsked, results: Results) -> Floats:
    box = box_of(results)
    if scene.kind != "trial" or results.draw is None:
        return box
    # sand beside and over the part, and room for the cope to rise
    low, size = box.min(axis=0), float(np.linalg.norm(np.ptp(box, axis=0)))
    sand = np.where(box == low, box - 0.12 * size, box + 0.12 * size)
    return np.concatenate([sand, sand + np.array(scene.direction) * 1.15 * results.draw.depth_mm])


def _tags(results: Results, _scene: SceneAsked, unit: str) -> tuple[Tag, ...]:
    return cause_tags(results, ("draw", "parting"), unit) or place_tags(PARTING.findings(results), results, unit)


def _handle(results: Results) -> tuple[float, float, float] | None:
    """Where the joint's handle stands: at the joint's border, to the right of the part."""
    p = results.parting
    if p is None or results.part is None:
        return None
    joint = p.joint
    flat = joint.flat_points(results.part.mesh.bounds)
    corners = np.array([[x, y] for x in flat[:, 0] for y in flat[:, 1]])
    place = np.array([corners[:, 0].max(), corners[:, 1].min()]) + np.array([0.1, -0.1]) * float(
        np.ptp(corners, axis=0).max()
    )
    height = float(joint.at(place, free=True))
    point = place[0] * joint.u + place[1] * joint.v + height * joint.direction
    return float(point[0]), float(point[1]), float(point[2])


def _play(card: Card) -> None:
    card.play()


VIEW = StopView(
    "Where cope and drag come apart.",
    "Where the mould opens",
    PartingCard,
    _parting,
    _line,
    "parting",
    _scene,
    _points,
    _tags,
    chips=lambda results, unit, _shown: draw_chips(results.parting, unit),
    handle=_handle,
    flask=True,
    judges=True,
    cut=judged_cut,
    sand=True,
    actions=(Action("Lift the cope", "L", _play, goes=True),),
)
