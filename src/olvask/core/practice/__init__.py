"""Practice: made-up vehicles with something wrong, and drills, on the same model that designs and proves.

- `chance`: numbers that are always the same for a case's number.
- `vehicles`: a made-up vehicle, designed as it should be.
- `case`: a vehicle with hidden faults, what the customer tells, a meter.
- `bench`: a course of measurements, cures and the hand-back, answered and counted.
- `course`: the app's own course, and how another's compares with it.
- `drills`: short questions of design, answered by `assess` and the simulator themselves.
"""
