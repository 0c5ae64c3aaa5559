"""What the trade decides, on top of the solved circuit.

- `match`: unit against vehicle and battery; isolation, alternator budget, limits ruler, direct link.
- `cables`: drop, ampacity, temperature, terminal; the size that would do.
- `protect`: devices against current, cable, volts and short circuit.
- `thresholds`: start, stop and lockout windows, and what is proposed in them.
- `activate`: findings on the way a unit is started and stopped.
- `survey`: what the survey still lacks and what in it contradicts itself.
- `size_ladder`: one cable in every standard size.
- `shelf`: every unit of a shelf judged for a design.
"""
