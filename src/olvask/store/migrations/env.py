"""Alembic's entry: runs migrations on the connection handed over."""

from alembic import context

from olvask.store.schema import Base

context.configure(
    connection=context.config.attributes["connection"], target_metadata=Base.metadata, render_as_batch=True
)
with context.begin_transaction():
    context.run_migrations()
