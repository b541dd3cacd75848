"""The job as a frozen value."""

import msgspec

from pounce.cores.values import CoreChoices
from pounce.draw.values import DrawChoices
from pounce.feeding.values import FreezeChoices
from pounce.logbook.values import LogChoices
from pounce.metals.method import MethodChoices
from pounce.part.model import PartChoices
from pounce.parting.values import PartingChoices
from pounce.pattern.values import PatternChoices
from pounce.pour.values import PourChoices
from pounce.rig.values import RigChoices
from pounce.stock.values import StockChoices

# What a job file is called by.
SUFFIX = ".pounce"


class Job(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """All choices of a job, one field a stop. ``more`` figures of further stops by their ids; ``accepted`` names the
    stops the user has looked at and settled.
    """

    name: str = "New job"
    part: PartChoices = PartChoices()
    method: MethodChoices = MethodChoices()
    draw: DrawChoices = DrawChoices()
    parting: PartingChoices = PartingChoices()
    stock: StockChoices = StockChoices()
    cores: CoreChoices = CoreChoices()
    pattern: PatternChoices = PatternChoices()
    rig: RigChoices = RigChoices()
    freeze: FreezeChoices = FreezeChoices()
    pour: PourChoices = PourChoices()
    log: LogChoices = LogChoices()
    more: dict[str, dict[str, float]] = {}
    accepted: tuple[str, ...] = ()
