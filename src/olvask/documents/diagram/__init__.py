"""The wiring diagram.

- `pen`: lines, rings and words, and how wide words are.
- `symbols`: of IEC 60617.
- `slots`, `units`, `gear`: the stretches of a run, the unit, and what stands beside.
- `layout`: all of it put in its place.
- `svg`: as a file.
"""
