"""The mould at 1:1 from above, to lay on the board and prick through."""

import numpy as np

from pounce.export.drawing import Drawing, Line
from pounce.rig.values import RigResult
from pounce.solid.mesh import Floats

# A gate is named so far outward of the casting, mm.
NAMED_MM = 8.0
STYLES = {"casting": "solid", "print": "dashed", "gate": "solid", "runner": "solid", "foot": "solid", "well": "dashed"}


def mould_drawings(r: RigResult) -> tuple[Drawing, ...]:
    """The drag from above, as the board carries it, and the cope turned over about the line of the pins, where the
    sprue is marked for its half.
    """
    about = f"{r.flask.long_mm:g} by {r.flask.wide_mm:g} mm inside; the cross is the middle of the flask"
    return (
        _drawing(r, "Mould from above", about, 1.0),
        _drawing(r, "The same turned over, for the cope", f"{about}; turned over about the line of its pins", -1.0),
    )


def _drawing(r: RigResult, title: str, about: str, y: float) -> Drawing:
    turn = np.array([1.0, y])
    lines = [Line(_wall(r) * turn, "fine")]
    lines += [
        Line(ring * turn, STYLES[shape.kind]) for shape in r.shapes if shape.kind in STYLES for ring in shape.rings
    ]
    x = r.flask.long_mm / 2.0
    lines.append(Line(np.array([[-x, 0.0], [x, 0.0]]), "fine", False))
    leads = [lead for lead in r.leads if lead.way == "joint"]
    lines += [Line(np.array([lead.at_mm, lead.to_mm]) * turn, "dashed", False) for lead in leads]
    holes = [(vx, vy * y, 0.0) for vx, vy, _ in r.vents] + [(0.0, 0.0, 0.0)]
    words = [(vx + 2.0, vy * y + 2.0, "vent") for vx, vy, _ in r.vents]
    words += [
        (lead.to_mm[0], lead.to_mm[1] * y, f"{lead.kind} vent".replace("breather vent", "breather")) for lead in leads
    ]
    holes += [(key.at_mm[0], key.at_mm[1] * y, key.wide_mm) for key in r.keys]
    words += [(key.at_mm[0] + key.wide_mm / 2.0 + 2.0, key.at_mm[1] * y, "key") for key in r.keys]
    if r.sprue is not None:
        sx, sy = r.sprue.at_mm[0], r.sprue.at_mm[1] * y
        holes.append((sx, sy, r.sprue.foot_mm))
        words.append((sx + r.sprue.foot_mm / 2.0 + 2.0, sy, "sprue"))
    for gate in r.gates:
        turn_rad = np.radians(gate.way_deg)
        x = gate.at_mm[0] + NAMED_MM * float(np.cos(turn_rad))
        at = (gate.at_mm[1] + NAMED_MM * float(np.sin(turn_rad))) * y
        words.append((x, at, f"gate {gate.wide_mm:g} x {gate.thick_mm:g}, {gate.half}"))
    return Drawing(title, about, tuple(lines), tuple(words), tuple(holes))


def _wall(r: RigResult) -> Floats:
    f = r.flask
    if f.shape == "box":
        x, y = f.long_mm / 2.0, f.wide_mm / 2.0
        return np.array([[-x, -y], [x, -y], [x, y], [-x, y]])
    turn = 2.0 * np.pi * np.arange(96) / 96
    return np.stack([np.cos(turn), np.sin(turn)], axis=1) * f.long_mm / 2.0
