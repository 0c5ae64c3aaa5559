"""The electrical and thermal side of a trip: the equations, free of any time stepping.

The state is what changes slowly: charge of both batteries, how warm each run is, the unit's temperature. Everything
quick (volts, amperes) follows from it at once: the start side as `physics.alternator` has it, the supply run at its
resistance of the moment, the unit a constant power, the auxiliary battery behind a charge resistance that grows as it
fills.

- `Plant`: a design's vehicle: `flow` and `rates`.
"""

from __future__ import annotations

import math
from copy import copy
from dataclasses import replace
from typing import Final, Literal

from mypy_extensions import mypyc_attr

from olvask.core.catalogue import chemistries
from olvask.core.circuit.facts import charge_volts, least_charging_c
from olvask.core.circuit.runs import run_state
from olvask.core.circuit.solve import Solved, felt_c
from olvask.core.model import RUNS, Design, Joint
from olvask.core.physics.alternator import Source, draw, short_of
from olvask.core.physics.charging import compensated_v
from olvask.core.physics.dc_path import Collapse
from olvask.core.simulate.batteries import EMPTY, START_ACCEPT_C, Cell, Cold, StartSide, cranks_a
from olvask.core.simulate.beside import Beside, Bounds
from olvask.core.simulate.heating import Heating
from olvask.core.simulate.profile import acting_stages, profile_of
from olvask.core.simulate.programme import WARM_DAY_C, Stretch
from olvask.core.simulate.states import Air, Flow, Moment, State, Variation
from olvask.core.stages.match.sources import HARVEST, combined, maintainer_of

BATTERY_TAU_S: Final = (
    10800.0  # a battery follows the air in hours: some 900 J/(kg·K), 15 kg, 1.3 W/K; our own estimate
)
STILL: Final = "the run cannot carry it until the unit lets go"
FREE_A: Final = 1.0  # spare, where nothing is drawn or the soft start still holds it back
UNIT_RISE_K: Final = 25.0  # a unit above the air around it at full output
UNIT_J_PER_KGK: Final = 900.0  # aluminium
UNLIMITED: Final = math.inf  # current that nothing limits
UNIT_KG: Final = 1.5  # where the shelf does not say


