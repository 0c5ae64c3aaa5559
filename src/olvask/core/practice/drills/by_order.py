"""Steps of this job's own procedure in the wrong order.

- `order_drill`: one.
"""

from __future__ import annotations

from collections.abc import Mapping

from olvask.core.circuit.context import Context
from olvask.core.practice.chance import Chance
from olvask.core.practice.drills.drill import Answer, Item, Judged, Made, changed, facts_of
from olvask.core.practice.vehicles import vehicle_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.procedure.order import Placed, Procedure

STEPS = 5
LEAST_RULES = 3  # fewer leave hardly an order that is wrong


def before_of(procedure: Procedure) -> Mapping[tuple[str, str], str]:
    """Every pair of steps of which the first must come first, with the reason nearest to the second.

    Args:
        procedure: in its order.
    """
    direct = {placed.step.key: {item.step: item.why for item in placed.waits_for} for placed in procedure.steps}
    found: dict[tuple[str, str], str] = {}
    for key, waits in direct.items():
        seen, left = set(), [(other, why) for other, why in waits.items()]
        while left:
            other, why = left.pop()
            if other in seen:
                continue
            seen.add(other)
            found[other, key] = waits.get(other, why)
            left += [(further, why) for further in direct.get(other, {})]
    return found


def order_drill(chance: Chance) -> Made | None:
    """Five steps to put in order; any order that breaks no rule is right."""
    made = vehicle_of(chance)
    site = {
        "mains": chance.happens(0.5),
        "seats": chance.happens(0.5),
        "airbags": chance.happens(0.3),
        "gas": chance.happens(0.3),
    }
    design = changed(made.design, {"site": made.design.site.model_dump(mode="json") | site})
    procedure = procedure_of(Context.of(design)).procedure
    before = before_of(procedure)
    steps: list[Placed] = chance.shuffled(procedure.steps)[:STEPS]
    keys = [placed.step.key for placed in steps]
    rules = [(one, other) for one in keys for other in keys if (one, other) in before]
    if len(rules) < LEAST_RULES:
        return None
    texts = {placed.step.key: placed.step.text for placed in steps}
    right = [placed.step.key for placed in procedure.steps if placed.step.key in texts]

    def judge(answer: Answer) -> Judged:
        at = {key: place for place, key in enumerate(answer.order)}
        broken = [(one, other) for one, other in rules if at[one] > at[other]]
        working = tuple(f"“{texts[one]}” before “{texts[other]}”: {before[one, other]}" for one, other in broken)
        text = "Nobody gets hurt, nothing is broken." if not broken else f"{len(broken)} of {len(rules)} rules broken."
        return Judged(right=not broken, text=text, working=working, better=" → ".join(texts[key] for key in right))

    return Made(
        vehicle=made.name,
        design=design,
        question="In what order are these steps of the job done?",
        facts=facts_of(design)[:3],
        items=tuple(Item(key=key, text=texts[key]) for key in keys),
        ordered=True,
        judge=judge,
    )
