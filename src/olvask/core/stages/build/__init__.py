"""Build: what is judged there."""
