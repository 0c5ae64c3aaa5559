"""Match: does the unit suit the vehicle, the alternator and the battery, and what binds.

- `isolation`: isolated or not, charger or converter, nominal voltages.
- `energy`: what the day needs of the unit, hours to recover, days it can stand.
- `sources`: everything else that charges the auxiliary battery.
- `space`: whether the unit goes where it is meant to.
- `limits`: the limits ruler, and what exceeds it.
- `upstream`: the vehicle's own fuse above a fused stud.
- `week`: whether the week keeps up.
- `appliance`: what a plain converter feeds from the engine side.
- `direct_link`: a plain link for contrast.
"""

from olvask.core.stages.match.appliance import judge_appliances
from olvask.core.stages.match.current import judge_current
from olvask.core.stages.match.direct_link import judge_link
from olvask.core.stages.match.energy import judge_energy, judge_need
from olvask.core.stages.match.isolation import judge_isolation, judge_kind
from olvask.core.stages.match.limits import judge_limits
from olvask.core.stages.match.management import judge_management
from olvask.core.stages.match.sources import judge_sources
from olvask.core.stages.match.space import judge_space
from olvask.core.stages.match.upstream import judge_upstream
from olvask.core.stages.match.week import judge_week

JUDGES = (
    judge_kind,
    judge_isolation,
    judge_management,
    judge_energy,
    judge_sources,
    judge_space,
    judge_limits,
    judge_current,
    judge_upstream,
    judge_appliances,
    judge_need,
    judge_week,
    judge_link,
)
# Those that hang on which unit it is; what plain converters feed does not.
UNIT_JUDGES = tuple(judge for judge in JUDGES if judge is not judge_appliances)
