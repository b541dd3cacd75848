"""The tables of the logbook as the newest version has them; ``versions/`` holds the way there."""

from typing import Final

from sqlalchemy import Boolean, Column, Float, ForeignKey, Index, Integer, MetaData, Table, Text

# The newest version: the name of the last migration.
NEWEST: Final = "0003"

META: Final = MetaData()


def _pour_id(key: bool = False) -> Column[str]:
    return Column("pour", Text, ForeignKey("pours.id", ondelete="CASCADE"), nullable=False, primary_key=key)


STATE: Final = Table("state", META, Column("key", Text, primary_key=True), Column("value", Text, nullable=False))

POURS: Final = Table(
    "pours",
    META,
    Column("id", Text, primary_key=True),
    Column("at", Text, nullable=False),
    Column("job", Text, nullable=False),
    *(
        Column(name, Text, nullable=False, server_default="")
        for name in (
            "job_id",
            "revision",
            "metal",
            "mould",
            "pattern",
            "batch",
            "charge",
            "charge_from",
            "read_by",
            "furnace",
            "squeeze",
            "coat",
            "dust",
            "core_mix",
            "weather",
            "note",
        )
    ),
    *(
        Column(name, Float)
        for name in (
            "made_percent",
            "charged_kg",
            "poured_kg",
            "returns_kg",
            "planned_c",
            "poured_c",
            "lift_c",
            "falls_c_min",
            "melt_min",
            "heat_mj",
            "furnace_kw",
            "ram_min_l",
            "moisture_percent",
            "cost",
            "weighted_kg",
            "left_mm",
            "growth_percent",
        )
    ),
    Column("sand_uses", Integer),
    Column("core_dry", Boolean),
    Column("broken", Boolean, nullable=False, server_default="0"),
    Column("minutes", Text, nullable=False, server_default="{}"),
    Column("chosen", Text, nullable=False, server_default="{}"),
    Column("search", Text, nullable=False, server_default=""),
    Index("pours_at", "at"),
    Index("pours_job_id", "job_id"),
    Index("pours_metal", "metal"),
)

CASTINGS: Final = Table(
    "castings",
    META,
    _pour_id(True),
    Column("number", Integer, primary_key=True),
    Column("outcome", Text, nullable=False),
    Column("kg", Float),
    Column("note", Text, nullable=False, server_default=""),
)

DEFECTS: Final = Table(
    "defects",
    META,
    _pour_id(True),
    Column("casting", Integer, primary_key=True),
    Column("number", Integer, primary_key=True),
    Column("seen", Text, nullable=False),
    Column("where", Text, nullable=False, server_default=""),
    Column("when", Text, nullable=False, server_default=""),
    *(Column(name, Float) for name in ("x_mm", "y_mm", "z_mm")),
    Column("note", Text, nullable=False, server_default=""),
    Column("fault", Boolean, nullable=False, server_default="1"),
    Column("cause", Text, nullable=False, server_default=""),
)

MEASURES: Final = Table(
    "measures",
    META,
    _pour_id(True),
    Column("casting", Integer, primary_key=True),
    Column("number", Integer, primary_key=True),
    Column("name", Text, nullable=False),
    *(Column(name, Float, nullable=False) for name in ("pattern_mm", "casting_mm", "wanted_mm", "finished_mm")),
    Column("way", Text, nullable=False),
    Column("side", Text, nullable=False),
    Column("hindered", Boolean, nullable=False),
    Column("resolution_mm", Float, nullable=False),
    Column("repeats", Integer, nullable=False),
    Column("pattern_read", Boolean, nullable=False),
    Column("left_out", Boolean, nullable=False),
    Column("pattern_raw_mm", Float, nullable=False, server_default="0"),
)

PHOTOS: Final = Table(
    "photos",
    META,
    _pour_id(True),
    Column("number", Integer, primary_key=True),
    Column("name", Text, nullable=False),
    Column("digest", Text, nullable=False),
)

EVENTS: Final = Table(
    "events",
    META,
    Column("id", Text, primary_key=True),
    Column("at", Text, nullable=False),
    Column("pattern", Text, nullable=False),
    Column("kind", Text, nullable=False),
    Column("count", Integer, nullable=False, server_default="1"),
    Column("revision", Text, nullable=False, server_default=""),
    Column("note", Text, nullable=False, server_default=""),
    Index("events_pattern", "pattern"),
)

RECIPES: Final = Table(
    "recipes",
    META,
    Column("id", Text, primary_key=True),
    Column("at", Text, nullable=False),
    Column("name", Text, nullable=False),
    Column("kind", Text, nullable=False),
    Column("parts", Text, nullable=False, server_default="{}"),
    Column("note", Text, nullable=False, server_default=""),
)
