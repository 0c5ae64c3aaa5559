"""Questions asked of whole designs, many solves each; they call the assessment or the simulator, never the other way.

- `lay`: runs for a unit, the cheapest that pass.
- `rank`: every unit of a shelf fitted to a job.
- `size_ladder`: one cable in every standard size.
- `compare`: variants side by side.
- `unknowns`: what a gap in the survey would change.
- `week`: the auxiliary battery over a typical week.
- `tolerance`: the same settings over many vehicles.
- `cures`: what would cut the share at fault.
"""
