"""Settings: what the unit is set to charge by.

- `profile`: a profile made for another chemistry.
- `charge`: absorption, float and cold against the battery.
"""

from olvask.core.stages.settings.charge import judge_charge
from olvask.core.stages.settings.profile import judge_profile
from olvask.core.stages.settings.read_back import judge_read_back
from olvask.core.stages.settings.sources import judge_other_sources

JUDGES = (judge_charge, judge_profile, judge_other_sources, judge_read_back)
