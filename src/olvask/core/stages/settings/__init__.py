"""Settings: what is judged there."""
