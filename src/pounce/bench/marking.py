"""What each stop shows on the bench: scene, tags, legend, dimensions. Reads results, computes nothing of its own."""

from typing import Any

import numpy as np

from pounce.base.units import area, degrees, from_mm, length, plain, volume
from pounce.bench.sayings import mark_of
from pounce.bench.section.sketch import Lifted
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.view3d.beside import beside, corners_of
from pounce.bench.widgets.labels import Chip, Measure, Tag
from pounce.pattern.showing import corners, shown, shows_own
from pounce.route.results import Results, findings_at
from pounce.solid.frame import turn_to_z
from pounce.solid.mesh import Floats
from pounce.stock.values import Added

MOST_TAGS = 8
# How many times larger than life the growth of the pattern is drawn at Metal.
GROWTH = 8.0


def scene_of(
    stop: str, results: Results, paths: dict[str, str], mould: str | None = None, bare: bool = False,
    core: tuple[int, float] = (0, 1.0),
) -> SceneAsked:  # fmt: skip
    """The scene for a stop, of what is known so far; ``mould`` the packed blocks while the trial draw is under way, ``bare`` the

    part as wanted at Stock, ``core`` which core stands out at Cores and how far apart.
    """
    direction = (0.0, 0.0, 1.0)
    if results.draw is not None:
        x, y, z = (float(value) for value in results.draw.direction)
        direction = (x, y, z)
    pattern = paths.get("pattern") if stop == "pattern" else None
    kind = stop if stop != "pattern" or pattern else "parting"
    ghost = 1.0
    if stop == "metal" and results.metal is not None:
        ghost = 1.0 + GROWTH * (results.metal.factor - 1.0)
    if mould is not None and stop == "parting":
        kind = "trial"
    stock = paths.get("stock") if stop == "stock" and not bare else None
    if stop == "stock" and stock is None:
        kind = "part"
    cores = paths.get("cores") if stop == "cores" else None
    if stop == "cores" and cores is None:
        kind = "part"
    return SceneAsked(kind, paths.get("part"), paths.get("parting"), pattern, direction, ghost, mould, stock, cores, *core)


def points_of(scene: SceneAsked, results: Results) -> Floats | None:
    """Corners of what must be in the picture."""
    if results.part is None:
        return None
    if scene.kind == "cores" and results.cores is not None and results.cores.cores:
        chosen = results.cores.cores[min(scene.core, len(results.cores.cores) - 1)]
        return corners_of(results.cores, chosen, np.array(scene.direction), scene.apart)
    low, high = results.part.mesh.bounds
    box = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    halves = results.pattern is not None and any(p.role == "cope-half" for p in results.pattern.pieces)
    if scene.kind == "pattern" and results.pattern is not None and shows_own(results.pattern):
        return corners(shown(results.pattern, scene.apart)) @ turn_to_z(np.array(scene.direction))
    if scene.kind == "pattern" and halves:
        # the cope half stands opened behind: make room for it, as deep as the part is across
        size = float(np.linalg.norm(high - low))
        up = np.array(scene.direction)
        return np.concatenate([box, box + up * 0.45 * size])
    if scene.kind == "pattern" and results.pattern is not None:
        board = next((p for p in results.pattern.pieces if p.role in ("follow-board", "false-pattern")), None)
        if board is not None:  # it lies to the right of the pattern
            joint = results.parting.joint if results.parting is not None else None
            if joint is not None:
                wide = float(board.laid.size[0]) + 0.1 * float(np.linalg.norm(high - low))
                deep = float(board.laid.size[1]) / 2.0
                middle = (low + high) / 2.0 + joint.u * wide
                return np.concatenate([box, box + joint.u * wide, [middle + joint.v * deep, middle - joint.v * deep]])
    if scene.kind == "trial" and results.draw is not None:
        # sand beside and over the part, and room for the cope to rise
        size = float(np.linalg.norm(high - low))
        up = np.array(scene.direction)
        sand = np.where(box == low, box - 0.12 * size, box + 0.12 * size)
        return np.concatenate([sand, sand + up * 1.15 * results.draw.depth_mm])
    return box


