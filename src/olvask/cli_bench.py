"""Commands that speak SCPI: rig, a simulated vehicle with its instruments, and bench, a unit's test on a supply."""

from __future__ import annotations

import math
import signal
import threading
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from olvask.cli_refusals import cannot_listen

if TYPE_CHECKING:
    from olvask.core.model import Design


class Speed(click.FloatRange):
    """How many times as fast; "nan" lies in every range, and is none."""

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> float:
        """As a number."""
        found: float = super().convert(value, param, ctx)
        if math.isnan(found):
            self.fail(f"{value} is not a number", param, ctx)
        return found


def _ends(_number: int, _frame: object) -> None:
    """End as Ctrl+C does."""
    raise SystemExit(0)


@click.command()
@click.argument("file", required=False, type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--demo", "code", default="FT-041", show_default=True, help="Job number of a demo job, without a FILE.")
@click.option("--fault", default="healthy", show_default=True, help="What is wrong; 'any' picks one and tells nobody.")
@click.option("--case", "case", default="", help="A vehicle of practice instead, by level and number, such as 2-17.")
@click.option("--speed", type=Speed(0.1, 3600), default=10.0, show_default=True, help="Times real time.")
@click.option("--seed", type=int, default=1, show_default=True, help="Of the meter's error, and of 'any'.")
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
@click.option(
    "--port", type=click.IntRange(0, 65534), default=5025, show_default=True, help="Meter; the supply is next."
)
def rig(file: Path | None, code: str, fault: str, case: str, speed: float, seed: int, host: str, port: int) -> None:
    """Start a simulated vehicle of a job FILE with a meter and a bench supply that speak SCPI."""
    from olvask.rig.choosing import NotThere, case_on_rig, chosen_fault
    from olvask.rig.serving import Rig

    try:
        if case:
            design, spoilt = case_on_rig(case)
            hidden = True
        else:
            design = _rig_design(file, code)
            spoilt, hidden = chosen_fault(design, fault, seed)
    except NotThere as error:
        raise click.ClickException(str(error)) from None
    try:
        served = Rig(design, spoilt, host, port, speed, seed, hidden)
    except OSError as error:
        ports = f"{port} or {port + 1}" if port else "0"
        raise click.ClickException(cannot_listen(host, ports, error)) from None
    meter, supply = served.ports
    click.echo(
        f"Meter at {host}:{meter}, bench supply at {host}:{supply}, {speed:g} times real time (stop with Ctrl+C)"
    )
    click.echo("What is wrong: hidden" if hidden else f"What is wrong: {spoilt.words}")
    signal.signal(signal.SIGTERM, _ends)
    try:
        threading.Event().wait()
    except KeyboardInterrupt:
        pass
    finally:
        served.close()


def _rig_design(file: Path | None, code: str) -> Design:
    """The design of a job file, or of a demo job."""
    if file is not None:
        from olvask.documents.job_file import BadJobFile, read_job_file

        try:
            return read_job_file(file.read_bytes()).design
        except BadJobFile as error:
            raise click.ClickException(
                f"{file}: {error.errors[0].message if error.errors else 'no job file'}"
            ) from None
    from olvask.store.demo import demo_designs

    found = {heading.code: design for heading, design in demo_designs()}
    if code not in found:
        raise click.ClickException(f"no demo job {code}; there are {', '.join(found)}")
    return found[code]


@click.command()
@click.argument("file", required=False, type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--demo", "code", default="FT-041", show_default=True, help="Job number of a demo job, without a FILE.")
@click.option("--host", default="127.0.0.1", show_default=True, help="Address of the supply.")
@click.option("--port", type=click.IntRange(1, 65535), default=5026, show_default=True, help="Port of the supply.")
@click.option("--speed", type=Speed(0.1, 3600), default=1.0, show_default=True, help="Of a rig's time.")
@click.pass_context
def bench(context: click.Context, file: Path | None, code: str, host: str, port: int, speed: float) -> None:
    """Run a job's bench test on a supply that speaks SCPI; exit 1 when the unit does otherwise than it must."""
    from olvask.core.analyses.bench_test import bench_test_of
    from olvask.core.circuit.context import Context
    from olvask.instruments.bench_run import bench_run
    from olvask.instruments.wire import Silent

    ctx = Context.of(_rig_design(file, code))
    test = bench_test_of(ctx)
    if test is None or ctx.design.charger is None:
        raise click.ClickException("this design has no unit, or no way to start it.")
    right = True
    try:
        for step in bench_run(test, host, port, ctx.design.charger.input_max_v, speed):
            click.echo(f"{'right' if step.right else 'WRONG'}  {step.name}, {step.volts:.2f} V: {step.text}")
            right = right and step.right
    except Silent as error:
        raise click.ClickException(str(error)) from None
    context.exit(0 if right else 1)
