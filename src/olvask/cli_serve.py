"""Commands that serve: serve and demo, where they listen, who has to sign in, how they are reached."""

from __future__ import annotations

import functools
import gc
import logging
import os
import signal
import socket
import ssl
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Literal

import click

from olvask.cli_refusals import cannot_listen, make_folder

if TYPE_CHECKING:
    from apiflask import APIFlask

    from olvask.store.stores import Stores
    from olvask.web.early import Early
    from olvask.web.serving import EncryptingServer, PlainServer
    from olvask.work.spread import Spread

DEFAULT_PORT = 8127
OWN = ("127.0.0.1", "localhost", "::1")
EVERYWHERE = ("0.0.0.0", "::")  # noqa: S104  # every interface of this machine, where it is asked for
Seeded = Literal["", "bare", "with history"]  # the demo workshop, with what came after its designs or without


def _default_database() -> Path:
    base = os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share"
    return Path(base) / "olvask" / "olvask.sqlite"


class Place(click.ParamType[Path | str]):
    """A file, or the address of a database on a server."""

    name = "file or address"

    def convert(self, value: object, param: click.Parameter | None, ctx: click.Context | None) -> Path | str:
        """As the store takes it."""
        from olvask.store.place import is_address

        text = str(value)
        if is_address(text):
            return text
        if Path(text).is_dir():
            self.fail(f"{text} is a folder; name a file in it", param, ctx)
        return Path(text)


database_option = click.option(
    "--database",
    type=Place(),
    envvar="OLVASK_DATABASE",
    default=_default_database,
    show_default="~/.local/share/olvask/olvask.sqlite",
    help="SQLite file of the jobs, or a PostgreSQL address such as postgresql://olvask@db.example/olvask.",
)
host_option = click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
port_option = click.option(
    "--port", type=click.IntRange(0, 65535), default=DEFAULT_PORT, show_default=True, help="0 takes a free one."
)

workers_option = click.option(
    "--workers",
    type=click.IntRange(0, 64),
    default=0,
    show_default=True,
    help="Processes for work over the whole yard.",
)
scheduler_option = click.option(
    "--scheduler", default="", help="A dask scheduler for it instead, such as tcp://yard.example:8786."
)


@dataclass(frozen=True, slots=True)
class Listening:
    """Where it listens and how it is reached."""

    host: str
    port: int
    names: tuple[str, ...] = ()
    certificate: Path | None = None
    key: Path | None = None
    behind_proxy: bool = False
    nightly: Path | None = None
    workers: int = 0
    scheduler: str = ""

    @property
    def asks(self) -> bool:
        """Whether whoever opens it has to sign in: it is reached from beyond this machine."""
        return self.host not in OWN or bool(self.names) or self.behind_proxy

    @property
    def scheme(self) -> str:
        """Of its addresses."""
        return "https" if self.certificate is not None else "http"


def listening_options(command: Callable[..., None]) -> Callable[..., None]:
    """The options of a command that serves, gathered into one `Listening`."""

    @functools.wraps(command)
    def gathered(
        host: str,
        port: int,
        names: tuple[str, ...],
        certificate: Path | None,
        key: Path | None,
        behind_proxy: bool,
        nightly: Path | None,
        workers: int,
        scheduler: str,
        **more: object,
    ) -> None:
        if (certificate is None) != (key is None):
            raise click.UsageError("--certificate and --key go together")
        for name in names:
            if not name.strip() or set(name) & set("/:@ "):
                raise click.UsageError(f"--name {name}: a name alone, such as yard.example, without https:// and port")
        listening = Listening(host, port, names, certificate, key, behind_proxy, nightly, workers, scheduler)
        command(listening=listening, **more)

    file = click.Path(exists=True, dir_okay=False, path_type=Path)
    folder = click.Path(file_okay=False, path_type=Path)
    for option in (
        click.option("--nightly", type=folder, help="Folder for a backup each night; the last fourteen are kept."),
        click.option("--behind-proxy", is_flag=True, help="A proxy on this machine encrypts and speaks for others."),
        click.option("--key", type=file, help="Key of the certificate, PEM."),
        click.option("--certificate", type=file, help="Certificate to encrypt with, PEM."),
        click.option("--name", "names", multiple=True, help="A name it is reached by; may be given again."),
        scheduler_option,
        workers_option,
        port_option,
        host_option,
    ):
        gathered = option(gathered)
    return gathered


