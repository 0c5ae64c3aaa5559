"""The whole design of one job."""

from __future__ import annotations

from collections.abc import Iterator
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from olvask.core.model.base import ONCE, Described, Identified, choice, quantity, several, tick, whole
from olvask.core.model.battery import AuxiliaryBattery
from olvask.core.model.charger import WAY_WORDS, Charger, StartWay
from olvask.core.model.charging import ChargeSettings
from olvask.core.model.monitor import Monitor
from olvask.core.model.run import RUNS, Cable, Joint, Piece, Run, RunName
from olvask.core.model.site import Mount, OwnStep, Site
from olvask.core.model.terms import Route, Terms
from olvask.core.model.vehicle import Existing, InheritedCable, Solar, Use, Vehicle

LETTER = {"device": "d", "cable": "c", "joint": "j", "branch": "b"}  # identities given to pieces begin with these


class Provenance(StrEnum):
    """Where a value came from."""

    DEFAULT = "default"
    DATASHEET = "datasheet"
    MEASURED = "measured"
    ENTERED = "entered"
    COMPUTED = "computed"
    COPIED = "copied"  # measured on another vehicle


class Distances(Described):
    """Where the runs will go, before they are laid: measured path, one-way."""

    supply_m: float | None = quantity("Start battery to unit", "m", default=None, gt=0, le=60, example=4.5, step=0.1)
    delivery_m: float | None = quantity("Unit to battery", "m", default=None, gt=0, le=60, example=1.5, step=0.1)


class StartRule(Described):
    """Charging starts once the input has been at least this high for this long."""

    at_least_v: float | None = quantity("Start: at least", "V", default=None, gt=0, le=64, example=13.3, step=0.05)
    held_s: float = quantity("Start: held for", "s", default=10.0, ge=0, le=3600, example=10, step=1)


class StopRule(Described):
    """Charging stops once the input has been lower than this for this long."""

    below_v: float | None = quantity("Stop: below", "V", default=None, gt=0, le=64, example=13.0, step=0.05)
    held_s: float = quantity("Stop: held for", "s", default=30.0, ge=0, le=3600, example=30, step=5)


class Guard(Described):
    """The battery guard: keeps charge for cranking, whatever else allows charging."""

    off_below_v: float | None = quantity("Guard: off below", "V", default=None, gt=0, le=64, example=12.1, step=0.05)
    held_s: float = quantity("Guard: held for", "s", default=2.0, ge=0, le=600, example=2, step=1)
    back_at_v: float | None = quantity("Guard: back at", "V", default=None, gt=0, le=64, example=12.8, step=0.05)


class Activation(Described):
    """When the unit may charge. Voltages are at the unit's input terminals; absent ones are proposed.

    Any start rule that is met starts it, any stop rule that is met stops it. Rules after the first need their volts.
    """

    ways: Annotated[tuple[StartWay, ...], ONCE] = several("Ways to start", WAY_WORDS, default=("voltage",))
    start_rules: tuple[StartRule, ...] = Field((StartRule(),), title="Start rules", min_length=1, max_length=3)
    stop_rules: tuple[StopRule, ...] = Field((StopRule(),), title="Stop rules", min_length=1, max_length=2)
    guard: Guard = Guard()
    plug_contact: str = Field(
        "",
        title="Its contact in the plug",
        max_length=12,
        description="Where the enable wire passes a trailer plug: the contact it takes for itself.",
    )

    @model_validator(mode="after")
    def _further_rules_have_volts(self) -> Activation:
        for at, start in enumerate(self.start_rules[1:], start=2):
            if start.at_least_v is None:
                raise ValueError(f"start rule {at} needs its volts; type them or take the rule out")
        for at, stop in enumerate(self.stop_rules[1:], start=2):
            if stop.below_v is None:
                raise ValueError(f"stop rule {at} needs its volts; type them or take the rule out")
        return self


class Keyed(Described):
    """What was done with one line of the sheet at the device, by whom and when."""

    line: str = Field(title="Line", max_length=40)
    value: str = Field("", title="Value keyed", max_length=60)
    keyed: bool = tick("Keyed")
    seen: str = Field("", title="Read back", max_length=60, description="The value the device shows.")
    by: str = Field("", title="By", max_length=40)
    at: str = Field("", title="When", max_length=40)


