"""What was practised by whom, and sets that a teacher fixed."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    """Create the tables."""
    op.create_table(
        "practice_attempt",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("by", sa.String(80), nullable=False, index=True),
        sa.Column("name", sa.String(40), nullable=False, index=True),
        sa.Column("right", sa.Boolean, nullable=False),
        sa.Column("score", sa.Integer, nullable=False),
        sa.Column("minutes", sa.Float, nullable=False),
        sa.Column("price", sa.Float, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
    )
    op.create_table(
        "practice_set",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(80), nullable=False, unique=True),
        sa.Column("made_at", sa.DateTime, nullable=False),
        sa.Column("items", sa.Text, nullable=False),
    )


def downgrade() -> None:
    """Drop them."""
    op.drop_table("practice_set")
    op.drop_table("practice_attempt")
