"""What Cores came to, under the stable keys of ``pounce.cores/1``."""

from pounce.cores.values import Core, CoreBox, Offer, Print
from pounce.route.results import Plain, Results, there


def cores_summary(results: Results) -> Plain | None:
    """The few figures of Cores that a check shows; None where it could not work."""
    cores = results.cores
    if cores is None:
        return None
    return {
        "cores": len(cores.cores),
        "offered": len([offer for offer in cores.offers if not offer.make]),
        "sand_kg": sum(core.make_kg for core in cores.cores),
        "lift_n": sum(max(core.loads.lift_n, 0.0) for core in cores.cores),
        "on_end": cores.on_end,
    }


def cores_keys(results: Results) -> Plain:
    """All of Cores as plain values. Raises the fault of a stop that it cannot do without."""
    cores = there(results.cores)
    return {
        "schema": "pounce.cores/1",
        "mix": results.job.cores.mix,
        "on_end": cores.on_end,
        "clearance_mm3": cores.clearance_mm3,
        "pattern_volume_mm3": cores.mesh.volume,
        "offers": [_offer(offer) for offer in cores.offers],
        "cores": [_core(core) for core in cores.cores],
    }


def _offer(one: Offer) -> Plain:
    return {
        "name": one.words(),
        "at_mm": list(one.at_mm),
        "why": one.why,
        "make": one.make,
        "volume_mm3": one.volume_mm3,
        "locked_mm2": one.locked_mm2,
        "openings": one.openings,
        "holes": one.holes,
    }


def _core(one: Core) -> Plain:
    return {
        "name": one.name,
        "at_mm": list(one.at_mm),
        "hollow_mm3": one.hollow.volume,
        "volume_mm3": one.mesh.volume,
        "prints": [_print(p) for p in one.prints],
        "boxes": [_box(b) for b in one.boxes],
        "vents": [{"from_mm": list(a), "to_mm": list(b), "through": through} for a, b, through in one.vents],
        "vent_mm": one.vent_mm,
        "loads": dict(one.loads.__dict__),
        "sand_kg": one.sand_kg,
        "binder_kg": one.binder_kg,
        "water_kg": one.water_kg,
        "symmetric": one.symmetric,
        "draft_deg": one.draft_deg,
        "draft_mm3": one.draft_mm3,
    }


def _print(one: Print) -> Plain:
    return {
        "kind": one.kind,
        "axis": one.axis.tolist(),
        "at_mm": one.at_mm.tolist(),
        "length_mm": one.length_mm,
        "width_mm": one.width_mm,
        "taper_deg": one.taper_deg,
        "clearance_mm": one.clearance_mm,
        "keyed": one.keyed,
    }


def _box(one: CoreBox) -> Plain:
    return {
        "style": one.style,
        "parts": [part.name for part in one.parts],
        "pull": one.pull.tolist(),
        "ram": one.ram.tolist(),
        "locked_mm2": one.locked_mm2,
        "tight_mm2": one.tight_mm2,
        "twice": one.twice,
        "size_mm": list(one.size_mm),
    }
