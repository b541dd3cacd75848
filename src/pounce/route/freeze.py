"""What Freeze came to, under the stable keys of ``pounce.freeze/1``."""

from typing import TYPE_CHECKING

from pounce.feeding.values import Lies
from pounce.freeze.values import End
from pounce.route.results import PaperFile, Plain, Results

if TYPE_CHECKING:
    from pounce.feeding.values import FreezeResult

# So many ends are told.
ENDS = 12


def freeze_of(results: Results) -> "FreezeResult | None":
    """What freezes when, where it is known."""
    from pounce.feeding.values import FreezeResult  # noqa: PLC0415  a room is loaded when it works

    found = results.found.get("freeze")
    assert found is None or isinstance(found, FreezeResult)
    return found


def freeze_summary(results: Results) -> Plain | None:
    """The few figures that a check shows; None where the mould could not be laid out."""
    r = freeze_of(results)
    if r is None:
        return None
    return {
        "pour_c": r.pour_c,
        "solid_s": r.solid_s,
        "wanting": len(r.wanting),
        "void_mm3": list(r.void_mm3),
        "short": r.fill.short,
        "fills_c": r.fill.fills_c,
    }


def freeze_keys(results: Results) -> Plain:
    """All of it as plain values."""
    r = freeze_of(results)
    assert r is not None, "its keys are asked for once the result is there"
    return {
        "schema": "pounce.freeze/1",
        "pour_c": r.pour_c,
        "cells": r.cells,
        "spacing_mm": r.step_mm,
        "cells_across": r.across,
        "scaled": r.scaled,
        "middle_s": r.middle_s,
        "solid_s": r.solid_s,
        "energy_error": r.energy_error,
        "void_mm3": list(r.void_mm3),
        "no_feeder_because": r.reason or None,
        "places": [
            {
                "name": one.name,
                "at_mm": list(one.at_mm),
                "casting": one.casting,
                "seconds": one.seconds,
                "cut_off_s": one.cut_s,
                "volume_mm3": one.liquid_mm3,
                "void_mm3": list(one.void_mm3),
                "fed_by": one.fed_by or None,
                "in_stock": one.lies in (Lies.STOCK, Lies.GONE),
                "lies": one.lies.value,
                "opens_in": one.opens_in or None,
                "wants": one.wants,
            }
            for one in r.places
        ],
        "feeders": [
            {"id": one.id, "casting": one.casting, "seconds": one.seconds, "feeds_s": one.feeds_s, "holds": one.holds}
            for one in r.feeders
        ],
        "necks": [{"id": one.id, "casting": one.casting, "seconds": one.neck_s} for one in r.feeders],
        "gates": [
            {"casting": one.casting, "at_mm": list(one.at_mm), "seconds": one.seconds, "way_s": one.way_s}
            for one in r.gates
        ],
        "order": [{"what": name, "seconds": seconds} for name, seconds in r.order],
        "cure": _cure(r),
        "fill": {
            "seconds": r.fill.seconds,
            "coldest_c": r.fill.ends[0].front_c if r.fill.ends else None,
            "short": r.fill.short,
            "short_mm3": r.fill.short_mm3,
            "fills_c": r.fill.fills_c,
            "gates_m_s": list(r.fill.gates_m_s),
            "last": [_end(one) for one in r.fill.ends[:ENDS]],
            "meets": [_end(one) for one in r.fill.meets[:ENDS]],
        },
    }


def _cure(r: "FreezeResult") -> Plain | None:
    c = r.cure
    if c is None:
        return None
    return {
        "proved": c.proved,
        "runs": c.runs,
        "feeders": [
            {
                "at_mm": list(one.at_mm),
                "diameter_mm": one.wide_mm,
                "height_mm": one.high_mm,
                "neck_mm": one.neck_mm,
                "sleeve": one.sleeve,
                "on_gate": one.gate,
                "open": one.open,
            }
            for one in c.feeders
        ],
        "chills": [
            {"at_mm": list(one.at_mm), "side_mm": one.side_mm, "thickness_mm": one.thick_mm} for one in c.chills
        ],
        "uncured": c.uncured,
        "padding": None
        if c.pad is None
        else {
            "at_mm": list(c.pad.at_mm),
            "face": c.pad.name,
            "stock_mm": c.pad.stock_mm,
            "feeders": len(c.pad.feeders),
            "chills": len(c.pad.chills),
            "kg": c.pad.mass_kg,
        },
    }


def _end(one: End) -> Plain:
    return {
        "at_mm": list(one.at_mm),
        "seconds": one.seconds,
        "way_mm": one.far_mm,
        "front_c": one.front_c,
        "solid": one.solid,
    }


def freeze_papers(_results: Results) -> tuple[PaperFile, ...]:
    """No pages of its own: its part of the shop sheet is enough."""
    return ()
