"""Why a command cannot do what was asked, in a sentence with its remedy.

- `NO_STORE`: nothing is at the place named.
- `cannot_listen`: nothing listens at an address.
- `make_folder`: a folder for backups, or why there is none.
"""

from __future__ import annotations

import errno
import socket
import tempfile
from pathlib import Path

import click

NO_STORE = "there is no store at {}; name the one you mean with --database."


def cannot_listen(host: str, port: str, error: OSError | ValueError) -> str:
    """Why nothing listens there, and what to do.

    Args:
        host: as it was asked for.
        port: as it was asked for.
        error: what was raised; a `ValueError` is of a host that nobody knows.
    """
    code = error.errno if isinstance(error, OSError) and not isinstance(error, socket.gaierror) else None
    if code == errno.EADDRINUSE:
        return f"port {port} is taken. Choose another with --port, or 0 for any free one."
    if code in (errno.EACCES, errno.EPERM):
        return f"port {port} is not for everybody on this machine. Choose one above 1023 with --port."
    return (
        f"{host or 'an empty name'} is no address of this machine. Choose one with --host: 127.0.0.1 for this machine alone, "
        "0.0.0.0 for all of its own."
    )


def make_folder(nightly: Path) -> None:
    """See now that backups can be written there, not the first night.

    Raises:
        ClickException: they cannot.
    """
    try:
        nightly.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=nightly):
            pass
    except OSError as error:
        raise click.ClickException(f"no backup can be written in {nightly}: {error.strerror}.") from None
