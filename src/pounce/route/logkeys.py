"""What the logbook says, under the stable keys of ``pounce.log/1``, and its rows on the shop sheet."""

from pounce.base.errors import UserFault
from pounce.base.units import count_words, plain
from pounce.logbook.said import LogResult
from pounce.logbook.values import Line, Outcome
from pounce.route.log import log_of
from pounce.route.results import Plain, Results


def log_summary(results: Results) -> Plain | None:
    """The few figures that a check shows; None where nothing is known."""
    r = log_of(results)
    if r is None:
        return None
    c = r.contraction
    return {
        "pours": len(r.pours),
        "castings": sum(len(one.castings) for one in r.pours),
        "sound": sum(one.sound for one in r.pours),
        "learned_percent": c.free.value if c.learned else None,
        "give_percent": c.free.give if c.learned else None,
    }


def log_keys(results: Results) -> Plain:
    """All of it as plain values."""
    r = log_of(results)
    if r is None:
        raise UserFault("The logbook is not read yet.", "Wait a moment and try again.")
    return {
        "schema": "pounce.log/1",
        "job": results.job.name,
        "id": results.job.log.id,
        "revision": r.revision,
        "contraction": contraction_keys(r),
        "figures": figures_keys(r),
        "sizes": [
            {
                "name": one.name,
                "finished_mm": one.finished_mm,
                "wanted_mm": one.wanted_mm,
                "pattern_mm": one.pattern_mm,
                "way": one.way.value,
                "side": one.side.value,
                "hindered": one.hindered,
            }
            for one in r.sizes
        ],
        "pours": [one.id for one in r.pours],
        "defects": diagnosis_keys(r),
        "report": report_keys(r),
        "differs": [{"name": one.name, "was": one.was, "now": one.now} for one in r.differs],
    }


def contraction_keys(r: LogResult) -> Plain:
    """What was learned of contraction."""
    c = r.contraction
    return {
        "metal": c.metal,
        "mould": c.mould,
        "measures": c.measures,
        "free_percent": c.free.value,
        "give_percent": c.free.give,
        "low_percent": c.free.low,
        "high_percent": c.free.high,
        "hindered_percent": c.hindered.value,
        "next_percent": [c.next.low, c.next.high],
        "rapping_mm": c.rapping_mm.value,
        "swell_mm": c.swell_mm.value,
        "joint_gap_mm": c.gap_mm.value,
        "table_percent": [c.low, c.typical, c.high],
        "made_percent": r.made_percent,
        "pours": [
            {
                "pour": one.pour,
                "job": one.job,
                "size_mm": one.size_mm,
                "percent": one.percent.value,
                "give_percent": one.percent.give,
            }
            for one in c.says
        ],
        "odd": [
            {
                "pour": one.pour,
                "job": one.job,
                "casting": one.casting,
                "name": one.name,
                "off_sd": one.off,
                "without_percent": one.without_percent,
            }
            for one in c.odd
        ],
    }


def figures_keys(r: LogResult) -> list[Plain]:
    """Figures of the bench."""
    return [
        {
            "key": one.key,
            "name": one.name,
            "unit": one.unit,
            "value": one.estimate.value,
            "give": one.estimate.give,
            "readings": one.readings,
            "table": None if one.table is None else one.table.value,
        }
        for one in r.figures
    ]


def diagnosis_keys(r: LogResult) -> list[Plain]:
    """Defects of the last pour with their causes."""
    return [
        {
            "pour": one.pour,
            "casting": one.casting,
            "seen": one.defect.seen,
            "where": one.defect.where,
            "when": one.defect.when,
            "at_mm": None if one.defect.at_mm is None else list(one.defect.at_mm),
            "fault": one.defect.fault,
            "verdict": one.diagnosis.verdict.value,
            "said": one.diagnosis.said,
            "test": one.diagnosis.test,
            "causes": [
                {
                    "cause": each.cause,
                    "name": each.name,
                    "share": each.share,
                    "grade": each.grade.value,
                    "for": [word.text for word in each.words if word.pro],
                    "against": [word.text for word in each.words if not word.pro],
                    "test": each.test,
                }
                for each in one.diagnosis.suspects
            ],
        }
        for one in r.seen
    ]


def report_keys(r: LogResult) -> list[Plain]:
    """The dimension report of the last pour."""
    return [
        {
            "casting": casting,
            "grade": r.grade,
            "name": one.name,
            "finished_mm": one.finished_mm,
            "expected_mm": one.expected_mm,
            "measured_mm": one.measured_mm,
            "off_mm": one.off_mm,
            "half_mm": one.half_mm,
            "within": one.within,
            "left_mm": one.left_mm,
        }
        for casting, rows in r.rows
        for one in rows
    ]


def log_rows(results: Results, _unit: str) -> tuple[tuple[str, str], ...]:
    """Its rows on the shop sheet: where the pour is kept, and how the last came out."""
    r, kept = log_of(results), kept_as(results)
    if r is None or not kept:
        return ()
    out = [("Kept in the logbook as", kept)]
    last = r.last
    if last is not None:
        out.append(
            ("Last poured", f"{last.at.astimezone():%d %B %Y}, {came_out(tuple(one.outcome for one in last.castings))}")
        )
    c = r.contraction
    if c.learned:
        out.append(("This bench's contraction", f"{plain(c.free.value, 2)} ± {plain(c.free.give, 2)} %"))
    return tuple(out)


def kept_as(results: Results) -> str:
    """What the logbook will know the next pour of this job by; empty where it does not know the job yet."""
    r, own = log_of(results), results.job.log.id
    return "" if r is None or not own else f"job {own[:6]}, pour {len(r.pours) + 1}"


def line_words(line: Line) -> str:
    """How a pour came out: ``Two sound, one flawed``."""
    flawed = line.castings - line.sound - line.scrap
    parts = [(line.sound, "sound"), (flawed, "flawed"), (line.scrap, "scrap")]
    said = ", ".join(f"{count_words(many)} {word}" for many, word in parts if many)
    return f"{said[0].upper()}{said[1:]}" if said else "Nothing noted"


def came_out(outcomes: tuple[Outcome, ...]) -> str:
    """How castings came out, in a few words: ``one sound, one flawed``."""
    said = []
    for outcome in Outcome:
        many = sum(one is outcome for one in outcomes)
        if many:
            said.append(f"{count_words(many)} {outcome.value}")
    return ", ".join(said) or "nothing noted"
