"""Which causes a defect has, ranked: Bayes' rule over a small table that anyone may read and change. The answer says
when it cannot tell.
"""

from pounce.logbook.evidence import Case, words_of
from pounce.logbook.said import Diagnosis, Grade, Suspect, Verdict
from pounce.metals.defects import QUESTIONS, defects, share_of
from pounce.metals.learn import learn

SHOWN = 5


def diagnosed(case: Case) -> Diagnosis:
    """The causes of a defect by what is seen, where, when, and by the job's own figures. KeyError for a sign that the
    table does not hold.
    """
    table, words = defects(), words_of(case)
    odds: dict[str, float] = {}
    for name, cause in table.cause.items():
        odd = cause.prior.value
        for question in QUESTIONS:
            sign = getattr(case.defect, question)
            if sign:
                if sign not in getattr(table, question):
                    raise KeyError(sign)
                odd *= share_of(name, question, sign)
        for word in words.get(name, ()):
            one = table.evidence[word.key]
            odd *= (one.pro if word.pro else one.con).value
        odds[name] = odd
    whole = sum(odds.values())
    ranked = sorted(odds, key=lambda name: -odds[name])
    suspects = tuple(
        Suspect(
            name,
            table.cause[name].name,
            table.cause[name].says,
            odds[name] / whole,
            words.get(name, ()),
            table.cause[name].test,
            table.cause[name].advice,
        )
        for name in ranked[:SHOWN]
    )
    return _judged(suspects)


def _judged(suspects: tuple[Suspect, ...]) -> Diagnosis:
    c, first, second = learn().common, suspects[0], suspects[1]
    if first.share < c.unclear.value:
        said = f"This cannot be told from what is seen: {_low(first.name)} is only the first of many."
        return Diagnosis(suspects, Verdict.UNCLEAR, said, first.test)
    if first.share < c.tie.value * second.share:
        said = f"A tie: {_low(first.name)}, or {_low(second.name)}. Nothing known tells them apart."
        return Diagnosis(suspects, Verdict.TIE, said, f"{first.test} {second.test}")
    sure = "Likely" if first.grade is Grade.LIKELY else "First of several"
    return Diagnosis(suspects, Verdict.CLEAR, f"{sure}: {_low(first.name)}.", first.test)


def _low(name: str) -> str:
    return name[:1].lower() + name[1:]
