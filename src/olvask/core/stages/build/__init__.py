"""Build: from the design to the bench.

- `conductors`: every length of cable with both its ends.
- `bill`: the one list of conductors, ends, devices and prices.
- `cuts`: the lengths laid out on the drums there are.
- `labels`: one for each end.
- `procedure`: the steps in their order, with reasons.
- `progress`: what was noted at them.
- `mounting`: the unit where it sits, and what must not be near it.
"""

from olvask.core.stages.build.mounting import judge_mounting

JUDGES = (judge_mounting,)