def _last_of_each(keyed: tuple[Keyed, ...]) -> tuple[Keyed, ...]:
    """What was said of a line last, where a file says it twice."""
    return tuple({item.line: item for item in keyed}.values())


class OldLink(Described):
    """What becomes of a link that was there before, and the relay it takes."""

    decision: Literal["", "disconnect", "changeover", "keep"] = choice(
        "Old link",
        {
            "": "not decided",
            "disconnect": "disconnect it",
            "changeover": "open it by a relay",
            "keep": "keep it, no charger",
        },
        default="",
    )
    relay_place: Literal["", "start_feed", "auxiliary_feed"] = choice(
        "Relay sits in",
        {"": "as proposed", "start_feed": "the start-battery feed", "auxiliary_feed": "the auxiliary feed"},
        default="",
    )
    feed_a: float | None = quantity("Start feed carries", "A", default=None, gt=0, le=500, example=10, step=1)
    living_a: float | None = quantity("Loads behind panel", "A", default=None, gt=0, le=500, example=18, step=1)
    feed_mm2: float | None = quantity("Wire of that feed", "mm²", default=None, gt=0, le=120, example=6)
    coil_ma: float | None = quantity("Relay coil", "mA", default=None, gt=0, le=5000, example=160, step=10)
    d_plus_ma: float | None = quantity("D+ can give", "mA", default=None, gt=0, le=10000, example=300, step=10)


class Choices(Described):
    """Schools and margins this job is held to."""

    alternator_school: Literal["share", "surplus"] = choice(
        "Alternator budget", {"surplus": "what hot idle leaves", "share": "share of rated current"}, default="surplus"
    )
    share_fraction: float = quantity("Share of rated current", "share", default=0.5, gt=0, le=1, example=0.5, step=0.05)
    surplus_fraction: float = quantity(
        "Share of what is left", "share", default=0.8, gt=0, le=1, example=0.8, step=0.05
    )
    ampacity_school: Literal["enclosed", "free_air"] = choice(
        "Ampacity tables", {"enclosed": "enclosed wiring", "free_air": "free air"}, default="enclosed"
    )
    drop_percent: float = quantity("Drop limit per run", "%", default=3.0, gt=0, le=20, example=3, step=0.5)
    margin_v: float | None = quantity("Threshold margin", "V", default=None, ge=0, le=5, example=0.15, step=0.05)
    lug_mohm: float = quantity("Each cable end", "mΩ", default=0.05, ge=0, le=10, example=0.05, step=0.01)
    keep_state_of_charge: float = quantity(
        "Charge kept to crank", "share", default=0.6, ge=0, le=1, example=0.6, step=0.05
    )
    protection_school: Literal["fuse", "fuse_isolator", "breaker"] = choice(
        "Protection", {"fuse": "fuses", "fuse_isolator": "fuse and isolator", "breaker": "breakers"}, default="fuse"
    )
    slack: float = quantity("Slack on cable", "share", default=0.2, ge=0, le=1, example=0.2, step=0.05)
    holder_m: float = quantity(  # as ISO 10133:2012 clause 8.2 allows
        "Bare cable to a holder",
        "m",
        default=0.2,
        ge=0,
        le=2,
        example=0.2,
        step=0.05,
        help="The most that may lie between a battery's post and its device.",
    )
    upgrade_school: Literal["sun_first", "at_once"] = choice(
        "Order of upgrading", {"sun_first": "sun, vehicle, mains", "at_once": "all at once"}, default="sun_first"
    )
    energy_price: float = quantity("Energy from the engine", "€/kWh", default=0.9, ge=0, le=20, example=0.9, step=0.1)
    rank_cost: float = quantity("Weight of cost", "-", default=1.0, ge=0, le=10, example=1, step=0.25)
    rank_rate: float = quantity("Weight of charge", "-", default=1.0, ge=0, le=10, example=1, step=0.25)
    rank_margin: float = quantity("Weight of margin", "-", default=0.5, ge=0, le=10, example=0.5, step=0.25)
    fault_multiple: float = quantity(
        "Far-end short, least",
        "×",
        default=5.0,
        ge=1,
        le=50,
        example=5,
        step=0.5,
        help="A short at the far end must draw this many times the device's rating to open it promptly.",
    )


