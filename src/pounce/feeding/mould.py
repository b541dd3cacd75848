"""The mould as it was laid out, for the grid."""

import numpy as np

from pounce.freeze.values import Block, Mould, Round
from pounce.rig.hands import in_place
from pounce.rig.values import Chill, Feeder, RigResult
from pounce.solid.mesh import Mesh


def mould_of(rig: RigResult) -> Mould:
    """The mould as it is poured: on end it is stood up, +x becomes up."""
    lying, f = lying_of(rig), rig.flask
    return stood(lying, f.long_mm, f.cope_mm, f.drag_mm) if rig.on_end else lying


def lying_of(rig: RigResult) -> Mould:
    """Castings, gating, cores, feeders and chills in their places."""
    castings, cores = [], []
    for one in rig.castings:
        model = rig.models[one.lot]
        castings.append(in_place(model.metal, one))
        cores += [in_place(core, one) for core in model.cores]
    f = rig.flask
    return Mould(
        tuple(castings),
        rig.gating,
        tuple(cores),
        tuple(_round(one, f.cope_mm) for one in rig.feeders),
        tuple(_block(one) for one in rig.chills),
        f.cope_mm,
        (f.long_mm / 2.0, f.wide_mm / 2.0),
        f.drag_mm,
    )


# What takes a mould that lies to one that is stood on end, +x up.
STANDING = np.array([[0.0, 0.0, -1.0], [0.0, 1.0, 0.0], [1.0, 0.0, 0.0]])


def stood(lying: Mould, long_mm: float, cope_mm: float, drag_mm: float) -> Mould:
    """The same mould on its end; its cope's top is the flask's upper end."""
    nothing = np.zeros(3)

    def up(mesh: Mesh) -> Mesh:
        return mesh.moved(STANDING, nothing)

    return Mould(
        tuple(up(one) for one in lying.castings),
        None if lying.gating is None else up(lying.gating),
        tuple(up(one) for one in lying.cores),
        (),
        (),
        long_mm / 2.0,
        (max(cope_mm, drag_mm), lying.half_mm[1]),
        long_mm / 2.0,
        True,
    )


def _round(one: Feeder, top_mm: float) -> Round:
    base = one.foot_mm[2] + (one.neck_long_mm if one.contact_mm is None else 0.0)
    high = (top_mm if one.open else one.top_mm) - base
    beside = None if one.contact_mm is None else one.contact_mm[:2]
    return Round(
        one.foot_mm, one.wide_mm, high, one.neck_mm, one.neck_long_mm, one.open, one.sleeve_mm, beside, one.neck_high_mm
    )


def _block(one: Chill) -> Block:
    return Block(one.at_mm, one.out, one.side_mm, one.thick_mm)
