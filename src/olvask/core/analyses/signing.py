"""Signing a job off: what has to be accepted one by one before, and what stands on paper after.

- `Acceptance`, `acceptances`: cautions still open, lines not keyed, tests not done or not right, steps left out.
- `Signature`: who signed what and when.
- `by_then`, `since_signed`: what had come in by then, and what has happened since that it does not vouch for.
- `CannotSign`, `check`: why it cannot be.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence

from pydantic import Field

from olvask.core.findings.finding import Finding
from olvask.core.findings.listed import counted
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.stages.build.keying import Keying
from olvask.core.stages.build.progress import Entry, Left, StepState
from olvask.core.stages.prove.noted import cures_noted, visits_noted
from olvask.core.stages.prove.report import Proof

BAD = ("wrong", "doubtful", "query")


class CannotSign(ValueError):
    """The job cannot be signed off as it stands; says why."""


class Acceptance(Said):
    """One thing that is not as it might be, to be accepted by whoever signs."""

    id: str
    title: str
    text: str


class Signature(Said):
    """A revision that was signed off.

    The checksum is of the job file of that revision, so that a paper can be held against what is stored.
    """

    number: int
    version: int
    by: str
    at: str = Field(description="when, ISO 8601 in UTC")
    meter: str
    accepted: tuple[Acceptance, ...]
    proven: bool = Field(description="whether every test it is signed off by was done and right")
    checksum: str = Field(description="SHA-256 of the job file of that revision, hexadecimal")


def by_then(entry: Entry, signature: Signature) -> bool:
    """Whether something noted had come in when a job was signed; what comes later changes no paper that is signed.

    Args:
        entry: what was noted, and when it came in. A device that was out of reach tells of it later.
        signature: the signature; one that names whole seconds reaches to the end of its second.
    """
    stamp = signature.at.partition("+")[0]
    return entry.received[: len(stamp)] <= stamp


def since_signed(signature: Signature, states: Sequence[StepState]) -> tuple[str, ...]:
    """What has happened to the vehicle since a job was signed; with any of it, it is to be proven and signed again.

    Args:
        signature: the signature.
        states: what was noted.
    """
    told = [(entry, "the vehicle came back") for entry in visits_noted(states)]
    told += [(entry, f"mended: {_sentence(entry.text)}") for state in states for entry in cures_noted(state)]
    told.sort(key=lambda item: item[0].at)
    return tuple(dict.fromkeys(text for entry, text in told if not by_then(entry, signature)))


def _sentence(text: str) -> str:
    """What was cured, to be followed by a full stop; whoever noted it may have begun with the word itself."""
    return text.strip().rstrip(".").removeprefix("Mended: ")


def proven(proof: Proof) -> bool:
    """Whether every test a job is signed off by was done and is right.

    Args:
        proof: the tests judged.
    """
    return all(row.verdict in ("right", "cannot") for row in proof.rows if row.test.fewest)


def acceptances(
    findings: Sequence[Finding], proof: Proof, left: Left | None, keying: Sequence[Keying]
) -> tuple[Acceptance, ...]:
    """What has to be accepted one by one.

    Args:
        findings: of the design.
        proof: its tests judged.
        left: what of the work is not done; `None` where nobody noted any.
        keying: what of each sheet is keyed in.
    """
    found = [
        Acceptance(id=f"finding.{item.id}", title=item.title, text=item.text)
        for item in findings
        if item.level == "caution"
    ]
    found += [
        Acceptance(
            id=f"keyed.{item.place or 'unit'}",
            title=f"{item.name}: {counted(item.left, 'line')} not ticked as keyed",
            text="What it came with is for another battery and another vehicle. Key its sheet and tick each line.",
        )
        for item in keying
        if item.left
    ]
    waiting = [row for row in proof.rows if row.test.fewest and row.verdict == "open"]
    if waiting:
        names = "; ".join(row.test.text for row in waiting[:3])
        more = f"; and {len(waiting) - 3} more" if len(waiting) > 3 else ""
        found.append(
            Acceptance(id="tests.open", title=f"{counted(len(waiting), 'test')} not done", text=f"{names}{more}.")
        )
    found += [
        Acceptance(id=f"test.{row.test.key}", title=row.test.text, text=row.text)
        for row in proof.rows
        if row.verdict in BAD
    ]
    if left is not None and left.begun and left.steps:
        skipped = [step for step in left.steps if step.skipped]
        open_ = len(left.steps) - len(skipped)
        if open_:
            found.append(
                Acceptance(
                    id="steps.open",
                    title=f"{counted(open_, 'step')} not done",
                    text="They are listed under Left of the work.",
                )
            )
        found += [
            Acceptance(id=f"step.{step.step}", title=f"Skipped: {step.text}", text=step.reason or "no reason given")
            for step in skipped
        ]
    return tuple(found)


def check(
    design: Design, findings: Sequence[Finding], wanted: Sequence[Acceptance], accepted: Collection[str], by: str
) -> None:
    """See that a job may be signed off.

    Args:
        design: the design.
        findings: of it.
        wanted: what has to be accepted.
        accepted: what was.
        by: who signs.

    Raises:
        CannotSign: it is not finished, a stop is open, something is not accepted, or nobody signs.
    """
    if design.unfinished:
        raise CannotSign(f"It is not finished: {', '.join(design.unfinished)}. There is nothing to sign off yet.")
    stops = [item for item in findings if item.level == "stop"]
    if stops:
        count = len(stops)
        raise CannotSign(
            f"{count} {'stop is' if count == 1 else 'stops are'} open, first: {stops[0].title}. A job with a stop is not "
            "signed off; mend it."
        )
    missing = [item for item in wanted if item.id not in accepted]
    if missing:
        raise CannotSign(f"Not accepted yet: {missing[0].title}. Accept each one, or mend it.")
    if not by.strip():
        raise CannotSign("Nobody signs: give the name of who answers for the work.")
