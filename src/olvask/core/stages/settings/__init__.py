"""Settings: what the unit is set to charge by.

- `profile`: a profile made for another chemistry.
- `charge`: absorption, float and cold against the battery.
"""

from olvask.core.stages.settings.charge import judge_charge
from olvask.core.stages.settings.profile import judge_profile

JUDGES = (judge_charge, judge_profile)
