"""Where the craft behind a cause stands: its page and its paragraph."""

from typing import Final

from pounce.causes.values import Cause, Rule

# Page and head of the paragraph by the rule that found the cause; those not named here go to the page of their stop.
PLACES: Final = {
    Rule.SHELL: ("part", "What Pounce does"),
    Rule.THIN: ("part", "What is hard"),
    Rule.STOPS: ("metal", "What does not go together"),
    Rule.HOLES: ("cores", "Which hollows"),
    Rule.HOLLOW: ("cores", "Which hollows"),
    Rule.CORE: ("cores", "What bears on it"),
    Rule.UNDERCUT: ("draw", "The three marks"),
    Rule.DRAFT: ("draw", "How much draft"),
    Rule.SLENDER: ("parting", "What the sand must hold"),
    Rule.FINE: ("parting", "What the sand must hold"),
    Rule.JOINT: ("parting", "A joint that follows the part"),
    Rule.STOCK: ("stock", "Machining stock"),
    Rule.ORIGINAL: ("pattern", "The original"),
    Rule.FITTINGS: ("pattern", "Draw screw, rapping plate"),
    Rule.GATE: ("mould", "The way in"),
    Rule.HOT: ("freeze", "Feeders"),
    Rule.COLD: ("freeze", "Filling"),
}


def place_of(cause: Cause) -> tuple[str, str]:
    """The page, and the head of its paragraph ("" for the whole page)."""
    return PLACES.get(cause.rule, (cause.stop, ""))


def on_this_part(cause: Cause, unit: str) -> str:
    """What the paragraph says of this very job: the cause with its figures, and the cure that stands first."""
    main = cause.main_words(unit)
    said = f"{cause.words(unit)} {main}." if main else cause.words(unit)
    if cause.remedies:
        said += f" What helps: {cause.remedy_words(cause.remedies[0], unit)}."
    return said
