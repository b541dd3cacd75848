"""What Stock came to, under the stable keys of ``pounce.stock/1``."""

import msgspec

from pounce.metals.tables import sources
from pounce.route.results import Plain, Results, there
from pounce.stock.values import Added, Dimension


def stock_summary(results: Results) -> Plain | None:
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


def stock_keys(results: Results) -> Plain:
    """All of Stock as plain values. Raises the fault of a stop that it cannot do without."""
    stock = there(results.stock)
    part = there(results.part)
    return {
        "schema": "pounce.stock/1",
        "part": {"size_mm": part.mesh.size.tolist(), "volume_mm3": part.volume_mm3},
        "factors": list(stock.factors),
        "made_factors": list(stock.made_factors),
        "lines": [_line(line) for line in stock.lines],
        "features": [
            {
                "kind": feature.kind,
                "words": feature.words(),
                "centre_mm": feature.centre.tolist(),
                "axis": feature.axis.tolist(),
                "radius_mm": feature.radius_mm,
                "length_mm": feature.length_mm,
                "through": feature.through,
                "area_mm2": feature.area_mm2,
                "misfit_mm": feature.misfit_mm,
                "turned_deg": feature.turned_deg,
            }
            for feature in stock.features
        ],
        "dimensions": [_dimension(dimension) for dimension in stock.dimensions],
        "drill": [point.__dict__ for point in stock.drill],
        "finished": stock.finished.__dict__,
        "cast": stock.cast.__dict__,
        "bulks": [bulk.__dict__ | {"ratio": bulk.ratio} for bulk in stock.bulks],
        "thin_mm2": stock.thin_mm2,
        "filler_mm3": stock.added_mm3 if len(stock.filler_mm) else 0.0,
        "filler_most_mm": float(stock.filler_mm.max(initial=0.0)),
    }


def _dimension(one: Dimension) -> Plain:
    """A dimension; ``tolerance_mm`` is total, ``plus_minus_mm`` what is shown everywhere: half of it either way."""
    half = None if one.tolerance_mm is None else one.tolerance_mm / 2.0
    return {**msgspec.to_builtins(one.__dict__), "plus_minus_mm": half}


def _line(line: Added) -> Plain:
    return {
        "kind": line.kind,
        "name": line.words(),
        "about": line.about_words(),
        "on": line.on,
        "figures": line.figures,
        "added_mm3": line.added_mm3,
        "taken_mm3": line.taken_mm3,
        "at_mm": line.at_mm,
        "trouble": line.trouble,
        "why": line.why,
        "source": None if line.source is None else sources()[line.source].words(),
    }
