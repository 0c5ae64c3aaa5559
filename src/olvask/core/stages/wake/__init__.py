"""Wake: what is judged there."""
