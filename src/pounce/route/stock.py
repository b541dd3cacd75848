"""What Stock came to, under the stable keys of ``pounce.stock/1``."""

from typing import Any

import msgspec

from pounce.base.finding import Finding, filled
from pounce.metals.tables import sources
from pounce.route.results import Results, findings_at
from pounce.stock.values import Added, Dimension, StockResult


def stock_summary(results: Results) -> dict[str, Any] | None:
    """The few figures of Stock that a check shows; None where it could not work."""
    stock = results.stock
    if stock is None:
        return None
    return {
        "lines": len([line for line in stock.lines if line.on]),
        "added_mm3": stock.added_mm3,
        "tight_left_mm2": stock.tight_mm2,
        "factors": list(stock.factors),
        "made_factors": list(stock.made_factors),
    }


def stock_keys(results: Results) -> dict[str, Any]:
    """All of Stock as plain values. Raises the fault of a stop that it cannot do without."""
    stock: StockResult = results.need("stock")
    part = results.need("part")
    return {
        "schema": "pounce.stock/1",
        "part": {"size_mm": part.mesh.size.tolist(), "volume_mm3": part.volume_mm3},
        "factors": list(stock.factors),
        "made_factors": list(stock.made_factors),
        "lines": [_line(line) for line in stock.lines],
        "features": [
            {
                "kind": feature.kind, "words": feature.words(), "centre_mm": feature.centre.tolist(), "axis": feature.axis.tolist(),
                "radius_mm": feature.radius_mm, "length_mm": feature.length_mm, "through": feature.through,
                "area_mm2": feature.area_mm2, "misfit_mm": feature.misfit_mm, "turned_deg": feature.turned_deg,
            }
            for feature in stock.features
        ],
        "dimensions": [_dimension(one) for one in stock.dimensions],
        "drill": [one.__dict__ for one in stock.drill],
        "finished": stock.finished.__dict__,
        "cast": stock.cast.__dict__,
        "bulks": [one.__dict__ | {"ratio": one.ratio} for one in stock.bulks],
        "thin_mm2": stock.thin_mm2,
        "filler_mm3": stock.added_mm3 if len(stock.filler_mm) else 0.0,
        "filler_most_mm": float(stock.filler_mm.max(initial=0.0)),
        "findings": [_finding(one) for one in findings_at("stock", results)],
    }  # fmt: skip


def _dimension(one: Dimension) -> dict[str, Any]:
    """A dimension; ``tolerance_mm`` is total, ``plus_minus_mm`` what is shown everywhere: half of it either way."""
    half = None if one.tolerance_mm is None else one.tolerance_mm / 2.0
    return {**msgspec.to_builtins(one.__dict__), "plus_minus_mm": half}


def _line(line: Added) -> dict[str, Any]:
    return {
        "kind": line.kind, "name": line.words(), "about": line.about_words(), "on": line.on, "figures": line.figures,
        "added_mm3": line.added_mm3, "taken_mm3": line.taken_mm3, "at_mm": line.at_mm, "trouble": line.trouble,
        "why": line.why, "source": None if line.source is None else sources()[line.source].words(),
    }  # fmt: skip


def _finding(finding: Finding) -> dict[str, Any]:
    return {
        "code": finding.code, "severity": str(finding.severity), "text": finding.words(), "at_mm": finding.place_mm,
        "figures": finding.figures,
        "remedies": [{"id": one.id, "text": filled(one.text, finding.figures)} for one in finding.remedies],
    }  # fmt: skip
