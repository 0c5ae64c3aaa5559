"""What is measured on the finished work, in working order: where, in what state, what it proves.

- `ProveTest`: one measurement, or one thing to look at that is answered yes or no.
- `tests_of`: those of a design; each is left out with a reason where it cannot be done.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from olvask.core.circuit.context import Context
from olvask.core.findings.driven import reword_of, reworded
from olvask.core.model import Cable, Design, ProtectiveDevice
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.prove.allowed import quietened
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.core.stages.prove.tests_after import after
from olvask.core.stages.prove.tests_dead import dead
from olvask.core.stages.prove.tests_finding import finding
from olvask.core.stages.prove.tests_running import running
from olvask.core.stages.prove.tests_still import engine_off
from olvask.core.stages.prove.touched import touched

__all__ = ["ProveTest", "tests_of"]
OF_AN_ENGINE = ("belt_quiet",)  # a DC converter has none


def tests_of(ctx: Context) -> tuple[ProveTest, ...]:
    """Every test of a design, in working order; those that only tell causes apart come last."""
    return ctx.once("prove.tests", lambda: _tests_of(ctx))


def _tests_of(ctx: Context) -> tuple[ProveTest, ...]:
    found: Iterator[ProveTest] = iter((*dead(ctx), *engine_off(ctx), *running(ctx), *after(ctx), *finding(ctx)))
    cannot, scene = _cannot(ctx.design), Scene.of(ctx)
    reword = reword_of(ctx.design)
    if reword is not None:
        found = iter([reworded(test, reword) for test in found if test.key not in OF_AN_ENGINE])
    quiet = quietened(ctx.design)
    if quiet:
        found = iter([replace(test, state=test.state + quiet) if _disturbed(test) else test for test in found])
    if ctx.design.units > 1:
        found = iter([reworded(test, _of_each) for test in found])
    return tuple(
        replace(
            test, cannot=cannot if test.needs_unit and not test.cannot else test.cannot, conductors=touched(scene, test)
        )
        for test in found
    )


def _disturbed(test: ProveTest) -> bool:
    """Whether a current from elsewhere would move what it reads."""
    read = test.quantity is not None and test.unit in ("V", "mV", "A", "mA")
    return read and test.group in ("engine_off", "running", "finding")


def _of_each(text: str) -> str:
    """A sentence about a unit, of several in parallel."""
    return re.sub(
        r"(?:the )?(?<!each )unit's",
        "each unit's",
        re.sub(r"(into|out of) the unit\b(?!')", r"\1 the units together", text),
    )


def _cannot(design: Design) -> str:
    """Why nothing that needs the unit charging can be done."""
    if design.charger is None:
        return "No unit is chosen."
    if not all(
        any(isinstance(piece, (Cable, ProtectiveDevice)) for piece in run.pieces)
        for run in (design.supply, design.delivery)
    ):
        return "A run is not laid yet."
    return ""
