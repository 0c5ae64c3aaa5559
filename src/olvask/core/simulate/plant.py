"""The electrical and thermal side of a trip: the equations, free of any time stepping.

The state is what changes slowly: charge of both batteries, how warm each run is, the unit's temperature. Everything
quick (volts, amperes) follows from it at once: the start side as `physics.alternator` has it, the supply run at its
resistance of the moment, the unit a constant power, the auxiliary battery behind a charge resistance that grows as it
fills.

- `Profile`: the stages a unit charges by.
- `Moment`: what holds while nothing but the state changes.
- `Flow`: volts and amperes that follow.
- `Plant`: a design's vehicle: `flow` and `rates`.
"""

from __future__ import annotations

import math
from copy import copy
from dataclasses import dataclass, replace
from typing import NamedTuple

from olvask.core.catalogue import chemistries, conductor
from olvask.core.circuit.ampacity import cable_ambient_c, surface_resistance
from olvask.core.circuit.runs import RunState, run_state
from olvask.core.circuit.solve import Solved
from olvask.core.model import Cable, Design, Run
from olvask.core.physics.alternator import Source, draw
from olvask.core.physics.battery import cold_acceptance_factor, cold_resistance_factor, internal_ohm, rested_volts
from olvask.core.physics.conductors import ALPHA_CU_PER_K
from olvask.core.physics.dc_path import Collapse
from olvask.core.physics.heat import time_constant_s
from olvask.core.simulate.programme import WARM_DAY_C, Stretch
from olvask.core.stages.match.sources import HARVEST

SURFACE_TAU_S = 900.0  # surface charge of a lead battery leaks away with this time constant
CRANK_C = 4.0  # cranking amperes per ampere-hour
START_ACCEPT_C = 0.25  # what a start battery takes per ampere-hour, before its taper
START_TAPER = 0.8
FREE_A = 1.0  # spare, where nothing is drawn or the soft start still holds it back
UNIT_RISE_K = 25.0  # a unit above the air around it at full output
UNIT_J_PER_KGK = 900.0  # aluminium
UNIT_KG = 1.5  # where the shelf does not say
RUN_TAU_S = 300.0  # of a run without a cable


@dataclass(frozen=True, slots=True)
class Profile:
    """Stages of a charge: volts at the unit's output, and when one gives way to the next."""

    absorption_v: float
    float_v: float
    rebulk_v: float
    absorption_s: float
    adaptive: bool
    tail_a: float

    def absorption_for(self, bulk_s: float) -> float:
        """How long absorption lasts after `bulk_s` of bulk [s]; an adaptive one halves the bulk, ten minutes at least."""
        return min(self.absorption_s, max(600.0, bulk_s / 2)) if self.adaptive else self.absorption_s


def profile_of(design: Design, solved: Solved) -> Profile:
    """The profile the unit is set to: the battery's own, or another chemistry's off the table."""
    battery = design.auxiliary
    name = design.charge.profile or battery.chemistry
    own = name == battery.chemistry
    chemistry, scale = chemistries()[name], battery.nominal_v / 12
    return Profile(
        absorption_v=float(solved.facts.absorption.value) if own else chemistry.absorption_v * scale,
        float_v=battery.float_v if own and battery.float_v is not None else chemistry.float_v * scale,
        rebulk_v=chemistry.rebulk_v * scale,
        absorption_s=chemistry.absorption_h * 3600,
        adaptive=name != "lfp",
        tail_a=chemistry.tail_share * battery.capacity_ah,
    )


class State(NamedTuple):
    """What changes slowly: charges 0 to 1, heating of the runs (1 is steady at full current), unit over its air [K]."""

    start_charge: float
    auxiliary_charge: float
    supply_heating: float = 0.0
    delivery_heating: float = 0.0
    unit_rise_k: float = 0.0


class Air(NamedTuple):
    """What the air of a stretch does: factors on both batteries, shift of every temperature, the unit's derating."""

    ambient_c: float
    shift_k: float
    start_ohm: float
    auxiliary_ohm: float
    start_takes: float
    auxiliary_takes: float
    able_a: float


class Moment(NamedTuple):
    """What holds for a while: the stretch, its air, surface volts left, and what the unit is doing."""

    stretch: Stretch
    running: bool
    air: Air
    surface_v: float
    drawing: bool
    ramp: float
    target_v: float


class Flow(NamedTuple):
    """Volts and amperes of a moment. Zero volts at the terminals while drawing means that the run collapsed."""

    volts: float
    input_a: float
    output_a: float
    post_v: float
    auxiliary_v: float
    start_a: float
    auxiliary_a: float
    spare_a: (
        float  # what volts or battery would let through beyond what the unit can give; below zero they hold it back
    )
    collapsed: bool

    @property
    def by_volts(self) -> bool:
        """Whether the current is held back by volts or battery rather than by the unit."""
        return self.spare_a < -1e-9


