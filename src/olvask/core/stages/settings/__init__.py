"""Settings: what the unit is set to charge by.

- `profile`: a profile made for another chemistry.
"""

from olvask.core.stages.settings.profile import judge_profile

JUDGES = (judge_profile,)
