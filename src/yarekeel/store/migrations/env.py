"""Alembic's entry: runs on the connection that store.engine hands over."""

from alembic import context
from sqlmodel import SQLModel

from yarekeel.store import rows

assert rows  # imported for its tables

context.configure(
    connection=context.config.attributes["connection"], target_metadata=SQLModel.metadata, render_as_batch=True, compare_type=True
)
with context.begin_transaction():
    context.run_migrations()
