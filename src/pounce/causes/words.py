"""What each cause is called, how much it harms, and the one remedy a master would take."""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from pounce.base.finding import Finding, Remedy, Severity
from pounce.base.units import count_words, degrees
from pounce.causes.claims import Claims
from pounce.causes.values import Cause, Claim, Harm, Rule
from pounce.cores.changes import MakeHollow
from pounce.metals.tables import limits
from pounce.parting.values import Region, State
from pounce.stock.changes import AddUsual

Said = tuple[str, Finding]


@dataclass(frozen=True, eq=False)
class About:
    """What a cause is said with, beside the findings that it covers: the part, what is asked, which lines of Stock
    there are, and the ids of the stops in their ``order``, the first of which tells a cause.
    """

    volume_mm3: float
    area_mm2: float
    draft_deg: float
    has_draft: bool
    has_fill: bool
    has_fillets: bool
    order: tuple[str, ...]

    def first(self, members: list[Said]) -> str:
        """The stop at which these findings are told."""
        stops = {stop for stop, _ in members}
        return next((stop for stop in self.order if stop in stops), members[0][0])


@dataclass(frozen=True)
class _Text:
    """Harm, text and what stands in it."""

    harm: Harm
    text: str
    noun: str
    figures: dict[str, float] = field(default_factory=dict)
    main: str | None = None
    share: float = 0.0
    count: int = 1
    mark: str | None = None
    remedies: tuple[Remedy, ...] = ()
    brief: str = ""


def cause_of(claim: Claim, members: list[Said], about: About, claims: Claims) -> Cause:
    """The cause of these findings; its rank comes later."""
    said = _SAYS.get(claim.rule, _as_found)(claim, members, about, claims)
    lead = _lead(members)
    order = [lead, *(one for one in members if one is not lead)]
    return Cause(
        rank=0,
        rule=claim.rule,
        harm=said.harm,
        text=said.text,
        noun=said.noun,
        stop=about.first(members),
        figures=said.figures,
        main=said.main,
        place_mm=_place(order),
        share=said.share,
        count=said.count,
        mark=said.mark,
        remedies=said.remedies or _remedies(order),
        members=tuple(order),
        source=lead[1].source,
        brief=said.brief or said.noun,
    )


def _place(order: list[Said]) -> tuple[float, float, float] | None:
    return next((finding.place_mm for _, finding in order if finding.place_mm is not None), None)


def _lead(members: list[Said]) -> Said:
    """The finding that a cause speaks with: what locks first, the most of it first."""

    def key(one: Said) -> tuple[int, int, float]:
        finding = one[1]
        return (
            2 if finding.severity is Severity.STOP else finding.code in ("locked", "tight", "slender-sand"),
            int(finding.code == "locked"),
            finding.figures.get("area_mm2", 0.0),
        )

    return max(members, key=key)


def _remedies(order: list[Said]) -> tuple[Remedy, ...]:
    """Every remedy of the findings, each once, those of the lead first."""
    out: dict[str, Remedy] = {}
    for _, finding in order:
        for remedy in finding.remedies:
            out.setdefault(remedy.id, remedy)
    return tuple(out.values())


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _places(members: Iterable[Said], claims: Claims) -> list[Region]:
    numbers = dict.fromkeys(finding.region for _, finding in members if finding.region is not None)
    return [claims.region(one) for one in numbers]


def _holes(_claim: Claim, members: list[Said], about: About, claims: Claims) -> _Text:
    places = _places(members, claims)
    locked = [region for region in places if region.state is State.LOCKED]
    count = sum(region.count for region in places) or int(
        max((finding.figures.get("holes", 0.0) for _, finding in members), default=0.0)
    )
    count = max(count, 1)
    sizes = [region.diameter_mm for region in places if region.diameter_mm > 0.0]
    figures = {"least_mm": min(sizes, default=0.0), "most_mm": max(sizes, default=0.0)}
    span = "" if not sizes else " of Ø {most_mm}"
    if sizes and figures["most_mm"] - figures["least_mm"] > 0.3:
        span = " of Ø {least_mm} to {most_mm}"
    area = sum(region.area_mm2 for region in locked)
    noun = "holes" if count > 1 else "hole"
    into = any(finding.code == "holes-into-hollows" for _, finding in members)
    does = _of_holes(count > 1, bool(locked), into)
    it = "them" if count > 1 else "it"
    text = f"{_capital(count_words(count))} {noun}{span} {does}: cast {it} solid and drill."
    remedies = () if about.has_fill else (Remedy("fill-holes", f"Fill and drill {it}", AddUsual("fill")),)
    if area > 0.0:
        figures["area_mm2"] = area
    return _Text(
        Harm.LOSES_MOULD if locked else Harm.COSTS_WORK,
        text,
        noun,
        figures,
        "area_mm2" if area > 0.0 else None,
        area / about.area_mm2,
        count,
        "locked" if locked else "tight",
        (*remedies, *_remedies(members)),
        f"{count_words(count)} {noun} {does}",
    )


