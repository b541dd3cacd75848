"""Pours, their castings and what was measured on them."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    """From nothing."""
    op.create_table("state", sa.Column("key", sa.Text, primary_key=True), sa.Column("value", sa.Text, nullable=False))
    words = ("job_id", "revision", "metal", "mould", "pattern", "batch", "charge", "charge_from", "read_by", "furnace")
    more = ("squeeze", "coat", "dust", "core_mix", "weather", "note")
    figures = ("made_percent", "charged_kg", "poured_kg", "returns_kg", "planned_c", "poured_c", "lift_c")
    others = ("falls_c_min", "melt_min", "heat_mj", "furnace_kw", "ram_min_l", "moisture_percent", "cost", "left_mm")
    op.create_table(
        "pours",
        sa.Column("id", sa.Text, primary_key=True),
        sa.Column("at", sa.Text, nullable=False),
        sa.Column("job", sa.Text, nullable=False),
        *(sa.Column(name, sa.Text, nullable=False, server_default="") for name in (*words, *more)),
        *(sa.Column(name, sa.Float) for name in (*figures, *others, "growth_percent")),
        sa.Column("sand_uses", sa.Integer),
        sa.Column("minutes", sa.Text, nullable=False, server_default="{}"),
        sa.Column("search", sa.Text, nullable=False, server_default=""),
    )
    for name in ("at", "job_id", "metal"):
        op.create_index(f"pours_{name}", "pours", [name])
    op.create_table(
        "castings",
        _pour(),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("outcome", sa.Text, nullable=False),
        sa.Column("kg", sa.Float),
        sa.Column("note", sa.Text, nullable=False, server_default=""),
    )
    op.create_table(
        "measures",
        _pour(),
        sa.Column("casting", sa.Integer, primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("name", sa.Text, nullable=False),
        *(
            sa.Column(name, sa.Float, nullable=False)
            for name in ("pattern_mm", "casting_mm", "wanted_mm", "finished_mm")
        ),
        sa.Column("way", sa.Text, nullable=False),
        sa.Column("side", sa.Text, nullable=False),
        sa.Column("hindered", sa.Boolean, nullable=False),
        sa.Column("resolution_mm", sa.Float, nullable=False),
        sa.Column("repeats", sa.Integer, nullable=False),
        sa.Column("pattern_read", sa.Boolean, nullable=False),
        sa.Column("left_out", sa.Boolean, nullable=False),
    )
    op.create_table(
        "photos",
        _pour(),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("name", sa.Text, nullable=False),
        sa.Column("digest", sa.Text, nullable=False),
    )


def _pour() -> "sa.Column[str]":
    return sa.Column("pour", sa.Text, sa.ForeignKey("pours.id", ondelete="CASCADE"), primary_key=True, nullable=False)