class Heating:
    """A run between cold and steadily warm at full current: resistance, hottest conductor, time constant."""

    def __init__(self, run: Run, cold: RunState, warm: RunState) -> None:
        """Take the two ends; resistances in between follow the heating in proportion."""
        self.cold_ohm, self.more_ohm = cold.loop_ohm, warm.loop_ohm - cold.loop_ohm
        self.full_a = max(warm.current_a, 1e-9)
        self.coolest_c, self.rise_k, self.tau_s = WARM_DAY_C, 0.0, RUN_TAU_S
        weight = held = 0.0
        for piece, state in zip(run.pieces, warm.pieces, strict=False):
            if not isinstance(piece, Cable) or state.temperature_c is None:
                continue
            air_c = cable_ambient_c(piece)
            rise_k = state.temperature_c - air_c
            if rise_k >= self.rise_k:
                self.coolest_c, self.rise_k = air_c, rise_k
            area_mm2 = conductor(piece.size).area_mm2
            weight += state.out_ohm
            held += state.out_ohm * time_constant_s(area_mm2, rise_k, air_c, surface_resistance(piece))
        if weight > 0:
            self.tau_s = held / weight

    def ohm(self, heating: float, shift_k: float) -> float:
        """Loop resistance [Ω] at a heating, the air `shift_k` away from that of the design."""
        return (self.cold_ohm + heating * self.more_ohm) * (1 + ALPHA_CU_PER_K * shift_k)

    def celsius(self, heating: float, shift_k: float) -> float:
        """Hottest conductor [°C]."""
        return self.coolest_c + shift_k + heating * self.rise_k


class Variation(NamedTuple):
    """How one vehicle differs from the design: volts of its battery and regulator, its battery's age, its joints."""

    rest_v: float = 0.0
    alternator_v: float = 0.0
    start_ohm: float = 1.0
    start_ah: float = 1.0
    joint_ohm: float = 0.0