def _of_holes(several: bool, locked: bool, into: bool) -> str:
    """What small holes do, the gravest alone."""
    if locked:
        return "hold sand" if several else "holds sand"
    if into:
        return "run into what a core makes" if several else "runs into what a core makes"
    return "are small" if several else "is small"


def _hollow(claim: Claim, members: list[Said], about: About, claims: Claims) -> _Text:
    assert claims.cores is not None
    offer = claims.cores.offers[int(claim.which)]
    places = [region for region in _places(members, claims) if region.state is State.LOCKED]
    inside = offer.openings == 1 and offer.volume_mm3 > limits()["vessel_share"].value * about.volume_mm3
    alike = len({finding.hollow for _, finding in members if finding.hollow is not None})
    name = "inside" if inside else offer.name
    noun = name if alike < 2 else f"{count_words(alike)} hollows alike"
    many = alike > 1
    area = sum(region.area_mm2 for region in places) or offer.locked_mm2
    depth = max((finding.figures.get("depth_mm", 0.0) for _, finding in members), default=0.0)
    figures = offer.figures | {"area_mm2": area, "volume_mm3": offer.volume_mm3}
    locks = bool(places) or offer.why == "locks"
    subject = f"The {noun}" if not many else _capital(noun)
    if locks:
        text = f"{subject} {'lock' if many else 'locks'}. Sand in {'them' if many else 'it'} can leave by no joint."
        main = "area_mm2"
    else:
        text = f"{subject} {'are' if many else 'is'} too deep for green sand to stand in."
        if depth > 0.0:
            figures["depth_mm"] = depth
        main = "depth_mm" if depth > 0.0 else "volume_mm3"
    core = Remedy("core-it", "Make a core", MakeHollow(offer.at_mm, "core"))
    rest = [one for one in _remedies(members) if one.id not in ("core", "core-it", "fill" if inside else "")]
    return _Text(
        Harm.LOSES_MOULD,
        text,
        noun,
        figures,
        main,
        area / about.area_mm2 if locks else 0.1 * area / about.area_mm2,
        max(alike, 1),
        "locked" if locks else None,
        (core, *rest),
        f"{'the ' if not many else ''}{noun} "
        + (("lock" if many else "locks") if locks else ("want cores" if many else "wants a core")),
    )


def _undercut(_claim: Claim, members: list[Said], about: About, claims: Claims) -> _Text:
    places = _places(members, claims)
    lead = _lead(members)[1]
    area = sum(region.area_mm2 for region in places if region.state is State.LOCKED)
    count = sum(region.count for region in places) or 1
    figures = lead.figures | {"area_mm2": area}
    winds = next((finding for _, finding in members if finding.code == "winds"), None)
    if winds is not None:
        share = winds.figures["area_mm2"] / about.area_mm2
        figures = dict(winds.figures)
        return _Text(Harm.LOSES_MOULD, winds.text, winds.noun, figures, winds.main, share, 1, "locked", winds.remedies)
    if len(places) < 2:
        text, noun = lead.text, lead.noun
    else:
        text = f"It is undercut in {count_words(count)} places, the most at the {lead.noun}."
        noun = "undercut"
    main = "area_mm2" if area > 0.0 else lead.main
    brief = f"the {lead.noun} holds sand" if len(places) < 2 else f"it is undercut in {count_words(count)} places"
    return _Text(Harm.LOSES_MOULD, text, noun, figures, main, area / about.area_mm2, count, "locked", brief=brief)


