"""The proof of the finished pattern, at the Pattern stop: what it does in the sand, in place of how it is made."""

from dataclasses import replace

from pounce.base.units import length
from pounce.bench.stops import parting
from pounce.bench.stops.view import Headline, judged_cut
from pounce.bench.stops.words import cause_tags, cured_tags, draw_chips
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.widgets.labels import Tag
from pounce.proof.values import Verdict
from pounce.route.proof import verdict_words
from pounce.route.results import Results
from pounce.route.stops import ids

MOST_CURED = 4


def _headline(r: Results, unit: str) -> Headline | None:
    proof, causes = r.proof, r.causes
    if proof is None or causes is None:
        return None
    rap = "" if r.parting is None else f"Rapped {length(r.parting.rap_mm, unit)} and lifted straight, "
    if proof.verdict is Verdict.NONE:
        return Headline("Nothing has to leave the sand.", "The pattern stays in it: there is no draw to prove.")
    if not proof.closed:
        return Headline("The pattern's shell is open: nothing can be proved of it.", "Close it where it is drawn.")
    worst = causes.open[0].brief_words(unit) if causes.open else ""
    if proof.verdict is not Verdict.LOCKS:
        return Headline(verdict_words(r), f"{rap}no sand is torn.")
    return Headline(f"The pattern still locks: {worst}.", "Plan it for me (Ctrl+L) tries what would free it.")


def _tags(results: Results, _scene: SceneAsked, unit: str) -> tuple[Tag, ...]:
    opened = cause_tags(results, ids(), unit)
    return (*opened, *cured_tags(results, unit)[: max(MOST_CURED - len(opened), 1)])


PROOF_VIEW = replace(
    parting.VIEW,
    under="The finished pattern, as it will be rammed.",
    headline=_headline,
    tags=_tags,
    chips=lambda results, unit, _shown: draw_chips(results.parting, unit),
    cut=judged_cut,
    handle=lambda _results: None,
    actions=(),
)
