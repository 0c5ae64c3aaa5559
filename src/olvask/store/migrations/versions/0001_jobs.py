"""Jobs and their revisions."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    """Create both tables."""
    op.create_table(
        "job",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("code", sa.String(40), nullable=False),
        sa.Column("title", sa.String(120), nullable=False),
        sa.Column("customer", sa.String(120), nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("created_at", sa.DateTime, nullable=False),
        sa.Column("saved_at", sa.DateTime, nullable=False),
    )
    op.create_table(
        "revision",
        sa.Column("job_id", sa.Integer, sa.ForeignKey("job.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("version", sa.Integer, primary_key=True),
        sa.Column("code", sa.String(40), nullable=False),
        sa.Column("title", sa.String(120), nullable=False),
        sa.Column("customer", sa.String(120), nullable=False),
        sa.Column("saved_at", sa.DateTime, nullable=False),
        sa.Column("design", sa.Text, nullable=False),
    )


def downgrade() -> None:
    """Drop both tables."""
    op.drop_table("revision")
    op.drop_table("job")
