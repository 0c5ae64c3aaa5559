"""The workshop's shelf, and kept variants of jobs."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    """Create both tables."""
    op.create_table(
        "shelf_item",
        sa.Column("kind", sa.String(20), primary_key=True),
        sa.Column("id", sa.String(60), primary_key=True),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("retired", sa.Boolean, nullable=False),
        sa.Column("saved_at", sa.DateTime, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
    )
    op.create_table(
        "option",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("job_id", sa.Integer, sa.ForeignKey("job.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("kept_at", sa.DateTime, nullable=False),
        sa.Column("design", sa.Text, nullable=False),
    )


def downgrade() -> None:
    """Drop both tables."""
    op.drop_table("option")
    op.drop_table("shelf_item")
