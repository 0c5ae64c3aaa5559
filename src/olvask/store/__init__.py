"""Jobs and the shelf on disk: SQLite through SQLAlchemy, every revision kept.

- `stores`: all repositories over one database.
- `place`: whether a store is a file or on a server.
- `schema`: tables.
- `engine`: connection with the safety settings, and migrations at start.
- `photographs`: pictures made anew before they are kept.
- `jobs`, `options`, `shelf`, `build_log`, `quotes`, `instruments`, `signatures`, `device_logs`, `house`, `people`, `customers`, `practice`: the repositories the rest of the application talks to.
- `demo`: the invented workshop's five jobs and its shelf.

Nothing is imported here: what only asks where a store lies must not wait for all of it.
"""
