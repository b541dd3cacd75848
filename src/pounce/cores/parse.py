"""Cores given as words."""

import msgspec

from pounce.base.errors import UserFault
from pounce.base.figures import figure
from pounce.cores.choices import EACH, TABLE
from pounce.cores.values import CoreChoices, HollowChoice

HELP = (
    f"Give X,Y,Z with {', '.join(':' + one.form for one in EACH)} behind it, or "
    f"{', '.join(one.form for one in TABLE if one.word_of)}."
)


def with_words(choices: CoreChoices, text: str) -> CoreChoices:
    """The choices with one word more, such as ``all`` or ``0,0,20:side=30``; UserFault for one that makes no sense."""
    name, _, value = text.strip().partition("=")
    for one in TABLE:
        if one.word_of and one.key == name:
            return msgspec.structs.replace(choices, **{one.field: one.checked(one.read(value))})
    try:
        place, *rest = text.strip().split(":")
        x, y, z = (figure(part) for part in place.split(","))
        given: dict[str, object] = {"at_mm": (x, y, z)}
        known = {choice.key: choice for choice in EACH}
        for part in rest:
            name, _, value = part.partition("=")
            given[known[name].field] = known[name].checked(known[name].read(value))
        hollow = msgspec.convert(given, HollowChoice)
    except (KeyError, ValueError, msgspec.ValidationError):
        raise UserFault(f"'{text}' says nothing about a core.", HELP) from None
    return msgspec.structs.replace(choices, hollows=(*choices.hollows, hollow))