# What hangs on an auxiliary battery that is fitted already.
AT_BATTERY = ("link", "panel", "built_in_charger", "mains_charger", "monitor", "socket_wire")


class Design(Described):
    """One vehicle from alternator to auxiliary battery. Pieces and settings absent are `None`, never 0."""

    vehicle: Vehicle
    auxiliary: AuxiliaryBattery = AuxiliaryBattery()
    use: Use = Use()
    existing: tuple[Existing, ...] = Field((), title="What is there already", max_length=20)
    inherited: InheritedCable | None = Field(None, title="Inherited cable")
    solar: Solar = Solar()
    distances: Distances = Distances()
    charger: Charger | None = Field(None, title="Unit")
    units: int = whole("Units in parallel", "units", default=1, ge=1, le=6)
    current_limit_a: float | None = quantity("Unit set to", "A", default=None, gt=0, le=500, example=30, step=1)
    mount: Mount = Mount()
    site: Site = Site()
    own_steps: tuple[OwnStep, ...] = Field((), title="Steps of your own", max_length=20)
    supply: Run = Run()
    delivery: Run = Run()
    activation: Activation = Activation()
    charge: ChargeSettings = ChargeSettings()
    keyed: Annotated[tuple[Keyed, ...], AfterValidator(_last_of_each)] = Field(
        (), title="Keyed into the unit", max_length=120
    )
    access_code_changed: bool = tick("Access code changed", help="Whether it was, never the code.")
    monitor: Monitor = Monitor()
    old_link: OldLink = OldLink()
    routes: tuple[Route, ...] = Field((), title="Routes", max_length=8)
    terms: Terms = Terms()
    choices: Choices = Choices()
    provenance: dict[str, Provenance] = Field(default_factory=dict, title="Where values came from", max_length=400)

    @model_validator(mode="after")
    def _identities(self) -> Design:
        """Give an identity to whatever has none, and forget where values of vanished things came from."""
        found = [item.id for _, items in identified_lists(self) for item in items]
        known = set(found)
        if len(known) < len(found) or "" in known:
            with_identities(self)
            known = {item.id for _, items in identified_lists(self) for item in items}
        lost = [path for path in self.provenance if not _stands(path, known)]
        for path in lost:
            del self.provenance[path]
        return self

    def run(self, name: RunName) -> Run:
        """The run by its name."""
        return self.supply if name == "supply" else self.delivery

    def laid(self, name: RunName) -> bool:
        """Whether a run has a cable at all."""
        return any(isinstance(piece, Cable) for piece in self.run(name).pieces)

    @property
    def unfinished(self) -> tuple[str, ...]:
        """What has to be chosen before the job can be built, offered or signed off; empty where it is whole."""
        unit = () if self.charger is not None else ("no unit is chosen",)
        return (*unit, *(f"the {name} run is not laid" for name in RUNS if not self.laid(name)))

    @property
    def tells_running(self) -> bool:
        """Whether a way to start knows an engine that runs, or a vehicle that is ready, from one that is off."""
        return self.kept_off or "voltage" in self.activation.ways

    @property
    def kept_off(self) -> bool:
        """Whether a signal that goes with the engine, or with a vehicle that is ready, keeps it off parked, whatever the volts."""
        ways = self.activation.ways
        return "d_plus" in ways or ("ignition" in ways and self.vehicle.ready_fed)

    @property
    def left_on(self) -> bool:
        """Whether it is on with the engine off for as long as its key, its switch or a bridge leaves it."""
        return bool(self.activation.ways) and not self.tells_running

    @property
    def waits_for(self) -> frozenset[StartWay]:
        """What must allow charging: a hybrid's ready feed as D+ would; nothing can where it waits for a D+ it does not give."""
        ways = frozenset(self.activation.ways)
        if not self.vehicle.ready_fed:
            return ways
        return frozenset() if "d_plus" in ways else ways - {"ignition"} | ({"d_plus"} if "ignition" in ways else set())

    @property
    def unit_named(self) -> str:
        """Its unit by name, how many of them where there are several; empty without one."""
        many = f"{self.units} × " if self.units > 1 else ""
        return f"{many}{self.charger.name}" if self.charger is not None else ""

    @property
    def plugged(self) -> bool:
        """Whether the unit sits behind a plug, so that wires from the vehicle have to pass it."""
        return any(isinstance(piece, Joint) and piece.form == "plug" for piece in self.supply.pieces)

    @property
    def still_fed(self) -> tuple[Existing, ...]:
        """What was found in the vehicle and whose feed is not cut."""
        return tuple([item for item in self.existing if not item.cut])

    @property
    def taken_out(self) -> tuple[Existing, ...]:
        """What was found there and is taken out of use: by its feed, or a link by what was decided of it."""
        gone = self.old_link.decision == "disconnect"
        return tuple([item for item in self.existing if item.cut or (gone and item.joins)])

    @property
    def auxiliary_new(self) -> bool:
        """Whether the auxiliary battery is fitted in this job: as it is said, else as it looks."""
        if self.site.auxiliary_there:
            return self.site.auxiliary_there == "new"
        fed = any(item.kind in AT_BATTERY for item in self.existing)
        return not fed and (self.solar.panel_w is None or self.solar.into != "controller")

    @property
    def shunted(self) -> bool:
        """Whether what the unit gives comes back through a monitor's shunt in the auxiliary battery's negative."""
        there = self.monitor.unit is not None or any(item.kind == "monitor" for item in self.still_fed)
        return there and "unit" not in self.monitor.bypassed_by

    @property
    def uncounted(self) -> bool:
        """Whether what the unit gives is noted to go past the monitor's shunt, by its own negative or by the body."""
        past = self.monitor.bypassed_by
        return "unit" in past or ("chassis" in past and self.delivery.back.kind == "chassis")

    def piece(self, id: str) -> tuple[RunName, int, Piece] | None:
        """Run, position and piece of an identity; `None` where no piece has it."""
        for run in RUNS:
            for at, piece in enumerate(self.run(run).pieces):
                if piece.id == id:
                    return run, at, piece
        return None


