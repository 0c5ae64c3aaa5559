"""The job itself: description, physics and the trade's rules. Pure; see README.md."""
