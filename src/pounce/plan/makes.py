"""What a master does about each cause: the lines of a plan, and what else may be tried where it is still found."""

from collections.abc import Iterable
from dataclasses import replace
from math import pi

import numpy as np

from pounce.base.finding import Finding, Remedy
from pounce.base.units import count_words
from pounce.causes.values import Cause, Rule
from pounce.cores.changes import MakeHollow
from pounce.cores.values import CoresResult, Offer
from pounce.draw.changes import SetDraw
from pounce.metals.tables import limits
from pounce.parting.changes import AskFor, MakeLoose
from pounce.plan.values import Line, LineKind
from pounce.solid.features.values import Feature
from pounce.solid.mesh import Floats, Mesh
from pounce.stock.changes import AddUsual

# Cures of an open undercut in the order a master tries them; what is filled is milled, the last resort.
CURES = ("tilt-draw", "move-parting", "parting-natural", "ring-core", "loose-piece", "cheek", "core", "fill")


def first_lines(causes: Iterable[Cause], cores: CoresResult | None, metal_mm3: float) -> list[Line]:
    """What is done at once about all causes that have one usual cure: holes filled, hollows cored, walls leaned.

    ``metal_mm3`` the part's own volume: by it a hollow is the part's inside, which is never filled, or one of many.
    """
    out: list[Line] = []
    vessel_mm3 = limits()["vessel_share"].value * metal_mm3
    for cause in causes:
        if cause.rule is Rule.HOLES:
            out.append(holes_line(cause))
        elif cause.rule is Rule.HOLLOW and cores is not None:
            out += [hollow_line(offer, vessel_mm3) for offer in offers_of(cause, cores)]
        elif cause.rule is Rule.UNDERCUT:
            out += _groove_lines(cause, metal_mm3)
        elif cause.rule is Rule.DRAFT:
            out.append(draft_line(cause))
    return list(in_order(_few_cores(_like_bores(_each_once(out)), cores, metal_mm3)))


def _groove_lines(cause: Cause, metal_mm3: float) -> list[Line]:
    """A groove round the outside: cast solid and turned where that is little metal, since its ring core lies all round
    the joint and leaves a gate no way; else the ring core.
    """
    by = {remedy.id: remedy for remedy in cause.remedies}
    ring_mm3 = cause.figures.get("ring_mm3", 0.0)
    little = 0.0 < ring_mm3 <= limits()["plan_turned_share"].value * metal_mm3
    key = "fill" if little and "fill" in by else "ring-core"
    return [_of_remedy(cause, by[key])] if key in by else []


_ORDER = tuple(LineKind)


def in_order(lines: Iterable[Line]) -> tuple[Line, ...]:
    """Lines in the order in which they are done."""
    return tuple(sorted(lines, key=lambda line: _ORDER.index(line.kind)))


def _each_once(lines: list[Line]) -> list[Line]:
    return list({line.id: line for line in reversed(lines)}.values())[::-1]


def holes_line(cause: Cause) -> Line:
    """Small holes: cast solid, centre-marked and drilled."""
    several = cause.count > 1
    return Line(
        LineKind.HOLES,
        f"Fill the {count_words(cause.count)} small holes" if several else "Fill the small hole",
        "drill after casting",
        (AddUsual("fill"),),
        {"area_mm2": cause.figures["area_mm2"]} if "area_mm2" in cause.figures else {},
        "area_mm2" if "area_mm2" in cause.figures else None,
        (Rule.HOLES,),
    )


def solid_holes(causes: Iterable[Cause]) -> list[Line]:
    """Holes that no usual filling knows, as square ones, each cast solid where it is."""
    return _each_once(
        [
            _of_remedy(cause, remedy)
            for cause in causes
            if cause.rule is Rule.HOLES
            for remedy in cause.remedies
            if remedy.id == "fill" and remedy.change is not None
        ]
    )


