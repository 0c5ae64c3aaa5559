"""A direct link for contrast: what it would draw, and a managed link with timed rests as a school of its own.

- `judge_link`: its figures.
- `contrast_link`: the same in one answer, with its risks.
- `link_current_a`: what any link passes at first.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, NamedTuple

from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.circuit.engine_side import beside_a
from olvask.core.circuit.facts import Facts, charge_volts
from olvask.core.circuit.runs import run_state
from olvask.core.circuit.solve import Solved
from olvask.core.findings.collector import Judged
from olvask.core.findings.driven import spoken
from olvask.core.findings.figure import Input, Reckoned, Words, computed
from olvask.core.findings.listed import percent
from olvask.core.model import Design
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.stages.match.limits import alternator_budgets

LINK_CHARGE = 0.2  # state of charge at which a link is compared
LINK_RUN_OHM = 0.010  # a run not laid yet, both ways; our own estimate
SHORT_V = 0.2  # per 12 V: under absorption by more than this it is never filled


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


def link_current_a(design: Design, solved: Solved, wire_ohm: float) -> tuple[float, float, float]:
    """What a link passes at hot idle into an auxiliary battery at 20 % [A], that battery's rested volts [V] and resistance [Ω].

    Args:
        design: the design.
        solved: its circuit.
        wire_ohm: the link's wires, both ways [Ω].
    """
    auxiliary, source = design.auxiliary, solved.running[0].source
    battery_ohm = internal_ohm(auxiliary.chemistry, auxiliary.capacity_ah, auxiliary.nominal_v)
    battery_v = open_circuit_v(auxiliary.chemistry, LINK_CHARGE, auxiliary.nominal_v)
    amps = (source.regulated_v - battery_v) / (wire_ohm + source.sag_ohm + battery_ohm)
    return max(0.0, amps), battery_v, battery_ohm


def held_a(design: Design, facts: Facts, amps: float) -> float:
    """What a link goes on passing once its first rush is over [A].

    That of a lead battery lasts seconds and comes for the most part out of the start battery; then it takes what it takes.
    Lithium takes on as it began.

    Args:
        design: the design.
        facts: its facts.
        amps: of the first moment [A].
    """
    return amps if design.auxiliary.chemistry == "lfp" else min(amps, float(facts.charge_limit.value))


class _Link(NamedTuple):
    """A plain link over this job's cables."""

    amps: float
    held_a: float
    battery_v: float
    battery_ohm: float
    wire_ohm: float
    link_ohm: float
    laid: bool
    budget_a: float

    @property
    def duty(self) -> float:
        return 1.0 if self.held_a <= self.budget_a else self.budget_a / self.held_a


def _link_of(ctx: Context) -> _Link | None:
    """The link, or `None` where the batteries differ in nominal voltage: none can join them."""
    design, idle = ctx.design, ctx.solved.running[0]
    if design.auxiliary.nominal_v != design.vehicle.system_v:
        return None
    delivery = run_state(design.delivery, 0.0, design.choices.lug_mohm)
    runs_ohm = ctx.solved.parked.run.loop_ohm + delivery.loop_ohm
    laid = runs_ohm > 0
    wire_ohm = runs_ohm if laid else LINK_RUN_OHM
    amps, battery_v, battery_ohm = link_current_a(design, ctx.solved, wire_ohm)
    budget_a = alternator_budgets(design, ctx.facts).of(design.choices.alternator_school)
    kept_a = held_a(design, ctx.facts, amps)
    return _Link(amps, kept_a, battery_v, battery_ohm, wire_ohm, wire_ohm + idle.source.sag_ohm, laid, budget_a)


def _percent(ctx: Context, amps: float) -> float:
    return 100 * (amps + _loads_a(ctx)) / ctx.design.vehicle.alternator.rated_a


def _loads_a(ctx: Context) -> float:
    return ctx.design.vehicle.alternator.loads_idle_a + beside_a(ctx.design, ctx.facts)