@mypyc_attr(serializable=True, allow_interpreted_subclasses=True)  # copied by `copy`
class Plant:
    """A design's vehicle and what follows from its state."""

    def __init__(self, design: Design, solved: Solved) -> None:
        """Read the constants off a solved design."""
        start, auxiliary, unit = design.vehicle.start_battery, design.auxiliary, design.charger
        system_v, facts = design.vehicle.system_v, solved.facts
        self.scale = system_v / 12
        full_v = chemistries()[start.chemistry].absorption_v * self.scale
        maintainer = maintainer_of(design)
        self.start = StartSide(
            Cell(start.chemistry, start.capacity_ah, system_v, START_ACCEPT_C * start.capacity_ah, full_v),
            drain_a=float(facts.standing_drain.value) / 1000,
            ceiling_v=float(facts.lifted.value) if facts.lifted is not None else 13.8 * self.scale,
            maintainer_a=maintainer.current_a,
            cranks_a=cranks_a(design.vehicle),
        )
        self.upkeep_a = maintainer.taken_a
        self.beside = Beside(design)
        self.full_v = charge_volts(auxiliary)[0]  # at these volts it takes what limit and taper say
        self.auxiliary = Cell(
            auxiliary.chemistry,
            auxiliary.capacity_ah,
            auxiliary.nominal_v,
            float(facts.charge_limit.value),
            self.full_v,
        )
        self.coldest_c = least_charging_c(auxiliary)
        self.refuses_cold = auxiliary.low_temperature_cut_off
        self.surface_v = max(0.0, float(facts.after_stop.value) - float(facts.rest.value))
        self.sources: dict[str, Source] = {state.key: state.source for state in solved.running}
        alternator = design.vehicle.alternator
        self.vehicle_a = {
            "idle": alternator.loads_idle_a,
            "cruise": alternator.loads_cruise_a,
            "low": alternator.loads_cruise_a,
        }
        self.unit, self.units = unit, design.units
        self.second_input = self.beside.second_input
        self.unit_efficiency = unit.efficiency if unit is not None else 1.0
        self.unit_air_c = felt_c(design, facts)
        output, lug = solved.output, design.choices.lug_mohm
        self.output_a = output.current_a if output is not None else 0.0
        self.rated_ambient_c = unit.rated_ambient_c if unit is not None else 40.0
        self.derating_per_k = unit.derating_percent_per_k / 100 if unit is not None else 0.0
        self.rated_a = design.units * unit.output_a if unit is not None else 0.0
        idle = solved.running[0]
        warm = idle.run if idle.drawn is not None else run_state(design.supply, self.output_a, lug)
        self.supply = Heating(design.supply, run_state(design.supply, 0.0, lug), warm)
        self.branch_v, self.idle_branch_v = warm.branch_v, solved.idle_run.branch_v
        self.branch_a = warm.first_extra_a
        still = run_state(design.delivery, 0.0, lug, supply=False)
        self.delivery = Heating(design.delivery, still, output.run if output is not None else still)
        self.plug_run = _plug_run(design)
        full_w = output.power_in_w * (1 - self.unit_efficiency) if output is not None else 0.0
        self.full_loss_w = max(full_w, 1e-9)
        kilograms = design.units * ((unit.weight_kg if unit is not None else None) or UNIT_KG)
        self.unit_tau_s = min(7200.0, kilograms * UNIT_J_PER_KGK * UNIT_RISE_K / max(full_w, 5.0))
        self._airs: dict[float, Air] = {}
        stages = acting_stages(design, solved)
        self.profile = profile_of(design, solved, stages)
        self.mv_per_k = stages.compensation_mv_per_k or 0.0  # its sensor on the battery, where it compensates at all
        self.unit_bounds = Bounds(stages)

    def varied(self, variation: Variation) -> Plant:
        """Another vehicle of the same design.

        Args:
            variation: how it differs.
        """
        other = copy(self)
        cell = copy(self.start.cell)
        cell.inner_ohm *= variation.start_ohm
        cell.capacity_ah *= variation.start_ah
        cell.limit_a *= variation.start_ah
        other.start = replace(self.start, cell=cell, shift_v=variation.rest_v)
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

    def spoilt(self, supply_ohm: float, delivery_ohm: float, limit_share: float, drain_a: float) -> Plant:
        """The same vehicle with something wrong in it.

        Args:
            supply_ohm: too many in the supply run, both ways [Ω].
            delivery_ohm: too many in the delivery run [Ω].
            limit_share: of what the unit gives.
            drain_a: drawn besides while parked [A].
        """
        other = copy(self)
        other.supply, other.delivery = copy(self.supply), copy(self.delivery)
        other.supply.cold_ohm += supply_ohm
        other.delivery.cold_ohm += delivery_ohm
        other.output_a = self.output_a * limit_share
        other.start = replace(self.start, drain_a=self.start.drain_a + drain_a)
        other.sources = dict(self.sources)
        other._airs = {}
        return other

    def air(self, ambient_c: float) -> Air:
        """What that air [°C] does."""
        known = self._airs.get(ambient_c)
        if known is None:
            shift_k = ambient_c - WARM_DAY_C
            over_k = max(0.0, self.unit_air_c + shift_k - self.rated_ambient_c)
            able_a = min(self.output_a, self.rated_a * max(0.0, 1 - self.derating_per_k * over_k))
            known = self._airs[ambient_c] = Air(ambient_c, shift_k, able_a)
        return known

    def refused(self, state: State) -> bool:
        """Whether the pack's own cut-off refuses charge for the cold."""
        return self.refuses_cold and state.battery_c < self.coldest_c

    def flow(self, state: State, moment: Moment) -> Flow:
        """Volts and amperes of a moment."""
        stretch, air = moment.stretch, moment.air
        dead = not stretch.plugged and self.plug_run == "supply"
        out = self._auxiliary_side(state, moment, dead)
        supply_ohm = self.supply.ohm(state.supply_heating, air.shift_k)
        power_w = 0.0
        if out.alternator_a > 0:
            terminal_v = out.auxiliary_v + out.output_a * self.delivery.ohm(state.delivery_heating, air.shift_k)
            power_w = terminal_v * out.alternator_a / self.unit_efficiency
        cold = self.start.cell.cold(state.battery_c)
        if moment.running:
            volts, input_a, post_v, start_a, collapsed = self._running(state, moment, power_w, supply_ohm, cold)
        else:
            volts, input_a, post_v, start_a, collapsed = self._standing(state, moment, power_w, supply_ohm, cold)
        if collapsed:
            out = self._auxiliary_side(state, moment.let_go(), dead)
        return Flow(
            0.0 if dead else volts,
            input_a,
            out.output_a,
            post_v,
            out.auxiliary_v,
            start_a,
            out.auxiliary_a,
            out.spare_a,
            collapsed,
            out.sun_a,
            out.load_a,
            dead,
            out.refused,
            out.limited,
            out.held,
            moment.running and self._takes_all(moment, start_a, input_a),
        )

    def _source(self, engine: str) -> Source:
        """The start side as the engine runs; a phase that this vehicle does not have is as on the road."""
        return self.sources[engine] if engine in self.sources else self.sources["cruise"]

    def _takes_all(self, moment: Moment, start_a: float, input_a: float) -> bool:
        """Whether the start battery is charged with all that the alternator has left."""
        available_a = self._source(moment.stretch.engine).available_a
        return available_a is not None and start_a >= available_a - input_a - self.branch_a - 1e-9

    def _auxiliary_side(self, state: State, moment: Moment, dead: bool) -> _Auxiliary:
        """Amperes on the auxiliary side: what the unit gives, by which input, and what reaches the battery."""
        stretch, air, charge = moment.stretch, moment.air, state.auxiliary_charge
        refused = self.refused(state)
        beside_a = self.beside.driving_a(state.battery_c) if moment.running else 0.0
        if not moment.drawing and not stretch.sun_auxiliary_w and not stretch.load_a and not self.upkeep_a + beside_a:
            return _Auxiliary(0.0, 0.0, self.auxiliary.ocv(charge), 0.0, FREE_A, 0.0, 0.0, refused)
        cold = self.auxiliary.cold(state.battery_c)
        panel_a = stretch.sun_auxiliary_w * HARVEST / self.full_v if stretch.sun_auxiliary_w else 0.0
        sun_a = beside_a + self.beside.sun_a(panel_a, state.battery_c)
        load_a = stretch.load_a + (self._upkeep(state, moment) if self.upkeep_a and not moment.running else 0.0)
        rest_v = self.auxiliary.ocv(charge)
        inner_ohm = self.auxiliary.inner_ohm * cold.ohm
        ohm, most_a = self.auxiliary.against(charge, cold)
        if refused:
            most_a = 0.0
        allowed = self.unit_bounds.charges(state.battery_c)
        charging = moment.drawing and not dead and allowed
        joined = stretch.plugged or self.plug_run == "supply"
        alternator_a, through_sun_a = (air.able_a * moment.ramp if charging else 0.0), 0.0
        if self.second_input and allowed and (panel_a > 0 or moment.waits):
            alternator_a, through_sun_a = self._shared(alternator_a, panel_a, moment)
        able_a = (alternator_a + through_sun_a) if joined else 0.0
        output_a, spare_a, net_a, limited, held_v = 0.0, FREE_A, sun_a - load_a, False, 0.0
        if charging or able_a > 0:
            delivery_ohm = self.delivery.ohm(state.delivery_heating, air.shift_k)
            target_v = moment.target_v
            if self.mv_per_k and target_v:
                target_v = compensated_v(target_v, self.mv_per_k, state.battery_c)
            held_a = (target_v - rest_v - net_a * ohm) / (ohm + delivery_ohm)
            limited = most_a - net_a < held_a
            taken_a = min(held_a, most_a - net_a) if joined else 0.0
            output_a = max(0.0, min(able_a, taken_a))
            if limited and 0 < output_a < able_a:  # what it does not take lifts its volts to those the unit holds
                held_v = target_v - output_a * delivery_ohm
            if joined and (moment.ramp >= 1 or not moment.drawing):  # the soft start is the other input's
                spare_a = taken_a - able_a
        net_a += output_a
        if net_a > most_a:  # their own controllers hold back what the battery does not take
            sun_a -= min(sun_a, net_a - most_a)
            net_a = sun_a + output_a - load_a
        if net_a < 0 and charge <= EMPTY:  # an empty battery feeds nothing
            load_a += net_a
            net_a = 0.0
        auxiliary_v = held_v or rest_v + net_a * (ohm if net_a > 0 else inner_ohm)
        share = alternator_a / able_a if able_a > 0 else 0.0
        held = output_a < able_a
        return _Auxiliary(
            output_a, output_a * share, auxiliary_v, net_a, spare_a, sun_a, load_a, refused, limited, held
        )

    def _beside(self, stretch: Stretch) -> tuple[float, float]:
        """What the sun gives the start side with the engine off, and what draws there besides the unit [A]."""
        start = self.start
        cranking_a = start.cranks_a if stretch.engine == "crank" else 0.0
        return stretch.sun_start_w * HARVEST / start.ceiling_v, start.drain_a + cranking_a

    def _upkeep(self, state: State, moment: Moment) -> float:
        """What the maintainer takes from the auxiliary side [A]: it gives what drain and start battery take of it, the sun
        first; all it has while the unit draws there."""
        start, share = self.start, 1.0
        if not moment.drawing:
            sun_a, draw_a = self._beside(moment.stretch)
            feed_a, cold = start.maintainer_a + sun_a, start.cell.cold(state.battery_c)
            at = start.standing(state.start_charge, moment.surface_v, feed_a, draw_a, cold, 0.0, 0.0)
            share = min(1.0, max(0.0, at.start_a + draw_a - sun_a) / start.maintainer_a)
        return self.upkeep_a * share

    def _shared(self, alternator_a: float, panel_a: float, moment: Moment) -> tuple[float, float]:
        """What comes by either input of a unit that has two [A]."""
        unit = self.unit
        if unit is None or moment.waits == "solar":
            return alternator_a, 0.0
        if moment.waits == "alternator":  # of the one unit that has the panel
            return alternator_a * (self.units - 1) / self.units, min(panel_a, unit.output_a)
        found = combined(unit, alternator_a, panel_a, self.units)
        return found.alternator_a, found.solar_a

    def _running(
        self, state: State, moment: Moment, power_w: float, supply_ohm: float, cold: Cold
    ) -> tuple[float, float, float, float, bool]:
        """Unit's volts and amperes, posts, start battery with the engine running; and whether the run collapses."""
        engine, charge = moment.stretch.engine, state.start_charge
        source = self._source(engine)
        branch_v = self.branch_v if power_w > 0 else self.idle_branch_v
        volts = source.regulated_v - branch_v - source.sag_ohm * self.branch_a
        post_v = source.regulated_v - source.sag_ohm * self.branch_a
        input_a, collapsed = 0.0, False
        if power_w > 0 or short_of(source, self.branch_a):
            try:
                if moment.collapsed and power_w > 0:
                    raise Collapse(STILL)
                drawn = draw(source, supply_ohm, power_w, self.branch_a, branch_v)
                if drawn.alternator_limited:
                    if charge <= EMPTY:
                        raise Collapse("the start battery is empty, and the alternator gives no more")
                    battery_v = self.start.open_v(charge)
                    inner_ohm = self.start.cell.inner_ohm * cold.ohm
                    behind = Source(source.regulated_v, source.sag_ohm, source.available_a, battery_v, inner_ohm)
                    drawn = draw(behind, supply_ohm, power_w, self.branch_a, branch_v)
                volts, input_a, post_v = drawn.terminal_v, drawn.current_a, drawn.post_v
                if drawn.alternator_limited and source.available_a is not None:
                    start_a = source.available_a - input_a - self.branch_a
                    return volts, input_a, post_v, start_a, False
            except Collapse:
                volts, collapsed = 0.0, True
        left_a = UNLIMITED if source.available_a is None else max(0.0, source.available_a - input_a - self.branch_a)
        load_a = input_a + self.branch_a + self.vehicle_a[engine]
        return volts, input_a, post_v, self.start.running_a(charge, post_v, left_a, load_a, cold), collapsed

    def _standing(
        self, state: State, moment: Moment, power_w: float, supply_ohm: float, cold: Cold
    ) -> tuple[float, float, float, float, bool]:
        """The same with the engine off or cranking."""
        start = self.start
        sun_a, draw_a = self._beside(moment.stretch)
        feed_a = start.maintainer_a + sun_a
        try:
            if moment.collapsed and power_w > 0:
                raise Collapse(STILL)
            found = start.standing(state.start_charge, moment.surface_v, feed_a, draw_a, cold, power_w, supply_ohm)
        except Collapse:
            at = start.standing(state.start_charge, moment.surface_v, feed_a, draw_a, cold, 0.0, supply_ohm)
            return 0.0, 0.0, at.post_v, at.start_a, True
        return found.terminal_v, found.input_a, found.post_v, found.start_a, False

    def rates(self, state: State, flow: Flow, ambient_c: float) -> State:
        """How fast the state changes [1/s, K/s].

        Args:
            state: the state.
            flow: volts and amperes in it.
            ambient_c: air [°C].
        """
        supply_load, delivery_load = flow.input_a / self.supply.full_a, flow.output_a / self.delivery.full_a
        supply = (supply_load * supply_load - state.supply_heating) / self.supply.tau_s
        delivery = (delivery_load * delivery_load - state.delivery_heating) / self.delivery.tau_s
        loss_w = flow.volts * flow.input_a * (1 - self.unit_efficiency)
        return State(
            self.start.cell.hourly(state.start_charge, flow.start_a),
            self.auxiliary.hourly(state.auxiliary_charge, flow.auxiliary_a),
            supply,
            delivery,
            (UNIT_RISE_K * loss_w / self.full_loss_w - state.unit_rise_k) / self.unit_tau_s,
            (ambient_c - state.battery_c) / BATTERY_TAU_S,
        )


@mypyc_attr(acyclic=True)
class _Auxiliary:
    """The auxiliary side of a moment [A, V]."""

    def __init__(
        self,
        output_a: float,
        alternator_a: float,
        auxiliary_v: float,
        auxiliary_a: float,
        spare_a: float,
        sun_a: float,
        load_a: float,
        refused: bool,
        limited: bool = False,
        held: bool = False,
    ) -> None:
        """Take its parts."""
        self.output_a = output_a
        self.alternator_a = alternator_a
        self.auxiliary_v = auxiliary_v
        self.auxiliary_a = auxiliary_a
        self.spare_a = spare_a
        self.sun_a = sun_a
        self.load_a = load_a
        self.refused = refused
        self.limited = limited
        self.held = held


def _plug_run(design: Design) -> Literal["supply", "delivery"]:
    """The run a trailer's plug stands in; the supply run where none is drawn."""
    for run in reversed(RUNS):
        if any(isinstance(piece, Joint) and piece.form == "plug" for piece in design.run(run).pieces):
            return run
    return "supply"
