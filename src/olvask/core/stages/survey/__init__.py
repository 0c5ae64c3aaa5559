"""Survey: is what was read, counted and noted plausible, and what is still assumed.

- `readings`: implausible and contradictory readings; what is still assumed.
- `vehicle`: what decides whether the job is safe: links, sensors, D+, venting cells.
- `bank`: the auxiliary bank: strings, management system, heat.
- `copied`: what was measured on another vehicle.
- `sums`: sums an installer does on the side.
"""

from olvask.core.stages.survey.bank import judge_bank
from olvask.core.stages.survey.copied import judge_copied
from olvask.core.stages.survey.readings import judge_readings
from olvask.core.stages.survey.vehicle import judge_vehicle

JUDGES = (judge_readings, judge_vehicle, judge_bank, judge_copied)