# Where things with an identity stand, and the letter of those whose kind does not say it.
LISTS = (
    ("supply.pieces", ""),
    ("delivery.pieces", ""),
    ("vehicle.lifters", "h"),
    ("existing", "e"),
    ("use.loads", "l"),
    ("auxiliary.strings", "s"),
    ("own_steps", "w"),
    ("routes", "r"),
)


def identified_lists(design: Design) -> Iterator[tuple[str, tuple[Identified, ...]]]:
    """Every list of things with an identity, under its path."""
    yield "supply.pieces", design.supply.pieces
    yield "delivery.pieces", design.delivery.pieces
    yield "vehicle.lifters", design.vehicle.lifters
    yield "existing", design.existing
    yield "use.loads", design.use.loads
    yield "auxiliary.strings", design.auxiliary.strings
    yield "own_steps", design.own_steps
    yield "routes", design.routes


def _stands(path: str, known: set[str]) -> bool:
    """Whether a provenance path leads to something that is still there."""
    for place, _ in LISTS:
        if path.startswith(place + "."):
            return path[len(place) + 1 :].split(".", 1)[0] in known
    return True


def fresh_id(design: Design, letter: str) -> str:
    """An identity no thing of the design has.

    Args:
        design: the design.
        letter: what it begins with.
    """
    taken = {item.id for _, items in identified_lists(design) for item in items}
    return next(name for at in range(1, len(taken) + 2) if (name := f"{letter}{at}") not in taken)


def with_identities(design: Design) -> None:
    """Give each thing without an identity, or with one that is taken, the next free one.

    Called while the design is being made, hence in place: a validator of an immutable model has nothing else to
    hand back.
    """
    taken: set[str] = {item.id for _, items in identified_lists(design) for item in items} - {""}
    seen: set[str] = set()
    for (path, items), (_, letter) in zip(list(identified_lists(design)), LISTS, strict=True):
        named: list[Identified] = []
        for item in items:
            if item.id == "" or item.id in seen:
                begins = letter or LETTER[str(getattr(item, "kind", ""))]
                at = next(at for at in range(1, 999) if f"{begins}{at}" not in taken)
                item = item.model_copy(update={"id": f"{begins}{at}"})
                taken.add(item.id)
            seen.add(item.id)
            named.append(item)
        if tuple(named) == items:
            continue
        owner_name, _, name = path.rpartition(".")
        if owner_name:
            owner: Described = getattr(design, owner_name)
            object.__setattr__(design, owner_name, owner.model_copy(update={name: tuple(named)}))
        else:
            object.__setattr__(design, name, tuple(named))
