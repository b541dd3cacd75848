"""Drawings of stock, cores, pattern and plan."""

from pounce.craft.drawings.pen import WIDE, Pen, bow, box


def machined(pen: Pen) -> None:
    """Metal left on a face to be cut."""
    pen.metal([(30, 48), (160, 48), (160, 96), (30, 96)])
    pen.shape(box(30, 34, 160, 48), "panel", "ink")
    for k in range(16):
        pen.line([(36 + 8 * k, 35), (36 + 8 * k, 47)], "ink", 1.0)
    pen.size((172, 34), (172, 48), "", 4)
    pen.words((166, 28), "cut away", anchor="end", tone="muted")
    pen.arrow((14, 41), (28, 41), "brassInk", 2.0)


def taper(pen: Pen) -> None:
    """Draft by adding, and by taking away."""
    for x, shape, line, name in (
        (50.0, [(-26, 24), (26, 24), (20, 96), (-20, 96)], [(-20, 24), (-20, 96)], "added"),
        (140.0, [(-26, 24), (26, 24), (20, 96), (-20, 96)], [(26, 24), (26, 96)], "taken"),
    ):
        pen.metal([(x + a, b) for a, b in shape])
        for side in (-1.0, 1.0):
            pen.line(
                [(x + side * abs(line[0][0]), line[0][1]), (x + side * abs(line[1][0]), line[1][1])],
                "ochreInk",
                1.4,
                "4,3",
            )
        pen.words((x, 114), name, anchor="middle")


def fillet(pen: Pen) -> None:
    """A sharp corner heats the sand from two sides."""
    pen.metal([(14, 20), (34, 20), (34, 78), (84, 78), (84, 98), (14, 98)])
    pen.ring(40, 72, 7, "emberHot", "ember", 1.2)
    pen.words((48, 64), "hot", bold=True)
    pen.metal([(108, 20), (128, 20), (128, 60), *bow(146, 60, 18, 180, 90, 10), (178, 78), (178, 98), (108, 98)])
    pen.words((49, 116), "tears", anchor="middle", tone="muted")
    pen.words((143, 116), "sound", anchor="middle", tone="muted")


def prints(pen: Pen) -> None:
    """A core lying in its prints."""
    pen.sand(box(4, 12, WIDE - 4, 112))
    pen.metal(box(48, 34, 142, 90))
    pen.shape(box(22, 50, 168, 74), "core", "ink")
    for k in range(15):
        pen.line([(26 + 10 * k, 73), (34 + 10 * k, 51)], "sandDot", 0.8)
    pen.line([(22, 62), (168, 62)], "ink", 1.2)
    pen.joint(62, (22, 168))
    pen.words((25, 44), "print", anchor="middle", ground="sandWash")
    pen.words((165, 44), "print", anchor="middle", ground="sandWash")


def buoyed(pen: Pen) -> None:
    """Metal drives a core up."""
    pen.sand(box(4, 12, WIDE - 4, 112))
    pen.shape(box(40, 30, 150, 96), "emberHot", "ink")
    pen.shape(box(16, 56, 174, 76), "core", "ink")
    for x in (66, 95, 124):
        pen.arrow((x, 92), (x, 79), "ember", 2.0)
    pen.arrow((95, 52), (95, 34), "ember")
    pen.words((95, 24), "lift", anchor="middle", bold=True, ground="sandWash")


def drilled(pen: Pen) -> None:
    """A small hole is cast solid, with a mark."""
    pen.metal([(24, 44), (166, 44), (166, 92), (24, 92)])
    pen.shape([(90, 44), (100, 44), (95, 52)], "panel", "ink", 1.2)
    pen.line([(88, 44), (88, 92)], "ink", 1.0, "4,3")
    pen.line([(102, 44), (102, 92)], "ink", 1.0, "4,3")
    pen.line([(95, 16), (95, 104)], "muted", 1.0, "10,3,2,3")
    pen.words((108, 34), "drill", tone="muted")


