"""The choices that every sub-command on a part takes, each once: option, help, and the word it becomes."""

import inspect
from collections.abc import Callable
from functools import wraps
from typing import Annotated, Any

import typer

from pounce.base.choice import FigureChoice, Flag, Words
from pounce.route.opening import options as known

Given = dict[str, str | float | tuple[str, ...] | None]


def options() -> dict[str, tuple[Any, str, str]]:
    """All choices of all stops that are options of a sub-command: type, option and help by the name of the
    parameter.
    """
    out: dict[str, tuple[Any, str, str]] = {}
    for name, (_, one) in known().items():
        kind: Any = (
            float | None
            if isinstance(one, FigureChoice)
            else list[str] | None
            if isinstance(one, Words) and one.many
            else str | None
        )
        if not isinstance(one, Flag):
            out[name] = (kind, f"--{name.replace('_', '-')}", one.said)
    return out


def with_choices(run: Callable[..., None]) -> Callable[..., None]:
    """A sub-command that takes all the choices; ``run`` gets them as ``words``."""
    own = inspect.signature(run)
    kept = [one for one in own.parameters.values() if one.name != "words"]
    more = [
        inspect.Parameter(
            name,
            inspect.Parameter.KEYWORD_ONLY,
            default=None,
            annotation=Annotated[kind, typer.Option(option, help=said)],
        )
        for name, (kind, option, said) in options().items()
    ]
    # keyword-only ones come last
    kept = [
        kept_one.replace(kind=inspect.Parameter.KEYWORD_ONLY)
        if kept_one.default is not inspect.Parameter.empty
        else kept_one
        for kept_one in kept
    ]

    @wraps(run)
    def chosen(**given: Any) -> None:
        words: Given = {}
        for name in options():
            value = given.pop(name)
            words[name] = tuple(value) if isinstance(value, list) else value
        run(**given, words=words)

    chosen.__signature__ = own.replace(parameters=[*kept, *more])  # type: ignore[attr-defined]
    chosen.__annotations__ = {one.name: one.annotation for one in (*kept, *more)}
    return chosen
