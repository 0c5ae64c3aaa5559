"""What was found when a job was saved, and what other rules find otherwise."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    """Add the columns; what was found before is not known."""
    op.add_column("card", sa.Column("findings", sa.Text, nullable=False, server_default="?"))
    op.add_column("card", sa.Column("changed", sa.Text, nullable=False, server_default=""))


def downgrade() -> None:
    """Take them out."""
    op.drop_column("card", "changed")
    op.drop_column("card", "findings")
