"""The command line: demo, serve, rig, bench, assess, simulate, schema, openapi, fields, export, import, invite, backup, restore."""

from __future__ import annotations

import json
import logging
import os
import signal
import socket
import sys
import threading
import time
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

import click

from olvask import __version__
from olvask.cli_bench import bench, rig

if TYPE_CHECKING:
    from olvask.store import Stores

DEFAULT_PORT = 8127
OWN = ("127.0.0.1", "localhost", "::1")
EVERYWHERE = ("0.0.0.0", "::")  # noqa: S104  # every interface of this machine, where it is asked for


def _default_database() -> Path:
    base = os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share"
    return Path(base) / "olvask" / "olvask.sqlite"


database_option = click.option(
    "--database",
    type=click.Path(path_type=Path, dir_okay=False),
    envvar="OLVASK_DATABASE",
    default=_default_database,
    show_default="~/.local/share/olvask/olvask.sqlite",
    help="SQLite file of the jobs.",
)
host_option = click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
port_option = click.option(
    "--port", type=click.IntRange(0, 65535), default=DEFAULT_PORT, show_default=True, help="0 takes a free one."
)


class Commands(click.Group):
    """Commands that say in a sentence what is wrong with the store, and what to do."""

    def invoke(self, context: click.Context) -> object:
        """Run a command.

        Raises:
            ClickException: the store cannot do what was asked.
        """
        from olvask.store.faults import StorageFault

        try:
            return super().invoke(context)
        except StorageFault as fault:
            where = f"{fault.place}: " if fault.place is not None else ""
            raise click.ClickException(f"{where}{fault}") from None


@click.group(cls=Commands)
@click.version_option(__version__, prog_name="olvask")
def main() -> None:
    """Design and commission alternator-fed DC-to-DC charging."""


def _serve(database: Path, host: str, port: int, with_demo: bool, with_history: bool = False) -> None:
    from olvask.store.demo import seed
    from olvask.web import create_app
    from olvask.web.app import Config
    from olvask.web.serving import server_of

    asks = host not in OWN
    app = create_app(Config(database, _served_names(host), sign_in=asks))
    if with_demo:
        seed(app.extensions["olvask.stores"])
    if with_history:
        from olvask.demo_history import seed_history

        click.echo("Laying out the demo workshop …", err=True)
        seed_history(app.extensions["olvask.stores"])
    try:
        server = server_of(app, host, port)
    except OSError as error:
        if not isinstance(error, socket.gaierror) and port:
            raise click.ClickException(
                f"port {port} is taken. Choose another with --port, or 0 for any free one."
            ) from None
        raise click.ClickException(f"cannot listen on {host}: {error}") from None
    # A long question must not make a short one wait: the level line is asked for at every keypress.
    sys.setswitchinterval(0.001)
    _tell(host, server.effective_port)
    if asks:
        _tell_owner(app.extensions["olvask.stores"], host, server.effective_port)
    stores = app.extensions["olvask.stores"]
    threading.Thread(target=_keep_cards, args=(stores,), daemon=True).start()
    signal.signal(signal.SIGTERM, _stop)
    try:
        server.run()
    finally:
        stores.database.close()


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


def _tell(host: str, port: int) -> None:
    """Say where it is, and beyond this machine what that means."""
    if host not in EVERYWHERE:
        click.echo(f"Olvask is at http://{f'[{host}]' if ':' in host else host}:{port}/  (stop with Ctrl+C)")
    else:
        click.echo(f"Olvask is at http://127.0.0.1:{port}/  (stop with Ctrl+C)")
        for name in _own_addresses():
            reached = host == "::" or not name.startswith("[")
            if reached and not name.startswith(("127.", "[::1]", "localhost")):
                click.echo(f"  from elsewhere: http://{name}:{port}/")
    if host not in OWN:
        click.echo(
            "Whoever opens it has to sign in. What travels is not encrypted unless a proxy does it: docs/serving.md."
        )


def _tell_owner(stores: Stores, host: str, port: int) -> None:
    """Where nobody can sign in yet, say how to become the owner."""
    if stores.people.has_owner():
        return
    name = next((item for item in _own_addresses() if not item.startswith(("127.", "[::1]"))), "127.0.0.1")
    reached = name if host in EVERYWHERE else f"[{host}]" if ":" in host else host
    click.echo("Nobody can sign in yet. Become the owner, once and within three days, at")
    click.echo(f"  http://{reached}:{port}/join#{stores.people.invite('owner')}")


def _stop(_number: int, _frame: object) -> None:
    """End as Ctrl+C does: what the log holds is put into the file."""
    raise SystemExit(0)


def _keep_cards(stores: Stores) -> None:
    """Work out, a few at a time, the rows of the yard that another Olvask made."""
    from olvask.store.faults import StorageFault

    while True:
        try:
            if not stores.jobs.refresh(20):
                return
        except StorageFault as fault:
            logging.getLogger("olvask").warning("cards: %s", fault)
            return
        time.sleep(0.05)  # requests first


@main.command()
@database_option
@host_option
@port_option
def serve(database: Path, host: str, port: int) -> None:
    """Serve the application."""
    _serve(database, host, port, with_demo=False)


@main.command()
@click.option(
    "--database", type=click.Path(path_type=Path, dir_okay=False), default=Path(".demo/demo.sqlite"), show_default=True
)
@host_option
@port_option
@click.option("--bare", is_flag=True, help="Designs alone, nothing of what came after them.")
def demo(database: Path, host: str, port: int, bare: bool) -> None:
    """Serve the invented demo workshop."""
    _serve(database, host, port, with_demo=True, with_history=not bare)


