"""Works out how the pattern's pieces are made in the chosen way, and what the other ways would take."""

from dataclasses import replace

from pounce.base.choice import all_checked
from pounce.base.finding import Finding
from pounce.base.progress import Progress
from pounce.metals.method import Method
from pounce.metals.tables import screw, timber
from pounce.pattern.choices import TABLE
from pounce.pattern.making.values import Making
from pounce.pattern.making.way import Given, Shop
from pounce.pattern.making.ways import side_by_side, way_of
from pounce.pattern.values import PatternChoices


def making(choices: PatternChoices, given: Given, method: Method, progress: Progress) -> tuple[Making, list[Finding]]:
    """The making and its findings. UserFault for figures that cannot be used."""
    checked(choices)
    way = way_of(method)
    if way is None or not given.pieces:
        return Making("", ()), []
    shop = Shop(choices, method, given)
    progress(0.0, "Holding the ways of making side by side")
    ways = side_by_side(shop)
    progress(0.6, "Working out how it is made")
    made = replace(way.prepare(shop), ways=ways, drawings=way.drawings)
    return replace(made, steps=way.steps(shop, made)), way.findings(shop, made)


def checked(choices: PatternChoices) -> None:
    """UserFault for a figure that no shop has."""
    all_checked(TABLE, choices)
    timber(choices.timber)
    screw(choices.screw)
