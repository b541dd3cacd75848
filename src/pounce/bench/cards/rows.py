"""Controls made from rows of a table of choices: what a card shows of a choice, in title, range, options and tip,
stands in its table alone.
"""

from PyQt6.QtWidgets import QCheckBox, QWidget

from pounce.base.choice import Choice, FigureChoice, Flag, OneOf
from pounce.bench.widgets.parts import Choice as Chooser
from pounce.bench.widgets.parts import Figure, Row, Segments


def figure(choice: FigureChoice) -> Figure:
    """A field for a figure."""
    suffix = choice.unit if choice.unit in ("", "°") else f" {choice.unit}"
    return Figure(suffix, choice.low, choice.high, choice.digits, choice.step, choice.help)


def segments(choice: OneOf) -> Segments:
    """A few options side by side."""
    return Segments(list(choice.options().items()), choice.title)


def chooser(choice: OneOf, wide_px: int = 170) -> Chooser:
    """Options to choose from a list."""
    out = Chooser(choice.title, list(choice.options().items()))
    out.setFixedWidth(wide_px)
    return out


def check(choice: Flag) -> QCheckBox:
    """A box to tick."""
    out = QCheckBox(choice.title)
    out.setToolTip(choice.help)
    return out


def row(choice: Choice, control: QWidget) -> Row:
    """The title on the left, the control on the right, both with the help as tip."""
    return Row(choice.title, control, choice.help)
