"""Build: from the design to the bench.

- `conductors`: every length of cable with both its ends.
- `bill`: the one list of conductors, ends, devices and prices.
- `cuts`: the lengths laid out on the drums there are.
- `labels`: one for each end.
"""
