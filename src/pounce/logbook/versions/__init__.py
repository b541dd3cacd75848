"""The way from each version of the logbook to the next; Alembic reads them."""
