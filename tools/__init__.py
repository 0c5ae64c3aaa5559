"""Programs for developers: bench, screenshots, checks."""
