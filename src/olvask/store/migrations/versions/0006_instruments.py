"""Meters and bench supplies of the workshop."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    """Create the table."""
    op.create_table(
        "instrument", sa.Column("id", sa.Integer, primary_key=True), sa.Column("document", sa.Text, nullable=False)
    )


def downgrade() -> None:
    """Drop it."""
    op.drop_table("instrument")
