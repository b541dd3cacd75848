"""What the logbook has to say of a job: what it taught, sizes that are off, defects with their causes, and several
changes at once.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from pounce.base.finding import Change, Finding, Remedy, Severity
from pounce.base.units import count_words, plain
from pounce.logbook.changes import LessStock, TryByHand, TryNext, UseContraction, Used, UseFigure
from pounce.logbook.said import Contraction, Differs, Learned, Odd, Row, Seen, Verdict
from pounce.logbook.values import Pour
from pounce.metals import tables
from pounce.metals.defects import defects

# Which figures an earlier stop plans with, and what its button says.
USES: Final[dict[str, Used]] = {
    "ram_min_l": "ram_min_l",
    "melt_percent": "melt_percent",
    "loss_ingot": "loss_percent",
    "loss_scrap": "loss_percent",
    "loss_turnings": "loss_percent",
    "falls_c_min": "falls_c_min",
    "growth_percent": "growth_percent",
}
SHOWN_ODD = 3
MOST_NAMED = 4


@dataclass(frozen=True)
class Known:
    """What is judged. ``used`` figures that earlier stops plan with already, ``charge`` what is melted, ``stocks``
    the lines of Stock that are machined with the stock each has (mm), ``lift_c`` the metal is lifted at, ``ways`` the
    one change that a cause asks for, with its button.
    """

    contraction: Contraction
    made_percent: float
    figures: tuple[Learned, ...]
    last: Pour | None
    seen: tuple[Seen, ...]
    rows: tuple[tuple[int, tuple[Row, ...]], ...]
    grade: str
    differs: tuple[Differs, ...]
    troubles: tuple[str, ...]
    used: Mapping[str, float]
    charge: str
    stocks: tuple[tuple[int, float], ...]
    lift_c: float | None
    ways: Mapping[str, tuple[Change, str]]
    said: str


def found(k: Known) -> tuple[Finding, ...]:
    """All of it, what is open first."""
    out = [*_of_defects(k), *_of_sizes(k), *_of_contraction(k), *_of_changes(k), *_of_odd(k), *_of_figures(k)]
    out += [Finding("size-lost", Severity.WARN, text, source="learning-practice") for text in k.troubles]
    if k.said:
        out.append(Finding("logbook-mended", Severity.WARN, k.said, noun="logbook"))
    return tuple(sorted(out, key=lambda one: one.informational))


def _of_defects(k: Known) -> list[Finding]:
    out, table = [], defects()
    for one in k.seen:
        if not one.defect.fault:
            continue
        first, verdict = one.diagnosis.suspects[0], one.diagnosis.verdict
        head = f"Casting {one.casting} has {table.noun[one.defect.seen]}."
        settled = one.defect.cause
        text = f"{head} {one.diagnosis.said}"
        if settled:
            text = f"{head} It was this: {table.cause[settled].name.lower()}."
        remedies: tuple[Remedy, ...] = ()
        if verdict is Verdict.CLEAR or settled:
            remedies = (_try(k, settled or first.cause),)
        out.append(
            Finding(
                f"defect-{one.casting}-{one.number + 1}",
                Severity.WARN,
                text,
                noun=f"Casting {one.casting}",
                place_mm=one.defect.at_mm,
                figures={"share_percent": round(100.0 * first.share)},
                main=None if settled else "share_percent",
                remedies=remedies,
                source=table.cause[settled or first.cause].source,
            )
        )
    return out


def _try(k: Known, cause: str) -> Remedy:
    """The one change that is tried next."""
    way = k.ways.get(cause)
    if way is None:
        advice = defects().cause[cause].advice
        return Remedy("try-next", "Note it for the next pour", TryByHand(advice))
    change, words = way
    return Remedy("try-next", f"Try: {words[0].lower()}{words[1:]}", TryNext(change, words))


def _of_sizes(k: Known) -> list[Finding]:
    """Sizes outside their grade, and those that leave no metal to machine."""
    out = []
    for casting, rows in k.rows:
        for one in rows:
            if not one.cleans_up:
                out.append(
                    Finding(
                        "no-stock-left",
                        Severity.WARN,
                        f"{one.name} of casting {casting} leaves no metal to machine: it is {{short_mm}} short of the "
                        "finished size.",
                        noun=one.name,
                        figures={"short_mm": abs(one.left_mm or 0.0)},
                        main="short_mm",
                        source="iso-8062",
                    )
                )
            elif one.within is False:
                out.append(
                    Finding(
                        "size-off",
                        Severity.WARN,
                        f"{one.name} of casting {casting} is {{off_mm}} {'over' if one.off_mm > 0 else 'under'}: "
                        f"{k.grade} allows {{half_mm}} either way.",
                        noun=one.name,
                        figures={"off_mm": abs(one.off_mm), "half_mm": one.half_mm or 0.0},
                        main="off_mm",
                        source="iso-8062",
                    )
                )
    checked = sum(len(rows) for _, rows in k.rows)
    if checked and not out:
        text = f"All {count_words(checked)} sizes of the last pour lie within {k.grade} of ISO 8062."
        out.append(Finding("sizes-within", Severity.NOTE, text, noun=k.grade, source="iso-8062"))
    return out


def _of_contraction(k: Known) -> list[Finding]:
    c = k.contraction
    if not c.learned:
        return []
    metal = tables.metal(c.metal)
    figures = {
        "learned_percent": round(c.free.value, 2),
        "give_percent": round(c.free.give, 2),
        "made_percent": round(k.made_percent, 2),
        "low_percent": c.low,
        "high_percent": c.high,
    }
    name = metal.name.lower()
    head = f"This bench's {name} contracts {c.free.value:.2f}\u00a0%, give or take {c.free.give:.2f}"
    if c.free.value > c.most:
        text = f"{head}: more than this metal can. Look through what was measured before it is believed."
        return [
            Finding("contraction-impossible", Severity.WARN, text, noun="more than this metal can", figures=figures)
        ]
    if c.free.low <= k.made_percent <= c.free.high:
        text = f"{head}. The pattern is made for {{made_percent}}: that stands."
        return [_contraction(Severity.NOTE, text, "that stands", figures)]
    percent = figures["learned_percent"]
    text = f"{head}. The pattern is made for {{made_percent}}; the table says {{low_percent}} to {{high_percent}}."
    use = Remedy("use-contraction", f"Make the next pattern for {percent:g} %", UseContraction(percent))
    return [_contraction(Severity.WARN, text, f"contracts {c.free.value:.2f}\u00a0%", figures, (use,))]


def _contraction(
    severity: Severity, text: str, noun: str, figures: dict[str, float], remedies: tuple[Remedy, ...] = ()
) -> Finding:
    return Finding(
        "contraction-learned", severity, text, noun=noun, figures=figures, remedies=remedies, source="learning-practice"
    )


def _of_changes(k: Known) -> list[Finding]:
    """What was chosen otherwise since the last pour: one change teaches something, several nothing."""
    many = len(k.differs)
    if not many or k.last is None:
        return []
    names = [one.name.split(": ", 1)[-1] for one in k.differs]
    said = ", ".join(f"{name[0].lower()}{name[1:]}" for name in names[:MOST_NAMED])
    said += ", and more" if many > MOST_NAMED else ""
    if many == 1:
        one = k.differs[0]
        text = f"One thing is changed since the last pour: {said}, from {one.was} to {one.now}."
        return [Finding("one-change", Severity.NOTE, text, noun="One thing", source="learning-practice")]
    text = (
        f"{count_words(many).capitalize()} things are changed since the last pour: {said}. If it comes out otherwise, "
        "nothing says by which."
    )
    return [Finding("several-changes", Severity.WARN, text, noun="nothing says by which", source="learning-practice")]


def _of_odd(k: Known) -> list[Finding]:
    out = []
    for one in k.contraction.odd[:SHOWN_ODD]:
        out.append(
            Finding(
                "measure-odd",
                Severity.WARN,
                _odd_words(one),
                noun=one.name,
                figures={"without_percent": round(one.without_percent, 2)},
                main="without_percent",
                source="learning-practice",
            )
        )
    return out


def _odd_words(one: Odd) -> str:
    return (
        f"{one.name} of casting {one.casting} of {one.job} lies {abs(one.off):.0f} standard deviations off the rest. "
        "Measure it again, or leave it out: without it {without_percent} would be learned."
    )


def _of_figures(k: Known) -> list[Finding]:
    out = []
    for one in k.figures:
        remedies, plans = _use(k, one)
        table = "" if one.table is None else f" The table says {plain(one.table.value, one.digits)}."
        text = f"{one.name} {_figure(one.estimate.value, one)}, give or take {_figure(one.estimate.give, one)}.{table}"
        text += plans
        out.append(
            Finding(
                f"figure-{one.key.replace('_', '-')}",
                Severity.NOTE,
                text,
                noun=one.name,
                remedies=remedies,
                source=None if one.table is None else one.table.source,
            )
        )
    return out


def _figure(value: float, one: Learned) -> str:
    return f"{plain(value, one.digits)}\u00a0{one.unit}"


def _use(k: Known, one: Learned) -> tuple[tuple[Remedy, ...], str]:
    """The button that takes a figure for this job, and a word where it is taken already."""
    value = round(one.estimate.value, one.digits)
    if one.key == "left_mm":
        least = tables.limits()["stock_left"].value
        spare = value - least
        stocks = tuple((line, round(had - spare, 1)) for line, had in k.stocks if had - spare >= least)
        if spare <= 0.0 or not stocks:
            return (), ""
        words = f"Take {plain(spare, 1)} mm less"
        return (Remedy("less-stock", words, LessStock(stocks)),), ""
    used = USES[one.key]
    if one.key.startswith("loss_") and one.key != f"loss_{k.charge or 'ingot'}":
        return (), ""
    if used in k.used and abs(k.used[used] - value) < 10.0**-one.digits:
        return (), " This job plans with it."
    beside = k.lift_c or 0.0
    if used == "falls_c_min" and not beside:
        return (), ""
    change = UseFigure(used, value, beside)
    return (Remedy(f"use-{used.replace('_', '-')}", f"Plan with {_figure(value, one)}", change),), ""
