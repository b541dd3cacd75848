"""The table of defects: signs, causes, and what it takes to load."""

import msgspec
import pytest

from pounce.metals import defects as room
from pounce.metals.defects import QUESTIONS, defects, share_of


def test_shares_of_a_cause_come_to_one_over_all_signs() -> None:
    table = defects()
    for cause in table.cause:
        for question in QUESTIONS:
            shares = [share_of(cause, question, sign) for sign in getattr(table, question)]
            assert sum(shares) == pytest.approx(1.0)
            assert all(0.0 < share < 1.0 for share in shares), (cause, question)


def test_every_sign_has_a_cause_that_shows_it_most() -> None:
    """A sign that speaks for nothing would be asked in vain."""
    table = defects()
    for question in QUESTIONS:
        for sign in getattr(table, question):
            shares = [share_of(cause, question, sign) for cause in table.cause]
            assert max(shares) > 1.5 * min(shares), (question, sign)


def test_every_cause_has_a_test_and_an_advice_and_evidence_speaks_of_causes() -> None:
    table = defects()
    for cause in table.cause.values():
        assert cause.test.strip() and cause.advice.strip() and cause.says.strip()
        assert cause.prior.value > 0.0
    assert {one.cause for one in table.evidence.values()} <= set(table.cause)
    for one in table.evidence.values():
        assert one.pro.value >= 1.0 > one.con.value > 0.0


def test_unknown_causes_and_questions_are_errors() -> None:
    with pytest.raises(KeyError):
        share_of("bad luck", "seen", "pores")
    with pytest.raises(AttributeError):
        share_of(next(iter(defects().cause)), "why", "pores")


@pytest.mark.parametrize("fault", ["sign", "sum", "cause", "noun"])
def test_a_table_that_cannot_stand_does_not_load(fault: str, monkeypatch: pytest.MonkeyPatch) -> None:
    content = room.read("defects")
    cause = next(iter(content["cause"]))  # type: ignore[call-overload]
    row = content["cause"][cause]["seen"]  # type: ignore[index]
    if fault == "sign":
        row["glitter"] = 1.0
    elif fault == "sum":
        row[next(iter(row))] = 100.0
    elif fault == "cause":
        next(iter(content["evidence"].values()))["cause"] = "bad luck"  # type: ignore[attr-defined]
    else:
        del content["noun"][next(iter(content["noun"]))]  # type: ignore[attr-defined]
    monkeypatch.setattr(room, "read", lambda _name: content)
    defects.cache_clear()
    try:
        with pytest.raises((ValueError, msgspec.ValidationError)):
            defects()
    finally:
        defects.cache_clear()
