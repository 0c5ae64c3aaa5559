"""Run: what is judged there."""
