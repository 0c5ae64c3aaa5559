"""What was noted of a job's work when its card was worked out."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    """Add the column; cards of jobs at which something was noted are worked out anew."""
    op.add_column("card", sa.Column("noted", sa.String(24), nullable=False, server_default=""))


def downgrade() -> None:
    """Take it out."""
    op.drop_column("card", "noted")
