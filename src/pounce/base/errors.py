"""What can go wrong that is not our bug."""

import unicodedata

# Sentences are no longer than this, whatever they quote.
MOST_SAID = 300


class UserFault(Exception):
    """A stop or a door cannot work with what it was given.

    Carries one plain sentence saying what is wrong and one saying what to try. Nothing of the job is
    lost when it is raised.
    """

    def __init__(self, what: str, try_this: str) -> None:
        what, try_this = tidy(what), tidy(try_this)
        super().__init__(what, try_this)
        self.what = what
        self.try_this = try_this

    def __str__(self) -> str:
        return f"{self.what} {self.try_this}"


class Cancelled(Exception):
    """The user asked for the running work to stop. Raised by a ``Progress``."""


def tidy(text: str) -> str:
    """A sentence that can be shown anywhere: what it quotes cut short in the middle, control characters and bytes that
    are no text written as escapes.
    """
    if not shown(text):
        text = "".join(one if shown(one) else _escaped(one) for one in text)
    if len(text) <= MOST_SAID:
        return text
    half = (MOST_SAID - 5) // 2
    return f"{text[:half]} ... {text[-half:]}"


def shown(text: str) -> bool:
    """Whether all of it can be shown: no control characters, no halves of pairs. Hard and narrow spaces can."""
    return text.isprintable() or not any(unicodedata.category(one).startswith("C") for one in text)


def _escaped(one: str) -> str:
    return one.encode("unicode_escape", "surrogatepass").decode()
