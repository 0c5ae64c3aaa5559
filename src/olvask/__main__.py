"""`python -m olvask`."""

from olvask.cli import main

main()
