"""What comes out of the core: figures, findings with ways out, level lines, bands and limits."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from olvask.core.findings.figure import Figure, Input

Level = Literal["stop", "caution", "note"]
ThresholdKey = Literal["at_once", "start", "stop", "lockout", "restart"]
Stage = Literal["survey", "match", "run", "wake", "settings", "build", "prove", "handover"]


class Said(BaseModel):
    """Immutable output."""

    model_config = ConfigDict(frozen=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """Set one place of the design, named by its dotted path, to a value."""

    path: str
    value: Any


@dataclass(frozen=True, slots=True, kw_only=True)
class WayOut:
    """A computed remedy that one click applies."""

    label: str
    changes: tuple[Change, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """What is wrong or worth knowing, where on the path, why in numbers, and the ways out."""

    id: str
    level: Level
    stage: Stage
    place: Annotated[str, Field(description="station or piece on the level line, such as charger or supply.1")]
    title: str
    text: str
    ways_out: tuple[WayOut, ...] = ()


@dataclass(slots=True, kw_only=True)
class LinePiece:
    """Volts where the current enters and leaves one station or piece; the return in millivolts.

    Voltages stand against the negative post of the battery on the same side.
    """

    place: str
    enter_v: float
    exit_v: float
    return_enter_mv: float
    return_exit_mv: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ConditionLine:
    """The level line in one operating condition."""

    key: Literal["parked", "idle", "cruise", "low"]
    label: str
    charging: bool
    collapsed: Annotated[bool, Field(description="the run cannot carry the power: no stable voltage exists")]
    below_minimum: Annotated[bool, Field(description="the terminals lie below the unit's lowest input")]
    alternator_limited: bool
    supply: tuple[LinePiece, ...]
    delivery: tuple[LinePiece, ...]
    source_v: float
    input_v: float | None
    input_a: float | None
    output_v: float | None
    output_a: float | None
    auxiliary_v: float | None


@dataclass(slots=True, kw_only=True)
class PieceFacts:
    """What the current does to one piece, at its worst running condition."""

    place: str
    drop_v: float
    resistance_mohm: Annotated[float, Field(description="out and back")]
    temperature_c: float | None = None
    ambient_c: float | None = None
    ampacity_a: float | None = None
    table_source: str = ""
    other_ampacity_a: Annotated[float | None, Field(description="by the school not chosen")] = None
    other_source: str = ""
    continuous_a: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Band:
    """A range of volts at the charger's terminals."""

    low_v: float
    high_v: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Threshold:
    """One threshold: what is set, whether proposed, and how far it stands from its window's edges."""

    key: ThresholdKey
    label: str
    value_v: float
    proposed: bool
    verdict: Literal["good", "tight", "wrong"]
    margin_text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WakeBands:
    """The voltage ladder: bands, windows and thresholds at the charger's terminals."""

    rest: Band
    unloaded: Band
    loaded: Band | None
    low_phase: Band | None
    start_window: Band | None
    stop_window: Band | None
    thresholds: tuple[Threshold, ...]
    step_v: float
    at_once_proposal_v: Annotated[
        float | None,
        Field(description="a start without delay worth setting; none where running volts lie close together"),
    ]
    voltage_used: bool
    adjustable: bool


@dataclass(slots=True, kw_only=True)
class Limit:
    """One bar of the limits ruler, in output amperes."""

    key: str
    label: str
    amps: Annotated[float | None, Field(description="output amperes this allows; none where it sets no limit")]
    governs: Annotated[bool, Field(description="false for the school not chosen")]
    binding: bool
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Ruler:
    """The limits ruler of Match."""

    limits: tuple[Limit, ...]
    floor_a: float | None
    binding: str | None
    allowed_a: float | None
    site_a: Annotated[float, Field(description="what battery, alternator and source point allow any unit")]


@dataclass(frozen=True, slots=True, kw_only=True)
class GuardFacts:
    """One protective device against everything it is held to."""

    place: str
    label: str
    rating_a: float
    least_a: Annotated[float, Field(description="1.25 times the continuous current")]
    ceiling_a: Annotated[float | None, Field(description="smallest ampacity it guards; none where it guards no cable")]
    system_v: float
    voltage_v: float
    prospective_a: float
    interrupt_a: float
    fault_multiple: Annotated[float | None, Field(description="far-end short over the rating; none for a branch tail")]
    holder_m: Annotated[float | None, Field(description="bare cable between post and holder; none where not at a post")]
    verdict: Level | Literal["good"]


