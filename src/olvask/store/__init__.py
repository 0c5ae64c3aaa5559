"""Jobs on disk: SQLite through SQLAlchemy, every revision kept.

- `schema`: tables.
- `engine`: connection with the safety settings, and migrations at start.
- `jobs`: the repository the rest of the application talks to.
- `demo`: the invented workshop's five jobs.
"""
