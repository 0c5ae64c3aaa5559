"""What came after the design in the invented workshop: quotes, building, tests, a fault and its cure, a year of readings, a log.

Everything is as the application itself keeps it: readings are taken in the rig's vehicle, logs are its device's own files.

- `seed_history`: gives each demo job its own.
"""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta
from io import BytesIO

import numpy as np

from olvask.core.analyses.quote import QuoteHead, quote_of
from olvask.core.analyses.signing import Signature, acceptances, proven
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model.device_log import LogMapping
from olvask.core.model.house import House, Workshop
from olvask.core.simulate.programme import Programme, Stretch
from olvask.core.stages.build.keying import keying_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.progress import Entry, EntryKind, left_of, progress_of
from olvask.core.stages.prove.noted import proof_of
from olvask.core.stages.prove.report import prove
from olvask.documents.job_file import JobFile, checksum
from olvask.logs.gathered import LogRead
from olvask.logs.reading import read
from olvask.logs.sniff import sniff
from olvask.rig.device_log import Layout, Recorder, Stage, recorded, written
from olvask.rig.faults import Spoilt, spoilt
from olvask.rig.vehicle import RigVehicle
from olvask.store.build_log import BuildStore
from olvask.store.device_logs import LogAbout
from olvask.store.jobs import Job
from olvask.store.stores import Stores

HOUSE = House(
    workshop=Workshop(
        name="Quern Lane Workshop",
        address=("4 Quern Lane", "Saltway Harbour"),
        contact="0555 0173",
        mark="auxiliary power for working vehicles",
    ),
    meter="bench meter 2",
)
QUOTED_D, FITTED_D, FAULT_D, LOGGED_D = 400, 385, 120, 40  # days ago
DESIGNED_D = 5  # days before that, the first job; a day for each
STEP_S, READING_S = 420, 240
MOST_TOLD = 1500


@dataclass(frozen=True, slots=True)
class Story:
    """What happened to one vehicle.

    Attributes:
        fault: name of the rig's fault it came back with; empty for none.
        told: what its driver said of it.
        cure: what was done.
        loop_rise: mΩ its supply run gained each month.
        days: of the log.
        used_ah: of a day standing; what the driver's mornings show.
        joint_from: day of the log from which a joint is bad; `None` for never.
    """

    fault: str = ""
    told: str = ""
    cure: str = ""
    loop_rise: float = 0.0
    days: int = 6
    used_ah: float = 8.0
    joint_from: int | None = None


STORIES: dict[str, Story] = {
    "KV-118": Story(
        "joint.supply_back", "charges weakly since the winter", "Strap made anew, surface bared, washer in.", 0.05
    ),
    "ML-207": Story("no_enable", "does nothing", "Enable's fuse was out; holder changed.", 0.02, used_ah=14.0),
    "PS-064": Story(days=1),
    "RR-031": Story("limited", "weak after the battery was changed", "Limit keyed again as the sheet says.", 0.12),
    "FT-041": Story(
        "joint.delivery_out", "weak, and a lug gets hot", "Lug crimped anew.", 0.2, used_ah=11.0, joint_from=3
    ),
}


@dataclass
class _Notes:
    """Entries of a job as they are noted, each with its moment."""

    job: int
    by: str
    entries: list[Entry] = field(default_factory=list)

    def note(
        self,
        procedure: str,
        step: str,
        kind: EntryKind,
        at: datetime,
        text: str = "",
        value: float | None = None,
        unit: str = "",
    ) -> None:
        """Note one thing."""
        number = f"demo{self.job}x{len(self.entries)}"
        moment = at.isoformat(timespec="seconds")
        self.entries.append(
            Entry(
                id=number,
                procedure=procedure,
                step=step,
                kind=kind,
                text=text,
                value=value,
                unit=unit,
                photo="",
                by=self.by,
                at=moment,
            )
        )


def designed(now: datetime | None = None) -> datetime:
    """When the first job of the demo was designed: the last, some days later, a day before they were quoted.

    Args:
        now: stands in for the present.
    """
    return _today(now) - timedelta(days=QUOTED_D + DESIGNED_D, hours=-6)


def _today(now: datetime | None) -> datetime:
    return (datetime.now(UTC) if now is None else now).replace(hour=9, minute=0, second=0, microsecond=0)


def seed_history(stores: Stores, now: datetime | None = None) -> None:
    """Give each job of the demo its history; a store that has any is left alone.

    Args:
        stores: with the demo's jobs in them.
        now: stands in for the present.
    """
    if stores.house.get().version == 0:
        stores.house.save(HOUSE, 0)
    today = _today(now)
    jobs = [stores.jobs.get(number) for number in stores.jobs.ids()]
    if any(stores.build.entries(job.id) or stores.quotes.all(job.id) for job in jobs):
        return
    for job in jobs:
        story = STORIES.get(job.heading.code)
        if story is not None:
            _tell(stores, job, story, today)