def judge_link(ctx: Context) -> Judged:
    """Figures of a plain link and of a managed one, over the same cables."""
    link = ctx.once("match.link", lambda: _link_of(ctx)) if ctx.worded else None
    if link is not None:
        yield from _figures(ctx, link)


def _figures(ctx: Context, link: _Link) -> Iterator[Reckoned]:
    idle, alternator, amps = ctx.solved.running[0], ctx.design.vehicle.alternator, link.amps
    yield Reckoned(
        "match.direct_link_a",
        "A plain link would draw",
        amps,
        "A",
        words=lambda: Words(
            formula="(V_alt − V_ocv) / (R_link + R_batt)",
            working=f"({idle.source.regulated_v:.2f} V − {link.battery_v:.2f} V) / ({link.link_ohm * 1000:.1f} mΩ + "
            f"{link.battery_ohm * 1000:.1f} mΩ) = {amps:.0f} A",
            inputs=(
                ctx.facts.idle,
                ctx.facts.sag,
                Input("Runs, cold", link.link_ohm * 1000, "mΩ", "computed" if link.laid else "default", ""),
            ),
            source="Ohm's law, auxiliary battery at 20 %, first moment",
            changes="only resistance limits it: a thinner link, or a charger",
        ),
    )
    loaded = _percent(ctx, amps)
    yield Reckoned(
        "match.direct_link_percent",
        "Alternator under a plain link, hot idle",
        loaded,
        "%",
        words=lambda: Words(
            formula="(I_link + loads) / I_rated",
            working=f"({amps:.0f} A + {_loads_a(ctx):.0f} A) / {alternator.rated_a:.0f} A = {loaded:.0f} %",
            inputs=(computed("match.direct_link_a"),),
            source="definition",
        ),
    )
    yield Reckoned(
        "match.managed_link_a",
        "A managed link, average",
        link.held_a * link.duty,
        "A",
        words=lambda: Words(
            formula="I_held · duty, duty = budget / I_held; lead takes no more than its charge limit after the first rush",
            working=f"{link.held_a:.0f} A · {percent(link.duty)} on = {link.held_a * link.duty:.0f} A",
            inputs=(computed("match.direct_link_a"), ctx.facts.charge_limit),
            source="timed rests that keep the alternator within its budget on average",
            changes="a larger alternator, or a charger",
        ),
    )


def contrast_link(ctx: Context) -> LinkContrast | None:
    """What a plain link over the same cables would draw at hot idle, and what timed rests would make of it."""
    link = ctx.once("match.link", lambda: _link_of(ctx))
    if link is None:
        return None
    return LinkContrast(
        link_a=link.amps,
        alternator_percent=_percent(ctx, link.amps),
        duty=link.duty,
        managed_a=link.held_a * link.duty,
        loss_w=link.amps**2 * link.wire_ohm,
        laid=link.laid,
        risks=spoken(ctx.design, tuple(_risks(ctx, link)))
        or ("its current follows resistance and temperature, not a setting",),
    )


def _risks(ctx: Context, link: _Link) -> Iterator[str]:
    left_a = ctx.solved.running[0].left_a
    if left_a is not None and link.held_a > left_a:
        yield (
            f"while it is on it takes {link.held_a:.0f} A where hot idle leaves {left_a:.0f} A: the alternator runs at its limit, "
            "hottest at its slowest fan"
        )
    if ctx.design.auxiliary.chemistry == "lfp":
        yield "a lithium pack that disconnects under charge leaves the alternator a voltage surge"
    absorption_v, _ = charge_volts(ctx.design.auxiliary)
    most_v = max(item.source.regulated_v for item in ctx.solved.healthy)
    if most_v < absorption_v - SHORT_V * ctx.facts.scale:
        yield f"the battery wants {absorption_v:.2f} V and sees at most {most_v:.2f} V: it is never filled"
    if ctx.solved.running_by_key("low") is not None:
        yield "in a low phase current flows back out of the auxiliary battery"