def offers_of(cause: Cause, cores: CoresResult) -> list[Offer]:
    """The hollows that a cause speaks of, each once."""
    numbers = [finding.hollow for _, finding in cause.members if finding.hollow is not None]
    if not numbers:
        place = cause.place_mm
        near = sorted(
            range(len(cores.offers)),
            key=lambda k: sum((a - b) ** 2 for a, b in zip(cores.offers[k].at_mm, place or (0, 0, 0), strict=True)),
        )
        numbers = near[:1]
    return [cores.offers[k] for k in dict.fromkeys(numbers) if not cores.offers[k].make]


def hollow_line(offer: Offer, vessel_mm3: float) -> Line:
    """A hollow: bored from the solid where that is less work than a box, else a core."""
    figures = offer.figures | {"volume_mm3": offer.volume_mm3}
    wide = offer.figures.get("wide_mm", 1e9)
    bored = offer.is_round_bore and wide <= limits()["plan_bored_under"].value
    if bored and offer.volume_mm3 < vessel_mm3:
        return Line(
            LineKind.BORE,
            "Cast the {wide_mm} bore solid",
            "bore after casting",
            (MakeHollow(offer.at_mm, "drill"),),
            figures,
            "volume_mm3",
            (Rule.HOLLOW,),
            _at(offer.at_mm),
        )
    # without the small holes that run into it, which are filled, it has fewer mouths than it was found with
    name = "hollow, {wide_mm} wide" if offer.holes else offer.name.replace(" through", "")
    locks = offer.why == "locks" and not offer.holes
    why = "it locks along the draw" if locks else "green sand would not stand in it"
    return Line(
        LineKind.CORE,
        f"Core for the {name}",
        why,
        (MakeHollow(offer.at_mm, "core"),),
        figures,
        "volume_mm3",
        (Rule.HOLLOW,),
        _at(offer.at_mm),
    )


def sand_lines(causes: Iterable[Cause], mesh: Mesh, features: Iterable[Feature], vessel_mm3: float) -> list[Line]:
    """What is done where sand that green sand makes may break off: a round bore is cast solid or cored as one that is
    found hollow would be, of anything else (in the part's ``mesh`` with its ``features``) a core is made; a gap too
    thin for one is filled.
    """
    out: list[Line] = []
    thin: list[Finding] = []
    holes = [one for one in features if one.is_hole and one.through]
    for cause in causes:
        for _, finding in cause.members if cause.rule is Rule.SLENDER else ():
            first = next((remedy.id for remedy in finding.remedies if remedy.id in ("cast-solid", "core")), "")
            if first == "cast-solid":
                thin.append(finding)
            if finding.place_mm is None or first != "core":
                continue
            # a bore stands in the midst of the rim that is round it
            around = [one for one in holes if _holds(one, finding.place_mm)]
            hole = min(around, key=lambda one: one.radius_mm, default=None)
            if hole is None:
                out.append(_sand_core(finding.place_mm, finding.figures["width_mm"]))
                continue
            x, y, z = mesh.corners[hole.faces[0]].mean(axis=0).tolist()
            wide, deep = 2.0 * hole.radius_mm, hole.length_mm
            bore = Offer((x, y, z), "bore, {wide_mm}", "slender", "", pi / 4.0 * wide**2 * deep, 0.0, 2)
            bore = replace(bore, figures={"wide_mm": wide}, is_round_bore=True)
            out.append(replace(hollow_line(bore, vessel_mm3), cures=(Rule.SLENDER,)))
    return [*_like_bores(_each_once(out)), *_gap_lines(thin)]


def _gap_lines(found: list[Finding]) -> list[Line]:
    """Gaps too thin for a core filled, those of one make by the first of them."""
    out: list[Line] = []
    for finding in found:
        wide, deep = finding.figures["width_mm"], finding.figures["depth_mm"]
        near = limits()["gaps_alike"].value
        known = next((line for line in out if abs(line.figures["width_mm"] / wide - 1.0) < near), None)
        if known is not None and abs(known.figures["depth_mm"] / deep - 1.0) < near:
            out[out.index(known)] = replace(known, text="Fill the gaps, {width_mm} wide")
            continue
        change = next(remedy.change for remedy in finding.remedies if remedy.id == "cast-solid")
        assert change is not None and finding.place_mm is not None
        out.append(
            Line(
                LineKind.GAP,
                "Fill the gap, {width_mm} wide",
                "sand so thin breaks off: saw or mill it after casting",
                (change,),
                {"width_mm": wide, "depth_mm": deep},
                "width_mm",
                (Rule.SLENDER,),
                _at(finding.place_mm),
            )
        )
    return out