def _tell(stores: Stores, job: Job, story: Story, today: datetime) -> None:
    """One job's history, in order of time."""
    pick = random.Random(job.heading.code)  # noqa: S311
    _quote(stores, job, (today - timedelta(days=QUOTED_D)).date())
    notes = _Notes(job.id, "E.K.")
    found = assess(job.design)
    if found.stops:  # not built as it stands: what was found of it is noted
        at = today - timedelta(days=LOGGED_D)
        notes.note("Logbook", "visit", "note", at, "Looked at with its monitor's log: it starts and stops all day.")
    else:
        _built(job, notes, today - timedelta(days=FITTED_D))
        _measured(job, notes, "", today - timedelta(days=FITTED_D - 1), pick)
        _told_and_signed(stores, job, notes, today - timedelta(days=FITTED_D - 1, hours=-7))
        notes.by, notes.job = "M.A.", job.id + 1000
        if story.fault:
            _back(job, story, notes, today - timedelta(days=FAULT_D), pick)
            _told_and_signed(stores, job, notes, today - timedelta(days=FAULT_D, hours=-7))
            notes.job += 1000
        _year(job, story, notes, today, pick)
    stores.build.add(job.id, notes.entries)
    _logged(stores, job, story, today - timedelta(days=LOGGED_D), bool(found.stops))


def _told_and_signed(stores: Stores, job: Job, notes: _Notes, at: datetime) -> None:
    """What was noted by then comes in, and the job is signed off with it."""
    BuildStore(stores.database, now=lambda: at).add(job.id, notes.entries[:MOST_TOLD])
    notes.entries.clear()
    _signed(stores, job, at)


def _quote(stores: Stores, job: Job, day: date) -> None:
    until = day + timedelta(days=job.design.terms.valid_days)
    head = QuoteHead(job.heading.title, job.heading.code, job.heading.customer, day.isoformat(), until.isoformat())
    stores.quotes.give(job.id, quote_of(head, [("As designed", job.design)], stores.shelf.prices()))


def _built(job: Job, notes: _Notes, begins: datetime) -> None:
    """Every step ticked, one after the other, with readings where steps ask for them left to the tests."""
    procedure = procedure_of(Context.of(job.design)).procedure
    for place, placed in enumerate(procedure.steps):
        notes.note(procedure.title, placed.step.key, "done", begins + timedelta(seconds=STEP_S * place))


def _measured(job: Job, notes: _Notes, fault: str, begins: datetime, pick: random.Random) -> None:
    """Every test that a job is signed off by, read in the rig's vehicle."""
    vehicle = RigVehicle(job.design, spoilt(fault) if fault else None)
    proof = prove(Context.of(job.design), {})
    at = begins
    for row in proof.rows:
        if row.test.cannot or not row.test.fewest:
            continue
        vehicle.prepare(row.test.key)
        value = vehicle.read(row.test)
        if row.test.quantity is not None:
            value *= 1 + pick.gauss(0.0, 0.002)
        notes.note("Prove", row.test.key, "reading", at, value=round(value, 3), unit=row.test.unit)
        at += timedelta(seconds=READING_S)


def _signed(stores: Stores, job: Job, at: datetime) -> None:
    """Signed off with what is open accepted one by one."""
    states = progress_of(stores.build.entries(job.id))
    ctx = Context.of(job.design)
    proof = proof_of(ctx, states, stores.meters())
    found = assess(job.design)
    signature = Signature(
        number=0,
        version=job.version,
        by="Edda Kvist",
        at=at.isoformat(timespec="seconds"),
        meter="Bench meter 2",
        accepted=acceptances(
            found.findings, proof, left_of(procedure_of(ctx).procedure, states), keying_of(ctx, states)
        ),
        proven=proven(proof),
        checksum=checksum(
            JobFile(title=job.heading.title, code=job.heading.code, customer=job.heading.customer, design=job.design)
        ),
    )
    stores.signatures.sign(job.id, signature)


def _back(job: Job, story: Story, notes: _Notes, day: datetime, pick: random.Random) -> None:
    """The vehicle comes back with something wrong; it is measured, cured, and measured again."""
    notes.note("Logbook", "visit", "note", day, f"Brought back: {story.told}.")
    _measured(job, notes, story.fault, day + timedelta(minutes=20), pick)
    cured = day + timedelta(hours=3)
    notes.note("Prove", "cure", "note", cured, story.cure)
    notes.note("Logbook", "part", "note", cured, story.cure)
    _measured(job, notes, "", cured + timedelta(minutes=20), pick)


