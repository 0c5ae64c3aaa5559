"""What a judge gets: the design, its circuit, the thresholds in force, the lowest voltage the unit works at."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, TypeVar

from olvask.core.circuit.facts import Facts
from olvask.core.circuit.runs import RunState, run_state
from olvask.core.circuit.solve import Solved, solve
from olvask.core.circuit.thresholds import Thresholds, hold_voltage, set_thresholds
from olvask.core.model import Design, RunName

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Context:
    """A design with everything that follows from it before anybody judges.

    Attributes:
        design: the design.
        solved: its circuit.
        thresholds: windows and rules in force.
        hold_v: lowest voltage the unit keeps working at, seconds though it be [V].
        stay_v: lowest voltage it stays at: the lowest surveyed running condition at full current [V].
        linger_v: lowest voltage it can stay at for long: its stop, or the guard where nothing else stops it [V].
        worded: whether figures are wanted with their words, and remedies; false where only verdicts are.
    """

    design: Design
    solved: Solved
    thresholds: Thresholds
    hold_v: float
    stay_v: float
    linger_v: float
    worded: bool = True
    _made: dict[str, Any] = field(default_factory=dict, init=False, repr=False, compare=False)

    @classmethod
    def of(cls, design: Design, solved: Solved | None = None, worded: bool = True) -> Context:
        """Work out what is missing.

        Args:
            design: the design.
            solved: its circuit, where at hand.
            worded: whether figures are wanted.
        """
        solved = solve(design) if solved is None else solved
        thresholds = set_thresholds(design, solved)
        hold_v = hold_voltage(design, thresholds)
        running = [state.drawn.terminal_v for state in solved.running if state.drawn is not None]
        stay_v = max(hold_v, min(running, default=hold_v))
        stops = "voltage" in design.activation.ways
        linger_v = max(hold_v, thresholds.stop_v) if stops else hold_v
        return cls(design, solved, thresholds, hold_v, stay_v, linger_v, worded)

    @property
    def facts(self) -> Facts:
        """Survey values with defaults filled in."""
        return self.solved.facts

    def once(self, key: str, make: Callable[[], T]) -> T:
        """What several judges of this context need, worked out by the first that asks.

        Args:
            key: its name.
            make: works it out.
        """
        if key not in self._made:
            self._made[key] = make()
        made: T = self._made[key]
        return made

    def continuous_a(self, run: RunName) -> float:
        """Continuous current [A] a run is sized and protected for: at the lowest voltage the unit stays at."""
        return self._current_a(run, self.stay_v)

    def lingering_a(self, run: RunName) -> float:
        """Current [A] at the lowest voltage the unit can linger at; a device below it opens."""
        return self._current_a(run, min(self.stay_v, self.linger_v))

    def _current_a(self, run: RunName, volts: float) -> float:
        """Current at a voltage [A]: the input of a constant-power unit is largest at its lowest voltage."""
        output = self.solved.output
        if output is None:
            return 0.0
        return output.power_in_w / volts if run == "supply" else output.current_a

    def state(self, run: RunName) -> RunState:
        """The run with its current at hot idle; the delivery run is the same in all conditions, and bare without a unit."""
        if run == "supply":
            return self.solved.running[0].run
        if self.solved.output is not None:
            return self.solved.output.run
        design = self.design
        return self.once(
            "circuit.bare_delivery", lambda: run_state(design.delivery, 0.0, design.choices.lug_mohm, supply=False)
        )
