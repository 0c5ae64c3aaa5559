"""Work over the whole yard, spread over processes of this machine or over a scheduler's workers.

- `spread`: here, on worker processes, or on the workers of a dask scheduler; the same results, a lost worker survived.
- `yard`: every job judged anew, recalled, or driven within tolerances, told as it goes.
"""