def turned_lines(causes: Iterable[Cause], direction: Floats) -> list[Line]:
    """The other way up in the sand, where slender sand that hangs from the cope would then stand in the drag: a flat
    back rammed in the drag, anything else drawn against ``direction`` (3,).
    """
    helps = {
        remedy.id: remedy.change
        for cause in causes
        for remedy in (cause.remedies if cause.rule is Rule.SLENDER else ())
        if remedy.id in ("turn-over", "in-drag")
    }
    x, y, z = (0.0 - float(value) for value in direction)
    why = "what hangs from the cope then stands in the drag"
    return [
        Line(
            LineKind.OVER,
            "Turn it over in the sand",
            why,
            (change if name == "in-drag" and change is not None else SetDraw((x, y, z)),),
            cures=(Rule.SLENDER,),
            of=name,
        )
        for name, change in helps.items()
    ]


def _sand_core(at: tuple[float, float, float], wide_mm: float) -> Line:
    return Line(
        LineKind.CORE,
        "Core for the sand, {wide_mm} wide",
        "green sand may break off there",
        (MakeHollow(at, "core"),),
        {"wide_mm": wide_mm},
        None,
        (Rule.SLENDER,),
        _at(at),
    )


def _pocket_core(cause: Cause, at: tuple[float, float, float]) -> Line:
    figures = {"area_mm2": cause.figures.get("area_mm2", 0.0)}
    text = "Core for the pocket that holds sand"
    return Line(
        LineKind.CORE,
        text,
        "it locks along the draw",
        (MakeHollow(at, "core"),),
        figures,
        "area_mm2",
        (cause.rule,),
        _at(at),
    )


def _holds(hole: Feature, place: tuple[float, float, float]) -> bool:
    """Whether a place lies in the air of a hole."""
    away = np.subtract(place, hole.centre)
    along = float(away @ hole.axis)
    aside = float(np.linalg.norm(away - along * hole.axis))
    return hole.low_mm <= along <= hole.high_mm and aside < hole.radius_mm


def cores_instead(line: Line) -> list[Line]:
    """Cores for bores that were to be cast solid and could not be, as where stock lies in the bore."""
    return [
        Line(
            LineKind.CORE,
            "Core for the bore, {wide_mm} wide",
            "it cannot be cast solid",
            (MakeHollow(change.at_mm, "core"),),
            {"wide_mm": line.figures["wide_mm"]},
            None,
            (Rule.HOLLOW,),
            _at(change.at_mm),
        )
        for change in line.changes
        if isinstance(change, MakeHollow)
    ]


def _like_bores(lines: list[Line]) -> list[Line]:
    """Bores of one width that are cast solid, in one line: they are drilled or bored in one go."""
    out: list[Line] = []
    for line in lines:
        nth = next((k for k, one in enumerate(out) if _alike(one, line)), None)
        if nth is None:
            out.append(line)
            continue
        one = out[nth]
        count = count_words(len(one.changes) + len(line.changes))
        figures = one.figures | {"volume_mm3": one.figures["volume_mm3"] + line.figures["volume_mm3"]}
        text, changes = f"Cast the {count} {{wide_mm}} bores solid", (*one.changes, *line.changes)
        out[nth] = replace(one, text=text, changes=changes, figures=figures)
    return out


def _alike(one: Line, other: Line) -> bool:
    if one.kind is not LineKind.BORE or other.kind is not LineKind.BORE:
        return False
    return abs(one.figures["wide_mm"] - other.figures["wide_mm"]) < limits()["bores_alike"].value


