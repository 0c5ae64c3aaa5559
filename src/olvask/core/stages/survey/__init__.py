"""Survey: is what was read, counted and noted plausible, and what is still assumed.

- `readings`: implausible and contradictory readings; what is still assumed.
- `bank`: the auxiliary bank: strings, management system, temperatures.
- `sums`: sums an installer does on the side.
"""

from olvask.core.stages.survey.bank import judge_bank
from olvask.core.stages.survey.readings import judge_readings

JUDGES = (judge_readings, judge_bank)
