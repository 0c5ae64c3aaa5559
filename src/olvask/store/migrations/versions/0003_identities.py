"""Designs and units of version 1 brought up to version 2: identities, start and stop rules, battery guard."""

import json

import sqlalchemy as sa
from alembic import op

from olvask.core.model.earlier import charger_from_1, design_from_1

revision = "0003"
down_revision = "0002"
JOBS = sa.table(
    "revision", sa.column("job_id", sa.Integer), sa.column("version", sa.Integer), sa.column("design", sa.Text)
)
OPTIONS = sa.table("option", sa.column("id", sa.Integer), sa.column("design", sa.Text))
SHELF = sa.table("shelf_item", sa.column("kind", sa.String), sa.column("id", sa.String), sa.column("document", sa.Text))


def _text(document: object) -> str:
    return json.dumps(document, ensure_ascii=False, separators=(",", ":"))


def upgrade() -> None:
    """Rewrite every stored design and every unit of the shelf."""
    connection = op.get_bind()
    for row in connection.execute(sa.select(JOBS)).all():
        where = (JOBS.c.job_id == row.job_id) & (JOBS.c.version == row.version)
        connection.execute(sa.update(JOBS).where(where).values(design=_text(design_from_1(json.loads(row.design)))))
    for row in connection.execute(sa.select(OPTIONS)).all():
        design = _text(design_from_1(json.loads(row.design)))
        connection.execute(sa.update(OPTIONS).where(OPTIONS.c.id == row.id).values(design=design))
    for row in connection.execute(sa.select(SHELF).where(SHELF.c.kind == "chargers")).all():
        where = (SHELF.c.kind == row.kind) & (SHELF.c.id == row.id)
        document = _text(charger_from_1(json.loads(row.document)))
        connection.execute(sa.update(SHELF).where(where).values(document=document))
