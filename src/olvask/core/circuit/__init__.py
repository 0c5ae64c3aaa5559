"""A design solved: survey values with defaults filled in, ampacity, runs, every operating condition."""