@contextmanager
def _unswept() -> Iterator[None]:
    """What is imported stays: looking it through for rubbish takes an eighth of a start, and time again and again later."""
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.enable()


def _listen(listening: Listening, early: Early) -> EncryptingServer | PlainServer:
    """A server that listens.

    Raises:
        ClickException: it cannot.
    """
    from olvask.web.serving import Tls, server_of

    tls = None
    if listening.certificate is not None and listening.key is not None:
        tls = Tls(listening.certificate, listening.key)
    try:
        return server_of(early, listening.host, listening.port, tls, listening.behind_proxy)
    except ssl.SSLError as error:
        raise click.ClickException(
            f"{listening.certificate} and {listening.key} are no certificate and its key ({error.reason or 'not readable'})."
        ) from None
    except (OSError, ValueError) as error:
        raise click.ClickException(cannot_listen(listening.host, str(listening.port), error)) from None


def _load(database: Path | str, listening: Listening, hosts: frozenset[str], seeded: Seeded) -> APIFlask:
    """The application, and what it does by itself begun.

    Raises:
        ClickException: what was asked for cannot be had.
        StorageFault: the database cannot be opened.
    """
    with _unswept():
        from olvask.store.demo import seed
        from olvask.web.app import Config, create_app
    spread = spread_asked(listening.workers, listening.scheduler)
    app = create_app(Config(database, hosts, sign_in=listening.asks, spread=spread))
    stores: Stores = app.extensions["olvask.stores"]
    if seeded == "with history":
        from olvask.demo_history import designed, seed_history

        click.echo("Laying out the demo workshop …", err=True)
        seed(stores, designed())
        seed_history(stores)
    elif seeded:
        seed(stores)
    threading.Thread(target=_keep_cards, args=(stores, spread), daemon=True).start()
    if listening.nightly is not None and isinstance(database, Path):
        threading.Thread(target=_keep_backups, args=(database, listening.nightly), daemon=True).start()
    return app


def _serve(database: Path | str, listening: Listening, seeded: Seeded = "") -> None:
    """Listen at once, so that the page is under way while the application is loaded; then serve until stopped."""
    from olvask.web.early import Early

    if listening.nightly is not None and not isinstance(database, Path):
        raise click.ClickException("a server's database is backed up by its own pg_dump; leave --nightly out.")
    if listening.nightly is not None:
        make_folder(listening.nightly)
    hosts = _served_names(listening.host) | frozenset(listening.names)
    early = Early(hosts)
    signal.signal(signal.SIGTERM, _stop)
    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:  # behind a shell it is ignored, and stays so
        signal.signal(signal.SIGINT, _stop)
    server: EncryptingServer | PlainServer | None = None
    app: APIFlask | None = None
    try:
        server = _listen(listening, early)
        answering = threading.Thread(target=server.run, daemon=True)
        answering.start()
        app = _load(database, listening, hosts, seeded)
        # A long question must not make a short one wait: the level line is asked for at every keypress.
        sys.setswitchinterval(0.001)
        early.ready(app)
        _tell(listening, server.effective_port)
        if listening.asks:
            _tell_owner(app.extensions["olvask.stores"], listening, server.effective_port)
        answering.join()
    finally:
        early.give_up()
        if server is not None:
            server.stop()
        if app is not None:
            app.extensions["olvask.stores"].database.close()


def _own_addresses() -> list[str]:
    """Addresses and names by which other machines may know this one, the likeliest first."""
    found: list[str] = []
    for family, far in ((socket.AF_INET, "192.0.2.1"), (socket.AF_INET6, "2001:db8::1")):  # documentation addresses
        try:
            with socket.socket(family, socket.SOCK_DGRAM) as probe:
                probe.connect((far, 9))  # nothing is sent: only the route is looked up
                found.append(str(probe.getsockname()[0]))
        except OSError:
            continue
    name = socket.gethostname()
    with suppress(OSError):
        found += [str(item[4][0]) for item in socket.getaddrinfo(name, None)]
    named = [f"[{item}]" if ":" in item else item for item in found]
    return list(dict.fromkeys([*named, name, f"{name}.local", socket.getfqdn()]))


