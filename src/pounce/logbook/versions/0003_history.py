"""What was done to patterns, mixes that were tried, and what a printed pattern measured before it was smoothed."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    """From 0002."""
    op.create_table(
        "events",
        sa.Column("id", sa.Text, primary_key=True),
        sa.Column("at", sa.Text, nullable=False),
        sa.Column("pattern", sa.Text, nullable=False),
        sa.Column("kind", sa.Text, nullable=False),
        sa.Column("count", sa.Integer, nullable=False, server_default="1"),
        sa.Column("revision", sa.Text, nullable=False, server_default=""),
        sa.Column("note", sa.Text, nullable=False, server_default=""),
    )
    op.create_index("events_pattern", "events", ["pattern"])
    op.create_table(
        "recipes",
        sa.Column("id", sa.Text, primary_key=True),
        sa.Column("at", sa.Text, nullable=False),
        sa.Column("name", sa.Text, nullable=False),
        sa.Column("kind", sa.Text, nullable=False),
        sa.Column("parts", sa.Text, nullable=False, server_default="{}"),
        sa.Column("note", sa.Text, nullable=False, server_default=""),
    )
    op.add_column("pours", sa.Column("chosen", sa.Text, nullable=False, server_default="{}"))
    op.add_column("measures", sa.Column("pattern_raw_mm", sa.Float, nullable=False, server_default="0"))