@dataclass(frozen=True, slots=True, kw_only=True)
class LinkContrast:
    """A link without a charger over the same cables: plain, and with timed rests."""

    link_a: float
    alternator_percent: float
    duty: Annotated[float, Field(description="share of the time a managed link may be on")]
    managed_a: float
    loss_w: float
    laid: Annotated[bool, Field(description="false where default runs stand in")]
    risks: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class StageState:
    """What a stage still misses, and how many findings of each level it holds."""

    missing: tuple[str, ...]
    stops: int
    cautions: int


class Assessment(Said):
    """Everything that follows from a design."""

    figures: dict[str, Figure]
    facts: dict[str, Input] = Field(description="survey values in force by path, defaults filled in")
    findings: tuple[Finding, ...]
    conditions: tuple[ConditionLine, ...]
    worst: Literal["parked", "idle", "cruise", "low"] = Field(description="running condition with the lowest terminals")
    pieces: tuple[PieceFacts, ...]
    guards: tuple[GuardFacts, ...]
    wake: WakeBands
    ruler: Ruler
    link: LinkContrast | None = Field(description="none where no link could join the batteries")
    stages: dict[Stage, StageState]

    @property
    def stops(self) -> tuple[Finding, ...]:
        """Findings that forbid building the design as it stands."""
        return tuple(finding for finding in self.findings if finding.level == "stop")


@dataclass(frozen=True, slots=True, kw_only=True)
class LadderRow:
    """One standard size on the size ladder, everything recomputed with it."""

    size: str
    system: Literal["metric", "awg"]
    area_mm2: float
    drop_v: float | None
    drop_percent: float | None
    input_low_v: Annotated[float | None, Field(description="volts at the charger at the lowest running voltage")]
    temperature_c: float | None
    ampacity_a: float
    in_hand_a: Annotated[float, Field(description="ampacity less continuous current, by the chosen school")]
    loss_w: Annotated[float | None, Field(description="lost in the whole run at full current, hot idle")]
    window_open: Annotated[
        bool | None, Field(description="whether the stop window survives it; none without voltage detection")
    ]
    years_cost: Annotated[float | None, Field(description="€ over ten years: the cable and the energy lost in it")]
    device: Annotated[str, Field(description="device that protects it; empty where none fits")]
    enters_terminal: bool
    cost: Annotated[float, Field(description="€ for this piece, own return included")]
    verdict: Level | Literal["good"]
    verdict_text: str
    chosen: bool
    makers: Annotated[bool, Field(description="where the unit maker's table points")]


@dataclass(frozen=True, slots=True, kw_only=True)
class Suggestion:
    """A size worth looking at, and why."""

    key: Literal["smallest", "value", "stock", "maker"]
    size: str
    text: str


class SizeLadder(Said):
    """One cable in every standard size."""

    place: str
    limit_percent: float
    continuous_a: float | None
    condition: str
    rows: tuple[LadderRow, ...]
    suggestions: tuple[Suggestion, ...]
    note: str


class UnitVerdict(Said):
    """One unit of the shelf judged for a job, with its own cheapest passing cables and devices."""

    id: str
    name: str
    isolated: bool
    output_a: float
    unit_price: float = Field(description="€ for one unit")
    fit: Literal["fits", "turned_down", "no"]
    set_to_a: float | None
    cautious: bool = Field(description="something short of a stop speaks against it")
    reason: str
    binding: str = Field(description="key of the limit that binds; empty where it was refused before")
    price: float | None = Field(description="€ for unit, cables and devices together; none where it does not fit")
    rate_ah_per_h: float | None = Field(description="charge returned per driving hour, after loads and losses")
    margin: float | None = Field(description="room under the binding limit, as a share of the current, up to 1")
    score: float | None = Field(description="0 to 100 by the job's weights")
    supply: str = Field(description="cables and device of the supply run, in one line")
    delivery: str = Field(description="cables and device of the delivery run, in one line")


class Unknown(Said):
    """A gap in the survey and what filling it would change."""

    path: str
    label: str
    standing: str = Field(description="what is assumed meanwhile")
    effect: str
    matters: bool