def tags_of(stop: str, results: Results, unit: str, apart: float = 1.0) -> tuple[Tag, ...]:
    """Labels on leaders; numbers as in the list of findings."""
    tags: list[Tag] = []
    nth = 0
    for finding in findings_at(stop, results):
        if finding.region is not None:
            nth += 1
        if finding.place_mm is None or finding.settled or len(tags) >= MOST_TAGS:
            continue
        if stop == "draw":
            figure = finding.main_words(unit)
            verb = (
                "lock"
                if finding.region is not None and results.parting and results.parting.regions[finding.region].count > 1
                else "locks"
            )
            words = (
                f"{finding.noun_words(unit)} {verb}" if finding.mark == "locked" else f"{finding.noun_words(unit)} {figure}"
            )
            tags.append(
                Tag(words, finding.place_mm, mark_of(finding), nth, finding.region if finding.region is not None else -1)
            )
        elif stop == "parting":
            region = finding.region if finding.region is not None else -1
            tags.append(
                Tag(
                    f"{finding.noun_words(unit)} {finding.main_words(unit)}",
                    finding.place_mm,
                    mark_of(finding),
                    None,
                    region,
                )
            )
        elif stop == "part":
            tags.append(Tag(f"{finding.noun_words(unit)} {finding.main_words(unit)}", finding.place_mm, "half"))
    if stop == "stock" and results.stock is not None:
        tags += _additions(results, unit)
    if stop == "pattern" and results.pattern is not None and shows_own(results.pattern):
        tags += _made_tags(results, apart, unit)
    elif stop == "pattern" and results.pattern is not None and any(p.role == "cope-half" for p in results.pattern.pieces):
        tags += _holes(results, unit)
    return tuple(tags)


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
            tags.append(Tag(text, _point(one.at_mm @ turn)))
            named.add(text)
    return tags[:MOST_TAGS]


def _additions(results: Results, unit: str) -> list[Tag]:
    """Each line where it is, shortly."""
    stock = results.stock
    if stock is None:
        return []
    tags: list[Tag] = []
    for index, line in enumerate(stock.lines):
        at = line.at_mm
        if not line.on or at is None or line.added_mm3 + line.taken_mm3 <= 0.0 or len(tags) >= MOST_TAGS:
            continue
        tags.append(Tag(short_words(line, unit), at, "added", None, index))
    return tags


def short_words(line: Added, unit: str) -> str:
    """A line in few words, for a label on the bench."""
    f = line.figures
    if line.kind == "Machining" and "left_mm" in f:
        return f"Ø {length(f['diameter_mm'], unit)} cast at {length(f['left_mm'], unit)}"
    if line.kind == "Machining":
        return f"face + {length(f['stock_mm'], unit)}"
    if line.kind == "Draft":
        return f"draft {degrees(f['draft_deg'])}, {length(f['widest_mm'], unit)} at its foot"
    if line.kind == "Fillets":
        return f"fillet R {length(f['radius_mm'], unit)}"
    if line.kind == "Fill":
        return "filled" + (", centre mark" if f.get("marked") else "")
    if line.kind == "Lettering":
        return f"{'raised' if line.added_mm3 > 0.0 else 'sunk'} {length(f['proud_mm'], unit)}"
    if line.kind == "Camber":
        return f"bow {length(f['bow_mm'], unit)}"
    return line.words(unit).lower()


