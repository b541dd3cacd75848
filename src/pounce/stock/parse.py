"""Lines given as words, and the line that a button stands for."""

import msgspec

from pounce.base.errors import UserFault
from pounce.metals.tables import grades, limits
from pounce.stock.values import Addition, Camber, Draft, Fill, Fillets, Finish, Lettering, Level, Machining

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
    except (ValueError, IndexError, msgspec.ValidationError):
        raise UserFault(f"'{text}' is no addition.", HELP) from None


def _made(name: str, at: tuple[float, float, float] | None, rest: list[str]) -> Addition:
    if name == "draft":
        how = rest[1] if len(rest) > 1 else "add"
        return msgspec.convert(
            {"kind": "draft", "degrees": float(rest[0]) if rest and rest[0] else None, "how": how}, Draft
        )
    if name == "fill":
        return Fill(at_mm=at, under_mm=float(rest[0]) if rest else None)
    if name == "fillets":
        return Fillets(float(rest[0]) if rest and rest[0] else None, float(rest[1]) if len(rest) > 1 else 0.0)
    if name == "camber":
        if rest and rest[0][:1] in "+-" and rest[0][1:] in ("x", "y", "z"):
            rest = ["", *rest]
        toward = rest[1].strip() if len(rest) > 1 else ""
        return msgspec.convert(
            {"kind": "camber", "bow_mm": float(rest[0]) if rest and rest[0] else None, "toward": toward}, Camber
        )
    if name == "legs":
        return Camber(float(rest[0]) if rest else None, legs=True)
    if name == "finish":
        paint, sanding, rap = (float(part) for part in rest[0].split(","))
        return Finish(paint, sanding, rap)
    if at is None:
        raise ValueError(name)
    if name == "machine":
        word = rest[0].strip() if rest else ""
        if not word:
            return Machining(at)
        if word.lower() == "home":
            return Machining(at, school="home")
        if word.upper() in grades()["machining"].grades:
            return Machining(at, word.upper())
        return Machining(at, own_mm=float(word))
    if name == "text":
        high, proud = [*(float(part) for part in rest[1:3]), *(10.0, 1.0)[len(rest[1:3]) :]]
        return Lettering(rest[0], at, high, proud)
    if name == "level":
        return Level(at, float(rest[0]))
    raise ValueError(name)


def _place(text: str) -> tuple[float, float, float]:
    x, y, z = (float(part) for part in text.split(","))
    return x, y, z
