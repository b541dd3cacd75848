"""A stop is known by its record and its view: nothing else asks for one by name, and no window, desk or painter
knows a card's class.
"""

import importlib.util
from pathlib import Path

from pounce.base.choice import FigureChoice
from pounce.bench.stops.view import StopView, views
from pounce.metals.tables import sources
from pounce.route.stops import STOPS, stops

spec = importlib.util.spec_from_file_location("measure", Path(__file__).parents[2] / "scripts/measure.py")
assert spec is not None and spec.loader is not None
measure = importlib.util.module_from_spec(spec)
spec.loader.exec_module(measure)


def test_no_stop_is_asked_for_by_name_outside_its_record() -> None:
    assert measure.stop_tests() == []
    # the pattern would catch one
    assert measure.STOP_TEST.search('if stop == "draw":') and measure.STOP_TEST.search(
        "isinstance(card, (StockCard, CoresCard))"
    )


def test_every_stop_has_its_view_and_hangs_on_none_after_it() -> None:
    assert all(isinstance(view, StopView) for view in views().values()) and len(views()) == len(stops())
    for place, stop in enumerate(STOPS):
        assert {*stop.needs, *stop.keyed_by} <= set(STOPS[:place])
        assert set(stop.keyed_by) <= {*stop.needs, *stop.hears} or not stop.needs


def test_functions_fit_a_screen_and_classes_a_hand() -> None:
    assert [(size, name) for size, name in measure.functions() if size > 60] == []
    assert [(size, name) for size, name in measure.classes() if size > 25] == []


def test_a_usual_figure_names_where_it_stands() -> None:
    known = sources()
    for stop in stops():
        for choice in stop.choices:
            if choice.source:
                assert choice.source in known, f"{stop.id} {choice.key}"
            # nothing, and one of a thing, are no figures of the trade
            elif isinstance(choice, FigureChoice):
                assert choice.usual in (None, 0.0, 1), f"{stop.id} {choice.key}"