def core_tags(results: Results, scene: SceneAsked, unit: str) -> tuple[Tag, ...]:
    """What a core and its box are called, where they stand."""
    cores = results.cores
    if cores is None or not cores.cores:
        return ()
    core = cores.cores[min(scene.core, len(cores.cores) - 1)]
    place = beside(cores, core, np.array(scene.direction), scene.apart)
    tags: list[Tag] = []
    if core.vents:
        tags.append(Tag(f"vent Ø {length(core.vent_mm, unit)}", _point(np.array(core.vents[0][0]) + place.core)))
    for one in core.prints:
        if one.keyed:  # the prints' sizes stand in the section
            tags.append(Tag("a flat as key", _point(one.at_mm + one.axis * 0.5 * one.length_mm + place.core)))
    box = core.boxes[0]
    if scene.apart > 0.3 and box.style != "tube":
        if box.dowels:
            at, thick = box.dowels[0]
            tags.append(
                Tag(
                    f"dowels Ø {plain(thick, 1)} and {plain(box.dowels[1][1], 1)} mm", _point(np.array(at) + place.parts[0])
                )
            )
        open_end = max(core.prints, key=lambda one: float(one.axis @ box.ram))
        tags.append(Tag("ram here", _point(open_end.at_mm + open_end.axis * open_end.length_mm + place.parts[0])))
    return tuple(tags)


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
            Tag(f"dowel Ø {plain(from_mm(size, unit), 3 if unit == 'in' else 1)}, {length(hole.depth_mm, unit)} deep", at)
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


def chips_of(stop: str, results: Results, unit: str, pointed: int = -1) -> tuple[Chip, ...]:
    """The legend; ``pointed`` the line of Stock under the pointer."""
    p = results.parting
    if stop in ("draw", "parting") and p is not None:
        return (
            Chip("clean", "Draws clean", area(p.clean_mm2, unit)),
            Chip("tight", "Tight", area(p.tight_mm2, unit)),
            Chip("locked", "Locks", area(p.locked_mm2, unit)),
        )
    if stop == "metal":
        return (Chip("steelFlat", "The part wanted"), Chip("dash", "The pattern"))
    if stop == "stock" and results.stock is not None:
        stock = results.stock
        chips = [
            Chip("steelFlat", "The part wanted"),
            Chip("added", "Metal added", volume(max(stock.added_mm3, 0.0), unit)),
        ]
        if len(stock.filler_mm):
            chips[1] = Chip("filler", "Filler, up to", length(float(stock.filler_mm.max(initial=0.0)), unit, 2))
        if stock.thin.any():
            chips.append(Chip("thin", "Thinner than it runs", area(stock.thin_mm2, unit)))
        if 0 <= pointed < len(stock.lines):
            line = stock.lines[pointed]
            chips.append(Chip("pointed", "Pointed at", volume(line.added_mm3 + line.taken_mm3, unit)))
        return tuple(chips)
    if stop == "cores" and results.cores is not None:
        made = results.cores
        if not made.cores:
            locks = any(not offer.make for offer in made.offers)
            return (Chip("steelFlat", "The pattern"), *((Chip("locked", "A hollow to decide on"),) if locks else ()))
        whole = sum(core.mesh.volume for core in made.cores)
        return (
            Chip("steelFlat", "The pattern"), Chip("core", "Core sand", volume(whole, unit)), Chip("print", "Prints, sit in the sand"),
            Chip("timber", "Core box"),
        )  # fmt: skip
    if stop == "pattern" and results.pattern is not None:
        making = results.pattern.making
        if shows_own(results.pattern):
            stuff = {"wood": ("timber", "Boards"), "foam": ("foam", "Foam sheets")}.get(
                making.kind, ("steelFlat", "Pattern" if results.pattern.mount is not None else "Parts for the bed")
            )
            board = (
                (Chip("timber", "Mounting board"),) if results.pattern.mount is not None and making.kind != "wood" else ()
            )
            grain = (Chip("grain", "Way of the grain"),) if making.kind == "wood" else ()
            return (Chip(*stuff), *grain, *board)
        roles = [piece.role for piece in results.pattern.pieces]
        cut = "Split face and holes" if "cope-half" in roles else "Hole for the draw screw"
        cut = {"follow-board": "Follow board", "false-pattern": "Cut face", "loose-piece": "Cut faces and pin"}.get(
            roles[-1], cut
        )
        return (Chip("steelFlat", "Faces of the part"), Chip("timber", cut))
    return ()


