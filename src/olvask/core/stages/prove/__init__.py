"""Prove: every reading against what this design expects now.

- `meter`: how far a reading may be out.
- `likely`: the running vehicle with what is not known of it, narrowed by every reading.
- `tests`: what is measured, in working order.
- `report`: bands, verdicts, what would narrow them, legs with milliohms too many.
"""
