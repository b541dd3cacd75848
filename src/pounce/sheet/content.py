"""What goes on the shop sheet."""

from dataclasses import dataclass

from pounce.base.finding import Finding
from pounce.causes.values import CausesResult
from pounce.cores.values import CoresResult
from pounce.draw.values import DrawResult
from pounce.feeding.values import FreezeResult
from pounce.metals.margins import SandRound
from pounce.metals.method import Method
from pounce.part.model import PartResult
from pounce.parting.insection import Cut2D
from pounce.parting.values import PartingResult
from pounce.pattern.values import PatternChoices, PatternResult
from pounce.pour.values import PourResult
from pounce.rig.values import RigResult
from pounce.sheet.opened import Opened
from pounce.stock.values import StockResult


@dataclass(frozen=True, eq=False)
class Content:
    """What goes on the sheet.

    ``parting`` is that of the pattern as it is rammed, where it is proved; ``verdict`` in a sentence; ``causes``
    stand for the findings where they are known. ``pattern`` is None when it cannot be made; the sheet then says why
    in ``failed``, as of any stop that could not work. ``opened`` the mould taken apart, ``cut`` the section of the
    front page at part size and ``through`` what it goes through; ``rig`` the mould, where it could be laid out,
    ``freeze`` what sets last in it, and ``pour`` how it is poured, at ``pour_at`` where a time is wanted; ``kept``
    what the logbook knows the next pour by.
    """

    name: str
    file: str
    part: PartResult
    method: Method
    draw: DrawResult
    parting: PartingResult
    stock: StockResult
    cores: CoresResult
    mix: str
    pattern: PatternResult | None
    choices: PatternChoices
    failed: tuple[str, ...]
    findings: tuple[Finding, ...]
    sand: SandRound
    unit: str
    opened: Opened
    cut: Cut2D
    through: str
    causes: CausesResult | None = None
    verdict: str = ""
    rig: RigResult | None = None
    freeze: FreezeResult | None = None
    pour: PourResult | None = None
    pour_at: str = ""
    kept: str = ""
    more: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = ()

    @property
    def factor(self) -> float:
        """What is rammed up over part, along the draw and across it in the mean."""
        return float(sum(self.stock.rammed_factors)) / 3.0
