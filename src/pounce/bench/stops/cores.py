"""Cores on the bench."""

from dataclasses import replace

import numpy as np

from pounce.base.units import count_words, length, plain, volume
from pounce.bench.cards.cores import CoresCard
from pounce.bench.stops.view import Headline, Shown, StopView, box_of, draw_of, plain_cut
from pounce.bench.stops.words import point
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.view3d.beside import beside, corners_of
from pounce.bench.widgets.labels import Chip, Tag
from pounce.route.results import Results
from pounce.solid.mesh import Floats


def _cores(r: Results, _unit: str) -> Headline | None:
    c = r.cores
    if c is None:
        return None
    waiting = [offer for offer in c.offers if not offer.make]
    if not c.cores:
        if not c.offers:
            return Headline(
                "No core is needed: the sand makes every hollow by itself.",
                "Click the wall of a bore or pocket to ask for one.",
            )
        if not waiting:
            return Headline("No core: every hollow is made another way.", "The card says how each is made.")
        many = "hollows lock or are" if len(waiting) > 1 else "hollow locks or is"
        head = f"{count_words(len(waiting)).capitalize()} {many} too slender for green sand."
        return Headline(head, "The card offers a core, or another way, for each.")
    kinds = {core_print.kind for core in c.cores for core_print in core.prints}
    stands = kinds <= {"cope", "drag"} or c.on_end
    lies = (
        "standing upright"
        if stands
        else "lying in the joint"
        if kinds <= {"side", "tail", "ring"}
        else "held on several sides"
    )
    count = count_words(len(c.cores)).capitalize()
    word = "core" if len(c.cores) == 1 else "cores"
    opened = [finding for finding in c.findings if not finding.informational]
    more = (
        f" {count_words(len(opened)).capitalize()} {'thing is' if len(opened) == 1 else 'things are'} left to decide."
        if opened
        else ""
    )
    style = "ring" if kinds == {"ring"} else c.cores[0].boxes[0].style
    how = {
        "split": "Ram from the open end, vent, open, lift out.",
        "ring": "Ram both halves from the joint, strike off, close and turn.",
        "half": "Ram two halves, turn one over, glue.",
        "tube": "Ram the tube on a plate, vent, push the core out.",
    }[style]
    beside = "Core beside its open box." if style != "tube" else "Core beside its tube."
    return Headline(f"{count} {word}, {lies}.{more}", f"{beside} {how}")


def _line(r: Results, _unit: str) -> str | None:
    if r.cores is None:
        return None
    made = len(r.cores.cores)
    waiting = sum(not offer.make for offer in r.cores.offers)
    said = [f"{made} {'core' if made == 1 else 'cores'}"] * bool(made) + [f"{waiting} to decide"] * bool(waiting)
    return ", ".join(said) or "None needed"


def _scene(kind: str, results: Results, paths: dict[str, str], shown: Shown) -> SceneAsked:
    packed = paths.get("cores")
    return SceneAsked(
        "part" if packed is None else kind,
        paths.get("part"),
        paths.get("parting"),
        None,
        draw_of(results),
        cores=packed,
        core=shown.core,
        apart=shown.apart,
    )


def _points(scene: SceneAsked, results: Results) -> Floats:
    if scene.kind != "cores" or results.cores is None or not results.cores.cores:
        return box_of(results)
    chosen = results.cores.cores[min(scene.core, len(results.cores.cores) - 1)]
    return corners_of(results.cores, chosen, np.array(scene.direction), scene.apart)


def _tags(results: Results, scene: SceneAsked, unit: str) -> tuple[Tag, ...]:
    """What a core and its box are called, where they stand."""
    cores = results.cores
    if cores is None or not cores.cores:
        return ()
    core = cores.cores[min(scene.core, len(cores.cores) - 1)]
    place = beside(cores, core, np.array(scene.direction), scene.apart)
    tags: list[Tag] = []
    if core.vents:
        tags.append(Tag(f"vent Ø {length(core.vent_mm, unit)}", point(np.array(core.vents[0][0]) + place.core)))
    for one in core.prints:
        if one.keyed:  # the prints' sizes stand in the section
            tags.append(Tag("a flat as key", point(one.at_mm + one.axis * 0.5 * one.length_mm + place.core)))
    box = core.boxes[0]
    if scene.apart > 0.3 and box.style != "tube":
        if box.dowels:
            at, thick = box.dowels[0]
            tags.append(
                Tag(
                    f"dowels Ø {plain(thick, 1)} and {plain(box.dowels[1][1], 1)} mm",
                    point(np.array(at) + place.parts[0]),
                )
            )
        if any(core_print.kind == "ring" for core_print in core.prints):  # rammed from the joint, half by half
            return tuple(tags)
        open_end = max(core.prints, key=lambda one: float(one.axis @ box.ram))
        tags.append(Tag("ram here", point(open_end.at_mm + open_end.axis * open_end.length_mm + place.parts[0])))
    return tuple(tags)


def _chips(results: Results, unit: str, _shown: Shown) -> tuple[Chip, ...]:
    made = results.cores
    if made is None:
        return ()
    if not made.cores:
        locks = any(not offer.make for offer in made.offers)
        return (Chip("steelFlat", "The pattern"), *((Chip("locked", "A hollow to decide on"),) if locks else ()))
    whole = sum(core.mesh.volume for core in made.cores)
    return (
        Chip("steelFlat", "The pattern"),
        Chip("core", "Core sand", volume(whole, unit)),
        Chip("print", "Prints, sit in the sand"),
        Chip("timber", "Core box"),
    )


VIEW = StopView(
    "Sand that makes the hollow places.",
    "What the sand cannot make",
    CoresCard,
    _cores,
    _line,
    "cores",
    _scene,
    _points,
    _tags,
    _chips,
    cut=lambda asked: replace(plain_cut(asked), cores=True),
    sand=True,
)
