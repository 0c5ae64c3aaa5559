"""Logs of devices, and how each kind of them is read."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    """Create the tables."""
    op.create_table(
        "log_kind",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("signature", sa.String(64), nullable=False, unique=True),
        sa.Column("document", sa.Text, nullable=False),
    )
    op.create_table(
        "device_log",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("job_id", sa.Integer, sa.ForeignKey("job.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("taken_at", sa.DateTime, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sa.Column("columns", sa.LargeBinary, nullable=False),
    )


def downgrade() -> None:
    """Drop them."""
    op.drop_table("device_log")
    op.drop_table("log_kind")
