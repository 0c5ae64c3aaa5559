"""The procedure of a job: its own steps in its own order, each with its reason.

- `step`: a step, what it does, rules and laws.
- `scene`: the design as a procedure meets it.
- `before`, `mount`, `wire`, `after`: the steps, from preparing to putting back.
- `rules`: what comes before what.
- `order`: sorting, and contradictions.
- `recover`: getting a unit or a pack back.
- `procedure_of`: all of it for one design.
"""

from __future__ import annotations

from itertools import chain

from olvask.core.circuit.context import Context
from olvask.core.findings.driven import spoken
from olvask.core.findings.said import Said
from olvask.core.stages.build.procedure import after, before, mount, wire
from olvask.core.stages.build.procedure.order import Procedure, in_order
from olvask.core.stages.build.procedure.recover import recoveries_of
from olvask.core.stages.build.procedure.rules import rules_for
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.build.procedure.step import Step

BUILD = "Build"  # title of the procedure
CHAPTERS = (
    before.prepare,
    before.make_safe,
    before.take_out,
    mount.mount,
    wire.route,
    wire.terminate,
    wire.dead_checks,
    after.posts,
    after.first_power,
    after.key_in,
    after.connect,
    after.enable,
    after.put_back,
)


class Work(Said):
    """The work on one vehicle, and the ways back when a unit or a pack does not answer."""

    procedure: Procedure
    recoveries: tuple[Procedure, ...]


def procedure_of(ctx: Context) -> Work:
    """The procedure of a design and its recoveries."""
    scene = Scene.of(ctx)
    steps = [*chain.from_iterable(chapter(scene) for chapter in CHAPTERS), *_own(scene)]
    lacking = ctx.design.unfinished
    first = f"Not ready to be built: {', '.join(lacking)}. What is known so far follows. " if lacking else ""
    text = f"{first}Work is for a competent person. Local code and the makers' instructions rule."
    work = Work(procedure=in_order(BUILD, text, steps, rules_for(scene, steps)), recoveries=recoveries_of(scene))
    return spoken(ctx.design, work)


def _own(scene: Scene) -> list[Step]:
    return [
        Step(key=f"own.{own.id}", group=own.group, text=own.text, why=own.why or "As the shop does it.")
        for own in scene.design.own_steps
    ]
