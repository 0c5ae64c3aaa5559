"""Mutation testing of the judgement: small mistakes put into the core one at a time, and whether a test notices.

- `mistakes`: every place where one can be made, and the source with it made.
- `uncached`: has each test reach all that it uses, whatever was worked out before it.
- `plugin`: puts one into a pytest run, in memory alone.
- `trial`: its tests, in a process of their own.
- `python -m tools.mutation`: the whole, told as a score with the survivors.
"""
