"""The choices of Metal, each once; the draft asked of every wall among them, which the card of Draw shows."""

from typing import Final, get_args

from pounce.base.choice import Choice, FigureChoice, OneOf
from pounce.metals import tables
from pounce.metals.contraction import Stated


def _metals() -> dict[str, str]:
    return {key: one.name for key, one in tables.metals().items()}


METAL: Final = OneOf(
    key="metal",
    title="Metal",
    help="The casting metal",
    field="metal",
    option=True,
    options=_metals,
    usual="aluminium-silicon",
    see="pounce metals",
)
MOULD: Final = OneOf(
    key="mould",
    title="Mould",
    help="The mould medium",
    field="mould",
    option=True,
    usual="green-sand",
    see="pounce moulds",
    options=lambda: {key: one.name for key, one in tables.moulds().items()},
)
PATTERN: Final = OneOf(
    key="pattern",
    title="Pattern made",
    help="The way of making the pattern",
    field="pattern",
    option=True,
    usual="printed-filament",
    see="pounce patterns",
    options=lambda: {key: one.name for key, one in tables.pattern_kinds().items()},
)
MASTER: Final = OneOf(
    key="master",
    title="Pattern cast in",
    help="The metal of a metal pattern that is cast from a master: it carries two contractions, multiplied",
    field="master_metal",
    option=True,
    options=_metals,
    see="pounce metals",
)
STATED: Final = OneOf(
    key="stated",
    title="Contraction on the",
    field="stated",
    option=True,
    options=lambda: {key: key for key in get_args(Stated)},
    usual="pattern",
    help="On the pattern: pattern = casting × 100/(100 − S), as handbooks work the standard. On the casting: × (100 "
    "+ S)/100, as the old rules are cut",
)
CONTRACTION: Final = FigureChoice(
    key="contraction",
    title="Contraction",
    help="Own contraction, by the table unless said",
    field="contraction_percent",
    option=True,
    unit="%",
    low=0.0,
    high=10.0,
    digits=2,
    step=0.1,
)
DRAFT: Final = FigureChoice(
    key="draft",
    title="Clean from",
    help="Faces with less draft than this are tight; unless said it goes by height and side",
    field="draft_deg",
    option=True,
    unit="°",
    low=0.0,
    high=15.0,
    step=0.5,
)
TABLE: Final[tuple[Choice, ...]] = (METAL, MOULD, PATTERN, MASTER, STATED, CONTRACTION, DRAFT)
