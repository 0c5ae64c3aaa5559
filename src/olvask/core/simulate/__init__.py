"""What happens through time.

- `week`: the auxiliary battery's charge over a typical week.
- `programme`: a day of the vehicle as text.
- `trip`: a vehicle through a programme, the unit's state machine included.
- `report`: a trip as series, events and totals.
"""
