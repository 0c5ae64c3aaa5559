"""What was copied from another vehicle and has to be measured again.

- `judge_copied`: names it.
"""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import caution
from olvask.core.model.design import Provenance
from olvask.core.model.form import label_of

SHOWN = 5


def judge_copied(ctx: Context) -> Judged:
    """One caution for all of it; it goes as each is measured."""
    copied = [path for path, origin in ctx.design.provenance.items() if origin == Provenance.COPIED]
    if not copied:
        return
    names = [label_of(path) for path in copied[:SHOWN]]
    more = f"; and {len(copied) - SHOWN} more" if len(copied) > SHOWN else ""
    yield caution(
        "survey.copied",
        "start_battery",
        f"{len(copied)} {'value is' if len(copied) == 1 else 'values are'} another vehicle's",
        f"Measure again on this one: {'; '.join(names)}{more}.",
        concerns=tuple(copied),
    )
