"""People, their sessions, one-time codes, who did what; and by whom a revision was saved."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    """Create the tables and the column."""
    op.create_table(
        "person",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(80), nullable=False, unique=True),
        sa.Column("initials", sa.String(12), nullable=False),
        sa.Column("role", sa.String(10), nullable=False),
        sa.Column("active", sa.Boolean, nullable=False),
        sa.Column("password", sa.String(200), nullable=False),
        sa.Column("slips", sa.Integer, nullable=False),
        sa.Column("locked_until", sa.DateTime, nullable=True),
    )
    op.create_table(
        "session",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("token", sa.String(64), nullable=False, unique=True),
        sa.Column("person_id", sa.Integer, sa.ForeignKey("person.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("device", sa.String(80), nullable=False),
        sa.Column("made_at", sa.DateTime, nullable=False),
        sa.Column("seen_at", sa.DateTime, nullable=False),
    )
    op.create_table(
        "join_code",
        sa.Column("code", sa.String(64), primary_key=True),
        sa.Column("person_id", sa.Integer, sa.ForeignKey("person.id", ondelete="CASCADE"), nullable=True),
        sa.Column("role", sa.String(10), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("initials", sa.String(12), nullable=False),
        sa.Column("expires_at", sa.DateTime, nullable=False),
    )
    op.create_table(
        "deed",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("person", sa.String(80), nullable=False),
        sa.Column("what", sa.String(200), nullable=False),
        sa.Column("job_id", sa.Integer, nullable=True, index=True),
    )
    op.add_column("revision", sa.Column("by", sa.String(80), nullable=False, server_default=""))


def downgrade() -> None:
    """Drop them."""
    op.drop_column("revision", "by")
    for name in ("deed", "join_code", "session", "person"):
        op.drop_table(name)