def _draft(_claim: Claim, members: list[Said], about: About, claims: Claims) -> _Text:
    places = _places(members, claims)
    area = sum(region.area_mm2 for region in places)
    count = sum(region.count for region in places)
    wanted = [region.asked_deg for region in places] or [about.draft_deg]
    span = degrees(min(wanted))
    if max(wanted) - min(wanted) > 0.2:
        span = f"{span.removesuffix('°')} to {degrees(max(wanted))}"
    least = min((region.least_draft_deg for region in places), default=0.0)
    how = "stand upright and drag" if least < 0.25 else "lean too little and drag"
    figures = {"area_mm2": area}
    askew = [finding for _, finding in members if finding.code == "askew"]
    if count:
        noun = "walls" if count > 1 else "wall"
        if count == 1:
            how = how.replace("stand", "stands").replace("lean", "leans").replace("drag", "drags")
        text = f"{_capital(count_words(count))} {noun} {how}: {'they want' if count > 1 else 'it wants'} {span}."
    elif askew:
        return _as_found(_claim, members, about, claims)
    else:
        lead = _lead(members)[1]
        noun, text, figures = lead.noun, lead.text, dict(lead.figures)
        area = figures.get("area_mm2", 0.0)
    remedies = () if about.has_draft else (Remedy("add-draft", f"Lean them {span}", AddUsual("draft")),)
    return _Text(
        Harm.SCARS,
        text,
        noun,
        figures,
        "area_mm2" if area > 0.0 else None,
        area / about.area_mm2,
        max(count, 1),
        "tight",
        (*remedies, *_remedies(members)),
        f"{count_words(count)} {noun} {'drag' if count > 1 else 'drags'}" if count else "walls drag",
    )


def _thin(_claim: Claim, members: list[Said], about: About, _claims: Claims) -> _Text:
    lead = members[0][1]
    share = max((finding.figures.get("area_mm2", 0.0) for _, finding in members), default=0.0) / about.area_mm2
    short = min(
        (f.figures["least_wall_mm"] / f.figures["wanted_mm"] for _, f in members if "least_wall_mm" in f.figures),
        default=0.0,
    )
    never = share > limits()["all_thin"].value and short < limits()["runs_still"].value
    harm = Harm.CANNOT_CAST if never else Harm.SCARS
    brief = "a wall is thinner than this metal runs"
    return _Text(harm, lead.text, lead.noun, lead.figures, lead.main, share, brief=brief)


def _slender(_claim: Claim, members: list[Said], about: About, _claims: Claims) -> _Text:
    worst = max((finding for _, finding in members), key=lambda one: one.figures.get("ratio", 0.0))
    count = len(members)
    text, noun = worst.text, worst.noun
    if count > 1:
        text = (
            f"Sand between walls is slender in {count_words(count)} places, at worst {{depth_mm}} deep and "
            "{width_mm} wide. It may break off."
        )
        noun = "Sand between walls"
    share = sum(finding.figures.get("depth_mm", 0.0) ** 2 for _, finding in members) / about.area_mm2
    over = worst.figures.get("ratio", 0.0) / max(worst.figures.get("limit", 1.0), 1e-9)
    harm = Harm.LOSES_MOULD if over > limits()["slender_may_stand"].value else Harm.SCARS
    brief = "sand between walls is slender"
    return _Text(harm, text, noun, worst.figures, worst.main, 0.01 * share, count, brief=brief)


_RULE_HARM = {
    Rule.SHELL: Harm.CANNOT_CAST,
    Rule.STOPS: Harm.CANNOT_CAST,
    Rule.JOINT: Harm.SCARS,
    Rule.DRAFT: Harm.SCARS,
    Rule.CORE: Harm.SCARS,
    Rule.STOCK: Harm.SCARS,
    Rule.COLD: Harm.SCARS,
    Rule.GATE: Harm.SCARS,
    Rule.FINE: Harm.COSTS_WORK,
    Rule.OTHER: Harm.COSTS_WORK,
}


def _as_found(claim: Claim, members: list[Said], about: About, _claims: Claims) -> _Text:
    """The words of the finding that it speaks with; of several the first."""
    lead = _lead(members)[1]
    area = lead.figures.get("area_mm2", 0.0)
    return _Text(
        _RULE_HARM.get(claim.rule, Harm.COSTS_WORK),
        lead.text,
        lead.noun,
        dict(lead.figures),
        lead.main,
        area / about.area_mm2,
        len(members),
        lead.mark,
    )


