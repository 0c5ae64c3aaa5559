"""What the trade decides, on top of the solved circuit.

- `match`: unit against vehicle and battery; isolation, alternator budget, limits ruler, direct link.
- `cables`: drop, ampacity, temperature, terminal; the size that would do.
- `protect`: devices against current, cable, volts and short circuit.
- `activate`: start, stop and lockout windows.
- `survey`: what the survey still lacks and what in it contradicts itself.
- `size_ladder`: one cable in every standard size.
- `shelf`: every unit of a shelf judged for a design.
"""
