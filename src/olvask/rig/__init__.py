"""A vehicle with its unit, a meter and a bench supply that exist only here, and speak SCPI as real ones do.

The vehicle is driven by the simulator of the road test, in real or faster time. Faults can be put in, hidden or told, and cured.
"""
