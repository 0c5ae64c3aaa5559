"""How far a job is: what of its work is done, stage by stage, and what comes next.

- `Count`: done of so many, and what is wrong among them.
- `HowFar`: keyed lines, steps, tests, and the next action.
- `how_far`: of one job.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from pydantic import Field

from olvask.core.analyses.signing import BAD
from olvask.core.assess import Assessment
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import STAGES, Stage
from olvask.core.findings.listed import counted
from olvask.core.findings.said import Said
from olvask.core.stages.build.keying import Keying, keying_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.progress import Left, StepState, left_of
from olvask.core.stages.prove.meter import METER, Accuracy
from olvask.core.stages.prove.noted import proof_of, readings_noted, readings_of
from olvask.core.stages.prove.report import Proof, Row

NOTHING_BEGUN = "Build it, prove it, hand it over"
NOTHING_READ = "Prove it: nothing has been read yet"
NOTHING_SINCE = "Prove it again: nothing has been read since"  # it was mended, or came back


@dataclass(frozen=True, slots=True, kw_only=True)
class Count:
    """How much of a stage's work is done.

    Attributes:
        done: what is settled; steps that were skipped with a reason among them.
        of: all there is to do.
        wrong: what is not as designed.
        doubtful: what is to be read again, or asks for the meter first.
    """

    done: int = 0
    of: int = 0
    wrong: int = 0
    doubtful: int = 0


class HowFar(Said):
    """What of a job's work is done, and what comes next; nothing of steps or tests before anything was noted at them."""

    settings: Count = Field(description="lines keyed, of the unit and of whatever else has a menu")
    build: Count = Field(description="steps of the procedure; none before one was begun")
    prove: Count = Field(description="tests a job is signed off by; none before anything was read")
    next_stage: Stage
    next_action: str


def how_far(
    ctx: Context, found: Assessment, states: Sequence[StepState] = (), meters: Mapping[str, Accuracy] = METER
) -> HowFar:
    """How far a job is.

    Args:
        ctx: the design solved.
        found: its assessment; remedies are not asked for.
        states: what was noted at its steps and tests.
        meters: accuracy of the workshop's own meters by unit.

    A stop comes first, wherever it is. Of a work not begun then what is open or to be seen to, stage by stage, and the
    lines to key. Once it is begun whoever works has seen the cautions: a wrong reading comes first, then what has to be
    chosen before it can be finished, the first open step, lines and tests left.
    """
    left = left_of(procedure_of(ctx).procedure, states) if states else None
    proof = proof_of(ctx, states, meters) if readings_of(states) else None
    begun = left if left is not None and left.begun else None
    keying = keying_of(ctx, states)
    unproven = NOTHING_SINCE if readings_noted(states) else NOTHING_READ
    stage, action = _next(ctx, found, keying, begun, proof or unproven)
    return HowFar(
        settings=Count(done=sum(item.lines - item.left for item in keying), of=sum(item.lines for item in keying)),
        build=Count() if begun is None else Count(done=begun.total - len(_open(begun)), of=begun.total),
        prove=Count() if proof is None else _tests(proof),
        next_stage=stage,
        next_action=action,
    )


def _open(left: Left) -> list[str]:
    """Steps nobody ticked or skipped."""
    return [f"Step {step.number} of {left.total}: {step.text}" for step in left.steps if not step.skipped]


def _waiting(proof: Proof) -> list[Row]:
    """Tests a job is signed off by that nobody did, the one the proof asks for next before the others."""
    rows = [row for row in proof.rows if row.test.fewest and row.verdict == "open"]
    return sorted(rows, key=lambda row: row.test.key != proof.next)


def _tests(proof: Proof) -> Count:
    fewest = sum(bool(row.test.fewest) for row in proof.rows)
    return Count(
        done=fewest - len(_waiting(proof)),
        of=fewest,
        wrong=sum(row.verdict == "wrong" for row in proof.rows),
        doubtful=sum(row.verdict in ("doubtful", "query") for row in proof.rows),
    )


def _next(
    ctx: Context, found: Assessment, keying: Sequence[Keying], left: Left | None, proved: Proof | str
) -> tuple[Stage, str]:
    """What comes next; `proved` is the proof, or what to say of a vehicle that nothing counts of."""
    proof = None if isinstance(proved, str) else proved
    begun = left is not None or proof is not None
    if found.stops:
        return found.stops[0].stage, found.stops[0].title
    bad = sorted(
        (row for row in (proof.rows if proof else ()) if row.verdict in BAD), key=lambda row: BAD.index(row.verdict)
    )
    if bad:
        return "prove", f"{bad[0].test.text}: {bad[0].text}"
    if not begun or ctx.design.unfinished:
        for stage in STAGES:
            for missing in found.stages[stage].missing:
                return stage, f"Still open: {missing}"
            for item in found.findings:
                if item.level == "caution" and item.stage == stage and not begun:
                    return stage, item.title
    if left is not None and _open(left):
        return "build", _open(left)[0]
    unkeyed = next((item for item in keying if item.left), None)
    if unkeyed is not None:
        return "settings", f"Key {counted(unkeyed.left, 'line')} into {unkeyed.name}"
    if not begun:
        return "build", NOTHING_BEGUN
    if isinstance(proved, str):
        return "prove", proved
    waiting = _waiting(proved)
    if waiting:
        return "prove", f"Test: {waiting[0].test.text}"
    return "handover", "Sign it off and hand it over"
