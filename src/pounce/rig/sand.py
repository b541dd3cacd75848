"""How the sand of a mould is made up, by weight, and what its metal does to the sides of a box."""

import math

from pounce.base.errors import UserFault
from pounce.metals.method import Method
from pounce.metals.pouring import pouring
from pounce.metals.tables import mixes
from pounce.rig.flasking import Asked, Rigged
from pounce.rig.flow import G
from pounce.rig.onend import spread_n
from pounce.rig.values import Mixing, Push, Stands, Weights
from pounce.solid.mesh import Mesh


def mixing_of(asked: Asked, method: Method, w: Weights) -> Mixing:
    """Facing, backing and what is mixed in, kg, with the times of a binder.

    The facing covers the pattern all over as thick as it is sieved; water is for sand that was dry.
    """
    c, mould = pouring().common, method.mould
    whole = w.cope_sand_kg + w.drag_sand_kg
    if asked.loose or (not mould.water and not mould.mix):
        return Mixing(0.0, whole, "", 0.0, 0.0, 0.0, 0.0, 0.0)
    skin = sum(float(item.whole.surface_area()) for item in asked.items)
    facing = min(skin * c.facing.value * mould.density.value * 1e-9, whole)
    if not mould.mix:
        assert mould.water is not None, "a sand without a binder holds by its water"
        return Mixing(facing, whole - facing, "", 0.0, 0.0, whole * mould.water.value / 100.0, 0.0, 0.0)
    mix = mixes()[mould.mix]
    binder = whole * mix.binder_part.value / 100.0
    catalyst = 0.0 if mix.catalyst_part is None else binder * mix.catalyst_part.value / 100.0
    # a bonded sand is one sand all through
    return Mixing(0.0, whole, mix.binder, binder, catalyst, 0.0, mix.bench_life.value, mix.strip.value)


def checked_closing(asked: Asked, method: Method) -> None:
    """UserFault for a sand that would fall apart without its flask."""
    if asked.choices.closing == "boxless" and method.mould.bond != "set":
        raise UserFault(
            f"{method.mould.name} does not stand without a flask.",
            "Keep it in its flask, or take a sand that sets hard.",
        )


def stands_in(asked: Asked, rig: Rigged, method: Method) -> Stands:
    """What holds the sand while it is poured. A snap flask comes off, but for a mould that is clamped in it and stood
    on end; sand that has set needs no jacket then.
    """
    if asked.choices.closing == "boxless":
        return "block"
    if not rig.flask.snap or asked.loose or rig.stand is not None:
        return "flask"
    return "block" if method.mould.bond == "set" else "jacket"


def _side_mm3(mesh: Mesh, head_mm: float) -> float:
    """A casting's side, seen from where it is widest, times the metal over it, mm3."""
    middles = mesh.corners.mean(axis=1)[:, 2]
    areas = mesh.areas[:, None] * abs(mesh.normals[:, :2]) / 2.0
    return float(max((areas * (head_mm - middles)[:, None]).sum(axis=0)))


def push_of(asked: Asked, rig: Rigged) -> Push:
    """What liquid metal does to the sides of the box, as if the sand handed all of it on (the worst of it): pressure
    at the lowest metal (kPa), push on a side (N), how far a board of the usual thickness bows (mm), and how many
    battens up each long side keep it within what is allowed.

    A side is a beam held at both ends under an even load, bow = 5 F L^3 / (384 E I): any book of strength of
    materials; n spans in place of one bow by the fourth power of n less.
    """
    c = pouring().common
    head, _ = rig.heads_mm(asked)
    pressed = asked.density * G * 1e-9  # N/mm3 a mm of metal
    force = sum(lot.count * _side_mm3(lot.item.metal_mesh, head) for lot in asked.lots) * pressed
    long, high = rig.flask.long_mm, rig.flask.cope_mm + rig.flask.drag_mm
    if rig.stand is not None:  # its broad sides are the boards that close it
        force = spread_n(rig, asked)
    bow = 5.0 * force * long**3 / (384.0 * c.board_stiffness.value * high * c.board.value**3 / 12.0)
    spans = max(math.ceil((bow / c.board_bow.value) ** 0.25 - 1e-9), 1)
    return Push(pressed * (head + asked.down_mm) * 1000.0, force, bow, spans - 1)
