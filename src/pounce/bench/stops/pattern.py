"""Pattern on the bench."""

from dataclasses import replace

import numpy as np

from pounce.base.units import count_words, from_mm, length, plain, quantity, sizes
from pounce.bench.cards.pattern import PatternCard
from pounce.bench.showing import corners, opened_corners, shown, shows_own
from pounce.bench.stops.view import Action, Headline, Shown, StopView, Strip, box_of, draw_of, plain_cut
from pounce.bench.stops.words import MOST_TAGS, point
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.widgets.labels import Chip, Tag
from pounce.pattern.making.values import Making
from pounce.pattern.values import PatternResult, Role
from pounce.proof.values import Verdict
from pounce.route.results import Results
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats


def _pattern(r: Results, unit: str) -> Headline | None:
    p = r.pattern
    if p is None:
        return None
    size = sizes(p.size_mm, unit)
    said = _making(p, unit)
    if said is not None:
        return said
    roles = [piece.role for piece in p.pieces]
    if len(p.pieces) == 1 or "cope-half" not in roles:
        more = [piece.name.lower() for piece in p.pieces[1:]]
        under = f"{plain(100 * (p.factor - 1), 2)} % over the part."
        return Headline(f"The pattern stays whole, {size}.", f"{under} With it: {', '.join(more)}." if more else under)
    fit = "Two dowels of different thickness bring them together one way only." if p.dowel_mm else "No dowels."
    return Headline(f"Two halves make a pattern of {size}.", f"Opened like a book. {fit}")


def _headline(r: Results, unit: str) -> Headline | None:
    """What is made, and under it first what is proved of it."""
    said = _pattern(r, unit)
    proved = "" if r.proof is None else _PROVED[r.proof.verdict]
    return said if said is None or not proved else Headline(said.head, f"{proved} {said.under}")


_PROVED = {
    Verdict.CLEAN: "Proved: it leaves the sand clean.",
    Verdict.DRAGS: "Proved: it leaves the sand, but drags.",
    Verdict.LOCKS: "It locks in the sand: see Draw.",
    Verdict.NONE: "",
}


def _making(p: PatternResult, unit: str) -> Headline | None:
    """What the chosen way of making comes to; None where the pieces themselves say it."""
    made = p.making
    way = next((one for one in made.ways if one.kind == made.kind), None)
    if way is None:
        return None
    time = quantity("all_hours", way.hours)
    if made.kind == "original":
        casting = length(made.figures["casting_long_mm"], unit)
        return Headline(
            f"The original serves: its casting comes out {casting} long.",
            _clay_words(made, unit) or f"About {time} to fill, taper and wax it.",
        )
    if made.kind in ("printed", "metal"):
        beds = int(made.figures["beds"])
        pieces = len(made.prints)
        where = "one bed" if beds == 1 else f"{count_words(beds)} beds"
        what = "One piece fits" if pieces == 1 else f"{count_words(pieces).capitalize()} pieces fit"
        after = "with the rubbing" if made.kind == "printed" else "with casting and lapping"
        return Headline(f"{what} {where}, {time} {after}.", _clay_words(made, unit) or _printed_under(p, unit))
    count = len(made.layers)
    pieces = len({layer.piece for layer in made.layers})
    if made.kind == "wood":
        each = f"{count_words(count).capitalize()} {'board' if count == 1 else 'boards'}"
        return Headline(
            f"{each} {'make' if count > 1 else 'makes'} "
            f"{'the pattern' if pieces == 1 else f'{count_words(pieces)} pieces'}, about {time} by hand.",
            "Each saws outside its line and is carved to the next; grain crossed so that it stays flat.",
        )
    each = f"{count_words(count).capitalize()} {'sheet' if count == 1 else 'sheets'} of foam"
    return Headline(
        f"{each}, {quantity('stuff_kg', made.figures['stuff_kg'])}, about {time}.",
        "Cut by the wire or a router, glued from the joint up.",
    )