def halves(pen: Pen) -> None:
    """Two halves that meet by two dowels."""
    pen.metal([(40, 46), *bow(95, 46, 40, 180, 360), (150, 46)])
    pen.metal([(40, 70), (150, 70), (134, 70), *bow(95, 70, 40, 0, 180), (56, 70)])
    for x, wide in ((66.0, 5.0), (124.0, 3.5)):
        pen.shape(box(x - wide, 46, x + wide, 56), "timber", "ink", 1.2)
        pen.shape(box(x - wide, 70, x + wide, 82), "panel", "ink", 1.2)
    pen.arrow((24, 30), (24, 52), "muted", 1.8)


def hollowed(pen: Pen) -> None:
    """A printed piece with a wall and ribs, open on its joint."""
    outer = [(30, 96), (44, 26), (146, 26), (160, 96)]
    pen.metal(outer)
    for x0, x1 in ((48, 78), (84, 106), (112, 142)):
        pen.shape([(x0, 96), (x0 + 2, 36), (x1 - 2, 36), (x1, 96)], "panel", "ink", 1.2)
    pen.line([(10, 97), (180, 97)], "outline", 1.8)
    pen.words((95, 116), "the bed", anchor="middle", tone="muted")


def plate(pen: Pen) -> None:
    """A match plate: both halves, gates and runner on one board."""
    pen.shape(box(8, 56, 182, 66), "timber", "ink")
    pen.metal([(24, 56), (32, 30), (70, 30), (78, 56)])
    pen.metal([(24, 66), (34, 88), (68, 88), (78, 66)])
    pen.shape([(84, 56), (86, 48), (112, 48), (114, 56)], "brass", "ink", 1.2)
    pen.metal([(120, 56), (128, 30), (166, 30), (174, 56)])
    pen.metal([(120, 66), (130, 88), (164, 88), (174, 66)])
    pen.words((99, 42), "runner", anchor="middle", tone="muted")
    pen.words((95, 108), "plate", anchor="middle", tone="muted")


def proved(pen: Pen) -> None:
    """The part as wanted, and the pattern that is rammed."""
    pen.metal([(22, 34), (70, 34), (70, 56), (58, 56), (58, 72), (70, 72), (70, 96), (22, 96)])
    pen.band(((70, 72), (58, 72)), "locked", 3.0)
    pen.words((46, 114), "as wanted", anchor="middle", tone="muted")
    pen.arrow((84, 66), (104, 66), "brassInk")
    pen.metal([(120, 96), (124, 34), (166, 34), (170, 96)])
    pen.shape([(154, 56), (167, 56), (168, 72), (154, 72)], "panel", "ink", 1.2)
    for k in range(3):
        pen.line([(157 + 4 * k, 57), (157 + 4 * k, 71)], "ink", 1.0)
    pen.band(((120, 96), (124, 34)), "clean", 4.0)
    pen.words((145, 114), "as rammed", anchor="middle", tone="muted")
    pen.arrow((145, 28), (145, 10))


def one_cause(pen: Pen) -> None:
    """Four troubles of one hollow, and the one core that ends them."""
    for k, words in enumerate(("locks", "tears", "slender", "no joint")):
        pen.shape(box(8, 12 + 26 * k, 72, 32 + 26 * k), "sunk", "outline", 1.2)
        pen.words((40, 26 + 26 * k), words, anchor="middle")
        pen.line([(72, 22 + 26 * k), (104, 62)], "outline", 1.2)
    pen.shape(box(104, 46, 182, 78), "core", "ink")
    pen.words((143, 66), "one core", anchor="middle", bold=True)


DRAWINGS = {
    "machined": machined,
    "taper": taper,
    "fillet": fillet,
    "prints": prints,
    "buoyed": buoyed,
    "drilled": drilled,
    "halves": halves,
    "hollowed": hollowed,
    "plate": plate,
    "proved": proved,
    "one-cause": one_cause,
}
