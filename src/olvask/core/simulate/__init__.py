"""What happens through time.

- `week`: the auxiliary battery's charge over a typical week.
- `programme`: a day of the vehicle as text.
- `plant`: the equations: what flows in a state, and how the state changes.
- `machine`: the unit's own state machine.
- `trip`: a vehicle through a programme, both stepped through time.
- `report`: a trip as series, events and totals.
- `tolerance`: the same settings over many vehicles.
"""
