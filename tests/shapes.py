"""Things a hobby foundry casts, made in code: mug, flanged bush, spoked wheel, bracket, horn-shaped ornament."""

import itertools

import manifold3d
import numpy as np

Solid = manifold3d.Manifold


def mug() -> Solid:
    """A plain mug, 72 across and 90 high, its wall 4, with a round handle."""
    body = Solid.cylinder(90, 36, 34, 96) - Solid.cylinder(90, 31.5, 30, 96).translate((0, 0, 5))
    ring = manifold3d.CrossSection.circle(5, 32).translate((24, 0))
    handle = Solid.revolve(ring, 64).rotate((90, 0, 0)).translate((36, 0, 45))
    return (
        body
        + handle
        - Solid.cylinder(90, 31.5, 30, 96).translate((0, 0, 5))
        - Solid.cylinder(90, 31, 31, 96).translate((0, 0, 90))
    )


def bush() -> Solid:
    """A flanged bush with a bore of 25 and four bolt holes."""
    body = Solid.cylinder(50, 20, 20, 96) + Solid.cylinder(10, 35, 35, 96)
    body -= Solid.cylinder(60, 12.5, 12.5, 96).translate((0, 0, -5))
    for k in range(4):
        turn = k * np.pi / 2 + np.pi / 4
        body -= Solid.cylinder(20, 4, 4, 48).translate((27.5 * np.cos(turn), 27.5 * np.sin(turn), -5))
    return body


def wheel() -> Solid:
    """A wheel of 160 with five round spokes, its hub bored 16."""
    rim = Solid.cylinder(16, 80, 80, 128) - Solid.cylinder(20, 70, 70, 128).translate((0, 0, -2))
    body = rim + Solid.cylinder(24, 18, 18, 64).translate((0, 0, -4))
    for k in range(5):
        spoke = Solid.cylinder(62, 6, 5, 32).rotate((0, 90, 0)).translate((12, 0, 8))
        body += spoke.rotate((0, 0, 72 * k))
    return body - Solid.cylinder(60, 8, 8, 64).translate((0, 0, -20))


def bracket() -> Solid:
    """An angle bracket with a rib and two holes in each leg."""
    body = Solid.cube((60, 40, 8)) + Solid.cube((8, 40, 60))
    rib = (
        Solid.extrude(manifold3d.CrossSection([[(8, 8), (50, 8), (8, 50)]]), 6).rotate((90, 0, 0)).translate((0, 23, 0))
    )
    body += rib
    for y in (10, 30):
        body -= Solid.cylinder(20, 4, 4, 48).translate((45, y, -5))
        body -= Solid.cylinder(20, 4, 4, 48).rotate((0, 90, 0)).translate((-5, y, 45))
    return body


def horn() -> Solid:
    """A horn that curls over three quarters of a turn and thins to its tip, on a round foot."""
    steps = np.linspace(0.0, 1.5 * np.pi, 28)
    balls = [
        Solid.sphere(12 - 8 * t / steps[-1], 28).translate((40 * np.cos(t) - 40, 6 * t, 40 * np.sin(t))) for t in steps
    ]
    body = Solid.batch_hull([balls[0], balls[1]])
    for one, two in itertools.pairwise(balls[1:]):
        body += Solid.batch_hull([one, two])
    return body + Solid.cylinder(10, 18, 16, 48).translate((0, 0, -14))


SHAPES = {"mug": mug, "bush": bush, "wheel": wheel, "bracket": bracket, "horn": horn}


def bollard() -> Solid:
    """A post 100 high on a round foot of 124, hollow from below and flared there to 80, closed on top."""
    outline = [(40, 0), (62, 0), (62, 10), (34, 20), (27, 60), (30, 90), (30, 100), (0, 100)]
    inner = [(0, 94), (23, 92), (20, 60), (26, 20)]
    return Solid.revolve(manifold3d.CrossSection([[*outline, *inner]]), 96)


def bell() -> Solid:
    """A bell of 120 and 102 high that flares toward its mouth, 7 thick there, with a ring to hang it by."""
    outer = [(60, 0), (56, 8), (45, 30), (38, 60), (32, 85), (20, 98), (0, 102)]
    inner = [(0, 95), (18, 92), (26, 82), (32, 60), (39, 30), (49, 8), (53, 0)]
    wall = Solid.revolve(manifold3d.CrossSection([outer + inner]), 96)
    ring = manifold3d.CrossSection([[(9, -5), (17, -5), (17, 5), (9, 5)]])
    return wall + Solid.revolve(ring, 64).rotate((90, 0, 0)).translate((0, 0, 116))


def sectored_wheel(bore_mm: float = 20.0, over_mm: float = 4.0) -> Solid:
    """A wheel of 190 with six flat spokes; its hub stands ``over_mm`` over both faces and is bored ``bore_mm``."""

    def disc(outer: float, inner: float, low: float, high: float) -> Solid:
        tall = high - low
        return (Solid.cylinder(tall, outer, outer, 96) - Solid.cylinder(tall, inner, inner, 96)).translate((0, 0, low))

    body = disc(95, 80, 0, 24) + disc(24, bore_mm / 2, -over_mm, 24 + over_mm)
    for k in range(6):
        body += Solid.cube((64, 12, 10), True).translate((50, 0, 12)).rotate((0, 0, 60 * k))
    return body - Solid.cylinder(60, bore_mm / 2, bore_mm / 2, 96).translate((0, 0, -18))


def gas_ring() -> Solid:
    """A burner: a ring channel with sixteen jets of 4 on top and a pipe of 10 at its side."""

    def ring(outer: float, inner: float, low: float, high: float) -> Solid:
        tall = high - low
        return (Solid.cylinder(tall, outer, outer, 96) - Solid.cylinder(tall, inner, inner, 96)).translate((0, 0, low))

    body = ring(65, 35, 0, 22) - ring(59, 41, 6, 16)
    for k in range(16):
        body -= Solid.cylinder(20, 2, 2, 24).translate((50, 0, 10)).rotate((0, 0, 22.5 * k))
    pipe = [Solid.cylinder(high, r, r, 48, True).rotate((0, 90, 0)) for high, r in ((50, 12), (60, 5))]
    return body + pipe[0].translate((85, 0, 11)) - pipe[1].translate((85, 0, 11))
