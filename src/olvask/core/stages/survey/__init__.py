"""Survey: what is judged there."""
