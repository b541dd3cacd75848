"""Drawings of part, metal, draw and parting."""

from pounce.craft.drawings.pen import BAND, HIGH, WIDE, Pen, bow, box

EARTH = (4.0, 58.0, WIDE - 4.0, HIGH - 6.0)


def unit(pen: Pen) -> None:
    """A bracket drawn in inches and read in millimetres."""
    large = [(14, 100), (14, 22), (30, 22), (30, 84), (92, 84), (92, 100)]
    pen.metal(large)
    pen.words((53, 50), "25.4 mm", bold=True)
    pen.metal([(140 + (x - 14) / 9, 100 - (100 - y) / 9) for x, y in large])
    pen.words((128, 82), "1 mm", bold=True)
    pen.line([(6, 101), (WIDE - 6, 101)], "outline", 1.6)


def shell(pen: Pen) -> None:
    """A shell with an edge that no face closes."""
    pen.line([(40, 24), (40, 96), (150, 96), (150, 24), (112, 24)], "ink", 2.2)
    pen.line([(40, 24), (86, 24)], "ink", 2.2)
    pen.line([(86, 24), (112, 24)], "damson", 2.4, "3,4")
    pen.ring(86, 24, 3.5, "damson", "damsonDeep")
    pen.ring(112, 24, 3.5, "damson", "damsonDeep")
    pen.words((95, 66), "inside or outside?", anchor="middle", tone="muted")


def thin(pen: Pen) -> None:
    """A wing too thin for the metal."""
    pen.sand(box(4, 14, WIDE - 4, 108))
    pen.shape([(20, 34), (66, 34), (66, 57), (172, 57), (172, 64), (66, 64), (66, 90), (20, 90)], "panel", "ink")
    pen.shape(
        [(20, 34), (66, 34), (66, 57), (118, 57), (122, 60), (117, 64), (66, 64), (66, 90), (20, 90)], "emberHot", "ink"
    )
    pen.arrow((78, 44), (112, 44), "ember")
    pen.words((146, 50), "empty", anchor="middle", tone="ink", ground="sandWash")


def shrink(pen: Pen) -> None:
    """The pattern and the casting that comes out of it."""
    pen.shape(box(26, 22, 166, 98), "", "ink", 1.6, "5,4")
    pen.metal(box(34, 29, 158, 91))
    pen.words((96, 64), "casting", anchor="middle")
    pen.words((96, 116), "pattern", anchor="middle", tone="muted")
    for start, end in (((24, 60), (35, 60)), ((168, 60), (157, 60)), ((96, 18), (96, 30)), ((96, 102), (96, 91))):
        pen.arrow(start, end, "ember", 2.0)


def rule(pen: Pen) -> None:
    """A plain rule beside a contraction rule."""
    for y, step, name in ((30.0, 14.0, "rule"), (76.0, 15.0, "contraction rule")):
        pen.shape(box(12, y, 182, y + 24), "timber", "ink")
        for k in range(12):
            if 16.0 + step * k < 180.0:
                pen.line([(16.0 + step * k, y), (16.0 + step * k, y + (12.0 if k % 5 == 0 else 7.0))], "ink", 1.2)
        pen.words((178, y - 4), name, anchor="end", tone="muted")
    pen.line([(156, 30), (156, 62)], "ember", 1.4, "3,3")
    pen.line([(166, 62), (166, 100)], "ember", 1.4, "3,3")
    pen.arrow((156, 62), (166, 62), "ember", 1.6)


def held(pen: Pen) -> None:
    """Sand between two flanges holds the casting apart."""
    pen.sand(box(4, 10, WIDE - 4, 112))
    pen.metal([(36, 26), (56, 26), (56, 76), (134, 76), (134, 26), (154, 26), (154, 96), (36, 96)])
    pen.arrow((80, 50), (60, 50), "ember")
    pen.arrow((110, 50), (130, 50), "ember")
    pen.words((95, 70), "held", anchor="middle", bold=True, ground="sandWash")


def _lifted(pen: Pen, top: float, foot: float, state: str) -> None:
    """A plug half out of its hollow: how wide it is above and below, and the mark of its sides."""
    middle, y = WIDE / 2, EARTH[1]
    x0, x1 = middle - foot, middle + foot
    opened = max(top, foot) if state == "locked" else top
    hollow = [
        (middle - opened if state != "locked" else middle - top, y),
        (x0, y + 46),
        (x1, y + 46),
        (middle + top, y),
    ]
    pen.sand([(EARTH[0], y), *hollow, (EARTH[2], y), (EARTH[2], EARTH[3]), (EARTH[0], EARTH[3])])
    pen.line([(EARTH[0], y), *hollow, (EARTH[2], y)], "ink", 1.4)
    rise = 24.0
    pen.metal([(middle - top, y - rise), (middle + top, y - rise), (x1, y + 46 - rise), (x0, y + 46 - rise)])
    pen.band(((middle - top, y - rise), (x0, y + 46 - rise)), state, -BAND)
    pen.band(((middle + top, y - rise), (x1, y + 46 - rise)), state, BAND)
    pen.arrow((middle, 27), (middle, 8))