def trial_chips(results: Results, lifted: Lifted, unit: str) -> tuple[Chip, ...]:
    """The legend of the trial draw: what leaves, what drags, and the sand torn so far."""
    p = results.parting
    if p is None:
        return ()
    return (
        Chip("clean", "Leaves freely"),
        Chip("tight", "Drags", area(p.tight_mm2, unit)),
        Chip("locked", "Torn so far", volume(torn_by(results, lifted), unit)),
    )


def trial_tags(results: Results, lifted: Lifted, unit: str) -> tuple[Tag, ...]:
    """Where sand tears, carried up with the cope, and where it lands."""
    p = results.parting
    if p is None or not p.trial.places:
        return ()
    tags: list[Tag] = []
    way, joint = p.joint.direction, p.joint
    cope = [torn for torn in p.trial.places if torn.above]
    drag = [torn for torn in p.trial.places if not torn.above]
    if cope and lifted.lift_mm > 0.0:
        at = np.array(cope[0].at_mm)
        on_joint = at - way * float(joint.above(at, free=True))
        tags.append(Tag(f"sand tears {volume(cope[0].volume_mm3, unit)}", _point(at + way * lifted.lift_mm), "locked"))
        tags.append(Tag("lands on the drag's face", _point(on_joint), "locked"))
    if drag and lifted.drawn_mm > 0.0:
        at = np.array(drag[0].at_mm) + way * lifted.drawn_mm
        tags.append(Tag(f"carried along {volume(drag[0].volume_mm3, unit)}", _point(at), "locked"))
    return tuple(tags)


def _point(v: Floats) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])


def torn_by(results: Results, lifted: Lifted) -> float:
    """Sand torn (mm3) at this point of the trial, read from the worked-out curve."""
    if results.parting is None:
        return 0.0
    trial = results.parting.trial
    cope = float(np.interp(lifted.lift_mm, trial.lifts_mm, trial.cope_mm3))
    return cope + float(np.interp(lifted.drawn_mm, trial.lifts_mm, trial.drag_mm3))


def live_chips(found: dict[str, Any], unit: str) -> tuple[Chip, ...]:
    """The areas counting along while the draw is tilted by hand."""
    return (
        Chip("clean", "Draws clean", area(found["clean_mm2"], unit)),
        Chip("tight", "Tight", area(found["tight_mm2"], unit)),
        Chip("locked", "Locks", area(found["locked_mm2"], unit)),
    )


def handle_of(stop: str, results: Results) -> tuple[float, float, float] | None:
    """Where the joint's handle stands: at the joint's border, to the right of the part."""
    p = results.parting
    if stop != "parting" or p is None or results.part is None:
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


def measures_of(stop: str, results: Results, unit: str) -> tuple[Measure, ...]:
    """Dimensions of the part, and of the pattern at Metal."""
    if stop not in ("part", "metal") or results.part is None:
        return ()
    low, high = (np.array(bound) for bound in results.part.mesh.bounds)
    size = high - low
    digits = 2 if unit == "in" else 1
    factor = results.metal.factor if results.metal is not None else 1.0

    def words(value: float) -> str:
        if stop == "part":
            return length(value, unit, digits if unit == "mm" else 1)
        return f"{plain(from_mm(value, unit), digits)} → {length(value * factor, unit, digits if unit == 'mm' else 1)}"

    def point(x: float, y: float, z: float) -> tuple[float, float, float]:
        return float(x), float(y), float(z)

    # the edges of the box that the usual view shows in front: bottom front, bottom right, and the right front upright
    return (
        Measure(point(low[0], low[1], low[2]), point(high[0], low[1], low[2]), words(size[0]), (0.0, -0.8, -0.6)),
        Measure(point(high[0], low[1], low[2]), point(high[0], high[1], low[2]), words(size[1]), (0.9, 0.0, -0.5)),
        Measure(point(high[0], high[1], low[2]), point(high[0], high[1], high[2]), words(size[2]), (0.9, 0.6, 0.0)),
    )