class Plant:
    """A design's vehicle and what follows from its state."""

    def __init__(self, design: Design, solved: Solved) -> None:
        """Read the constants off a solved design."""
        start, auxiliary, unit = design.vehicle.start_battery, design.auxiliary, design.charger
        system_v = design.vehicle.system_v
        facts = solved.facts
        self.scale = system_v / 12
        self.start_chemistry, self.auxiliary_chemistry = start.chemistry, auxiliary.chemistry
        self.start_ah, self.auxiliary_ah = start.capacity_ah, auxiliary.capacity_ah
        self.start_ocv = rested_volts(start.chemistry, system_v)
        self.auxiliary_ocv = rested_volts(auxiliary.chemistry, auxiliary.nominal_v)
        self.start_ohm = internal_ohm(start.chemistry, start.capacity_ah, system_v)
        self.auxiliary_ohm = internal_ohm(auxiliary.chemistry, auxiliary.capacity_ah, auxiliary.nominal_v)
        chemistry = chemistries()[auxiliary.chemistry]
        self.efficiency, self.taper = chemistry.charge_efficiency, chemistry.taper_from
        self.start_efficiency = chemistries()[start.chemistry].charge_efficiency
        self.coldest_c = chemistry.charge_min_c
        self.refuses_cold = auxiliary.low_temperature_cut_off
        self.limit_a = float(facts.charge_limit.value)
        self.full_v = float(facts.absorption.value)  # at these volts it takes what limit and taper say
        self.drain_a = float(facts.standing_drain.value) / 1000
        self.surface_v = max(0.0, float(facts.after_stop.value) - float(facts.rest.value))
        self.lifted_v = float(facts.lifted.value) if facts.lifted is not None else 13.8 * self.scale
        self.sources: dict[str, Source] = {state.key: state.source for state in solved.running}
        self.unit_efficiency = unit.efficiency if unit is not None else 1.0
        self.unit_air_c = float(facts.unit_ambient.value)
        output, lug = solved.output, design.choices.lug_mohm
        self.output_a = output.current_a if output is not None else 0.0
        self.rated_ambient_c = unit.rated_ambient_c if unit is not None else 40.0
        self.derating_per_k = unit.derating_percent_per_k / 100 if unit is not None else 0.0
        self.set_a = (
            design.units * min(design.current_limit_a or unit.output_a, unit.output_a) if unit is not None else 0.0
        )
        self.rated_a = design.units * unit.output_a if unit is not None else 0.0
        idle = solved.running[0]
        warm = idle.run if idle.drawn is not None else run_state(design.supply, self.output_a, lug)
        self.supply = Heating(design.supply, run_state(design.supply, 0.0, lug), warm)
        self.branch_v = warm.branch_v
        self.branch_a = warm.pieces[0].extra_a if warm.pieces else 0.0
        still = run_state(design.delivery, 0.0, lug, supply=False)
        self.delivery = Heating(design.delivery, still, output.run if output is not None else still)
        full_w = output.power_in_w * (1 - self.unit_efficiency) if output is not None else 0.0
        self.full_loss_w = max(full_w, 1e-9)
        kilograms = design.units * ((unit.weight_kg if unit is not None else None) or UNIT_KG)
        self.unit_tau_s = min(7200.0, kilograms * UNIT_J_PER_KGK * UNIT_RISE_K / max(full_w, 5.0))
        self.taper_head_v = self.full_v - self.auxiliary_ocv(self.taper)
        self.rest_shift_v = 0.0
        self._airs: dict[float, Air] = {}

    def varied(self, variation: Variation) -> Plant:
        """Another vehicle of the same design.

        Args:
            variation: how it differs.
        """
        other = copy(self)
        other._airs = {}
        other.rest_shift_v = variation.rest_v
        other.start_ohm = self.start_ohm * variation.start_ohm
        other.start_ah = self.start_ah * variation.start_ah
        other.supply = copy(self.supply)
        other.supply.cold_ohm += variation.joint_ohm
        other.sources = {
            key: Source(
                source.regulated_v + variation.alternator_v,
                source.sag_ohm,
                source.available_a,
                source.battery_v + variation.rest_v,
                source.battery_ohm * variation.start_ohm,
            )
            for key, source in self.sources.items()
        }
        return other

    def air(self, ambient_c: float) -> Air:
        """What that air [°C] does."""
        known = self._airs.get(ambient_c)
        if known is None:
            shift_k = ambient_c - WARM_DAY_C
            refused = self.refuses_cold and ambient_c < self.coldest_c
            over_k = max(0.0, self.unit_air_c + shift_k - self.rated_ambient_c)
            derated_a = min(self.set_a, self.rated_a * max(0.0, 1 - self.derating_per_k * over_k))
            known = self._airs[ambient_c] = Air(
                ambient_c,
                shift_k,
                cold_resistance_factor(self.start_chemistry, ambient_c),
                cold_resistance_factor(self.auxiliary_chemistry, ambient_c),
                cold_acceptance_factor(self.start_chemistry, ambient_c),
                0.0 if refused else cold_acceptance_factor(self.auxiliary_chemistry, ambient_c),
                self.output_a if shift_k == 0 else derated_a,
            )
        return known

    def source(self, moment: Moment, charge: float) -> Source:
        """The start side of a moment; a panel holds it up only while the unit draws nothing."""
        stretch = moment.stretch
        if moment.running:
            return self.sources.get(stretch.engine) or self.sources["cruise"]
        ohm = self.start_ohm * moment.air.start_ohm
        open_v = self.start_ocv(charge) + self.rest_shift_v
        if stretch.engine == "crank":
            open_v -= CRANK_C * self.start_ah * ohm
        elif stretch.sun_start_w > 0 and moment.drawing:
            open_v += moment.surface_v + stretch.sun_start_w * HARVEST / self.lifted_v * ohm
        elif stretch.sun_start_w > 0:
            open_v = max(open_v + moment.surface_v, self.lifted_v)
        else:
            open_v += moment.surface_v
        return Source(open_v, ohm, None, open_v, ohm)

    def charge_ohm(self, charge: float, air: Air) -> tuple[float, float]:
        """What stands against charging [Ω], and the most the battery takes [A].

        Above the taper the resistance is such that at its own absorption volts it takes its tapered limit; below, it
        grows to that from the internal resistance.
        """
        inner = self.auxiliary_ohm * air.auxiliary_ohm
        most_a = self.limit_a * air.auxiliary_takes
        if most_a <= 0:
            return inner, 0.0
        if charge >= self.taper:
            most_a *= max(0.0, 1 - charge) / (1 - self.taper)
            head_v = self.full_v - self.auxiliary_ocv(charge)
            return max(inner, head_v / most_a if most_a > 1e-6 else 1e3), most_a
        full = max(inner, self.taper_head_v / most_a)
        share = charge / self.taper
        return inner + (full - inner) * share * share, most_a

    def flow(self, state: State, moment: Moment) -> Flow:
        """Volts and amperes of a moment."""
        stretch, running, air, _, drawing, ramp, target_v = moment
        sun_a = stretch.sun_auxiliary_w * HARVEST / self.full_v if stretch.sun_auxiliary_w else 0.0
        rest_v = self.auxiliary_ocv(state.auxiliary_charge)
        output_a, let_a, delivery_ohm = 0.0, FREE_A, 0.0
        net_a = sun_a - stretch.load_a
        if drawing and stretch.plugged:
            ohm, most_a = self.charge_ohm(state.auxiliary_charge, air)
            delivery_ohm = self.delivery.ohm(state.delivery_heating, air.shift_k)
            able_a = air.able_a * ramp
            held_a = (target_v - rest_v - net_a * ohm) / (ohm + delivery_ohm)
            taken_a = min(held_a, most_a - net_a)
            output_a = max(0.0, min(able_a, taken_a))
            if ramp >= 1:
                let_a = taken_a - able_a
            net_a = min(net_a + output_a, most_a)
        elif net_a > 0:
            ohm, most_a = self.charge_ohm(state.auxiliary_charge, air)
            net_a = min(net_a, most_a)
        auxiliary_v = rest_v + net_a * (ohm if net_a > 0 else self.auxiliary_ohm * air.auxiliary_ohm)
        source = self.source(moment, state.start_charge)
        extra_a, extra_v = (self.branch_a, self.branch_v) if running else (0.0, 0.0)
        volts, input_a, collapsed = source.regulated_v - extra_v - source.sag_ohm * extra_a, 0.0, False
        post_v = source.regulated_v - source.sag_ohm * (extra_a if running else self.drain_a)
        if not stretch.plugged:
            volts = 0.0
        elif output_a > 0:
            power_w = (auxiliary_v + output_a * delivery_ohm) * output_a / self.unit_efficiency
            try:
                supply_ohm = self.supply.ohm(state.supply_heating, air.shift_k)
                drawn = draw(source, supply_ohm, power_w, extra_a, extra_v)
                if drawn.alternator_limited:
                    behind = self._behind(source, state.start_charge, air)
                    drawn = draw(behind, supply_ohm, power_w, extra_a, extra_v)
                volts, input_a, post_v = drawn.terminal_v, drawn.current_a, drawn.post_v
            except Collapse:
                volts, collapsed = 0.0, True
        start_a = self._start_a(state, moment, source, input_a)
        return Flow(volts, input_a, output_a, post_v, auxiliary_v, start_a, net_a, let_a, collapsed)

    def _behind(self, source: Source, charge: float, air: Air) -> Source:
        """An alternator at its limit, with the start battery behind it as it stands by now."""
        battery_v = self.start_ocv(charge) + self.rest_shift_v
        return replace(source, battery_v=battery_v, battery_ohm=source.battery_ohm * air.start_ohm)

    def _start_a(self, state: State, moment: Moment, source: Source, input_a: float) -> float:
        """What flows into the start battery [A]; negative out of it."""
        stretch = moment.stretch
        takes_a = START_ACCEPT_C * self.start_ah * moment.air.start_takes
        if state.start_charge > START_TAPER:
            takes_a *= (1 - state.start_charge) / (1 - START_TAPER)
        if moment.running:
            left_a = math.inf if source.available_a is None else source.available_a - input_a - self.branch_a
            return min(left_a, takes_a)
        crank_a = CRANK_C * self.start_ah if stretch.engine == "crank" else 0.0
        sun_a = stretch.sun_start_w * HARVEST / self.lifted_v
        return min(sun_a, takes_a + input_a) - input_a - self.drain_a - crank_a

    def rates(self, state: State, flow: Flow) -> State:
        """How fast the state changes [1/s, K/s].

        Args:
            state: the state.
            flow: volts and amperes in it.
        """
        start_kept = self.start_efficiency if flow.start_a > 0 else 1.0
        kept = self.efficiency if flow.auxiliary_a > 0 else 1.0
        start = flow.start_a * start_kept / (3600 * self.start_ah)
        auxiliary = flow.auxiliary_a * kept / (3600 * self.auxiliary_ah)
        if (state.start_charge <= 0 and start < 0) or (state.start_charge >= 1 and start > 0):
            start = 0.0
        if (state.auxiliary_charge <= 0 and auxiliary < 0) or (state.auxiliary_charge >= 1 and auxiliary > 0):
            auxiliary = 0.0
        supply = ((flow.input_a / self.supply.full_a) ** 2 - state.supply_heating) / self.supply.tau_s
        delivery = ((flow.output_a / self.delivery.full_a) ** 2 - state.delivery_heating) / self.delivery.tau_s
        loss_w = flow.volts * flow.input_a * (1 - self.unit_efficiency)
        unit = (UNIT_RISE_K * loss_w / self.full_loss_w - state.unit_rise_k) / self.unit_tau_s
        return State(start, auxiliary, supply, delivery, unit)
