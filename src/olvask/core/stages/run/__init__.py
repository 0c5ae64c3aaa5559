"""Run: cables, what joins and leaves them, and what protects them.

- `drop`: volts lost, the run's figures, runs that cannot carry the power.
- `ampacity`: current and heat of each cable.
- `terminals`: whether a cable enters the unit's terminal.
- `growth`: more copper as a remedy.
- `devices`: which standard device suits a place.
- `protection`: a device at each battery, and what it is held to.
- `branches`: tails, plugs, cables in parallel, devices in series.
- `socket`, `inherited`: a trailer socket's charge wire, a cable found in the vehicle.
"""

from olvask.core.stages.run.ampacity import judge_ampacity
from olvask.core.stages.run.branches import (
    judge_branches,
    judge_joints,
    judge_parallel,
    judge_selectivity,
    judge_shared_tail,
)
from olvask.core.stages.run.drop import judge_carrying, judge_drop
from olvask.core.stages.run.first_lay import judge_not_laid
from olvask.core.stages.run.inherited import judge_inherited
from olvask.core.stages.run.protection import judge_devices
from olvask.core.stages.run.socket import judge_socket
from olvask.core.stages.run.terminals import judge_metal, judge_terminals

CABLES = (judge_drop, judge_carrying, judge_ampacity, judge_terminals)
JUDGES = (
    *CABLES,
    judge_devices,
    judge_branches,
    judge_joints,
    judge_parallel,
    judge_metal,
    judge_shared_tail,
    judge_selectivity,
    judge_socket,
    judge_inherited,
    judge_not_laid,
)