def _year(job: Job, story: Story, notes: _Notes, today: datetime, pick: random.Random) -> None:
    """A year of readings at visits, and the driver's mornings of the last weeks."""
    ctx = Context.of(job.design)
    loop_mohm = 1000 * ctx.state("supply").loop_ohm
    rest_v = float(ctx.facts.rest.value)
    for month in range(13):
        at = today - timedelta(days=FITTED_D - 3 - 30 * month)
        for step, value, unit in (
            ("loop_mohm", loop_mohm + story.loop_rise * month + pick.gauss(0, 0.1), "mΩ"),
            ("rest_start_v", rest_v - 0.008 * ctx.facts.scale * month + pick.gauss(0, 0.02), "V"),
            ("standby_ma", 21 + pick.gauss(0, 1.5), "mA"),
        ):
            notes.note("Logbook", step, "reading", at, value=round(value, 2), unit=unit)
    notes.note(
        "Logbook",
        "visit",
        "note",
        today - timedelta(days=FITTED_D - 183),
        "Half-year: lugs, strap, settings read back.",
    )
    notes.note(
        "Logbook", "firmware", "note", today - timedelta(days=FITTED_D - 183), "As delivered; nothing newer wanted."
    )
    due = (today + timedelta(days=30)).date().isoformat()
    notes.note("Logbook", "service_due", "note", today - timedelta(days=20), due)
    for at, percent, driven in _mornings(job, story, today, pick):
        notes.note("Logbook", "charge_percent", "reading", at, value=round(percent), unit="%")
        notes.note("Logbook", "driven_h", "reading", at, value=driven, unit="h")


def _mornings(job: Job, story: Story, today: datetime, pick: random.Random) -> Iterator[tuple[datetime, float, float]]:
    """The driver's own readings: charge each morning, and hours driven since the one before."""
    capacity_ah = job.design.auxiliary.capacity_ah
    rate_a = 0.8 * (job.design.charger.output_a if job.design.charger is not None else 20.0)
    percent = 70.0
    for number in range(45, 0, -1):
        driven = pick.choice((0.0, 0.0, 0.5, 0.7, 1.0))
        percent += 100 * (driven * rate_a - story.used_ah * pick.uniform(0.8, 1.2)) / capacity_ah
        percent = min(99.0, max(12.0, percent))
        if pick.random() < 0.85:
            yield today - timedelta(days=number), percent + pick.gauss(0, 1.0), driven


def _logged(stores: Stores, job: Job, story: Story, begins: datetime, hunts: bool) -> None:
    """The log of its monitor, as a file that is read like any other."""
    pick = random.Random(f"{job.heading.code} log")  # noqa: S311
    days = [_day(pick, job, 4 if hunts else 8) for _ in range(story.days)]
    joint = Spoilt(extra_ohm={"supply_back": 0.014})
    stages = [
        Stage(day, joint if story.joint_from is not None and place >= story.joint_from else Spoilt())
        for place, day in enumerate(days)
    ]
    recorder = Recorder(every_s=5.0 if hunts else 15.0, gaps=() if hunts else ((150_000.0, 156_000.0),))
    log = recorded(job.design, stages, recorder, begins.timestamp(), np.random.default_rng(job.id))
    text = written(
        log, Layout(delimiter=";", decimal=",", moment="dmy", zone="Europe/Lisbon", preamble=("Monitor log",))
    )
    raw = text.encode()
    found = sniff(raw[:60000])
    mapping = LogMapping(
        encoding=found.encoding,
        delimiter=found.delimiter,
        decimal=found.decimal,
        header_line=found.header_line,
        columns=found.columns,
        order="dmy",
        zone="Europe/Lisbon",
    )
    stores.device_logs.keep_kind(mapping)
    for part in read(BytesIO(raw), mapping, len(raw)):
        if isinstance(part, LogRead):
            _keep(stores, job, mapping, part)


def _keep(stores: Stores, job: Job, mapping: LogMapping, found: LogRead) -> None:
    about = LogAbout(
        name=f"monitor-{job.heading.code.lower()}.csv",
        rows=len(found.log),
        begins_s=float(found.log.time_s[0]),
        ends_s=float(found.log.time_s[-1]),
        mapping=mapping,
        troubles=tuple(trouble.text for trouble in found.troubles),
    )
    stores.device_logs.add(job.id, about, found.log)


def _day(pick: random.Random, job: Job, rounds: int) -> Programme:
    """A working day with loads that take out what a round brings."""
    load_a = 0.06 * job.design.auxiliary.capacity_ah
    low = job.design.vehicle.readings.low_phase_v is not None
    stretches: list[Stretch] = [Stretch("off", 3600 * pick.uniform(6, 8), ignition=False, load_a=0.25 * load_a)]
    for _ in range(rounds):
        stretches += _round(pick, load_a, low)
    left_s = 86400.0 - sum(stretch.duration_s for stretch in stretches)
    if left_s > 60:
        stretches.append(Stretch("off", left_s, ignition=False, load_a=0.25 * load_a))
    return Programme(tuple(stretches), 0.85, 0.55, 18.0)


def _round(pick: random.Random, load_a: float, low: bool) -> Sequence[Stretch]:
    found = [Stretch("crank", 2.0, ignition=True), Stretch("idle", pick.uniform(60, 150), ignition=True)]
    if low:
        found += [Stretch("cruise", pick.uniform(300, 700), ignition=True), Stretch("low", 90.0, ignition=True)]
    found.append(Stretch("cruise", pick.uniform(400, 1600), ignition=True))
    found.append(Stretch("off", pick.uniform(1200, 4200), ignition=False, load_a=load_a))
    return found