@main.command()
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.pass_context
def assess(context: click.Context, file: Path) -> None:
    """Print the assessment of a job file as JSON; exit 1 when it holds a stop, 2 when the file is bad."""
    from olvask.core.assess import assess as assess_design
    from olvask.documents.job_file import BadJobFile, read_job_file

    try:
        job = read_job_file(file.read_bytes())
    except BadJobFile as error:
        for item in error.errors:
            click.echo(f"{file}: {item.path or 'file'}: {item.message}", err=True)
        context.exit(2)
    found = assess_design(job.design)
    click.echo(found.model_dump_json(indent=2))
    context.exit(1 if found.stops else 0)


@main.command()
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option(
    "--programme",
    required=True,
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="Text file of the day; its form is in docs/programme.md.",
)
@click.option("--samples", type=click.IntRange(2), default=500, show_default=True, help="Samples at most.")
@click.pass_context
def simulate(context: click.Context, file: Path, programme: Path, samples: int) -> None:
    """Drive a job's vehicle through a programme; print states, events and totals as JSON. Exit 2 on a bad file."""
    from olvask.core.simulate.programme import BadProgramme, read_programme
    from olvask.core.simulate.report import report
    from olvask.documents.job_file import BadJobFile, read_job_file

    try:
        job = read_job_file(file.read_bytes())
        day = read_programme(programme.read_text(encoding="utf-8"))
    except BadJobFile as error:
        for item in error.errors:
            click.echo(f"{file}: {item.path or 'file'}: {item.message}", err=True)
        context.exit(2)
    except BadProgramme as error:
        for line in error.errors:
            click.echo(f"{programme}: line {line.line}: {line.message}", err=True)
        context.exit(2)
    except UnicodeDecodeError:
        click.echo(f"{programme}: not text in UTF-8; save it as UTF-8", err=True)
        context.exit(2)
    click.echo(report(job.design, day, most=samples).model_dump_json(indent=1))


@main.command()
def schema() -> None:
    """Print the JSON Schema of the job file."""
    from olvask.documents.job_file import job_file_schema

    click.echo(json.dumps(job_file_schema(), ensure_ascii=False, indent=2))


@main.command()
def openapi() -> None:
    """Print the OpenAPI document of the web interface."""
    from olvask.web.app import bare_app

    app = bare_app()
    with app.app_context():
        click.echo(json.dumps(app.spec, ensure_ascii=False, indent=1))


@main.command()
def fields() -> None:
    """Print the fields of a design and its questions as TypeScript: titles, units, steps, choices, help."""
    from olvask.web.fields import fields_typescript

    click.echo(fields_typescript(), nl=False)


@main.command("export")
@click.argument("job_id", type=int)
@click.option(
    "--output", type=click.Path(path_type=Path, dir_okay=False), help="File to write; standard output when left out."
)
@database_option
def export_job(job_id: int, output: Path | None, database: Path) -> None:
    """Write a stored job as a job file."""
    from olvask.documents.job_file import JobFile, write_job_file
    from olvask.store import Stores
    from olvask.store.jobs import NoSuchJob

    try:
        job = Stores.open(database).jobs.get(job_id)
    except NoSuchJob as error:
        raise click.ClickException(f"{error.args[0]} in {database}") from None
    head = job.heading
    text = write_job_file(JobFile(title=head.title, code=head.code, customer=head.customer, design=job.design))
    if output is None:
        click.echo(text, nl=False)
    else:
        output.write_text(text, encoding="utf-8")


@main.command()
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
@database_option
def backup(file: Path, database: Path) -> None:
    """Write a backup of everything stored to FILE, while running or not; it is read again before it counts."""
    from olvask.store.backup import write_backup

    count = write_backup(database, file)
    click.echo(f"{file}: {count} jobs, checked")


@main.command()
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@database_option
def restore(file: Path, database: Path) -> None:
    """Put the backup FILE in the store's place; what was there is kept beside it."""
    from olvask.store.backup import restore_backup

    count, kept = restore_backup(file, database)
    click.echo(f"{database}: {count} jobs restored" + (f"; what was there is in {kept}" if kept else ""))


@main.command()
@click.option("--name", default="", help="Somebody known here who needs a way back in; somebody new where left out.")
@click.option("--owner", is_flag=True, help="Somebody new may do what owners may.")
@click.option("--address", default=f"http://127.0.0.1:{DEFAULT_PORT}", show_default=True, help="Where it is served.")
@database_option
def invite(name: str, owner: bool, address: str, database: Path) -> None:
    """Print a one-time address by which somebody joins, or gets back in after a forgotten password."""
    from olvask.store import Stores

    people = Stores.open(database).people
    if name:
        known = next((person for person in people.all() if person.name.lower() == name.strip().lower()), None)
        if known is None or not known.active:
            raise click.ClickException(f"nobody is called {name} here; leave --name out to invite somebody new")
        code = people.code_for(known.id)
    else:
        code = people.invite("owner" if owner else "fitter")
    click.echo(f"{address.rstrip('/')}/join#{code}")


@main.command("import")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@database_option
@click.pass_context
def import_job(context: click.Context, file: Path, database: Path) -> None:
    """Store a job file as a new job and print its number."""
    from olvask.documents.job_file import BadJobFile, read_job_file
    from olvask.store import Stores
    from olvask.store.cards import Heading

    try:
        read = read_job_file(file.read_bytes())
    except BadJobFile as error:
        for item in error.errors:
            click.echo(f"{file}: {item.path or 'file'}: {item.message}", err=True)
        context.exit(2)
    job = Stores.open(database).jobs.create(Heading(read.title, read.code, read.customer), read.design)
    click.echo(f"job {job.id}")


main.add_command(rig)
main.add_command(bench)
