"""Work over the whole yard."""
