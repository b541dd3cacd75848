"""Drawings of mould, freezing, pour and logbook."""

from pounce.craft.drawings.pen import WIDE, Pen, box


def way_in(pen: Pen) -> None:
    """Basin, sprue, well, runner, gate, casting."""
    pen.sand(box(4, 14, WIDE - 4, 114))
    pen.shape(
        [
            (16, 14),
            (54, 14),
            (42, 28),
            (38, 64),
            (118, 64),
            (118, 40),
            (178, 40),
            (178, 96),
            (118, 96),
            (118, 72),
            (44, 72),
            (44, 84),
            (26, 84),
            (26, 64),
            (28, 28),
        ],
        "emberHot",
        "ink",
    )
    pen.joint(72, (26, 178))
    pen.words((48, 44), "sprue", ground="sandWash")
    pen.words((92, 90), "gate", anchor="middle", ground="sandWash")
    pen.words((148, 72), "casting", anchor="middle", bold=True)


def lifted(pen: Pen) -> None:
    """The metal lifts the cope; weights hold it."""
    pen.sand(box(20, 40, 170, 74))
    pen.sand(box(20, 74, 170, 112))
    pen.shape(box(50, 64, 140, 92), "emberHot", "ink")
    for x in (66, 95, 124):
        pen.arrow((x, 60), (x, 46), "ember", 2.0)
    pen.shape(box(20, 40, 170, 112), "", "ink", 1.6)
    pen.joint(74, (50, 140), x0=20, x1=170)
    pen.shape(box(52, 14, 138, 38), "steelDeep", "ink")
    pen.words((95, 31), "kg", anchor="middle", tone="panel", bold=True)


def margins(pen: Pen) -> None:
    """Sand between casting and flask, under and over."""
    pen.sand(box(16, 14, 174, 110))
    pen.shape(box(16, 14, 174, 110), "", "ink", 2.4)
    pen.metal(box(56, 44, 134, 82))
    pen.size((16, 62), (56, 62), "wall", 10)
    pen.size((95, 14), (95, 44), "", 8)
    pen.words((101, 33), "over", ground="sandWash")
    pen.size((95, 82), (95, 110), "", 8)
    pen.words((101, 100), "under", ground="sandWash")


def last(pen: Pen) -> None:
    """A thick place sets last and draws hollow."""
    pen.metal([(10, 70), (70, 70), (70, 30), (126, 30), (126, 70), (180, 70), (180, 92), (10, 92)])
    pen.ring(98, 62, 18, "emberHot", "ember", 1.2)
    pen.ring(98, 60, 6, "panel", "ink", 1.2)
    pen.words((98, 22), "last, and hollow", anchor="middle", tone="muted")


def fed(pen: Pen) -> None:
    """A feeder sets after the casting and takes the hollow."""
    pen.metal(
        [
            (10, 78),
            (70, 78),
            (70, 60),
            (82, 54),
            (74, 10),
            (122, 10),
            (114, 54),
            (126, 60),
            (126, 78),
            (180, 78),
            (180, 100),
            (10, 100),
        ]
    )
    pen.shape([(80, 10), (116, 10), (100, 40), (96, 40)], "panel", "ink", 1.2)
    pen.arrow((98, 46), (98, 70), "ember")
    pen.line([(82, 54), (114, 54)], "ink", 1.2, "4,3")
    pen.words((128, 34), "feeder")


def chilled(pen: Pen) -> None:
    """Iron against a thick place makes it set sooner."""
    pen.sand(box(4, 12, WIDE - 4, 112))
    pen.metal([(10, 40), (70, 40), (70, 76), (122, 76), (122, 40), (180, 40), (180, 28), (10, 28)])
    pen.shape(box(68, 77, 124, 96), "steelDeep", "ink")
    pen.words((96, 90), "iron", anchor="middle", tone="panel", bold=True)
    for x in (80, 96, 112):
        pen.arrow((x, 58), (x, 72), "ember", 1.8)