def _few_cores(lines: list[Line], cores: CoresResult | None, metal_mm3: float) -> list[Line]:
    """Without cores for small hollows where there are more of them than anybody would set: gaps between teeth or
    ribs.
    """
    least = limits()["plan_core_share"].value * metal_mm3
    small = [] if cores is None else [one for one in cores.offers if not one.is_round_bore and one.volume_mm3 < least]
    if len(small) <= limits()["plan_cores"].value:
        return lines
    many = {_at(one.at_mm) for one in small}
    return [line for line in lines if line.kind is not LineKind.CORE or line.of not in many]


def _at(place: tuple[float, float, float]) -> str:
    return ",".join(f"{value:.3f}" for value in place)


def draft_line(cause: Cause) -> Line:
    """Draft on every wall that wants it."""
    figures = {"area_mm2": cause.figures.get("area_mm2", 0.0)}
    count = count_words(cause.count)
    walls = "one wall" if cause.count == 1 else f"{count} walls"
    return Line(
        LineKind.DRAFT,
        f"Draft on {walls}",
        "as their height and side ask: upright they drag",
        (AddUsual("draft"),),
        figures,
        "area_mm2",
        (Rule.DRAFT,),
    )


def fillets_line() -> Line:
    """Fillets in the sharp inside corners."""
    return Line(
        LineKind.FILLETS,
        "Fillets in the inside corners",
        "sharp ones tear hot metal and crumble the sand",
        (AddUsual("fillets"),),
        cures=(Rule.FINE,),
    )


def others_of(cause: Cause, tried: set[str]) -> list[Line]:
    """What else may be tried about a cause that is still there, the likeliest first; nothing twice."""
    if cause.rule not in (Rule.UNDERCUT, Rule.HOLES, Rule.HOLLOW):
        return []
    out = []
    for key in CURES:
        if key == "fill" and cause.rule is Rule.HOLLOW:
            continue  # what must be hollow is not filled
        if key == "core" and cause.count > 1:
            continue  # nobody sets a core in each gap between teeth
        for remedy in cause.remedies:
            line = _of_remedy(cause, remedy) if remedy.id == key and remedy.change is not None else None
            if line is not None and line.id not in tried:
                out.append(line)
    return out


def _of_remedy(cause: Cause, remedy: Remedy) -> Line:
    assert remedy.change is not None
    if remedy.id == "core" and isinstance(remedy.change, AskFor):
        return _pocket_core(cause, remedy.change.at_mm)
    names = {
        "tilt-draw": ("Tilt the draw", "the undercut then leaves by itself"),
        "move-parting": ("Part it at another height", "the place then leaves by the other half"),
        "parting-natural": ("Let the joint follow the part", "every place then leaves by its own half"),
        "ring-core": ("A ring core for the groove", "the mould parts through it, and the groove leaves no sand"),
        "cheek": ("A cheek for the groove", "a third part of the flask lifts off between cope and drag"),
        "loose-piece": ("A loose piece for what overhangs", "it stays in the sand and is drawn sideways"),
        "fill": ("Fill the undercut", "mill it after casting"),
    }
    text, reason = names[remedy.id]
    if remedy.id == "fill" and cause.rule is Rule.HOLES:
        text, reason = "Cast the hole solid", "drill it after casting, or file it out"
    elif remedy.id == "fill" and cause.figures.get("ring_mm3", 0.0) > 0.0:
        text, reason = "Fill the groove", "turn it after casting: past a ring core no gate would reach the joint"
        if cause.count > 1:
            text, reason = "Fill the grooves", "turn them after casting"
    place = ""
    if isinstance(remedy.change, (AskFor, MakeLoose)):
        place = _at(remedy.change.at_mm)
    return Line(
        LineKind.UNDERCUT,
        text,
        reason,
        (remedy.change,),
        {"area_mm2": cause.figures.get("area_mm2", 0.0)},
        "area_mm2",
        (cause.rule,),
        f"{remedy.id} {place}".strip(),
    )
