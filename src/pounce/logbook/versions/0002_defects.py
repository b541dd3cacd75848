"""Defects with their places, and what was noted of the pour that speaks for their causes."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    """From 0001."""
    op.create_table(
        "defects",
        sa.Column("pour", sa.Text, sa.ForeignKey("pours.id", ondelete="CASCADE"), primary_key=True, nullable=False),
        sa.Column("casting", sa.Integer, primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("seen", sa.Text, nullable=False),
        sa.Column("where", sa.Text, nullable=False, server_default=""),
        sa.Column("when", sa.Text, nullable=False, server_default=""),
        *(sa.Column(name, sa.Float) for name in ("x_mm", "y_mm", "z_mm")),
        sa.Column("note", sa.Text, nullable=False, server_default=""),
        sa.Column("fault", sa.Boolean, nullable=False, server_default="1"),
        sa.Column("cause", sa.Text, nullable=False, server_default=""),
    )
    op.add_column("pours", sa.Column("core_dry", sa.Boolean))
    op.add_column("pours", sa.Column("broken", sa.Boolean, nullable=False, server_default="0"))
    op.add_column("pours", sa.Column("weighted_kg", sa.Float))
