"""What is chosen of freezing and filling."""

import os
from typing import Final

from pounce.base.choice import FigureChoice, OneOf, Words
from pounce.base.errors import UserFault

# Cells of the grid at most, where neither the job nor a slow machine asks for fewer; where sections are thin so many
# times as many.
CELLS_AT_MOST, FINER = 1_000_000, 2.3
SLOW: Final = "POUNCE_CELLS"


def most_cells() -> int:
    """Cells of the grid at most: fewer where the environment asks for it. UserFault for a word that is no count."""
    word = os.environ.get(SLOW, "")
    if not word:
        return CELLS_AT_MOST
    if not word.isdigit() or not 20_000 <= int(word) <= 2_000_000:
        raise UserFault(f"{SLOW} says '{word}', which is no count of cells.", "Give 20000 to 2000000, or unset it.")
    return int(word)


FEEDING: Final = OneOf(
    key="feeding",
    title="Last places",
    help="Feed what sets last with feeders and chills, or leave them out and pour cool, which takes what may be "
    "hollow for it; fed is usual because a hollow boss shows only on the lathe",
    field="feeding",
    usual="feed",
    option=True,
    options=lambda: {"feed": "Feed", "cool": "Pour cool"},
    source="feeding-practice",
)
POUR: Final = FigureChoice(
    key="pour",
    title="Pour at",
    help="Temperature of the metal as it enters the mould; by the thinnest wall, in the metal's range, unless you say",
    field="pour_c",
    unit="°C",
    low=200.0,
    high=1750.0,
    digits=0,
    step=5.0,
    option=True,
)
CELLS: Final = FigureChoice(
    key="cells",
    title="Grid",
    help="Cells of the grid at most; as many as the sections ask, up to a million, unless you say",
    field="cells",
    unit="",
    low=20_000,
    high=2_000_000,
    digits=0,
    step=100_000,
    whole=True,
    option=True,
)
MEASURED: Final = FigureChoice(
    key="measured",
    title="Seen to set at",
    help="When the last place of a casting like this one set, by a thermocouple's arrest or a casting broken open: all "
    "seconds are scaled by it",
    field="measured_s",
    unit="s",
    low=1.0,
    high=36_000.0,
    digits=0,
    option=True,
)
SAND_CONDUCTS: Final = FigureChoice(
    key="sand-conducts",
    title="Sand conducts",
    help="Conductivity of your own sand in W/(m K); the table's unless you say",
    field="sand_conducts",
    unit="W/(m K)",
    low=0.1,
    high=5.0,
    digits=2,
    step=0.05,
    option=True,
)
SAND_HEAT: Final = FigureChoice(
    key="sand-heat",
    title="Sand holds",
    help="Specific heat of your own sand in J/(kg K); the table's unless you say",
    field="sand_heat",
    unit="J/(kg K)",
    low=500.0,
    high=3000.0,
    digits=0,
    step=50.0,
    option=True,
)
METAL_CONDUCTS: Final = FigureChoice(
    key="metal-conducts",
    title="Metal conducts",
    help="Conductivity of your own metal near its freezing in W/(m K); the table's unless you say",
    field="metal_conducts",
    unit="W/(m K)",
    low=5.0,
    high=450.0,
    digits=0,
    step=5.0,
    option=True,
)
LATENT: Final = FigureChoice(
    key="latent",
    title="Metal gives off",
    help="Latent heat of your own metal in kJ/kg; the table's unless you say",
    field="latent_kj_kg",
    unit="kJ/kg",
    low=10.0,
    high=600.0,
    digits=0,
    step=5.0,
    option=True,
)
CARBON: Final = FigureChoice(
    key="carbon",
    title="Carbon of the iron",
    help="Carbon equivalent of your iron, carbon and a third of silicon and phosphorus: with enough of it iron feeds "
    "itself; held to be enough unless you say",
    field="carbon_pct",
    unit="%",
    low=2.0,
    high=5.0,
    digits=1,
    step=0.1,
    option=True,
)
WALLS: Final = OneOf(
    key="walls",
    title="Mould walls",
    help="Of iron: sand set or rammed hard holds its swelling, soft green sand gives way and the casting draws; hard "
    "is usual because iron wants hard ramming anyway",
    field="walls",
    usual="hard",
    option=True,
    options=lambda: {"hard": "Hard", "soft": "Give way"},
    source="feeding-practice",
)
FEEDER: Final = Words(
    key="feeder",
    title="Feeder",
    help="A feeder on the casting: where on the part, its diameter and, where they are said, those of its neck and its "
    "least height; in an insulating sleeve, beside the "
    "casting on its gate, or blind. Or those that the program finds and proves, or none",
    option=True,
    many=True,
    forms="X,Y,Z:WIDE[:NECK[:HIGH]][:sleeve][:gate][:blind], found, none",
)
CHILL: Final = Words(
    key="chill",
    title="Chill",
    help="A chill of iron in the sand against the casting: where on the part, its side and thickness; or none",
    option=True,
    many=True,
    forms="X,Y,Z:SIDE:THICK, none",
)
FORMERS: Final = Words(
    key="formers",
    title="Formers you have",
    help="Diameters of the feeder formers that you have, in mm: feeders are taken to the next of them where it is not "
    "much wider than what is wanted, else to one that is printed or turned; or none",
    option=True,
    forms="MM,MM,MM, none",
)
TABLE: Final = (
    FORMERS,
    FEEDER,
    CHILL,
    FEEDING,
    POUR,
    CELLS,
    MEASURED,
    SAND_CONDUCTS,
    SAND_HEAT,
    METAL_CONDUCTS,
    LATENT,
    CARBON,
    WALLS,
)
