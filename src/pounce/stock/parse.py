"""Lines given as words, and the line that a button stands for."""

from collections.abc import Callable

import msgspec

from pounce.base.errors import UserFault
from pounce.base.figures import figure
from pounce.metals.tables import grades, limits
from pounce.stock.values import Addition, Camber, Draft, Fill, Fillets, Finish, Lettering, Level, Machining, Place

HELP = (
    "Give draft[:DEG[:add|take|half]], fill[:UNDER], fill@X,Y,Z, machine@X,Y,Z[:GRADE, MM or home], "
    "fillets[:RADIUS[:EDGES]], "
    "text@X,Y,Z:WORDS[:HIGH[:PROUD]], level@X,Y,Z:RADIUS, camber[:MM[:+z]], legs[:MM] or finish:PAINT,SANDING,RAP."
)
USUAL: dict[str, Addition] = {
    "draft": Draft(),
    "fill": Fill(),
    "fillets": Fillets(),
    "camber": Camber(),
    "legs": Camber(legs=True),
    "finish": Finish(),
    "rap": Finish(rap_mm=limits()["rap_each_way"].value),
}


def parse_addition(text: str) -> Addition:
    """The line a word such as ``draft:2`` or ``machine@0,40,12:F`` stands for; UserFault otherwise."""
    head, *rest = text.strip().split(":")
    name, _, place = head.partition("@")
    try:
        at = _place(place) if place else None
        return _made(name.strip().lower(), at, rest)
    except (ValueError, KeyError, IndexError, msgspec.ValidationError):
        raise UserFault(f"'{text}' is no addition.", HELP) from None


def _made(name: str, at: Place | None, rest: list[str]) -> Addition:
    if name in _ANYWHERE:
        return _ANYWHERE[name](at, rest)
    if at is None:
        raise ValueError(name)
    return _AT_A_PLACE[name](at, rest)


def _figure(rest: list[str], index: int) -> float | None:
    """A figure behind a colon, None where it is left out."""
    return figure(rest[index]) if len(rest) > index and rest[index] else None


def _draft(_at: Place | None, rest: list[str]) -> Addition:
    how = rest[1] if len(rest) > 1 else "add"
    return msgspec.convert({"kind": "draft", "degrees": _figure(rest, 0), "how": how}, Draft)


def _camber(_at: Place | None, rest: list[str]) -> Addition:
    if rest and rest[0][:1] in "+-" and rest[0][1:] in ("x", "y", "z"):
        rest = ["", *rest]
    toward = rest[1].strip() if len(rest) > 1 else ""
    return msgspec.convert({"kind": "camber", "bow_mm": _figure(rest, 0), "toward": toward}, Camber)


def _finish(_at: Place | None, rest: list[str]) -> Addition:
    paint, sanding, rap = (figure(part) for part in rest[0].split(","))
    return Finish(paint, sanding, rap)


def _machining(at: Place, rest: list[str]) -> Addition:
    word = rest[0].strip() if rest else ""
    if not word:
        return Machining(at)
    if word.lower() == "home":
        return Machining(at, school="home")
    if word.upper() in grades()["machining"].grades:
        return Machining(at, word.upper())
    return Machining(at, own_mm=figure(word))


def _text(at: Place, rest: list[str]) -> Addition:
    high, proud = [*(figure(part) for part in rest[1:3]), *(10.0, 1.0)[len(rest[1:3]) :]]
    return Lettering(rest[0], at, high, proud)


_ANYWHERE: dict[str, Callable[[Place | None, list[str]], Addition]] = {
    "draft": _draft,
    "fill": lambda at, rest: Fill(at_mm=at, under_mm=_figure(rest, 0)),
    "fillets": lambda _at, rest: Fillets(_figure(rest, 0), _figure(rest, 1) or 0.0),
    "camber": _camber,
    "legs": lambda _at, rest: Camber(_figure(rest, 0), legs=True),
    "finish": _finish,
}
_AT_A_PLACE: dict[str, Callable[[Place, list[str]], Addition]] = {
    "machine": _machining,
    "text": _text,
    "level": lambda at, rest: Level(at, figure(rest[0])),
}


def _place(text: str) -> Place:
    x, y, z = (figure(part) for part in text.split(","))
    return x, y, z
