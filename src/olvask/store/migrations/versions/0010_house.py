"""House rules."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    """Create the table."""
    op.create_table(
        "house",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("saved_at", sa.DateTime, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
    )


def downgrade() -> None:
    """Drop it."""
    op.drop_table("house")
