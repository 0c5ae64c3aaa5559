"""The command line: demo, serve, rig, bench, assess, simulate, schema, openapi, fields, export, import, invite, backup, restore, check, reassess."""

from __future__ import annotations

import io
import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING

import click

from olvask import __version__
from olvask.cli_bench import bench, rig
from olvask.cli_refusals import NO_STORE
from olvask.cli_serve import DEFAULT_PORT, database_option, demo, scheduler_option, serve, spread_asked, workers_option

if TYPE_CHECKING:
    from olvask.store.stores import Stores
    from olvask.work.yard import Told

MOST_NUMBER = 2**63 - 1  # of a job: what the store can count to


class Commands(click.Group):
    """Commands that say in a sentence what is wrong with the store or a file, and what to do."""

    def invoke(self, context: click.Context) -> object:
        """Run a command.

        Raises:
            ClickException: the store cannot do what was asked, or a file cannot be read or written.
        """
        try:
            return super().invoke(context)
        except BrokenPipeError:
            raise  # whoever read has gone: nobody is left to be told
        except OSError as error:
            raise click.ClickException(f"{error.filename or 'the output'}: {error.strerror or error}") from None
        except Exception as fault:
            from olvask.store.faults import StorageFault  # after a second's reading, which no command waits for in vain

            if not isinstance(fault, StorageFault):
                raise
            where = f"{fault.place}: " if fault.place is not None else ""
            raise click.ClickException(f"{where}{fault}") from None


@click.group(cls=Commands)
@click.version_option(__version__, prog_name="olvask")
def main() -> None:
    """Design and commission alternator-fed DC-to-DC charging."""
    # What is written into a file is read again as UTF-8, whatever this machine writes by itself; a file's name may be no text.
    for stream, odd in ((sys.stdout, "surrogateescape"), (sys.stderr, "backslashreplace")):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(encoding="utf-8", errors=odd)


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
        day = read_programme(programme.read_text(encoding="utf-8-sig"))
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


def _stores(database: Path | str) -> Stores:
    """The stores at a place where there are some; a mistyped name makes none.

    Raises:
        ClickException: there is none.
    """
    from olvask.store.stores import Stores

    if isinstance(database, Path) and not database.exists():
        raise click.ClickException(NO_STORE.format(database))
    return Stores.open(database)


def _write(file: Path, text: str) -> None:
    """Write a file whole, or leave the one that is there as it was.

    Raises:
        ClickException: it cannot be written.
    """
    device = file.exists() and not file.is_file()
    unfinished = file if device else file.with_name(f".{file.name}.unfinished")
    try:
        unfinished.write_text(text, encoding="utf-8")
        if not device:
            unfinished.replace(file)
    except OSError as error:
        raise click.ClickException(f"{file}: {error.strerror}") from None
    finally:
        if not device:
            unfinished.unlink(missing_ok=True)


@main.command("export")
@click.argument("job_id", type=click.IntRange(1, MOST_NUMBER))
@click.option(
    "--output", type=click.Path(path_type=Path, dir_okay=False), help="File to write; standard output when left out."
)
@database_option
def export_job(job_id: int, output: Path | None, database: Path | str) -> None:
    """Write a stored job as a job file."""
    from olvask.documents.job_file import JobFile, write_job_file
    from olvask.store.jobs import NoSuchJob

    try:
        job = _stores(database).jobs.get(job_id)
    except NoSuchJob as error:
        raise click.ClickException(f"{error.args[0]} in {database}") from None
    head = job.heading
    text = write_job_file(JobFile(title=head.title, code=head.code, customer=head.customer, design=job.design))
    if output is None:
        click.echo(text, nl=False)
    else:
        _write(output, text)


def _file(database: Path | str, instead: str) -> Path:
    """A store's file.

    Raises:
        ClickException: it is kept on a server.
    """
    if not isinstance(database, Path):
        raise click.ClickException(f"a server's database has tools of its own: use {instead}.")
    return database


