"""Cores given as words."""

import msgspec

from pounce.base.errors import UserFault
from pounce.cores.values import CoreChoices, HollowChoice
from pounce.metals.tables import mix

HELP = (
    "Give all, X,Y,Z, or X,Y,Z with :make=core|sand|drill|loose :side=MM :drag=MM :cope=MM :clearance=MM :vent=MM "
    ":draft=DEG :wide=TIMES :box=split|half|tube behind it; or mix=NAME, longest=MM, on-end."
)
_FIELDS = {
    "side": "side_mm", "drag": "drag_mm", "cope": "cope_mm", "clearance": "clearance_mm", "vent": "vent_mm",
    "drag-taper": "drag_taper_deg", "cope-taper": "cope_taper_deg",
    "draft": "draft_deg", "wide": "wide",
}  # fmt: skip


def with_words(choices: CoreChoices, text: str) -> CoreChoices:
    """The choices with one word more, such as ``all`` or ``0,0,20:side=30``; UserFault for one that makes no sense."""
    word = text.strip()
    if word == "all":
        return msgspec.structs.replace(choices, every=True)
    if word == "on-end":
        return msgspec.structs.replace(choices, on_end=True)
    try:
        if word.startswith("mix="):
            mix(word[4:])
            return msgspec.structs.replace(choices, mix=word[4:])
        if word.startswith("longest="):
            return msgspec.structs.replace(choices, longest_mm=float(word[8:]))
        place, *rest = word.split(":")
        x, y, z = (float(part) for part in place.split(","))
        given: dict[str, object] = {"at_mm": (x, y, z)}
        for part in rest:
            name, _, value = part.partition("=")
            given[_FIELDS.get(name, name)] = value if name in ("make", "box") else float(value)
        hollow = msgspec.convert(given, HollowChoice)
    except (ValueError, msgspec.ValidationError):
        raise UserFault(f"'{text}' says nothing about a core.", HELP) from None
    return msgspec.structs.replace(choices, hollows=(*choices.hollows, hollow))
