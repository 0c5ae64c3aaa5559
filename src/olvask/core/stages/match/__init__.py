"""Match: what is judged there."""