def _served_names(host: str) -> frozenset[str]:
    """Host names answered besides loopback; on every interface those of this machine."""
    if host in OWN:
        return frozenset()
    return frozenset(_own_addresses()) if host in EVERYWHERE else frozenset({f"[{host}]" if ":" in host else host})


def _tell(listening: Listening, port: int) -> None:
    """Say where it is, and beyond this machine what that means."""
    host, scheme = listening.host, listening.scheme
    if host not in EVERYWHERE:
        click.echo(f"Olvask is at {scheme}://{f'[{host}]' if ':' in host else host}:{port}/  (stop with Ctrl+C)")
    else:
        click.echo(f"Olvask is at {scheme}://127.0.0.1:{port}/  (stop with Ctrl+C)")
        for name in _own_addresses():
            reached = host == "::" or not name.startswith("[")
            if reached and not name.startswith(("127.", "[::1]", "localhost")):
                click.echo(f"  from elsewhere: {scheme}://{name}:{port}/")
    if listening.asks:
        click.echo("Whoever opens it has to sign in.")
    if listening.asks and scheme == "http" and not listening.behind_proxy:
        click.echo("What travels is not encrypted: use it on a network you trust, or see docs/deploy.md.")


def _tell_owner(stores: Stores, listening: Listening, port: int) -> None:
    """Where nobody can sign in yet, say how to become the owner."""
    if stores.people.has_owner():
        return
    host = listening.host
    name = next((item for item in _own_addresses() if not item.startswith(("127.", "[::1]"))), "127.0.0.1")
    reached = name if host in EVERYWHERE else f"[{host}]" if ":" in host else host
    click.echo("Nobody can sign in yet. Become the owner, once and within three days, at")
    place = listening.names[0] if listening.behind_proxy and listening.names else f"{reached}:{port}"
    scheme = "https" if listening.behind_proxy else listening.scheme
    click.echo(f"  {scheme}://{place}/join#{stores.people.invite('owner')}")


def _stop(_number: int, _frame: object) -> None:
    """End, by Ctrl+C as by the system: what the log holds is put into the file.

    A `KeyboardInterrupt` that passes code made from text, as that of a dataclass is, ends Python as a failure though it is
    caught.
    """
    raise SystemExit(0)


def _keep_backups(database: Path, folder: Path) -> None:
    """Look now and then whether this night's backup is due; one that fails is told and tried again."""
    from datetime import datetime

    from olvask.store.faults import StorageFault
    from olvask.store.nightly import write_due

    while True:
        try:
            write_due(database, folder, datetime.now().astimezone())
        except (StorageFault, OSError) as fault:
            logging.getLogger("olvask").error("nightly backup: %s", fault)
        time.sleep(600)


def _keep_cards(stores: Stores, spread: Spread) -> None:
    """Work out, a few at a time, the rows of the yard that another Olvask made; by workers where there are any."""
    from olvask.store.faults import StorageFault
    from olvask.work.spread import Here, NoScheduler, OtherOlvask
    from olvask.work.yard import FEW, reassess

    try:
        outdated = [] if isinstance(spread, Here) else stores.jobs.cards.outdated()
        if len(outdated) >= FEW:
            for _ in reassess(stores, spread, outdated):
                pass
        while stores.jobs.refresh(20):
            time.sleep(0.05)  # requests first
    except (StorageFault, NoScheduler, OtherOlvask) as fault:
        logging.getLogger("olvask").warning("cards: %s", fault)


def spread_asked(workers: int, scheduler: str) -> Spread:
    """Where work over the yard is to be done.

    Args:
        workers: processes of this machine.
        scheduler: address of a dask scheduler; empty for none.

    Raises:
        ClickException: it cannot be used.
    """
    from olvask.work.spread import NoScheduler, spread_of

    try:
        return spread_of(workers, scheduler)
    except NoScheduler as error:
        raise click.ClickException(str(error)) from None


@click.command()
@database_option
@listening_options
def serve(database: Path | str, listening: Listening) -> None:
    """Serve the application."""
    _serve(database, listening)


@click.command()
@click.option(
    "--database", type=click.Path(path_type=Path, dir_okay=False), default=Path(".demo/demo.sqlite"), show_default=True
)
@listening_options
@click.option("--bare", is_flag=True, help="Designs alone, nothing of what came after them.")
def demo(database: Path, listening: Listening, bare: bool) -> None:
    """Serve the invented demo workshop."""
    _serve(database, listening, "bare" if bare else "with history")