def _fine(claim: Claim, members: list[Said], about: About, claims: Claims) -> _Text:
    """As found; a corner in which the sand ends too sharp gets the usual fillets, where they are not laid already: what
    is left of it then is for whoever drew it.
    """
    own = _as_found(claim, members, about, claims)
    usual = Remedy("fillet", "Give the corner a fillet", AddUsual("fillets"))
    drawn = Remedy("fillet", "Give the corner a fillet where it is drawn")
    corner = drawn if about.has_fillets else usual
    by = {one.id: one for one in _remedies([_lead(members), *members])}
    if "fillet" in by:  # one press lays them all: corners that tear hot metal ask for the same line
        by["fillet"] = corner
        by.pop("add-fillets", None)
    return replace(own, remedies=tuple(by.values()))


def _hot(claim: Claim, members: list[Said], about: About, claims: Claims) -> _Text:
    """Places that set last: one in its own words, several together, with the cure that was found for all of them."""
    hollow = [one for _, one in members if "high_mm3" in one.figures]
    own = _as_found(claim, members, about, claims)
    if not hollow:
        return replace(own, harm=Harm.SCARS, brief="a feeder sets too soon")
    most = sum(one.figures["high_mm3"] for one in hollow)
    share = most / max(about.volume_mm3, 1e-9)
    if len(hollow) == 1:
        first = hollow[0]
        figures = dict(first.figures)
        return _Text(Harm.SCARS, first.text, first.noun, figures, first.main, share, brief="a place draws hollow")
    figures = {**hollow[0].figures, "high_mm3": most}
    text = f"{_capital(count_words(len(hollow)))} places set last and nothing feeds them: {{high_mm3}} may draw hollow."
    brief = f"{count_words(len(hollow))} places draw hollow"
    return _Text(Harm.SCARS, text, "set last", figures, "high_mm3", share, len(hollow), brief=brief)


_SAYS = {
    Rule.HOT: _hot,
    Rule.HOLES: _holes,
    Rule.HOLLOW: _hollow,
    Rule.UNDERCUT: _undercut,
    Rule.DRAFT: _draft,
    Rule.THIN: _thin,
    Rule.SLENDER: _slender,
    Rule.FINE: _fine,
}

# --- cured ------------------------------------------------------------------------------------------------------------

_WERE = {
    Rule.HOLES: ("hole held sand", "holes held sand", "hole"),
    Rule.UNDERCUT: ("place held sand", "places held sand", "place"),
    Rule.HOLLOW: ("hollow held sand", "hollows held sand", "hollow"),
    Rule.DRAFT: ("wall dragged", "walls dragged", "wall"),
    Rule.SLENDER: ("stretch of sand was slender", "stretches of sand were slender", "sand"),
    Rule.JOINT: ("place of the joint was weak", "places of the joint were weak", "joint"),
    Rule.HOT: ("place drew hollow", "places drew hollow", "place"),
    Rule.FINE: ("corner or detail was too fine", "corners or details were too fine", "detail"),
}

_SEVERAL = {"hole": "holes", "place": "places", "hollow": "hollows", "wall": "walls"}


def cured_cause(claim: Claim, by: str, members: list[Said], about: About, claims: Claims) -> Cause:
    """A cause that is no more: what it was, and what cured it."""
    lead = _lead(members)
    places = _places(members, claims)
    count = sum(region.count for region in places) or len(members)
    area = sum(region.area_mm2 for region in places)
    were = Rule.DRAFT if claim.rule is Rule.HOLES and all(one.state is State.TIGHT for one in places) else claim.rule
    one, several, noun = _WERE.get(were, ("finding was open", "findings were open", "finding"))
    if were is not claim.rule:
        one, several, noun = "hole dragged", "holes dragged", "hole"
    said = one if count == 1 else several
    figures = {"area_mm2": area} if area > 0.0 else dict(lead[1].figures)
    return Cause(
        rank=0,
        rule=claim.rule,
        harm=Harm.GOOD_TO_KNOW,
        text=f"{_capital(count_words(count))} {said}.",
        noun=noun if count == 1 or noun not in _SEVERAL else _SEVERAL[noun],
        stop=about.first(members),
        figures=figures,
        main="area_mm2" if area > 0.0 else lead[1].main,
        place_mm=_place([lead, *members]),
        count=count,
        members=(lead, *(one for one in members if one is not lead)),
        cured_by=by,
    )
