"""Logs of devices as files: what their columns hold, and the columns read and cleaned.

- `sniff`: guesses how a file is to be read.
- `read`: reads it.
"""