def cup(pen: Pen) -> None:
    """A plug that leans outward."""
    _lifted(pen, 45, 33, "clean")


def upright(pen: Pen) -> None:
    """A plug with upright walls."""
    _lifted(pen, 39, 39, "tight")


def dovetail(pen: Pen) -> None:
    """A plug that is wider below."""
    _lifted(pen, 31, 43, "locked")
    pen.torn(((60, 38), (54, 62)))
    pen.torn(((130, 38), (136, 62)))


def lean(pen: Pen) -> None:
    """How far a wall of some height leans."""
    pen.sand([(96, 14), (WIDE - 4, 14), (WIDE - 4, 108), (80, 108), (80, 104)])
    pen.metal([(30, 14), (98, 14), (80, 104), (30, 104)])
    pen.band(((98, 14), (80, 104)), "clean", 4.0)
    pen.line([(80, 104), (80, 14)], "ink", 1.2, "4,3")
    pen.size((20, 14), (20, 104), "28", 3)
    pen.words((92, 100), "2°", bold=True, ground="sandWash")
    pen.words((126, 118), "lean × 5", tone="muted")


def inside(pen: Pen) -> None:
    """Sand that stands in a pocket wants twice the lean."""
    pen.sand(box(4, 44, WIDE - 4, 112))
    pen.metal([(30, 44), (160, 44), (152, 100), (122, 100), (112, 62), (78, 62), (68, 100), (38, 100)])
    pen.band(((30, 44), (38, 100)), "clean", -4.0)
    pen.band(((160, 44), (152, 100)), "clean", 4.0)
    pen.sand([(78, 62), (112, 62), (122, 100), (68, 100)])
    pen.line([(68, 100), (78, 62), (112, 62), (122, 100)], "ink", 1.6)
    pen.joint(44, (30, 160))
    pen.words((10, 80), "2°", bold=True, ground="sandWash")
    pen.words((95, 92), "4°", anchor="middle", bold=True, ground="sandWash")
    pen.arrow((95, 32), (95, 12))


def widest(pen: Pen) -> None:
    """The joint lies at the widest line."""
    pen.sand(box(4, 10, WIDE - 4, 112))
    pen.metal([*bow(95, 62, 40, 180, 360), *bow(95, 62, 40, 0, 180)])
    pen.joint(62, (55, 135))
    pen.line([(55, 62), (135, 62)], "ink", 2.2, "7,4")
    pen.arrow((95, 30), (95, 14))
    pen.words((20, 32), "cope", ground="sandWash")
    pen.words((20, 104), "drag", ground="sandWash")


def flat_back(pen: Pen) -> None:
    """A pattern whole on a board."""
    pen.sand(box(4, 12, WIDE - 4, 84))
    pen.metal([(40, 84), (52, 40), (96, 40), (104, 58), (150, 58), (156, 84)])
    pen.shape(box(4, 84, WIDE - 4, 96), "timber", "ink")
    pen.words((95, 114), "moulding board", anchor="middle", tone="muted")
    pen.joint(84)


def follow(pen: Pen) -> None:
    """A joint that follows a leaf."""
    pen.sand(box(4, 10, WIDE - 4, 112))
    leaf = [(40, 76), (70, 60), (110, 44), (150, 38), (152, 48), (112, 58), (74, 74), (44, 88)]
    pen.metal(leaf)
    pen.line([(4, 82), (40, 82), (74, 66), (112, 51), (152, 43), (186, 56)], "ink", 2.4, "7,4")
    pen.arrow((60, 46), (60, 18))


def loose(pen: Pen) -> None:
    """A boss that stays behind and is drawn sideways."""
    pen.sand(box(4, 44, WIDE - 4, 114))
    pen.shape([(50, 44), (118, 44), (112, 104), (56, 104)], "panel", "ink")
    pen.metal([(52, 24), (116, 24), (110, 82), (58, 82)])
    pen.shape([(114, 68), (136, 68), (136, 88), (112, 88)], "steel", "ink")
    pen.arrow((84, 20), (84, 4))
    pen.arrow((142, 78), (122, 96), "ochreInk", 2.0)
    pen.words((140, 62), "after", ground="sandWash")
    pen.joint(44, (50, 118))


DRAWINGS = {
    "unit": unit,
    "shell": shell,
    "thin": thin,
    "shrink": shrink,
    "rule": rule,
    "held": held,
    "cup": cup,
    "upright": upright,
    "dovetail": dovetail,
    "lean": lean,
    "inside": inside,
    "widest": widest,
    "flat-back": flat_back,
    "follow": follow,
    "loose": loose,
}
