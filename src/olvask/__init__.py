"""Olvask: design and commission alternator-fed DC-to-DC charging in working vehicles."""

from olvask import compiled

__version__ = "0.1.0"

compiled.use()
