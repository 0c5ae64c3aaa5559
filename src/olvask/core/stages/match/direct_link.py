"""The other ways: a plain link for contrast, and a managed link with timed rests as a school of its own."""

from __future__ import annotations

from olvask.core.circuit.solve import Solved, run_state
from olvask.core.findings.assessment import LinkContrast
from olvask.core.findings.collector import Ledger
from olvask.core.findings.figure import Input
from olvask.core.model import Design
from olvask.core.physics.battery import internal_ohm, open_circuit_v

LINK_CHARGE = 0.2  # state of charge at which a link is compared
LINK_RUN_OHM = 0.010  # a run not laid yet, both ways


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


def contrast_link(design: Design, solved: Solved, ledger: Ledger, budget_a: float) -> LinkContrast | None:
    """What a plain link over the same cables would draw at hot idle, and what timed rests would make of it.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where figures go.
        budget_a: alternator budget at the start side, by the job's school [A].

    `None` where the batteries differ in nominal voltage: no link can join them.
    """
    auxiliary, idle = design.auxiliary, solved.running[0]
    if auxiliary.nominal_v != design.vehicle.system_v:
        return None
    lug = design.choices.lug_mohm
    runs_ohm = run_state(design.supply, 0.0, lug).loop_ohm + run_state(design.delivery, 0.0, lug).loop_ohm
    laid = runs_ohm > 0
    wire_ohm = runs_ohm if laid else LINK_RUN_OHM
    link_ohm = wire_ohm + idle.source.sag_ohm
    amps, battery_v, battery_ohm = link_current_a(design, solved, wire_ohm)
    ledger.figure(
        "match.direct_link_a",
        "A plain link would draw",
        amps,
        "A",
        formula="(V_alt − V_ocv) / (R_link + R_batt)",
        working=f"({idle.source.regulated_v:.2f} V − {battery_v:.2f} V) / ({link_ohm * 1000:.1f} mΩ + {battery_ohm * 1000:.1f} mΩ) = {amps:.0f} A",
        inputs=[
            solved.facts.idle,
            solved.facts.sag,
            Input("Runs, cold", link_ohm * 1000, "mΩ", "computed" if laid else "default", ""),
        ],
        source="Ohm's law, auxiliary battery at 20 %, first moment",
        changes="only resistance limits it: a thinner link, or a charger",
    )
    rated_a = design.vehicle.alternator.rated_a
    left_a = idle.source.available_a
    percent = 100 * (amps + design.vehicle.alternator.loads_idle_a) / rated_a
    ledger.figure(
        "match.direct_link_percent",
        "Alternator under a plain link, hot idle",
        percent,
        "%",
        formula="(I_link + loads) / I_rated",
        working=f"({amps:.0f} A + {design.vehicle.alternator.loads_idle_a:.0f} A) / {rated_a:.0f} A = {percent:.0f} %",
        inputs=["match.direct_link_a"],
        source="definition",
    )
    duty = 1.0 if amps <= budget_a else budget_a / amps
    average_a = amps * duty
    ledger.figure(
        "match.managed_link_a",
        "A managed link, average",
        average_a,
        "A",
        formula="I_link · duty, duty = budget / I_link",
        working=f"{amps:.0f} A · {duty:.0%} on = {average_a:.0f} A",
        inputs=["match.direct_link_a"],
        source="timed rests that keep the alternator within its budget on average",
        changes="a larger alternator, or a charger",
    )
    risks = []
    if left_a is not None and amps > left_a:
        risks.append(
            f"while it is on it takes {amps:.0f} A where hot idle leaves {left_a:.0f} A: the alternator runs at its limit, hottest at its slowest fan"
        )
    if auxiliary.chemistry == "lfp":
        risks.append("a lithium pack that disconnects under charge leaves the alternator a voltage surge")
    absorption_v = float(solved.facts.absorption.value)
    if idle.source.regulated_v - amps * link_ohm < absorption_v - 0.2:
        risks.append(
            f"the battery wants {absorption_v:.2f} V and sees at most {max(item.source.regulated_v for item in solved.healthy):.2f} V less the drop: it is never filled"
        )
    if solved.running_by_key("low") is not None:
        risks.append("in a low phase current flows back out of the auxiliary battery")
    if not risks:
        risks.append("its current follows resistance and temperature, not a setting")
    return LinkContrast(
        link_a=amps,
        alternator_percent=percent,
        duty=duty,
        managed_a=average_a,
        loss_w=amps**2 * (link_ohm - idle.source.sag_ohm),
        laid=laid,
        risks=tuple(risks),
    )