def kept_full(pen: Pen) -> None:
    """A basin that is kept full holds air and dross back."""
    for x, full in ((12.0, True), (104.0, False)):
        pen.shape([(x, 20), (x + 74, 20), (x + 44, 60), (x + 42, 110), (x + 32, 110), (x + 30, 60)], "panel", "ink")
        if full:
            pen.shape(
                [(x + 4, 26), (x + 70, 26), (x + 44, 60), (x + 42, 109), (x + 32, 109), (x + 30, 60)], "emberHot", ""
            )
        else:
            pen.shape(
                [(x + 26, 54), (x + 48, 54), (x + 42, 109), (x + 38, 109), (x + 38, 70), (x + 35, 54)], "emberHot", ""
            )
            for dx, dy in ((35, 72), (34, 86), (36, 98), (33, 64)):
                pen.ring(x + dx, dy, 2.4, "panel", "ink", 1.0)
    pen.words((49, 14), "full", anchor="middle", bold=True)
    pen.words((141, 14), "air goes in", anchor="middle", tone="muted")


def how_hot(pen: Pen) -> None:
    """Thin walls at the hot end of the metal's range, thick ones at the cool end."""
    pen.shape(box(84, 14, 104, 104), "panel", "ink")
    pen.shape(box(84, 14, 104, 54), "emberHot", "")
    pen.shape(box(84, 54, 104, 104), "ochre", "")
    pen.shape(box(84, 14, 104, 104), "", "ink")
    pen.metal(box(18, 28, 66, 34))
    pen.words((42, 52), "thin: hot", anchor="middle")
    pen.metal(box(124, 68, 176, 96))
    pen.words((150, 60), "thick: cool", anchor="middle")
    pen.line([(66, 31), (84, 31)], "ink", 1.2)
    pen.line([(104, 84), (124, 84)], "ink", 1.2)


def dry(pen: Pen) -> None:
    """Molten metal on water throws steam and metal."""
    pen.line([(8, 96), (182, 96)], "ink", 2.0)
    pen.shape([(50, 96), (58, 92), (120, 92), (132, 96)], "steel", "ink", 1.0)
    pen.shape([(84, 20), (100, 20), (97, 84), (90, 92), (86, 84)], "emberHot", "ink")
    for x0, y0, x1, y1 in ((84, 86, 40, 40), (80, 88, 22, 66), (100, 86, 150, 38), (104, 88, 170, 64)):
        pen.arrow((x0, y0), (x1, y1), "ember", 2.0)
    pen.words((95, 114), "water under metal", anchor="middle", tone="muted")


def measured(pen: Pen) -> None:
    """The same size on pattern and casting: the one sure figure."""
    pen.shape(box(24, 22, 166, 46), "timber", "ink")
    pen.size((24, 16), (166, 16), "", 8)
    pen.words((95, 38), "pattern", anchor="middle")
    pen.metal(box(30, 72, 160, 96))
    pen.words((95, 88), "casting", anchor="middle")
    pen.size((30, 108), (160, 108), "", 8)
    pen.line([(24, 46), (24, 104)], "muted", 1.0, "3,3")
    pen.line([(166, 46), (166, 104)], "muted", 1.0, "3,3")


def scattered(pen: Pen) -> None:
    """Many castings lie about their own mean, not about the table's."""
    pen.line([(14, 92), (178, 92)], "ink", 1.6)
    for k, x in enumerate((58, 66, 70, 74, 75, 80, 84, 88, 97)):
        pen.ring(x, 84 - 10 * (k % 3), 4, "verdigris", "verdigrisInk", 1.0)
    pen.line([(77, 92), (77, 34)], "verdigrisInk", 2.0)
    pen.words((77, 28), "yours", anchor="middle", bold=True)
    pen.line([(136, 92), (136, 54)], "muted", 1.6, "4,3")
    pen.words((136, 48), "the table's", anchor="middle", tone="muted")
    pen.words((95, 110), "contraction", anchor="middle", tone="muted")


DRAWINGS = {
    "way-in": way_in,
    "lifted": lifted,
    "margins": margins,
    "last": last,
    "fed": fed,
    "chilled": chilled,
    "kept-full": kept_full,
    "how-hot": how_hot,
    "dry": dry,
    "measured": measured,
    "scattered": scattered,
}