class WeekPicture(Said):
    """The auxiliary battery's charge over a typical week."""

    verdict: Literal["keeps_up", "runs_down", "unknown"]
    text: str
    reserve: float
    charge: tuple[float, ...] = Field(description="state of charge at each full hour from Monday 00:00, 169 of them")
    driving: tuple[bool, ...] = Field(description="whether it drives in each hour")
    lowest: float | None
    end: float | None
    below_reserve_day: int | None


class ComparedRow(Said):
    """One line of a comparison: a value of each variant."""

    path: str
    label: str
    values: tuple[str, ...]
    best: tuple[int, ...] | None = Field(description="which variants do best; none where none can be said to")


class Comparison(Said):
    """Variants of a job side by side, differences only."""

    names: tuple[str, ...]
    differences: tuple[ComparedRow, ...]
    consequences: tuple[ComparedRow, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class ConductorEnd:
    """One end of a conductor: where it goes and what is crimped on it."""

    at: str
    kind: str
    torque_nm: float | None
    torque_lb_in: float | None
    heat_shrink_mm: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class CutConductor:
    """One length of cable to cut, with both its ends."""

    id: str
    place: str
    size: str
    metal: str
    length_m: float
    cut_m: Annotated[float, Field(description="measured path and slack, rounded up")]
    ends: tuple[ConductorEnd, ConductorEnd]


@dataclass(frozen=True, slots=True, kw_only=True)
class DrumUse:
    """What is cut off one drum, or has to be bought."""

    drum: str
    size: str
    in_stock: bool
    length_m: float
    cuts: tuple[str, ...]
    used_m: float
    left_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """One line of the parts list; price for one, in €."""

    what: str
    detail: str
    count: float
    unit: str
    price: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Label:
    """A label for one end of a conductor."""

    conductor: str
    end: str
    lines: tuple[str, ...]


class Buying(Said):
    """From the design to the bench."""

    conductors: tuple[CutConductor, ...]
    drums: tuple[DrumUse, ...]
    parts: tuple[Part, ...]
    total: float
    labels: tuple[Label, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class SignalWire:
    """How one signal reaches the unit: where it is taken, its fuse, what it passes, where it ends."""

    method: str
    terminal: Annotated[str, Field(description="DIN 72552 number where it is taken; empty where there is none")]
    taken_at: str
    fuse_a: float | None
    wire_mm2: float | None
    through: Literal["", "switch", "bridge"]
    ends_at: str
    live: Annotated[str, Field(description="when it says yes")]
    if_broken: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MethodAdvice:
    """One way of starting and stopping the unit, alone or combined, judged with its thresholds proposed anew."""

    key: str
    label: str
    verdict: Literal["recommended", "sound", "cautious", "unsound", "unavailable"]
    chosen: bool
    speaks_for: tuple[str, ...]
    speaks_against: tuple[str, ...]
    take: WayOut
    wires: tuple[SignalWire, ...]


class Advice(Said):
    """Every way judged, the best one first."""

    text: str
    methods: tuple[MethodAdvice, ...]
    ways_out: tuple[WayOut, ...] = Field(description="what would make a way sound, where none is")


@dataclass(frozen=True, slots=True, kw_only=True)
class TripEvent:
    """Something that happened on a trip."""

    time_s: float
    what: Literal["start", "stop", "lockout", "release", "collapse", "absorption", "float", "bulk"]
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TripSeries:
    """A trip moment by moment, one list a quantity, all of one length."""

    time_s: tuple[float, ...]
    state: tuple[str, ...]
    stage: Annotated[tuple[str, ...], Field(description="of the charge, where it charges: bulk, absorption, float")]
    engine: tuple[str, ...]
    input_v: tuple[float, ...]
    input_a: tuple[float, ...]
    output_a: tuple[float, ...]
    post_v: tuple[float, ...]
    auxiliary_v: tuple[float, ...]
    start_charge: tuple[float, ...]
    auxiliary_charge: tuple[float, ...]
    supply_c: Annotated[tuple[float, ...], Field(description="hottest conductor of the supply run")]
    unit_c: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class TripTotals:
    """What a trip comes to."""

    starts: int
    lockouts: int
    hunting: Annotated[bool, Field(description="three starts or more within ten minutes")]
    charging_min: float
    engine_off_charging_min: float
    charged_ah: Annotated[float, Field(description="out of the unit")]
    input_ah: float
    input_wh: float
    output_wh: float
    drained_ah: Annotated[float, Field(description="taken from the start battery by the unit with the engine off")]
    cold_ah: Annotated[
        float, Field(description="pushed into the auxiliary battery below the least charging temperature")
    ]
    refused_min: Annotated[float, Field(description="minutes in which a pack's own cut-off refused the cold")]
    lowest_start_charge: float
    reserve_cranks: Annotated[
        float, Field(description="cranks of three seconds left at worst, above the charge to keep")
    ]
    hottest_supply_c: Annotated[
        float | None, Field(description="conductor of the supply run; none where it never charged")
    ]
    hottest_unit_c: float | None
    start_charge: Annotated[float, Field(description="at the end")]
    auxiliary_charge: Annotated[float, Field(description="at the end")]
    cut_s: Annotated[
        float | None, Field(description="driven no further than this, having acted 5,000 times; else none")
    ]


class TripReport(Said):
    """A trip as series, events and totals."""

    duration_s: float
    series: TripSeries
    events: tuple[TripEvent, ...]
    totals: TripTotals


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """Where a voltage lies over many vehicles, as the unit measures it: of a hundred, the 1st, 10th, 50th, 90th and 99th."""

    key: Literal["rest", "unloaded", "loaded"]
    label: str
    volts: tuple[float, float, float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class ToleranceShare:
    """One tolerance: how wide, and how many of the failing vehicles would be sound if it were exact."""

    key: str
    label: str
    spread: str
    cures: Annotated[float | None, Field(description="0 to 1; none where nothing fails")]


class ToleranceReport(Said):
    """The same settings over many vehicles that differ within tolerances."""

    vehicles: int
    fail_to_start: float = Field(description="share, 0 to 1")
    hunt: float
    drain: float
    any_fault: float
    widened: float = Field(description="factor on the tolerances at which what matters most was found")
    widened_fault: float = Field(description="share at fault with the tolerances widened so")
    matters: tuple[ToleranceShare, ...] = Field(description="what matters most first")
    spreads: tuple[Spread, ...]
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ToleranceCure:
    """A change of the design, and the share of the same vehicles then at fault."""

    way_out: WayOut
    any_fault: float


class ToleranceCures(Said):
    """What would cut the share at fault, the most helpful first; nothing where nothing was tried or helps."""

    vehicles: int
    before: float = Field(description="share at fault as the design stands, over these vehicles")
    cures: tuple[ToleranceCure, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadRow:
    """What powers one thing, engine off and running, before and after."""

    name: str
    before_off: str
    before_running: str
    after_off: str
    after_running: str
    lost: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class RelayTerminal:
    """One terminal of the relay and what goes on it."""

    terminal: str
    goes_to: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RelayDesign:
    """A five-terminal changeover relay that opens the link while the engine runs."""

    place: Literal["start_feed", "auxiliary_feed"]
    place_text: str
    duty_a: float
    duty_from: Annotated[str, Field(description="default, own, or computed from the loads")]
    contact_a: Annotated[
        float | None, Field(description="rating of the break contact; none where none is made that large")
    ]
    contact_fuse_a: float | None
    coil_ma: float
    total_ma: Annotated[float, Field(description="coil, suppression and the unit's enable together")]
    d_plus_ma: float
    coil_fits: bool
    coil_fuse_a: float
    suppression: str
    terminals: tuple[RelayTerminal, ...]
    if_broken: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LinkChoice:
    """One of the three decisions, with what speaks for or against it here."""

    key: Literal["disconnect", "changeover", "keep"]
    label: str
    recommended: bool
    reason: str
    take: WayOut


class OldLinkPlan(Said):
    """What becomes of the old link."""

    there: str = Field(description="what was found; empty where there is no link")
    decision: Literal["", "disconnect", "changeover", "keep"]
    choices: tuple[LinkChoice, ...]
    relay: RelayDesign | None
    rows: tuple[LoadRow, ...]
    lost: tuple[str, ...]
    make_safe: tuple[str, ...]
    standing: str = Field(description="how long the start battery stands without upkeep")
