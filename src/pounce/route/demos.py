"""What the demo jobs of the walled-garden glasshouse are. Imports nothing heavy: the bench uses it too."""

from dataclasses import dataclass
from importlib import resources
from pathlib import Path
from typing import Final

import platformdirs

# The season that the demo's logbook holds, and the book with it in.
SEASON: Final = Path(str(resources.files("pounce.route"))) / "demo" / "season.json"
BOOK: Final = SEASON.with_suffix(".sqlite")


@dataclass(frozen=True)
class Demo:
    """A demo job: its part's file, its name, one line about it, its metal, what is added at Stock and cored, in
    words, how it is made, how many castings one mould gives, the draw and the mould where they are said, feeders on
    it, and choices of its pour, ``key=word``.
    """

    part: str
    name: str
    about: str
    metal: str
    add: tuple[str, ...] = ()
    core: tuple[str, ...] = ()
    pattern: str = "printed-filament"
    castings: int = 1
    tiers: int = 1
    draw: str = ""
    mould: str = ""
    feeders: tuple[str, ...] = ()
    pour: tuple[str, ...] = ()

    @property
    def log_id(self) -> str:
        """What the demo's logbook knows it by."""
        return f"demo-{self.part.partition('.')[0]}"


DEMOS = (
    Demo(
        "vent-shaft-pedestal-bearing.stl",
        "Vent-shaft pedestal bearing",
        "split pattern",
        "aluminium-silicon",
        ("fill", "machine@30,0,5:1.5", "machine@30,0,-5:1.5", "machine@-12.5,-42,5:1.5", "draft", "fillets"),
        ("-12.5,-42,5",),
        castings=2,
    ),
    Demo(
        "vent-quadrant-arm.3mf",
        "Vent quadrant arm",
        "flat back, letters",
        "grey-iron",
        ("fill@8,0,10", "machine@12,0,20:2", "draft", "fillets:2"),
    ),
    Demo(
        "ridge-finial.3mf",
        "Ridge finial",
        "joint that follows the leaves, a feeder",
        "silicon-bronze",
        feeders=("43.41,0.89,16.01:32:24:37",),
        pour=("moulds=2",),
    ),
    Demo(
        "gutter-elbow.3mf",
        "Gutter elbow",
        "a bent core in its box",
        "aluminium-silicon",
        ("draft", "fillets"),
        ("all", "mix=flour-molasses"),
    ),
    Demo(
        "bench-end-frame.3mf",
        "Bench end frame",
        "900 mm, burned-out foam",
        "grey-iron",
        pattern="foam-burned-out",
        pour=("charge=scrap",),
    ),
    Demo(
        "latch-handle.3mf",
        "Latch handle",
        "a worn original as the pattern",
        "yellow-brass",
        ("fill", "level@117,29.3,15:16"),
        pattern="original-part",
    ),
    Demo(
        "spindle-bush.3mf",
        "Spindle bush",
        "a long core, poured on end",
        "gunmetal",
        ("fillets",),
        ("all", "on-end"),
        draw="+z",
    ),
    Demo(
        "bench-foot.3mf",
        "Bench foot",
        "a tree of four in a pail",
        "aluminium-silicon",
        pattern="foam-burned-out",
        mould="loose-sand",
        castings=4,
        tiers=2,
    ),
)


def demo_folder() -> Path:
    """The demo jobs' own folder in the user's data."""
    return Path(platformdirs.user_data_dir("pounce")) / "demo"


def demo_book() -> Path:
    """The demo's own logbook: nothing of it gets into the user's."""
    return demo_folder() / "logbook.sqlite"
