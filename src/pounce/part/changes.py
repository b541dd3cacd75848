"""What remedies change of the part."""

from dataclasses import dataclass

from pounce.base.finding import Change


@dataclass(frozen=True)
class SetUnit(Change):
    """The unit of the model's figures."""

    unit: str
