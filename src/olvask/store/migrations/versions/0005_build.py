"""What is noted while building, photographs, and quotes as they were given."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    """Create the tables."""
    job = sa.ForeignKey("job.id", ondelete="CASCADE")
    op.create_table(
        "build_entry",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("job_id", sa.Integer, job, nullable=False, index=True),
        sa.Column("procedure", sa.String(80), nullable=False),
        sa.Column("step", sa.String(60), nullable=False),
        sa.Column("kind", sa.String(12), nullable=False),
        sa.Column("text", sa.String(400), nullable=False),
        sa.Column("value", sa.Float, nullable=True),
        sa.Column("unit", sa.String(8), nullable=False),
        sa.Column("photo", sa.String(64), nullable=False),
        sa.Column("by", sa.String(12), nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("received_at", sa.DateTime, nullable=False),
    )
    op.create_table(
        "photograph",
        sa.Column("job_id", sa.Integer, sa.ForeignKey("job.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("taken_in", sa.DateTime, nullable=False),
        sa.Column("picture", sa.LargeBinary, nullable=False),
        sa.Column("thumbnail", sa.LargeBinary, nullable=False),
    )
    op.create_table(
        "quote",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("job_id", sa.Integer, sa.ForeignKey("job.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("made_at", sa.DateTime, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
    )


def downgrade() -> None:
    """Drop them."""
    for table in ("quote", "photograph", "build_entry"):
        op.drop_table(table)