def _clay_words(made: Making, unit: str) -> str:
    """How deep it is pressed, where it is pressed into clay."""
    if made.clay is None:
        return ""
    if min(made.clay.under_mm, made.clay.over_mm) < 0.5:
        return (
            f"Pressed into clay to its full depth of {length(max(made.clay.under_mm, made.clay.over_mm), unit)}, "
            "flat on the joint."
        )
    return (
        f"Pressed into clay, {length(made.clay.under_mm, unit)} under the joint and "
        f"{length(made.clay.over_mm, unit)} over it."
    )


def _printed_under(p: PatternResult, unit: str) -> str:
    """What is seen on the bench beside the headline."""
    made = p.making
    if p.mount is not None:
        board = {"boards": "Two boards", "one-side": "One board", "match-plate": "A match plate"}[p.mount.kind]
        each = "one casting" if p.mount.castings == 1 else f"{count_words(p.mount.castings)} castings"
        return f"{board} for a flask of {sizes((*p.mount.flask_mm,), unit)} inside; {each} a mould."
    if made.kind == "metal":
        return (
            f"The master carries two contractions, {plain(100 * (p.factor - 1), 2)} % over the part, and stock on "
            "its joint."
        )
    if any(core_print.part for core_print in made.prints):
        return "Cut for the bed, joined and numbered in each cut."
    if made.hollow:
        return "Turned over to show the ribs. They print face down, roofed without supports."
    if any(q.role == Role.COPE_HALF for q in p.pieces):
        fit = "Two sizes of dowel fit one way only." if p.dowel_mm else "Split face down."
        return f"Opened like a book. {fit}"
    return f"{plain(100 * (p.factor - 1), 2)} % over the part, {sizes(p.size_mm, unit)}."


def _line(r: Results, _unit: str) -> str | None:
    if r.pattern is None:
        return None
    stack = r.pattern.making
    if stack.kind in ("wood", "foam"):
        material = "board" if stack.kind == "wood" else "sheet"
        return f"{len(stack.layers)} {material}{'s' if len(stack.layers) != 1 else ''}"
    roles = [piece.role for piece in r.pattern.pieces]
    if "cope-half" in roles:
        return "Two halves"
    more = {
        "follow-board": "With a follow board",
        "false-pattern": "With a false pattern",
        "loose-piece": "With a loose piece",
    }
    return more.get(roles[-1], "Whole")


def _scene(kind: str, results: Results, paths: dict[str, str], wanted: Shown) -> SceneAsked:
    packed = paths.get("pattern")
    return SceneAsked(
        kind if packed else "parting",
        paths.get("part"),
        paths.get("parting"),
        packed,
        draw_of(results),
        apart=wanted.apart,
    )


def _points(scene: SceneAsked, results: Results) -> Floats:
    assert results.part is not None
    box = box_of(results)
    low, high = results.part.mesh.bounds
    cope = () if results.pattern is None else tuple(p for p in results.pattern.pieces if p.role == Role.COPE_HALF)
    if scene.kind == "pattern" and results.pattern is not None and shows_own(results.pattern):
        return corners(shown(results.pattern, scene.apart)) @ turn_to_z(np.array(scene.direction))
    if scene.kind == "pattern" and results.pattern is not None and cope:
        # the cope half stands opened behind: make room for it
        height = results.pattern.height_mm
        return np.concatenate([box, *(opened_corners(one.mesh, np.array(scene.direction), height) for one in cope)])
    if scene.kind == "pattern" and results.pattern is not None:
        board = next((p for p in results.pattern.pieces if p.role in (Role.FOLLOW_BOARD, Role.FALSE_PATTERN)), None)
        if board is not None:  # it lies to the right of the pattern
            joint = results.parting.joint if results.parting is not None else None
            if joint is not None:
                wide = float(board.laid.size[0]) + 0.1 * float(np.linalg.norm(high - low))
                deep = float(board.laid.size[1]) / 2.0
                middle = (low + high) / 2.0 + joint.u * wide
                return np.concatenate([box, box + joint.u * wide, [middle + joint.v * deep, middle - joint.v * deep]])
    return box


