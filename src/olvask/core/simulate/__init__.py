"""What happens through time.

- `week`: the auxiliary battery's charge over a typical week.
"""
