"""Runs the migrations of ``versions/`` on the connection that it is given; Alembic loads this file by its name."""

from alembic import context

from pounce.logbook.schema import META

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=META, render_as_batch=True, transaction_per_migration=True)
with context.begin_transaction():
    context.run_migrations()
