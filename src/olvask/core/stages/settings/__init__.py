"""Settings: what the unit is set to charge by, the sheet to key it in, every other source.

- `charge`: the charge profile against the battery.
- `profile`: a profile made for another chemistry.
- `sources`: every other source against the battery.
- `limits`: what the quantities of a profile may be.
- `wishes`, `menu`, `plan`: from what is wanted to the way through a device's menu.
- `sheet`: what to key in; `consequence`: what follows where it cannot be had.
- `monitor`: the battery monitor; `climate`: cold, heat, a sleeping pack.
- `frost`: lithium colder than it may be charged.
- `reach`: what the unit cannot be set to.
- `unlisted`: what is chosen and its menu has no line for.
- `read_back`: what was keyed and read back.
"""

from olvask.core.stages.settings.charge import judge_charge
from olvask.core.stages.settings.climate import judge_climate
from olvask.core.stages.settings.frost import judge_frost, judge_stops
from olvask.core.stages.settings.monitor import judge_monitor
from olvask.core.stages.settings.profile import judge_profile
from olvask.core.stages.settings.reach import judge_reach
from olvask.core.stages.settings.read_back import judge_read_back
from olvask.core.stages.settings.sources import judge_other_sources
from olvask.core.stages.settings.unlisted import judge_unlisted

__all__ = ["JUDGES", "judge_frost"]
JUDGES = (
    judge_charge,
    judge_profile,
    judge_reach,
    judge_unlisted,
    judge_other_sources,
    judge_stops,
    judge_climate,
    judge_monitor,
    judge_read_back,
)
