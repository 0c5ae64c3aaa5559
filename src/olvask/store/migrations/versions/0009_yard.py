"""The yard grown up: what is sought in one column, each job's line, archive, templates, the next service."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


# Columns are added and dropped in place: a table made anew would take what refers to it along as the old one goes.
CARD = {"sought": sa.String(400), "line": sa.String(60)}
FLAGS = ("archived", "template")


def upgrade() -> None:
    """Add the columns, and fill in what is sought."""
    for name, kind in CARD.items():
        op.add_column("card", sa.Column(name, kind, nullable=False, server_default=""))
    for name in FLAGS:
        op.add_column("job", sa.Column(name, sa.Boolean, nullable=False, server_default=sa.false()))
    op.add_column("job", sa.Column("service_due", sa.String(10), nullable=False, server_default=""))
    op.execute(
        "update card set sought = (select lower(title || ' ' || code || ' ' || customer) from job where job.id = card.job_id)"
        " || ' ' || lower(unit)"
    )


def downgrade() -> None:
    """Drop them."""
    for name in ("service_due", *FLAGS):
        op.drop_column("job", name)
    for name in CARD:
        op.drop_column("card", name)
