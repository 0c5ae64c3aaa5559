"""Olvask: design and commission alternator-fed DC-to-DC charging in working vehicles."""

__version__ = "0.1.0"
