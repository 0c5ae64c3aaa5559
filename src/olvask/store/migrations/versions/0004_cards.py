"""What the yard shows of each job, kept beside it."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    """Create the table, and what the yard sorts by."""
    op.create_table(
        "card",
        sa.Column("job_id", sa.Integer, sa.ForeignKey("job.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("rules", sa.String(16), nullable=False),
        sa.Column("size", sa.Integer, nullable=False),
        sa.Column("vehicle", sa.String(80), nullable=False),
        sa.Column("unit", sa.String(80), nullable=False),
        sa.Column("unit_id", sa.String(60), nullable=False),
        sa.Column("battery", sa.String(80), nullable=False),
        sa.Column("alternator", sa.String(80), nullable=False),
        sa.Column("stops", sa.Integer, nullable=False),
        sa.Column("cautions", sa.Integer, nullable=False),
        sa.Column("next_stage", sa.String(20), nullable=False),
        sa.Column("next_action", sa.String(200), nullable=False),
        sa.Column("spoilt", sa.String(400), nullable=False),
    )
    op.create_index("ix_job_saved_at", "job", ["saved_at"])


def downgrade() -> None:
    """Drop both."""
    op.drop_index("ix_job_saved_at", "job")
    op.drop_table("card")
