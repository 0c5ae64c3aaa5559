"""Wake: when the unit may charge, and what becomes of old gear.

- `activation`: ways to start, and how long a rule holds.
- `rules`: start and stop rules by voltage, low phases.
- `guard`: the battery guard and its return, and what the unit can be set to.
- `thresholds`: the voltage ladder: bands, windows, rules with their margins.
- `figures`: the stage's figures.
- `method`: which way to start suits this job.
- `existing_link`: what becomes of a link that was there before.
- `plainly`: when it charges, in a customer's words.
- `remedies`: remedies several of them share.
"""

from olvask.core.stages.wake.activation import judge_ways
from olvask.core.stages.wake.existing_link import judge_existing_link
from olvask.core.stages.wake.figures import judge_figures
from olvask.core.stages.wake.guard import judge_guard
from olvask.core.stages.wake.ranges import judge_ranges
from olvask.core.stages.wake.rules import judge_rules

ACTIVATION = (judge_figures, judge_ways, judge_guard, judge_rules, judge_ranges)
JUDGES = (*ACTIVATION, judge_existing_link)
