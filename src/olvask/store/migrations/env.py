"""Alembic's entry: runs migrations on the connection handed over, within its transaction."""

from alembic import context

from olvask.store.schema import Base

context.configure(
    connection=context.config.attributes["connection"], target_metadata=Base.metadata, render_as_batch=True
)
context.run_migrations()