@main.command()
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
@database_option
def backup(file: Path, database: Path | str) -> None:
    """Write a backup of everything stored to FILE, while running or not; it is read again before it counts."""
    from olvask.store.backup import write_backup

    source = _file(database, "pg_dump")
    if not source.exists():
        raise click.ClickException(NO_STORE.format(source))
    count = write_backup(source, file)
    click.echo(f"{file}: {count} jobs, checked")


@main.command()
@database_option
@click.pass_context
def check(context: click.Context, database: Path | str) -> None:
    """Read everything stored through: the file, each job's every revision, the shelf, photographs, logs. Exit 1 on a fault."""
    from olvask.store.backup import check_store
    from olvask.store.soundness import unsound

    if isinstance(database, Path) and not database.exists():
        raise click.ClickException(NO_STORE.format(database))
    count = check_store(database) if isinstance(database, Path) else None
    found = 0
    for text in unsound(database):
        found += 1
        click.echo(f"■ {text}")
    jobs = "" if count is None else f"{count} jobs, "
    click.echo(f"{database}: {jobs}" + (f"{found} things cannot be read" if found else "everything can be read"))
    context.exit(1 if found else 0)


@main.command()
@workers_option
@scheduler_option
@click.option(
    "--vehicles", type=click.IntRange(0, 1000), default=0, help="Drive each as many, within tolerances, instead."
)
@database_option
def reassess(workers: int, scheduler: str, vehicles: int, database: Path | str) -> None:
    """Judge every job anew and say what changed since it was saved; on worker processes, or a scheduler's workers."""
    from olvask.work import yard
    from olvask.work.spread import NoScheduler, OtherOlvask

    spread, stores = spread_asked(workers, scheduler), _stores(database)
    try:
        work = yard.sweep(stores, spread, vehicles) if vehicles else yard.reassess(stores, spread)
        for told in work:
            if told.job_id:
                click.echo(_told(told))
            click.echo(f"\r{told.done:4.0%}", nl=False, err=True)
    except (NoScheduler, OtherOlvask) as error:
        raise click.ClickException(str(error)) from None
    finally:
        click.echo(err=True)
        stores.database.close()


def _told(told: Told) -> str:
    """One job's line."""
    named = f"job {told.job_id}, {told.heading.title}: "
    if told.unreadable:
        return f"{named}{told.unreadable}"
    if told.shares is not None:
        shares = told.shares
        return f"{named}{shares.any:.0%} at fault: {shares.start:.0%} do not start, {shares.hunt:.0%} hunt, {shares.drain:.0%} drain"
    return named + "; ".join(f"{line[:1]} {line[1:]}" for line in told.changed.splitlines())


@main.command()
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@database_option
def restore(file: Path, database: Path | str) -> None:
    """Put the backup FILE in the store's place; what was there is kept beside it."""
    from olvask.store.backup import restore_backup

    count, kept = restore_backup(file, _file(database, "pg_restore"))
    click.echo(f"{database}: {count} jobs restored" + (f"; what was there is in {kept}" if kept else ""))


@main.command()
@click.option("--name", default="", help="Somebody known here who needs a way back in; somebody new where left out.")
@click.option("--owner", is_flag=True, help="Somebody new may do what owners may.")
@click.option("--address", default=f"http://127.0.0.1:{DEFAULT_PORT}", show_default=True, help="Where it is served.")
@database_option
def invite(name: str, owner: bool, address: str, database: Path | str) -> None:
    """Print a one-time address by which somebody joins, or gets back in after a forgotten password."""
    from olvask.store.stores import Stores

    if not address.startswith(("http://", "https://")):
        raise click.UsageError("--address begins with http:// or https://, such as https://yard.example")
    # The first owner may be invited before anything was ever served.
    people = (_stores(database) if name else Stores.open(database)).people
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
def import_job(context: click.Context, file: Path, database: Path | str) -> None:
    """Store a job file as a new job and print its number."""
    from olvask.documents.job_file import BadJobFile, read_job_file
    from olvask.store.cards import Heading
    from olvask.store.stores import Stores

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
main.add_command(serve)
main.add_command(demo)