def _tags(results: Results, scene: SceneAsked, unit: str) -> tuple[Tag, ...]:
    pattern = results.pattern
    if pattern is None:
        return ()
    if shows_own(pattern):
        return tuple(_made_tags(results, scene.apart, unit))
    return tuple(_holes(results, unit)) if any(p.role == Role.COPE_HALF for p in pattern.pieces) else ()


def _made_tags(results: Results, apart: float, unit: str) -> list[Tag]:
    """The number and thickness of each layer on its rim, or the name of each print."""
    if results.pattern is None or results.draw is None:
        return []
    turn = turn_to_z(results.draw.direction)
    tags, named = [], set()
    for one in shown(results.pattern, apart):
        text = f"{one.name}  {length(one.thick_mm, unit)}" if one.thick_mm else one.name
        # several copies of a piece want its name once
        if one.thick_mm or text not in named:
            tags.append(Tag(text, point(one.at_mm @ turn)))
            named.add(text)
    return tags[:MOST_TAGS]


def _holes(results: Results, unit: str) -> list[Tag]:
    pattern = results.pattern
    if pattern is None:
        return []
    drag = pattern.pieces[1]
    tags = []
    dowels = sorted((hole for hole in drag.holes if hole.purpose == "dowel"), key=lambda hole: -hole.radius_mm)
    for hole, size in zip(dowels, pattern.dowel_mm, strict=False):
        at = (float(hole.at_mm[0]), float(hole.at_mm[1]), float(hole.at_mm[2]))
        tags.append(
            Tag(
                f"dowel Ø {plain(from_mm(size, unit), 3 if unit == 'in' else 1)}, {length(hole.depth_mm, unit)} deep",
                at,
            )
        )
    for hole in drag.holes:
        if hole.purpose == "draw-screw":
            tags.append(
                Tag(
                    f"draw screw {results.job.pattern.screw.removeprefix('insert-')}",
                    (float(hole.at_mm[0]), float(hole.at_mm[1]), float(hole.at_mm[2])),
                )
            )
    return tags


def _chips(results: Results, _unit: str, _wanted: Shown) -> tuple[Chip, ...]:
    if results.pattern is None:
        return ()
    making = results.pattern.making
    if shows_own(results.pattern):
        material = {"wood": ("timber", "Boards"), "foam": ("foam", "Foam sheets")}.get(
            making.kind, ("steelFlat", "Pattern" if results.pattern.mount is not None else "Parts for the bed")
        )
        board = (
            (Chip("timber", "Mounting board"),) if results.pattern.mount is not None and making.kind != "wood" else ()
        )
        grain = (Chip("grain", "Way of the grain"),) if making.kind == "wood" else ()
        return (Chip(*material), *grain, *board)
    roles = [piece.role for piece in results.pattern.pieces]
    cut = "Split face and holes" if "cope-half" in roles else "Hole for the draw screw"
    cut = {"follow-board": "Follow board", "false-pattern": "Cut face", "loose-piece": "Cut faces and pin"}.get(
        roles[-1], cut
    )
    made = len(roles) > 1 or any(piece.holes for piece in results.pattern.pieces)
    return (Chip("steelFlat", "Faces of the part"), *((Chip("timber", cut),) if made else ()))


def _strip(results: Results) -> Strip:
    return "making" if results.pattern is not None and results.pattern.making.kind else "section"


VIEW = StopView(
    "How it is made, and what to write.",
    "What to write",
    PatternCard,
    _headline,
    _line,
    "pattern",
    _scene,
    _points,
    _tags,
    _chips,
    strip=_strip,
    cut=lambda asked: replace(plain_cut(asked), pattern=True),
    actions=(Action("The proof of the pattern", "P", lambda card: card.prove(), goes=True),),
)
