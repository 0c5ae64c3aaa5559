"""A design solved.

- `facts`: survey values with defaults filled in.
- `ampacity`: continuous current of a cable.
- `runs`: a run with a current through it.
- `solve`: every operating condition.
- `thresholds`: windows and the start, stop and guard volts in force.
- `level_line`: volts along the path, condition by condition.
- `context`: all of this together, as judges get it.
"""
