"""The choices that every sub-command on a part takes, each once: option, help, and the word it becomes."""

import inspect
from collections.abc import Callable
from functools import wraps
from typing import Annotated, Any

import typer

from pounce.route.stops import stops

Words = dict[str, str | float | tuple[str, ...] | None]

_TEXT, _NUMBER, _MANY = str | None, float | None, list[str] | None
# name: type, option, help; in the order they are worked.
OPTIONS: dict[str, tuple[Any, str, str]] = {
    "unit": (_TEXT, "--unit", "mm, cm, m or in: the unit of the model's figures."),
    "metal": (_TEXT, "--metal", "A casting metal; see `pounce metals`."),
    "mould": (_TEXT, "--mould", "A mould medium; see `pounce moulds`."),
    "pattern": (_TEXT, "--pattern", "A way of making; see `pounce patterns`."),
    "master": (_TEXT, "--master", "The metal of a metal pattern that is cast from a master."),
    "stated": (_TEXT, "--stated", "Whether contraction is stated on the pattern (× 100/(100 − S)) or the casting."),
    "contraction": (_NUMBER, "--contraction", "Own contraction, per cent."),
    "draft": (_NUMBER, "--draft", "Own draft for every wall, degrees; left out it goes by height and side."),
    "draw": (_TEXT, "--draw", "auto, +x, -x, +y, -y, +z, -z or X,Y,Z."),
    "parting": (_TEXT, "--parting", "auto, flat, flat:HEIGHT (mm along the draw), natural or stepped."),
    "moulded": (_TEXT, "--moulded", "A joint that is no plane: follow-board, cut-down, false-pattern or split."),
    "rammed": (_TEXT, "--rammed", "The half a flat back is rammed in: drag or cope."),
    "groove": (_TEXT, "--groove", "What makes a groove round the outside: ring-core, cheek or none."),
    "open": (_TEXT, "--open", "How the mould is opened: usual or upside-down."),
    "add": (_MANY, "--add", "An addition, may be given more than once: draft[:DEG], fill, fillets[:R], machine@X,Y,Z[:F], text@X,Y,Z:WORDS."),
    "core": (_MANY, "--core", "A core, may be given more than once: all, X,Y,Z[:side=MM][:box=half], mix=NAME, longest=MM, on-end."),
    "make": (
        _MANY, "--make",
        "How it is made, may be given more than once: bed=XxYxZ, hollow, mount=boards, copies=N, timber=NAME, board=MM, sheet=MM; see docs/command.md.",
    ),
    "dowels": (_TEXT, "--dowels", "loose, pins or none."),
    "paper": (_TEXT, "--paper", "A4, A3 or letter, for every page."),
}  # fmt: skip


def options() -> dict[str, tuple[Any, str, str]]:
    """All choices, those of further stops made from their tables."""
    more = {
        f"{stop.id}_{one.key}": (_NUMBER, f"--{stop.id}-{one.key}", f"{one.help} {one.low:g} to {one.high:g} {one.unit}, usually {one.usual:g}.")
        for stop in stops() for one in stop.choices
    }  # fmt: skip
    return OPTIONS | more


def with_choices(run: Callable[..., None]) -> Callable[..., None]:
    """A sub-command that takes all the choices; ``run`` gets them as ``words``."""
    own = inspect.signature(run)
    kept = [one for one in own.parameters.values() if one.name != "words"]
    more = [
        inspect.Parameter(
            name, inspect.Parameter.KEYWORD_ONLY, default=None, annotation=Annotated[kind, typer.Option(option, help=said)]
        )
        for name, (kind, option, said) in options().items()
    ]
    # keyword-only ones come last
    kept = [
        one.replace(kind=inspect.Parameter.KEYWORD_ONLY) if one.default is not inspect.Parameter.empty else one
        for one in kept
    ]

    @wraps(run)
    def chosen(**given: Any) -> None:
        words: Words = {}
        for name in options():
            value = given.pop(name)
            words[name] = tuple(value) if isinstance(value, list) else value
        run(**given, words=words)

    chosen.__signature__ = own.replace(parameters=[*kept, *more])  # type: ignore[attr-defined]
    chosen.__annotations__ = {one.name: one.annotation for one in (*kept, *more)}
    return chosen
