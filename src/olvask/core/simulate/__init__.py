"""What happens through time.


- `programme`: a day of the vehicle as text.
- `plant`: the equations: what flows in a state, and how the state changes.
- `machine`: the unit's own state machine.
- `trip`: a vehicle through a programme, both stepped through time.
- `report`: a trip as series, events and totals.

"""
